"""What the shop shows is kept; a review's text is known by its digest; the audit log has what nobody signed in did; results of proofs that were stored before have the fields that came since."""

from typing import Any

import django.db.models.deletion
from django.apps.registry import Apps
from django.conf import settings
from django.db import migrations, models
from django.db.backends.base.schema import BaseDatabaseSchemaEditor

SINCE: dict[str, Any] = {"routine": "", "faults": [], "closest": None, "unreached": None, "spent": {}}
"""Fields of a result that earlier versions did not have, with what they are where nothing is known."""


def completed(apps: Apps, editor: BaseDatabaseSchemaEditor) -> None:
    Proof: Any = apps.get_model("shop", "Proof")
    for proof in Proof.objects.all().iterator():
        if all(field in result for result in proof.results for field in SINCE):
            continue
        proof.results = [{**SINCE, **result} for result in proof.results]
        proof.outline = [[*row, ""][:4] for row in proof.outline]
        proof.save(update_fields=["results", "outline"])


class Migration(migrations.Migration):
    dependencies = [("shop", "0009_put_away")]

    operations = [
        migrations.AddField(model_name="review", name="digest", field=models.CharField(blank=True, max_length=64)),
        migrations.AlterField(
            model_name="auditentry",
            name="user",
            field=models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.PROTECT, to=settings.AUTH_USER_MODEL
            ),
        ),
        migrations.CreateModel(
            name="ShopCard",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("key", models.CharField(max_length=200)),
                ("entry", models.JSONField()),
                (
                    "machine",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE, related_name="card", to="shop.machine"
                    ),
                ),
            ],
        ),
        migrations.RunPython(completed, migrations.RunPython.noop),
    ]
