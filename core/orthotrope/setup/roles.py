"""What an input tells of, and what an output switches: the roles of signals. A kind adds its own."""

from dataclasses import dataclass

from orthotrope.registry import Registry


@dataclass(frozen=True, slots=True)
class InputRole:
    """The role of an input.

    ``touch``: a touch makes it, so it must not stay idle when it is made. ``tells``: the device of a changer and the
    state of it that it tells of; ``of_changer``: whether the changer makes it. ``missing``: what a program says where
    it does not come, ``early`` where it is made already. ``made_at_rest``: made while the machine stands ready. ``asked_first``: asked before an exchange
    moves anything."""

    name: str
    touch: bool = False
    tells: tuple[str, str] | None = None
    of_changer: bool = False
    missing: str = ""
    early: str = ""
    made_at_rest: bool = False
    asked_first: bool = False

    @property
    def said_early(self) -> str:
        """What a program says where it is made already when it should not be yet."""
        return self.early or f"The input of {self.name} is made too early. Look at its wiring"


@dataclass(frozen=True, slots=True)
class OutputRole:
    """The role of an output.

    ``device`` of the changer that it switches, and its states switched ``on`` and ``off``; "" where it is none.
    ``seconds``: how long the device takes where no output of the Setup says it. ``by_air``: whether air moves it.
    ``detected_by``: the roles of the inputs that tell what it has done, without which a sequence can only wait a fixed
    time."""

    name: str
    device: str = ""
    on: str = ""
    off: str = ""
    seconds: float = 0.0
    by_air: bool = False
    detected_by: tuple[str, ...] = ()


INPUT_ROLES: Registry[InputRole] = Registry("role of an input", "orthotrope.setup.roles", "orthotrope.kinds.*.model")
OUTPUT_ROLES: Registry[OutputRole] = Registry("role of an output", "orthotrope.setup.roles", "orthotrope.kinds.*.model")


def input_role(role: InputRole) -> InputRole:
    """Register the role of an input."""
    INPUT_ROLES.add(role.name, role)
    return role


def output_role(role: OutputRole) -> OutputRole:
    """Register the role of an output."""
    OUTPUT_ROLES.add(role.name, role)
    return role


OPEN, ON_TOOL, ON_NOTHING = "open", "closed on a tool", "closed on nothing"
"""States of the grip."""

for _role in (
    InputRole("touch plate", touch=True),
    InputRole("setter", touch=True),
    InputRole("probe", touch=True),
    InputRole("grip open", tells=("grip", OPEN), of_changer=True, missing="The grip is not open"),
    InputRole("grip closed", tells=("grip", ON_TOOL), of_changer=True, missing="The grip is not closed on a tool"),
    InputRole(
        "tool present",
        of_changer=True,
        missing="There is no tool in the spindle",
        early="The tool is still in the spindle. Look at it",
    ),
    InputRole("air", missing="The air is low", made_at_rest=True, asked_first=True),
    InputRole("door", made_at_rest=True),
    InputRole("spindle still", missing="The spindle does not stand"),
    InputRole("oriented", missing="The spindle does not stand at its angle"),
    InputRole("other"),
):
    input_role(_role)

for _switched in (
    OutputRole("grip", seconds=0.5, detected_by=("grip open", "grip closed")),
    OutputRole("orient", seconds=1.0),
    OutputRole("blow air", "blow air", "on", "off", by_air=True),
    OutputRole("probe"),
    OutputRole("coolant"),
    OutputRole("other"),
):
    output_role(_switched)
