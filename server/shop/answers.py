"""What the core says about a Setup, as the interface wants it. Nothing here is stored."""

from typing import Any

from orthotrope.calc.alignment import align, alignment_json
from orthotrope.calc.derived import DerivedChanger, derive
from orthotrope.calc.storage import storing
from orthotrope.errors import InputError
from orthotrope.machine.report import world_as_json
from orthotrope.proof.conflicts import conflicts
from orthotrope.proof.exchanges import finding_json
from orthotrope.proof.findings import Finding
from orthotrope.proof.worlds import device_seconds, nominal_world
from orthotrope.setup import Setup, read_setup

from shop.stages.registry import ANSWERS, Asked


def answer(document: dict[str, Any], stage: str = "exchange", asked: Asked | None = None) -> dict[str, Any]:
    """Derived values, drawing and findings of a document that need not be stored; and what the ``stage`` shows, under
    the name of its answer."""
    nothing = dict.fromkeys(ANSWERS)
    try:
        setup = read_setup(document)
    except InputError as bad:
        faults = [fault.as_json() for fault in bad.faults]
        return {**nothing, "faults": faults, "derived": None, "scene": None, "conflicts": []}
    derived = derive(setup)
    told = [
        finding_json(Finding("setup-conflict", "stop", c.message, quantity=c.where, cure=c.cure))
        for c in conflicts(setup, derived)
    ]
    return {
        **nothing,
        "faults": [],
        "derived": derived_json(setup, derived) if derived else None,
        "scene": world_as_json(nominal_world(setup)),
        "conflicts": told,
        stage: ANSWERS[stage](setup, derived, asked or Asked()),
    }


def derived_json(setup: Setup, derived: DerivedChanger) -> dict[str, Any]:
    ladder = derived.ladder.as_json()
    longest = {"longest": derived.longest_length, "longest_tool": derived.longest.number if derived.longest else None}
    return {
        "pockets": [pocket.model_dump() for pocket in derived.pockets],
        "centre": {"x": derived.middle[0], "y": derived.middle[1]},
        "ladder": {**ladder, "park_z": derived.park_z, **longest},
        "workings": {key: working.as_json() for key, working in derived.workings.items()},
        "alignment": alignment_answer(setup),
        "storing": [
            {
                "tool": s.tool,
                "pocket": s.pocket,
                "spare": s.spare,
                "clearance": s.clearance,
                "overlap": s.overlap,
                "says": s.says,
            }
            for s in storing(setup)
        ],
        "signals": signals_of(setup),
        "rack_top_z": derived.rack_top_z,
        "stored_top_z": derived.stored_top_z,
    }


def signals_of(setup: Setup) -> list[dict[str, Any]]:
    """The signals that an exchange of the Setup's style can make use of, by role: the one there is, or none."""
    changer = setup.changer
    found: list[dict[str, Any]] = []
    for output_role in changer.switches if changer else ():
        output = setup.output_of(output_role)
        found.append(
            {
                "kind": "output",
                "role": output_role,
                "name": output.name if output else None,
                "seconds": device_seconds(setup, output_role),
            }
        )
    for role in changer.sensors if changer else ():
        entry = setup.input_of(role)
        found.append({"kind": "input", "role": role, "name": entry.name if entry else None, "seconds": None})
    return found


def alignment_answer(setup: Setup) -> dict[str, Any] | None:
    """What the taught pockets say; null while they are too few, or determine no row (``says`` then tells why)."""
    try:
        found = align(setup)
    except InputError as bad:
        return {"says": [fault.what for fault in bad.faults], "fit": None}
    return {"says": list(found.says), "fit": alignment_json(found)} if found else None
