"""What a proof or a search for room has stored names its sequences by their references, not by two tools and a routine's name."""

from typing import Any

from django.apps.registry import Apps
from django.db import migrations
from django.db.backends.base.schema import BaseDatabaseSchemaEditor


def _reference(one: int, other: int, routine: str) -> dict[str, Any]:
    if routine:
        return {"kind": "routine", "name": routine}
    if one != other:
        return {"kind": "exchange", "from_tool": one, "to_tool": other}
    return {"kind": "measuring", "name": "measure", "tools": [one], "setter": None}


def _digests(kept: dict[str, Any]) -> dict[str, Any]:
    named = (("put_away", "put away"), ("fetch", "fetch"), ("measure", "measure"), ("routines", "routine"))
    parts = {f"{name} {key}": digest for field, name in named for key, digest in kept.get(field, ())}
    return {"shared": kept["shared"], "parts": parts} if "shared" in kept else {}


def _result(kept: dict[str, Any]) -> dict[str, Any]:
    rest = {name: value for name, value in kept.items() if name not in ("from", "to", "routine")}
    return {"sequence": _reference(kept["from"], kept["to"], kept["routine"]), **rest}


def _limit(kept: dict[str, Any]) -> dict[str, Any]:
    rest = {name: value for name, value in kept.items() if name not in ("from_tool", "to_tool", "routine")}
    return rest | {
        "sequence": _reference(kept["from_tool"], kept["to_tool"], kept["routine"]) if kept["fails"] else None
    }


def named(apps: Apps, editor: BaseDatabaseSchemaEditor) -> None:
    Proof: Any = apps.get_model("shop", "Proof")
    RoomSearch: Any = apps.get_model("shop", "RoomSearch")
    for proof in Proof.objects.all().iterator():
        proof.results = [_result(result) for result in proof.results]
        proof.outline = [[_reference(one, other, routine), worst] for one, other, worst, routine in proof.outline]
        proof.digests = _digests(proof.digests)
        proof.save(update_fields=["results", "outline", "digests"])
    for search in RoomSearch.objects.all().iterator():
        search.found = [
            {**room, "less": _limit(room["less"]), "more": _limit(room["more"])} for room in search.found
        ]
        search.digests = _digests(search.digests)
        search.save(update_fields=["found", "digests"])


class Migration(migrations.Migration):
    dependencies = [("shop", "0010_digests")]

    operations = [migrations.RunPython(named, migrations.RunPython.noop)]
