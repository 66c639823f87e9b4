"""Probing routines, and those that qualify a probe."""

from collections.abc import Callable, Iterable, Iterator
from typing import Any

from orthotrope.errors import OrthotropeError
from orthotrope.proof.case import Case
from orthotrope.proof.completing import works_out
from orthotrope.proof.digest import digest_of
from orthotrope.proof.routines import RoutineRef, case_of, provable, prove_routine, routine_case
from orthotrope.proof.sequences.registry import REFS, SEQUENCES, Choice, SequenceKind, SequenceResult, no_text
from orthotrope.sequence.probing.qualifying import routine_named
from orthotrope.setup import Setup, read_setup
from orthotrope.units import shown_in

OF_A_RECORD: dict[str, Any] = {
    **dict.fromkeys(("name", "due_days", "effective_uncertainty", "length_uncertainty"), True),
    "artefact": {"diameter_uncertainty", "face_uncertainty"},
}
"""The fields of a probe that no program and no check uses."""

ROUTINE = "routine "


def _every(setup: Setup) -> list[RoutineRef]:
    return [RoutineRef(name=name) for name in provable(setup)]


def _cases(setup: Setup) -> Callable[[RoutineRef], Case | None]:
    """None on a control without arithmetic: there each touch has a text of its own."""
    profile = setup.profile
    return lambda ref: routine_case(setup, profile, ref.name)[1] if works_out(profile) else None


def _prove(
    document: dict[str, Any], refs: list[RoutineRef], imported: str | None, prepared: Any
) -> list[SequenceResult]:
    setup = read_setup(document)

    def result(ref: RoutineRef) -> SequenceResult:
        try:
            return prove_routine(setup, ref.name, None, imported)
        except OrthotropeError as none:
            return no_text(ref, none)

    with shown_in(setup.machine.unit):
        return [result(ref) for ref in refs]


def _digests(setup: Setup, imported: str) -> dict[str, str]:
    """Its own values and those of its probe: beside what is shared its text is written from nothing else."""
    probes = {probe.name: probe.model_dump(exclude=OF_A_RECORD) for probe in setup.probes}
    return {
        f"{ROUTINE}{name}": digest_of([probes.get(routine.probe or ""), routine.model_dump(exclude={"name", "probe"})])
        for name in (provable(setup) if not imported else ())
        for routine in (routine_named(setup, name),)
    }


def _addressed(names: Iterable[str]) -> Iterator[RoutineRef]:
    return (RoutineRef(name=name.removeprefix(ROUTINE)) for name in names if name.startswith(ROUTINE))


def _concerns(setup: Setup, ref: RoutineRef, section: str, index: int) -> bool:
    return section != "routines" or setup.routines[index].name == ref.name


def _chosen(every: list[RoutineRef], choice: Choice) -> list[RoutineRef]:
    meant = choice.name is not None or choice.of_all
    return [ref for ref in every if choice.name in (None, ref.name)] if meant else []


REFS.add("routine", RoutineRef)
SEQUENCES.add(
    "routine",
    SequenceKind(
        ref=RoutineRef,
        option="routines",
        needs="A probe and a routine are needed",
        every=_every,
        once=_every,
        cases=_cases,
        written=lambda setup, ref: routine_case(setup, setup.profile, ref.name)[0],
        prove=_prove,
        digests=_digests,
        address=lambda ref: (f"{ROUTINE}{ref.name}",),
        addressed=_addressed,
        in_words=lambda ref: ref.name,
        as_case=lambda ref: {"sequence": "routine", "name": ref.name},
        chosen=_chosen,
        tools=lambda ref: frozenset(),
        concerns=_concerns,
        there=lambda setup, ref: case_of(setup, setup.profile, routine_named(setup, ref.name), ""),
    ),
)
