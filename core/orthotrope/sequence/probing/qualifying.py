"""Qualifying a probe is a routine on something that is known: its diameter comes of a bore or a boss of known size, its length
of a face of known height."""

from orthotrope.errors import InputError
from orthotrope.setup import Setup
from orthotrope.setup.probes import Probe
from orthotrope.setup.routines import ROUTINES, Routine
from orthotrope.validation import parse

AS_ROUTINE = {"ring": "bore", "plug": "boss", "ball": "boss"}
"""Artefact → the kind of routine that finds it."""

DIAMETER, LENGTH = "diameter of {}", "length of {}"
"""The names of the routines that qualify a probe."""


def qualifying(setup: Setup) -> list[Routine]:
    """The routines that qualify the Setup's probes: those that have something to be qualified on."""
    return [routine for probe in setup.probes for routine in _of(setup, probe)]


def _of(setup: Setup, probe: Probe) -> list[Routine]:
    artefact, found = probe.artefact, []
    if artefact is None:
        return []
    shared = {"probe": probe.name, "work_offset": None}
    radius = setup.tool(probe.tool).diameter / 2
    depth = artefact.diameter / 2 + radius if artefact.kind == "ball" else artefact.depth
    kind = AS_ROUTINE[artefact.kind]
    round_about = {
        "kind": kind,
        "name": DIAMETER.format(probe.name),
        "x": artefact.x,
        "y": artefact.y,
        "z": artefact.z,
        "diameter": artefact.diameter,
        "touches": artefact.touches,
        "depth": depth,
    }
    found.append(parse(ROUTINES[kind], {**shared, **round_about}))
    if artefact.face_x is not None and artefact.face_y is not None and artefact.face_z is not None:
        face = {"x": artefact.face_x, "y": artefact.face_y, "z": artefact.face_z}
        found.append(
            parse(ROUTINES["surface"], {**shared, **face, "kind": "surface", "name": LENGTH.format(probe.name)})
        )
    return found


def routine_named(setup: Setup, name: str) -> Routine:
    """A routine of the Setup, or one that qualifies a probe, by its name.

    Raises:
        InputError: where there is none.
    """
    for routine in (*setup.routines, *qualifying(setup)):
        if routine.name == name:
            return routine
    known = ", ".join(f'"{routine.name}"' for routine in (*setup.routines, *qualifying(setup))) or "none"
    raise InputError.at("/name", f'There is no routine "{name}"; there are {known}.')
