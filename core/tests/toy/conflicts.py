from collections.abc import Iterator

from orthotrope.calc.derived import DerivedChanger
from orthotrope.proof.conflicts import CONFLICTS, Conflict, height_conflicts, outputs_missing
from orthotrope.proof.neighbours import tool_conflicts
from orthotrope.setup import Setup

from toy.model import MagnetRow


@CONFLICTS.register("magnet row")
def conflicts(setup: Setup, changer: MagnetRow, derived: DerivedChanger) -> Iterator[Conflict]:
    yield from outputs_missing(setup, {"magnet": "holds the tool"})
    yield from height_conflicts(setup, changer, derived)
    yield from tool_conflicts(setup, changer, derived)
    if changer.pitch < changer.pin_diameter:
        yield Conflict("The pins overlap.", "/changer/pitch")
