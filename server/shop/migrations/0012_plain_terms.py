"""A proof of an imported program is stored as that, and what is stored of a finding calls its suggested fix by that word."""

from typing import Any

from django.apps.registry import Apps
from django.db import migrations
from django.db.backends.base.schema import BaseDatabaseSchemaEditor

NEW = {"cure": "fix", "mends": "fixes", "beliefs": "program_values"}


def _renamed(kept: Any) -> Any:
    if isinstance(kept, list):
        return [_renamed(entry) for entry in kept]
    if isinstance(kept, dict):
        return {NEW.get(name, name): _renamed(value) for name, value in kept.items()}
    return kept


def renamed(apps: Apps, editor: BaseDatabaseSchemaEditor) -> None:
    for model, field in (("Proof", "results"), ("Review", "found")):
        stored: Any = apps.get_model("shop", model)
        for row in stored.objects.all().iterator():
            setattr(row, field, _renamed(getattr(row, field)))
            row.save(update_fields=[field])


class Migration(migrations.Migration):
    dependencies = [("shop", "0011_sequences")]

    operations = [
        migrations.RenameField("Proof", "brought", "imported"),
        migrations.RunPython(renamed, migrations.RunPython.noop),
    ]
