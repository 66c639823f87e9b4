"""The core's words, for the screen to offer: what is in a registry is on the screen."""

from typing import Any

from orthotrope.proof.faults.registry import FAULTS
from orthotrope.proof.judging import VERDICTS
from orthotrope.setup.changer import CHANGERS
from orthotrope.setup.keys import KEYS
from orthotrope.setup.roles import INPUT_ROLES, OUTPUT_ROLES


def vocabulary() -> dict[str, Any]:
    """Roles of signals, styles of changer, faults and verdicts with what they are called, and the keys of lists."""
    return {
        "input_roles": list(INPUT_ROLES),
        "output_roles": list(OUTPUT_ROLES),
        "keys": KEYS,
        "verdicts": VERDICTS,
        "faults": {name: fault.label for name, fault in FAULTS.items()},
        "styles": {
            name: {"sensors": style.sensors, "switches": style.switches, "words": style.words}
            for name, style in CHANGERS.items()
        },
    }
