"""A machine to begin with: a kind of machine, its travel, and a style of changer with all that it needs, from numbers that go together.

What it makes is proven before it is given: its exchanges have no stop. All numbers are to be measured and corrected."""

from dataclasses import dataclass
from itertools import count

from orthotrope.calc.derived import derive
from orthotrope.errors import Fault, InputError
from orthotrope.proof.conflicts import conflicts
from orthotrope.proof.exchanges import prove_exchanges
from orthotrope.registry import Registry
from orthotrope.setup import Setup
from orthotrope.setup.changer import CHANGERS, Changer
from orthotrope.setup.control import ControlProfile
from orthotrope.setup.machine import Axes, Axis, Spindle
from orthotrope.setup.planned import with_planned
from orthotrope.setup.roles import INPUT_ROLES, OUTPUT_ROLES
from orthotrope.setup.signals import Input, Output
from orthotrope.setup.templates import bare_setup, changer_template
from orthotrope.setup.tools import Tool, ToolType
from orthotrope.units import with_unit
from orthotrope.validation import parse


@dataclass(frozen=True, slots=True)
class MachineKind:
    """A kind of machine: the ``travel`` that is offered (X, Y, Z), rapid and acceleration of X and Y and of Z, its spindle. mm, mm/min,
    mm/s²; values from the middle of the usual ranges (hardware.md)."""

    travel: tuple[float, float, float]
    rapid: tuple[float, float]
    acceleration: tuple[float, float]
    resolution: float
    spindle: Spindle


MACHINE_KINDS: Registry[MachineKind] = Registry("kind of machine", "orthotrope.proof.starting", sort=False)
MACHINE_KINDS.add(
    "router",
    MachineKind(
        (600.0, 900.0, 250.0),
        (8000.0, 4000.0),
        (500.0, 300.0),
        0.01,
        bare_setup("router").machine.spindle,
    ),
)
MACHINE_KINDS.add(
    "machining centre",
    MachineKind(
        (700.0, 450.0, 500.0),
        (30000.0, 24000.0),
        (4000.0, 3000.0),
        0.001,
        Spindle(
            least_speed=50.0,
            greatest_speed=10000.0,
            seconds_to_speed=2.0,
            nose_diameter=70.0,
            nose_length=90.0,
            body_diameter=160.0,
            body_length=300.0,
        ),
    ),
)

NUT_NOSE = 30.0
"""mm; a nose that takes a collet nut is no wider."""

GRIPPED_NOSE = (50.0, 70.0)
"""mm; a nose that takes a gripped holder is at least so wide, and stands at least so far below its body."""

TOOLS: tuple[tuple[ToolType, float, float], ...] = (
    ("flat end mill", 6.0, 0.8),
    ("flat end mill", 10.0, 0.9),
    ("drill", 8.5, 1.0),
)
"""The tools to begin with: type, diameter in mm, and the length as a part of the longest."""

NUT_LONGEST, GRIP_LONGEST = 62.0, 110.0
"""mm; the longest of them, in a collet nut or a hand, and in a gripped holder."""

STICK_OUT = 0.55
"""Of a tool's length."""

FREE_WORDS = (41, 42, 43, 45, 46, 47, 50, 51)
"""M words for devices that no standard word is for; they are to be replaced by the control's own."""

OWN_WORDS = {"blow air": ("M7", "M9")}


def started(name: str, kind: str, unit: str, travel: tuple[float, float, float], style: str) -> Setup:
    """A Setup to begin with. ``travel``: of X, Y and Z, mm; ``style``: of the changer, "" for none.

    Raises:
        InputError: where there is no such kind or style, or where the travel is too short for the style.
    """
    base, found = bare_setup(name), MACHINE_KINDS.find(kind, "/kind")
    machine = base.machine.model_copy(
        update={"unit": unit, "axes": _axes(found, travel), "spindle": found.spindle, "profile": base.machine.profile}
    )
    offsets = [base.work_offsets[0].model_copy(update={"z": round(-travel[2] + 10.0, 3)})]
    setup = base.model_copy(update={"machine": machine, "work_offsets": offsets})
    if unit == "inch":
        setup = _with_profile(
            setup, setup.profile.model_copy(update={"name": "workshop inch", "unit": "inch", "decimals": 5})
        )
    made = _with_changer(setup, style) if style else setup
    document = made.as_json()
    changer = [("changer",)] if made.changer else []
    return parse(Setup, with_planned(document, ("machine",), ("tools",), *changer, entered=TRAVEL))


TRAVEL = frozenset(f"/machine/axes/{axis}/{end}" for axis in "XYZ" for end in ("least", "greatest"))
"""What was entered for it."""


def _axes(kind: MachineKind, travel: tuple[float, float, float]) -> Axes:
    every = {}
    for name, way in zip("XYZ", travel, strict=True):
        upright = name == "Z"
        every[name] = Axis(
            least=-way if upright else 0.0,
            greatest=0.0 if upright else way,
            home="greatest" if upright else "least",
            rapid=kind.rapid[upright],
            acceleration=kind.acceleration[upright],
            resolution=kind.resolution,
        )
    return Axes(**every)


def _with_profile(setup: Setup, profile: ControlProfile) -> Setup:
    """With a control profile of its own."""
    machine = setup.machine.model_copy(update={"profile": profile.name})
    return setup.model_copy(update={"machine": machine, "profiles": [profile]})


def _with_changer(setup: Setup, style: str) -> Setup:
    kind = CHANGERS.find(style, "/style")
    grips = "grip" in kind.switches
    spindle, longest = setup.machine.spindle, NUT_LONGEST
    if grips:
        longest = GRIP_LONGEST
        nose, length = (
            max(pair) for pair in zip(GRIPPED_NOSE, (spindle.nose_diameter, spindle.nose_length), strict=True)
        )
        spindle = spindle.model_copy(update={"nose_diameter": nose, "nose_length": length})
    else:
        spindle = spindle.model_copy(update={"nose_diameter": min(spindle.nose_diameter, NUT_NOSE)})
    setup = setup.model_copy(update={"machine": setup.machine.model_copy(update={"spindle": spindle})})
    changer = changer_template(setup, style)
    outputs = _outputs(kind, setup.profile)
    switched = [word for output in outputs for word in (output.word_on, output.word_off)]
    missing = {int(word[1:]) for word in (*switched, *changer.own_words)} - set(setup.profile.m_words)
    if missing:
        named = setup.profile.name if setup.profiles else f"workshop {setup.machine.unit}"
        m_words = sorted({*setup.profile.m_words, *missing})
        setup = _with_profile(setup, setup.profile.model_copy(update={"name": named, "m_words": m_words}))
    document = setup.as_json()
    document |= {
        "changer": changer.model_dump(mode="json"),
        "inputs": [entry.model_dump(mode="json") for entry in _inputs(kind)],
        "outputs": [entry.model_dump(mode="json") for entry in outputs],
        "tools": [entry.model_dump(mode="json") for entry in _tools(min(longest, changer.deepest), changer)],
    }
    made = parse(Setup, document)
    _goes_together(made, style)
    return made


def _inputs(kind: type[Changer]) -> list[Input]:
    return [
        Input(number=number, name=role, role=role, terminal=f"I{number}", wiring="normally open", level="low")
        for number, role in enumerate((role for role in kind.sensors if role in INPUT_ROLES), 1)
    ]


def _outputs(kind: type[Changer], profile: ControlProfile) -> list[Output]:
    """An output for each role that the style switches."""
    free, outputs = iter(FREE_WORDS), []
    known = {"grip": (profile.grip_open, profile.grip_close), "orient": (profile.orient, "M5"), **OWN_WORDS}
    for number, role in zip(count(1), kind.switches):
        on, off = known.get(role) or (f"M{next(free)}", f"M{next(free)}")
        seconds = OUTPUT_ROLES[role].seconds or 0.5
        outputs.append(
            Output(
                number=number, name=role, role=role, terminal=f"O{number}", word_on=on, word_off=off, seconds=seconds
            )
        )
    return outputs


def _tools(longest: float, changer: Changer) -> list[Tool]:
    tools = []
    for number, (kind, diameter, part) in enumerate(TOOLS, 1):
        length = round(longest * part, 1)
        pocket = number if number <= changer.pocket_count else None
        name = f"{kind} {diameter:g}"
        stick_out = round(length * STICK_OUT, 1)
        tools.append(
            Tool(
                number=number,
                name=name,
                type=kind,
                diameter=diameter,
                length=length,
                stick_out=stick_out,
                pocket=pocket,
            )
        )
    return tools


def _goes_together(setup: Setup, style: str) -> None:
    """Whether its first proof has no stop.

    Raises:
        InputError: with the first thing that does not fit.
    """
    reported = [entry.message for entry in conflicts(setup, derive(setup)) if entry.severity == "stop"]
    if not reported:
        results = prove_exchanges(setup)
        reported = [f.message for result in results for f in result.findings if f.severity == "stop"]
    if reported:
        travel = ", ".join(with_unit(axis.greatest - axis.least) for _, axis in setup.machine.axes.items())
        what = f"`travel` of {travel} does not fit {style} with the usual numbers: {reported[0]} Enter a longer travel, or choose another style."
        raise InputError([Fault("/travel", what)])
