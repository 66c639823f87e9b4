"""The stage Setter: where tools are measured, and one measuring sequence in text and run."""

from dataclasses import dataclass

from orthotrope.calc.derived import Derivation, DerivedChanger
from orthotrope.calc.lengths import SetterWindowInput, SetterWindowOutput, setter_window
from orthotrope.calc.resting import RunOf, of_reference, of_setter
from orthotrope.calc.setters import DerivedSetter, ToolAtSetter, derive_setter
from orthotrope.errors import InputError
from orthotrope.machine.passing import Passing
from orthotrope.machine.report import TraceReport
from orthotrope.proof.case import Case
from orthotrope.proof.faults.registry import FAULTS
from orthotrope.proof.findings import Finding
from orthotrope.proof.judging import FaultResult, judge
from orthotrope.proof.measuring import measuring_case
from orthotrope.proof.review import review
from orthotrope.sequence.allotment import Allotment
from orthotrope.sequence.measuring import MEASURING
from orthotrope.sequence.measuring.registry import USUAL
from orthotrope.setup import Setup
from orthotrope.setup.control import ControlProfile
from orthotrope.setup.setters import Setter

from shop.stages.findings import passed_by
from shop.stages.registry import ANSWERS, Evidence, Mark, StageRequest, stage
from shop.stages.written import WrittenText, in_every_profile

"""The sequence that is shown where none is asked for."""


@stage("Setter", answer="measuring", sections=("setters",))
def mark(evidence: Evidence) -> tuple[Mark, str]:
    """Filled in when there is a setter and a tool, proven when measuring them is."""
    setup = evidence.setup
    if not setup.setters:
        return "open", "There is no setter yet."
    wrong = [entry.message for entry in evidence.conflicts if entry.where.startswith("/setters")]
    return ("failing", wrong[0]) if wrong else evidence.filled(bool(setup.tools), "There is no tool to measure yet.")


@dataclass(frozen=True, slots=True)
class SetterAnswer:
    """What follows from a setter. ``place``: machine X, Y (None: not known); ``top_z``: the top of travel; ``window``: where the tools of the Setup
    stand over it (None: there is no tool). mm and mm/min."""

    name: str
    place: tuple[float, float] | None
    contact_z: float
    top_z: float
    push: float
    within: float
    fastest: float | None
    tools: tuple[ToolAtSetter, ...]
    window: SetterWindowOutput | None
    longest: int | None
    shortest: int | None
    workings: dict[str, Derivation]
    seconds: float
    seconds_unknown: float


@dataclass(frozen=True, slots=True)
class MeasuringAnswer:
    """The setters, and one measuring sequence in every control profile, run through the text of the one that is
    ``shown``. ``result_parameter``: where its text leaves what it
    has worked out, ``diameter_parameter`` a diameter; ``why``: why there is none. ``under``: the fault that it was run under, and the verdict; ``run_of``: what is reported to a machine that runs it."""

    setters: list[SetterAnswer]
    sequences: list[str]
    sequence: str
    setter: str | None
    tools: list[int]
    run_of: RunOf
    from_tool: int
    to_tool: int
    result_parameter: int
    diameter_parameter: int
    texts: list[WrittenText]
    shown: str
    why: str
    under: FaultResult | None
    trace: TraceReport | None
    findings: list[Finding]
    passed: list[Passing]


@ANSWERS.register("measuring")
def answer(setup: Setup, derived: DerivedChanger | None, asked: StageRequest) -> MeasuringAnswer:
    """The setters, and the sequence that was asked for, of its tools."""
    setters = [_setter(setup, derive_setter(setup, derived, index)) for index in range(len(setup.setters))]
    shown, at = asked.profile or setup.machine.profile, _at(setup, asked.setter)
    offered = [entry for entry, kind in MEASURING.items() if kind.is_laid == bool(at and at.lies_on)]
    usual = USUAL if USUAL in offered else offered[0]
    name = asked.sequence if asked.sequence in offered else usual
    known = {tool.number for tool in setup.tools}
    tools = [number for number in asked.tools if number in known] or sorted(known)[:1]
    if name != USUAL:
        tools = tools[:1]
    chosen = at.name if at else None
    use = Allotment(setup.profile.parameters)
    texts, case, why = _written(setup, name, tuple(tools), shown, chosen)
    under: FaultResult | None = None
    if case:
        case = asked.played(case)
        fault = FAULTS.get(asked.fault or "")
        if fault and not fault.of_exchange and fault.applies(case.world, case.call):
            under_it = fault.apply_to(case)
            under = judge(under_it, fault.name, fault.detected_by(case))
            case = under_it
    return MeasuringAnswer(
        setters=setters,
        sequences=offered,
        sequence=name,
        setter=chosen,
        tools=tools,
        run_of=_run_of(setup, name, tools, at),
        from_tool=tools[0] if tools else 0,
        to_tool=tools[-1] if tools else 0,
        result_parameter=use.number("result"),
        diameter_parameter=use.number("diameter"),
        texts=texts,
        shown=shown,
        why=why,
        under=under,
        trace=TraceReport.of(case.main.trace) if case else None,
        findings=review(case, of_setup=False) if case else [],
        passed=passed_by(case),
    )


def _run_of(setup: Setup, name: str, tools: list[int], at: Setter | None) -> RunOf:
    """What its results rest on: a plane on the reference tool, a length on the plane."""
    if at is None or not tools:
        return RunOf(name, tuple(tools))
    rests = of_reference(setup, at, tools[0]) if MEASURING[name].finds == "plane" else of_setter(setup, at)
    return RunOf(name, tuple(tools), at.name, rests_on=rests)


def _at(setup: Setup, name: str | None) -> Setter | None:
    """The setter of this name, else the first; None: there is none."""
    return next((entry for entry in setup.setters if entry.name == name), next(iter(setup.setters), None))


def _written(
    setup: Setup, name: str, tools: tuple[int, ...], shown: str, setter: str | None
) -> tuple[list[WrittenText], Case | None, str]:
    """The sequence in every control profile, its case in the one that is shown, and why there is none."""
    if not setup.setters or not tools:
        return [], None, "Add a setter first." if not setup.setters else "Add a tool on the Tools stage first."
    found: list[Case] = []

    def write_one(entry: ControlProfile) -> str:
        text, case = measuring_case(setup, entry, name, tools, setter)
        if entry.name == shown:
            found.append(case)
        return text

    file = f"{name}-{tools[0]}" if len(tools) == 1 else name
    try:
        texts = in_every_profile(setup, lambda _: file, write_one)
    except InputError as bad:
        return [], None, " ".join(fault.what for fault in bad.faults)
    why = next((text.why for text in texts if text.profile == shown), "")
    return texts, found[0] if found else None, why


def _setter(setup: Setup, found: DerivedSetter) -> SetterAnswer:
    setter, upright = found.setter, setup.machine.axes.upright
    ordered = sorted(setup.tools, key=lambda tool: tool.whole_length)
    window = None
    if ordered:
        window = setter_window(
            SetterWindowInput(
                plane_z=setter.plane_z,
                z_min=upright.soft_least,
                z_top=upright.soft_greatest,
                longest=ordered[-1].whole_length,
                shortest=ordered[0].whole_length,
                margin=setter.margin,
                search_feed=setter.search_feed,
                measure_feed=setter.measure_feed,
                back_off=setter.back_off,
            )
        )
    return SetterAnswer(
        name=setter.name,
        place=found.place,
        contact_z=found.contact_z,
        top_z=upright.soft_greatest,
        push=found.search.push,
        within=found.search.within,
        fastest=found.search.fastest,
        tools=found.tools,
        window=window,
        longest=ordered[-1].number if ordered else None,
        shortest=ordered[0].number if ordered else None,
        workings=found.workings,
        seconds=sum(entry.seconds for entry in found.tools),
        seconds_unknown=sum(entry.seconds_unknown for entry in found.tools),
    )
