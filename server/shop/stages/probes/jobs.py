"""What qualifying a probe comes to."""

from typing import Any

from orthotrope.errors import InputError
from orthotrope.sequence.probing.qualified import (
    OffCentre,
    QualifiedDiameter,
    QualifiedLength,
    diameter_from,
    length_from,
    off_centre_from,
)
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.probes import Probe
from orthotrope.units import shown_in

from shop.job import answers

Places = list[tuple[float, float, float]]


def _probe(document: dict[str, Any], name: str) -> tuple[Setup, Probe]:
    setup = read_setup(document)
    found = next((probe for probe in setup.probes if probe.name == name), None)
    if found is None:
        raise InputError.at("/probe", f'There is no probe "{name}".')
    return setup, found


@answers(QualifiedDiameter)
def diameter(document: dict[str, Any], name: str, places: Places) -> QualifiedDiameter:
    """From where the touches round the clock were latched, mm."""
    setup, probe = _probe(document, name)
    with shown_in(setup.machine.unit):
        return diameter_from(setup, probe, places)


@answers(OffCentre)
def off_centre(document: dict[str, Any], name: str, places: Places, turned: Places) -> OffCentre:
    """From the same touches at 0° and half a turn further, mm."""
    setup, probe = _probe(document, name)
    with shown_in(setup.machine.unit):
        return off_centre_from(setup, probe, places, turned)


@answers(QualifiedLength)
def length(document: dict[str, Any], name: str, heights: list[float]) -> QualifiedLength:
    """From repeated touches of the reference face, mm."""
    setup, probe = _probe(document, name)
    with shown_in(setup.machine.unit):
        return length_from(setup, probe, heights)
