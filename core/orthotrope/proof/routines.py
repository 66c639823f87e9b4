"""The proof of routines: each with the part as expected, under every fault, with the part otherwise than expected, and from
every caller."""

from collections.abc import Iterator
from typing import Literal

from orthotrope.calc.derived import derive
from orthotrope.machine.run import Call
from orthotrope.program.reader import read_text
from orthotrope.program.writer import write
from orthotrope.proof.callers import called_after_others, called_from_elsewhere, called_in_combination, called_otherwise
from orthotrope.proof.case import Case, ProbedPart, findings_of
from orthotrope.proof.completing import refused, works_out
from orthotrope.proof.conflicts import device_findings
from orthotrope.proof.fault_runs import SharedRun
from orthotrope.proof.faults.registry import WORSE
from orthotrope.proof.findings import SEVERITIES, worst_first
from orthotrope.proof.judging import FaultResult
from orthotrope.proof.review import called_at
from orthotrope.proof.sequences.registry import SequenceRef, SequenceResult
from orthotrope.proof.verdicts import judge_faults, judge_faults_called
from orthotrope.proof.worlds import nominal_world
from orthotrope.sequence.allotment import Allotment
from orthotrope.sequence.probing import PLANS, plan_routine, plan_touch, tip_of
from orthotrope.sequence.probing.qualifying import qualifying, routine_named
from orthotrope.sequence.probing.writing import FOUND, SIZES
from orthotrope.sequence.steps import Sequence
from orthotrope.setup import Setup
from orthotrope.setup.control import ControlProfile
from orthotrope.setup.routines import Routine


class RoutineRef(SequenceRef):
    """A routine by its name: one of the Setup's, or one that qualifies a probe."""

    kind: Literal["routine"] = "routine"
    name: str


def routine_sequence(setup: Setup, profile: ControlProfile, name: str, touch: int | None = None) -> Sequence:
    """The steps of a routine, or of one of its touches.

    Raises:
        InputError: see :func:`plan_routine` and :func:`plan_touch`.
    """
    at = called_at(setup)[:2]
    return plan_routine(setup, name, profile, at) if touch is None else plan_touch(setup, name, touch, profile, at)


def routine_case(setup: Setup, profile: ControlProfile, name: str, touch: int | None = None) -> tuple[str, Case]:
    """Text and case of a routine in the nominal world, with its probe in the spindle and the part as expected.

    Raises:
        InputError: see :func:`plan_routine`.
    """
    routine, text = routine_named(setup, name), write(routine_sequence(setup, profile, name, touch), profile)
    return text, case_of(setup, profile, routine, text)


def case_of(setup: Setup, profile: ControlProfile, routine: Routine, text: str) -> Case:
    """The case of a text that is to make a routine: the written one, or another."""
    tip = tip_of(setup, routine)
    held = tip.probe.tool if tip else 0
    call = Call(called_at(setup), from_tool=held, to_tool=held)
    world = nominal_world(setup, routine=routine)
    clear = routine.z + routine.clearance
    if tip:
        from_above = [aim.at[2] for aim in PLANS[routine.kind].aims(routine, tip) if aim.way[2]]
        above = routine.clearance + tip.probe.stand_off.z
        clear = routine.z + min(above, max(from_above, default=above))  # a search from above begins at its own height
    place = {"xyz".index(axis): (routine.x, routine.y, routine.z)["xyz".index(axis)] for axis in routine.axes}
    expected = ProbedPart(
        routine.name,
        routine.work_offset,
        clear,
        place if routine.work_offset is not None else {},
        (routine.readout_x, routine.readout_y, routine.readout_z),
        place_tolerance=routine.place_tolerance,
        turn_tolerance=routine.turn_tolerance,
        sets_turn=routine.sets_turn,
        holds_turned=routine.holds_turned,
        sizes=_sizes(profile, routine),
        kept=_kept(profile, routine),
    )
    return Case(read_text(text), profile, "probe", world, call, setup, derive(setup), expected)


def _sizes(profile: ControlProfile, routine: Routine) -> tuple[tuple[int, str, float], ...]:
    """The parameters in which a control keeps the sizes that are found, with what they are."""
    expected, use = PLANS[routine.kind].expected(routine), Allotment(profile.parameters)
    return tuple((use.number(kept), name, expected[name]) for kept, name in zip(SIZES, routine.sizes, strict=False))


def _kept(profile: ControlProfile, routine: Routine) -> tuple[tuple[int, int], ...]:
    """The parameters in which a control keeps what a routine finds that sets no zero, with their axes."""
    use = Allotment(profile.parameters)
    wanted = routine.work_offset is None and routine.touches_part
    return tuple((use.number(FOUND[axis]), "xyz".index(axis)) for axis in routine.axes) if wanted else ()


def prove_routine(
    setup: Setup, name: str, profile: ControlProfile | None = None, imported: str | None = None
) -> SequenceResult:
    """What a routine comes to; of a control that can't do the sums each touch's own text. ``imported``: another text that is
    to make it."""
    profile = profile or setup.profile
    if imported is not None:
        texts = [case_of(setup, profile, routine_named(setup, name), imported)]
    else:
        texts = [case for _, case in _cases(setup, profile, name)]
    tip = tip_of(setup, routine_named(setup, name))
    findings = device_findings(setup, f"/probes/{setup.probes.index(tip.probe)}") if tip else []
    judged: dict[str, FaultResult] = {}
    for case in texts:
        if not case.program.readable:
            findings += findings_of(case, "static")
            continue
        shared = SharedRun(case, looks=True)
        found = [
            *findings_of(case, "static", "text", "run"),
            *called_from_elsewhere(case, False),
            *called_otherwise(case),
            *called_after_others(case),
            *called_in_combination(case),
        ]
        if not any(finding.severity == "stop" for finding in found):
            found += refused(case)
        verdicts = () if case.main.endless else tuple(judge_faults(case, shared))
        findings += [*found, *judge_faults_called(case, verdicts)]
        for verdict in verdicts:
            known = judged.get(verdict.fault)
            if known is None or WORSE.index(verdict.verdict) < WORSE.index(known.verdict):
                judged[verdict.fault] = verdict
    findings = worst_first(findings)
    worst = next((severity for severity in SEVERITIES if any(f.severity == severity for f in findings)), None)
    seconds = sum(case.main.trace.seconds for case in texts if case.program.readable)
    left = tuple(texts[0].unreached()) if len(texts) == 1 and judged else None
    closest = min((case.closest for case in texts if case.program.readable and case.closest), default=None)
    return SequenceResult(
        RoutineRef(name=name),
        worst,
        tuple(findings),
        seconds,
        tuple(judged.values()),
        closest=closest,
        unreached=left,
    )


def _cases(setup: Setup, profile: ControlProfile, name: str) -> Iterator[tuple[str, Case]]:
    """The texts of a routine and their cases."""
    routine = routine_named(setup, name)
    tip = tip_of(setup, routine)
    touches = len(PLANS[routine.kind].aims(routine, tip)) if tip else 0
    if not touches or works_out(profile):
        yield routine_case(setup, profile, name)
        return
    for number in range(1, touches + 1):
        yield routine_case(setup, profile, name, number)


def provable(setup: Setup) -> list[str]:
    """The names of the routines that are proven: the Setup's, and those that qualify its probes."""
    return [routine.name for routine in (*setup.routines, *qualifying(setup))]
