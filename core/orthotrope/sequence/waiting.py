"""Waiting for an input that tells that something stands."""

from collections.abc import Iterator

from orthotrope.sequence.steps import Choose, ComputeIf, Dwell, Step
from orthotrope.sequence.values import Binary, Number, Value, parameter


def still_made(state: Value, timer: int, seconds: float, missing: int, note: str) -> Iterator[Step]:
    """After a wait for an input: one that is made before its device has had time to act is either right, since the device stood there
    already, or wired the other way round. It must still be made when the device has had that time; costs nothing where it was waited for.

    ``state``: what reads the input; ``timer``: the parameter that the wait has counted in; ``seconds``: how long the device takes;
    ``missing``: the label to go on at where the input is not made then."""
    waited, whole = parameter(timer), Number(round(seconds, 3))
    yield ComputeIf(Binary("GT", waited, Number(0)), timer, whole)
    yield Dwell(Binary("-", whole, waited), "made at once: as long as it takes")
    yield Choose(Binary("NE", state, Number(1)), missing, note)
