"""A boss, touched round the clock."""

from typing import Literal

from orthotrope.setup.rounds import RoundRoutine
from orthotrope.setup.routines import ROUTINES


@ROUTINES.register("boss")
class Boss(RoundRoutine):
    kind: Literal["boss"]
