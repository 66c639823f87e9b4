"""The stage Routines: what is found on a part, in text and run, and what it needs before it is begun."""

from dataclasses import dataclass, replace

from orthotrope.calc.derived import DerivedChanger
from orthotrope.calc.probes import DerivedProbe, derive_probe
from orthotrope.calc.resting import RunOf, of_probe
from orthotrope.calc.unmeasured import TIP_OFF_AXIS
from orthotrope.errors import InputError
from orthotrope.machine.passing import Passing
from orthotrope.machine.report import TraceReport
from orthotrope.machine.shapes import Body
from orthotrope.program.reader import read_text
from orthotrope.program.writer import write
from orthotrope.proof.case import Case
from orthotrope.proof.completing import works_out
from orthotrope.proof.faults.registry import FAULTS
from orthotrope.proof.findings import Finding
from orthotrope.proof.judging import FaultResult, judge
from orthotrope.proof.program_values import ProgramValue, program_values
from orthotrope.proof.review import review
from orthotrope.proof.routines import routine_case, routine_sequence
from orthotrope.sequence.allotment import Allotment
from orthotrope.sequence.probing import PLANS, Tip, tip_of
from orthotrope.sequence.probing.qualifying import qualifying, routine_named
from orthotrope.sequence.probing.registry import Aim, clear_above
from orthotrope.sequence.probing.writing import FOUND, SIZES
from orthotrope.setup import Setup
from orthotrope.setup.control import ControlProfile
from orthotrope.setup.routines import Routine
from orthotrope.units import with_unit

from shop.stages.findings import passed_by
from shop.stages.registry import ANSWERS, Evidence, Mark, StageRequest, stage
from shop.stages.written import WrittenText, in_every_profile

Place = tuple[float, float, float]


@stage("Routines", answer="probing", sections=("routines",))
def mark(evidence: Evidence) -> tuple[Mark, str]:
    """Filled in when there is a routine that its probe can make, proven when all are."""
    wrong = [entry.message for entry in evidence.conflicts if entry.where.startswith("/routines")]
    if wrong:
        return "failing", wrong[0]
    return evidence.filled(bool(evidence.setup.routines), "There is no routine yet.")


@dataclass(frozen=True, slots=True)
class At:
    """A place, machine coordinates, mm; or a way of length 1."""

    x: float
    y: float
    z: float


@dataclass(frozen=True, slots=True)
class AimAnswer:
    """A touch: where the tip stands when its search begins, and when it touches as expected (its middle, its lowest point; machine
    coordinates), the gauge line then, the way it goes, and how far the search goes on beyond; mm."""

    name: str
    begins: At
    meets: At
    stands: At
    way: At
    beyond: float


@dataclass(frozen=True, slots=True)
class Kept:
    """A result that the control's text keeps: its name, the parameter, and what is expected (from the expected place for X, Y, Z;
    mm, or degrees)."""

    name: str
    parameter: int
    expected: float


@dataclass(frozen=True, slots=True)
class Need:
    """Something that must be so before a routine is begun; ``met`` null: that can't be known from here."""

    what: str
    met: bool | None
    says: str


@dataclass(frozen=True, slots=True)
class RoutineListed:
    """A routine by its name; ``qualifies``: the probe that it qualifies, "": none."""

    name: str
    kind: str
    qualifies: str


@dataclass(frozen=True, slots=True)
class ProbingAnswer:
    """The probes, the routines, and one of these in every control profile, run through the text of the one that is ``shown``.
    ``part``: what is touched, as expected; ``tip_radius``, ``tip_length``: of the tip that touches; ``clear_z``: where it
    moves across (its lowest point, machine Z); ``touch_texts``: a text for each touch, where the control can't do the sums;
    ``why``: why there is none. Of a program that was imported the text is that one, ``program_values`` what it works with, ``written`` the text in its place; ``under``: the fault that it was run under, and the verdict;
    ``run_of``: what is reported to a machine that runs it. mm."""

    probes: list[DerivedProbe]
    routines: list[RoutineListed]
    routine: str
    aims: list[AimAnswer]
    part: list[Body]
    tip_radius: float
    tip_length: float
    clear_z: float
    kept: list[Kept]
    needs: list[Need]
    works_out: bool
    run_of: RunOf
    from_tool: int
    to_tool: int
    texts: list[WrittenText]
    touch_texts: list[WrittenText]
    shown: str
    why: str
    under: FaultResult | None
    program_values: list[ProgramValue]
    written: str
    trace: TraceReport | None
    findings: list[Finding]
    passed: list[Passing]


@ANSWERS.register("probing")
def answer(setup: Setup, derived: DerivedChanger | None, asked: StageRequest) -> ProbingAnswer:
    """The probes, and the routine that was asked for, else the first."""
    own = {routine.name: "" for routine in setup.routines}
    own |= {routine.name: routine.probe or "" for routine in qualifying(setup)}
    listed = [RoutineListed(name, routine_named(setup, name).kind, of) for name, of in own.items()]
    name = asked.routine if asked.routine in own else next(iter(own), "")
    probes = [derive_probe(setup, index) for index in range(len(setup.probes))]
    shown = asked.profile or setup.machine.profile
    profile = setup.profile_named(shown)
    routine = routine_named(setup, name) if name else None
    tip, aims, why = _aimed(setup, routine)
    texts, case, why = _written(setup, name, shown, why) if routine and not why else ([], None, why)
    written = next((text.text for text in texts if text.profile == shown), None) or ""
    if asked.program is not None and case:
        case = replace(case, program=read_text(asked.program), _runs={})
        texts = [WrittenText(shown, "", asked.program)]
    under: FaultResult | None = None
    if case:
        case = asked.played(case)
        fault = FAULTS.get(asked.fault or "")
        fits = fault and not fault.of_exchange and case.program.readable
        if fault and fits and fault.applies(case.world, case.call):
            under_it = fault.apply_to(case)
            under = judge(under_it, fault.name, fault.detected_by(case))
            case = under_it
    held = tip.probe.tool if tip else 0
    late = case.world.tools[held] if case and held in case.world.tools else None
    return ProbingAnswer(
        probes=probes,
        routines=listed,
        routine=name,
        aims=[_aim(routine, tip, entry) for entry in aims] if routine and tip else [],
        part=[body for body in case.world.bodies if body.part_of in ("part", "way")] if case else [],
        tip_radius=late.radius if late else 0.0,
        tip_length=late.recorded if late else 0.0,
        clear_z=routine.z + clear_above(routine, tip, aims) if routine and tip else 0.0,
        kept=_kept(setup, routine) if routine else [],
        needs=_needs(setup, routine, tip) if routine else [],
        works_out=works_out(profile),
        run_of=RunOf(routine=name, rests_on=of_probe(setup, tip.probe) if tip else {}),
        from_tool=held,
        to_tool=held,
        texts=texts,
        touch_texts=_touches(setup, profile, name, len(aims))
        if case and not works_out(profile) and asked.program is None
        else [],
        shown=shown,
        why=why,
        under=under,
        written=written,
        program_values=program_values(case) if case and asked.program is not None else [],
        trace=TraceReport.of(case.main.trace) if case and case.program.readable else None,
        findings=review(case, of_setup=False) if case else [],
        passed=passed_by(case),
    )


def _aimed(setup: Setup, routine: Routine | None) -> tuple[Tip | None, list[Aim], str]:
    """The tip and the touches of a routine, and why there are none."""
    if routine is None:
        return None, [], "Add a routine first." if setup.probes else "Add a probe on the Probes stage first."
    try:
        tip = tip_of(setup, routine)
    except InputError as bad:
        return None, [], " ".join(fault.what for fault in bad.faults)
    return tip, list(PLANS[routine.kind].aims(routine, tip)) if tip else [], ""


def _aim(routine: Routine, tip: Tip, aim: Aim) -> AimAnswer:
    def placed(at: Place) -> At:
        return At(routine.x + at[0], routine.y + at[1], routine.z + at[2])

    meets, probe = placed(aim.meets), tip.probe
    stands = At(meets.x - probe.off_x, meets.y - probe.off_y, meets.z + tip.tool.whole_length)
    return AimAnswer(aim.name, placed(aim.at), meets, stands, At(*aim.way), routine.beyond)


def _kept(setup: Setup, routine: Routine) -> list[Kept]:
    use, expected = Allotment(setup.profile.parameters), PLANS[routine.kind].expected(routine)
    found = [Kept(axis, use.number(FOUND[axis]), 0.0) for axis in routine.axes]
    found += [Kept(name, use.number(SIZES[index]), expected[name]) for index, name in enumerate(routine.sizes)]
    return [*found, Kept("turn", use.number(FOUND["turn"]), 0.0)] if routine.finds_turn else found


def _needs(setup: Setup, routine: Routine, tip: Tip | None) -> list[Need]:
    """What must be so before it is begun."""
    needs = [Need("homed", None, "The machine is homed: places are machine coordinates.")]
    if tip is None:
        return needs
    probe = tip.probe
    entry = next(entry for entry in setup.inputs if entry.number == probe.input)
    needs.append(Need("input tested", None, f"{entry.name} is tested, idle and made, on the Signals stage."))
    needs.append(Need("probe in the spindle", None, f"T{probe.tool} is in the spindle, and the record says so."))
    if probe.tells_itself:
        known = probe.effective_diameter is not None
        says = (
            "The effective diameter is qualified."
            if known
            else "The tip is not qualified: its nominal diameter is taken."
        )
        needs.append(Need("qualified", known, says))
        turned = probe.angle_deg is not None
        across = any(axis in routine.axes for axis in "xy")
        if across:
            off = with_unit(TIP_OFF_AXIS)
            says = (
                f"The tip's place off the axis is set, at {probe.angle_deg:g}° of the spindle."
                if turned
                else f"No half turn is set: the tip may stand {off} off the axis, which is in the uncertainty of X and Y."
            )
            needs.append(Need("half turn", turned, says))
        same = probe.qualified_feed in (None, probe.measure_feed)
        needs.append(Need("same feed", same, "It measures at the feed that it was qualified at."))
    if routine.sets_turn:
        says = f"Work offset {routine.work_offset} is active, since the turn is about its zero."
        needs.append(Need("work offset active", None, says))
    if probe.taken_off:
        says = (
            f"{', '.join(probe.taken_off)[0].upper()}{', '.join(probe.taken_off)[1:]}: put on before, taken off after."
        )
        needs.append(Need("put on", None, says))
    return needs


def _written(setup: Setup, name: str, shown: str, why: str) -> tuple[list[WrittenText], Case | None, str]:
    """The routine in every control profile, its case in the one that is shown, and why there is none."""
    found: list[Case] = []

    def write_one(entry: ControlProfile) -> str:
        text, case = routine_case(setup, entry, name)
        if entry.name == shown:
            found.append(case)
        return text

    texts = in_every_profile(setup, lambda _: name, write_one)
    why = why or next((text.why for text in texts if text.profile == shown), "")
    return texts, found[0] if found else None, why


def _touches(setup: Setup, profile: ControlProfile, name: str, count: int) -> list[WrittenText]:
    """A text for each touch."""
    texts = []
    for number in range(1, count + 1):
        file = f"{setup.machine.name}-{name}-{number}{profile.file_ending}".lower().replace(" ", "-")
        texts.append(WrittenText(profile.name, file, write(routine_sequence(setup, profile, name, number), profile)))
    return texts
