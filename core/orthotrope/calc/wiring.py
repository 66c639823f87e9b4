"""What a control sees of an input, from its wiring and level."""

from typing import Literal

from orthotrope.calc.registry import Result, calculation
from orthotrope.setup.roles import INPUT_ROLES
from orthotrope.setup.signals import InputRole
from orthotrope.validation import Record

Wiring = Literal["normally open", "normally closed"]
Level = Literal["high", "low"]
Lead = Literal["sound", "broken", "to ground"]
Seen = Literal["idle", "made"]


def seen(wiring: Wiring, level: Level, made: bool, lead: Lead = "sound") -> bool:
    """What the control sees: True is made.

    The terminal is held high and the contact connects it to ground: a closed contact pulls it low. A broken lead leaves
    it high, one that touches ground holds it low. ``level`` is the one that the control takes as made."""
    low = made == (wiring == "normally open") if lead == "sound" else lead == "to ground"
    return low == (level == "low")


class InputStatesInput(Record):
    role: InputRole
    wiring: Wiring
    level: Level


class InputStatesOutput(Result):
    """What the control sees in each state; ``harm`` is what follows from a lead that breaks unnoticed, "" where it is
    noticed."""

    idle: Seen
    made: Seen
    lead_broken: Seen
    short_to_ground: Seen
    reversed: bool
    broken_noticed: bool
    short_noticed: bool
    says: str
    safe_wiring: Wiring
    safe_level: Level


def _word(made: bool) -> Seen:
    return "made" if made else "idle"


@calculation(
    "input-states", "what the control sees of an input when idle, made, broken or shorted, and whether that is safe"
)
def input_states(data: InputStatesInput) -> InputStatesOutput:
    """A touch's input is safe when a broken lead reads as made: no touching move begins. An input that confirms
    something is safe when a broken lead reads as idle: the wait for it expires. The safe wiring follows from that."""
    idle, made = seen(data.wiring, data.level, False), seen(data.wiring, data.level, True)
    broken, short = (seen(data.wiring, data.level, False, lead) for lead in ("broken", "to ground"))
    touches = INPUT_ROLES[data.role].touch
    backwards = idle and not made
    safe: tuple[Wiring, Level] = ("normally closed", "high") if touches else ("normally open", "low")
    broken_noticed, short_noticed = broken == touches, short == touches
    if backwards:
        says = "Reversed: it is seen as made while it is idle. Invert its level."
    elif broken_noticed:
        says = (
            "A broken lead is seen as made: no touching move begins, nothing is driven in."
            if touches
            else "A broken lead is seen as idle: the wait for it expires and the program stops."
        )
    elif touches:
        says = (
            f"A broken lead is seen as idle, as if nothing were touched: the next touch drives in. Safe is {safe[0]}, "
            f"taken as made when {safe[1]}."
        )
    else:
        says = (
            f"A broken lead is seen as made: what it should confirm counts as confirmed. Safe is {safe[0]}, taken as made when "
            f"{safe[1]}."
        )
    return InputStatesOutput(
        idle=_word(idle),
        made=_word(made),
        lead_broken=_word(broken),
        short_to_ground=_word(short),
        reversed=backwards,
        broken_noticed=broken_noticed and not backwards,
        short_noticed=short_noticed and not backwards,
        says=says,
        safe_wiring=safe[0],
        safe_level=safe[1],
    )


Outcome = Literal["passed", "reversed", "dead", "stuck", "unsteady"]


class InputTestInput(Record):
    """What was seen in the three steps of a test: idle, made, idle again."""

    idle: Seen
    made: Seen
    idle_again: Seen


class InputTestOutput(Result):
    outcome: Outcome
    says: str


@calculation("input-test", "what a test of an input says: idle, made, idle again")
def input_test(data: InputTestInput) -> InputTestOutput:
    """Passed: seen idle, made, idle. The same all along: dead or stuck. The other way round: reversed."""
    outcome: Outcome
    match (data.idle, data.made, data.idle_again):
        case ("idle", "made", "idle"):
            outcome, says = "passed", "It is seen as it is."
        case ("made", "idle", "made"):
            outcome, says = "reversed", "It is seen as made while it is idle: invert its level."
        case ("idle", "idle", "idle"):
            outcome, says = "dead", "It is never seen as made: look at the lead, the terminal and the device."
        case ("made", "made", "made"):
            outcome, says = "stuck", "It is seen as made all along: look for a short to ground, or a device that hangs."
        case _:
            outcome, says = (
                "unsteady",
                "It does not come back to where it was: look at the device, and repeat the test.",
            )
    return InputTestOutput(outcome=outcome, says=says)


def as_tested(wiring: Wiring, level: Level, outcome: Outcome) -> tuple[Wiring, Level]:
    """Wiring and level as a test shows them. Reversed: the level is inverted; and where the stated wiring would have
    read rightly, it is wired the other way round than stated."""
    if outcome != "reversed":
        return wiring, level
    others: dict[str, Wiring] = {"normally open": "normally closed", "normally closed": "normally open"}
    inverted: Level = "low" if level == "high" else "high"
    stated_right = not seen(wiring, level, False)
    return (others[wiring] if stated_right else wiring), inverted
