from orthotrope.calc.derived import DerivedChanger
from orthotrope.machine.shapes import CylinderBody
from orthotrope.proof.worlds import WORLDS, Placed, device_seconds, pockets_of, word_number
from orthotrope.setup import Setup

from toy.machine import Pins
from toy.model import MagnetRow


@WORLDS.register("magnet row")
def place(setup: Setup, changer: MagnetRow, derived: DerivedChanger) -> Placed:
    output = setup.output_of("magnet")
    words = {word_number(output.word_on): "on", word_number(output.word_off): "off"} if output else {}
    pins = Pins(
        **pockets_of(setup, changer, derived),
        words=words,
        seconds=device_seconds(setup, "magnet"),
        aligned=0.5,
        places={p.pocket: (p.x, p.y) for p in derived.pockets},
    )
    low, high = derived.rack_top_z - 20.0, derived.rack_top_z
    return Placed(
        pins,
        tuple(CylinderBody(f"pin {p.pocket}", p.x, p.y, 4.0, low, high, part_of="changer") for p in derived.pockets),
    )
