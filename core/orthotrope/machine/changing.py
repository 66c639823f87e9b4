"""The state of a magazine at the beginning of a run."""

from orthotrope.machine.coupling import Coupling
from orthotrope.machine.discs import ArmGripping, DiscGripping
from orthotrope.machine.gripping import Gripping
from orthotrope.machine.world import GripPockets, ThreadPockets


def changer_of(magazine: ThreadPockets | GripPockets | None, tool: int) -> Coupling | Gripping | None:
    """What changes tools in a world, with ``tool`` tight in the spindle (0: none); its own pocket is empty then."""
    if magazine is None:
        return None
    stored = {pocket: number for pocket, number in magazine.stored.items() if not tool or number != tool}
    if isinstance(magazine, ThreadPockets):
        return Coupling(magazine, tool, magazine.engaged if tool else 0.0, stored=stored)
    if magazine.style == "moving disc":
        return DiscGripping(magazine, tool, stored)
    return ArmGripping(magazine, tool, stored) if magazine.style == "disc with arm" else Gripping(magazine, tool, stored)
