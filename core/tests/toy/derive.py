from orthotrope.calc.derived import DERIVING, Derivation, DerivedChanger, Storage, StoredFeed, Taking, Term, climb
from orthotrope.calc.pockets import Pocket
from orthotrope.setup import Setup

from toy.model import MagnetRow

SLOW = 600.0


@DERIVING.register("magnet row")
def derive(setup: Setup, changer: MagnetRow) -> DerivedChanger:
    ladder, count = climb(setup, changer), changer.count
    pockets = tuple(Pocket(pocket=n, x=changer.x + (n - 1) * changer.pitch, y=changer.y) for n in range(1, count + 1))
    pitch = Term("pitch", changer.pitch, "mm", "/changer/pitch")
    return DerivedChanger(
        **ladder.shared(changer, 0.0),
        pockets=pockets,
        rack_top_z=ladder.heights.couple_z - 60.0,
        middle=(changer.x, changer.y),
        workings={
            **ladder.workings,
            "row_length": Derivation("Row", (count - 1) * changer.pitch, "mm", "pitch · (pins − 1)", (pitch,)),
        },
        storage=Storage(
            "pin",
            changer.pin_diameter,
            changer.pitch,
            tuple(frozenset({n - 1, n + 1} & set(range(1, count + 1))) for n in range(1, count + 1)),
        ),
        taking=Taking(
            tuple((p.pocket, p.x, p.y) for p in pockets),
            "/changer",
            changer.pitch / 2,
            StoredFeed(SLOW, "/changer/heights/touch_z", "feed onto the pin"),
        ),
    )
