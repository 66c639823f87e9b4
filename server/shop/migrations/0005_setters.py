"""Readings of a setter's plane: the quantity has another place, for a setter is a section of its own."""

import re
from typing import Any

from django.apps.registry import Apps
from django.db import migrations
from django.db.backends.base.schema import BaseDatabaseSchemaEditor

RESERVED = re.compile(r"^/changer/reserved/(\d+)/top_z$")
BODY = re.compile(r"^/bodies/(.+)/(top_z|bottom_z|x|y)$")


def moved(document: Any, quantity: str) -> str:
    """The quantity of the present version that a reading is of; the same where it has not moved."""
    changer = document.get("changer") or {}
    if found := RESERVED.match(quantity):
        for entry in changer.get("reserved") or []:
            if str(entry.get("pocket")) == found[1] and entry.get("makes") is not None:
                return f"/setters/{entry['what']}/plane_z"
    if found := BODY.match(quantity):
        setters = {entry["number"] for entry in document.get("inputs") or [] if entry.get("role") == "setter"}
        for body in document.get("bodies") or []:
            if str(body.get("name")) == found[1] and body.get("makes") in setters:
                return f"/setters/{found[1]}/{'plane_z' if found[2] == 'top_z' else found[2]}"
    return quantity


def move(apps: Apps, editor: BaseDatabaseSchemaEditor) -> None:
    Reading: Any = apps.get_model("shop", "Reading")
    Revision: Any = apps.get_model("shop", "Revision")
    for machine in Reading.objects.values_list("machine", flat=True).distinct():
        head = Revision.objects.filter(machine=machine).order_by("-number").first()
        for reading in Reading.objects.filter(machine=machine) if head and isinstance(head.document, dict) else ():
            to = moved(head.document, reading.quantity)
            if to != reading.quantity:
                reading.quantity = to
                reading.save(update_fields=["quantity"])


class Migration(migrations.Migration):
    dependencies = [("shop", "0004_content")]

    operations = [migrations.RunPython(move, migrations.RunPython.noop)]
