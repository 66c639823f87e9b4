from orthotrope.calc.registry import Result, calculation
from orthotrope.validation import PositiveLength, Record


class MagnetInput(Record):
    gap: PositiveLength


class MagnetOutput(Result):
    share: float


@calculation("magnet-pull", "what is left of a magnet's pull at a gap")
def magnet_pull(data: MagnetInput) -> MagnetOutput:
    return MagnetOutput(share=1 / (1 + data.gap) ** 2)
