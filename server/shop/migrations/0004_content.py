"""A proof is addressed by the content of its cases; its verdicts and the roles have other words."""

from collections import Counter
from typing import Any

from django.apps.registry import Apps
from django.db import migrations, models
from django.db.backends.base.schema import BaseDatabaseSchemaEditor

VERDICTS = {"can't be noticed": "undetectable"}
ROLES = {"lead": "supervisor"}


def outlined(results: list[dict[str, Any]]) -> tuple[list[list[Any]], dict[str, int]]:
    """The outline of a proof's results, and their counts, as they were at this version: a migration does not call the program of
    today."""
    worst = [result["worst"] for result in results]
    verdicts = Counter(fault["verdict"] for result in results for fault in result.get("faults", []))
    counts = {
        "stop": worst.count("stop"),
        "warn": worst.count("warn"),
        "cases": sum(verdicts.values()),
        "unsafe": verdicts["unsafe"],
        "undetectable": verdicts["undetectable"],
    }
    return [[result["from"], result["to"], result["worst"], result.get("routine", "")] for result in results], counts


def other_words(apps: Apps, editor: BaseDatabaseSchemaEditor) -> None:
    """Verdicts in stored results, groups by their role; the demo's account, which is named by it, unless there is one
    already."""
    Proof: Any = apps.get_model("shop", "Proof")
    for proof in Proof.objects.all().iterator():
        for result in proof.results:
            for fault in result.get("faults", []):
                fault["verdict"] = VERDICTS.get(fault["verdict"], fault["verdict"])
        proof.outline, proof.counts = outlined(proof.results)
        proof.save(update_fields=["results", "outline", "counts"])
    Group: Any = apps.get_model("auth", "Group")
    User: Any = apps.get_model("auth", "User")
    for before, after in ROLES.items():
        group = Group.objects.filter(name=before).first()
        if group:
            known, _ = Group.objects.get_or_create(name=after)
            known.user_set.add(*group.user_set.all())
            group.delete()
        if not User.objects.filter(username=after).exists():
            User.objects.filter(username=before, password__startswith="!").update(username=after)


class Migration(migrations.Migration):
    dependencies = [("shop", "0003_brought"), ("auth", "0012_alter_user_first_name_max_length")]

    operations = [
        migrations.RemoveField(model_name="proof", name="digest"),
        migrations.AddField(model_name="proof", name="digests", field=models.JSONField(default=dict)),
        migrations.AddField(model_name="proof", name="outline", field=models.JSONField(default=list)),
        migrations.AddField(model_name="proof", name="counts", field=models.JSONField(default=dict)),
        migrations.RunPython(other_words, migrations.RunPython.noop),
    ]
