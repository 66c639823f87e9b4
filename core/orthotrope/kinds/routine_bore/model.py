"""A bore, touched round the clock."""

from typing import Literal

from orthotrope.setup.rounds import RoundRoutine
from orthotrope.setup.routines import ROUTINES


@ROUTINES.register("bore")
class Bore(RoundRoutine):
    kind: Literal["bore"]
