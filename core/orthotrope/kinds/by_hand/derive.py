"""What follows from a place where tools are changed by hand."""

from orthotrope.calc.derived import DERIVING, Derivation, DerivedChanger, Term
from orthotrope.calc.heights import HeightLadderOutput
from orthotrope.kinds.by_hand.model import ByHand
from orthotrope.setup import Setup


@DERIVING.register("by hand")
def derive(setup: Setup, changer: ByHand) -> DerivedChanger:
    """All heights are the loading place's."""
    tools = setup.exchangeable()
    longest = max(tools, key=lambda tool: tool.whole_length) if tools else None
    length = longest.whole_length if longest else 0.0
    terms = [Term("room", changer.room, "mm", "/changer/room")]
    if longest:
        index = [tool.number for tool in setup.tools].index(longest.number)
        terms.append(Term(f"longest tool, T{longest.number}", length, "mm", f"/tools/{index}/length"))
    z = changer.z
    ladder = HeightLadderOutput(
        couple_z=z, hover_z=z, empty_z=z, carry_z=z, carry_possible=True, riser=max(0.0, length - changer.room)
    )
    return DerivedChanger(
        pockets=(),
        ladder=ladder,
        middle=(changer.x, changer.y),
        longest=longest,
        longest_length=length,
        park_z=z,
        approach_gap=0.0,
        stored_top_z=z,
        rack_top_z=z,
        workings={
            "spare_room": Derivation("Room to spare", changer.room - length, "mm", "room − longest tool", tuple(terms))
        },
    )
