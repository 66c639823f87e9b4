"""All of a technician's work in the hidden world of a seed: measuring, then probing."""

from orthotrope.errors import InputError
from orthotrope.practising.loop import Quantity, practise
from orthotrope.practising.probing import probed
from orthotrope.setup import Setup


def practise_all(setup: Setup, seed: int) -> list[Quantity]:
    """Pockets, setter and tools where there is a setter; probes and routines where a probe has something to be qualified on.

    Raises:
        InputError: where there is neither.
    """
    measuring = bool(setup.setters) and bool(setup.tools)
    probing = any(probe.artefact and probe.artefact.face_z is not None for probe in setup.probes)
    if not measuring and not probing:
        raise InputError.at(
            "/setters",
            "A setter and a tool are needed, or a probe with something to qualify it on; add them on their stages.",
        )
    return [*(practise(setup, seed) if measuring else []), *(probed(setup, seed) if probing else [])]
