"""What touches, or is touched, and reports it: tool setters and probes are both such devices."""

from abc import ABC
from typing import Annotated, ClassVar

from pydantic import Field

from orthotrope.setup.machine import Name
from orthotrope.setup.signals import SignalNumber
from orthotrope.validation import Distance, Feed, PositiveLength, Record, Seconds


class TouchDevice(Record, ABC):
    """A device that reports touches. ``input``: the number of the input that a touch actuates; ``search_feed``: of the fast touch that finds
    a surface, ``measure_feed``: of those that count, mm/min; ``back_off`` after a search; ``trigger_travel``: from the contact until it
    switches; ``touches`` that count, and the greatest ``spread`` between them; ``repeatability``: two standard deviations of one; mm.
    ``latency``: seconds that it needs itself before its input changes; ``polling``: how often the control looks at that, seconds (0: it
    latches at once)."""

    usual_name: ClassVar[str]
    """What a new one is called."""
    usual_roles: ClassVar[tuple[str, ...]]
    """Roles of the inputs that such a device usually actuates, the most usual first."""

    kind: str
    name: Name
    input: SignalNumber
    search_feed: Feed = 300.0
    measure_feed: Feed = 60.0
    back_off: PositiveLength = 2.0
    trigger_travel: Distance = 0.0
    touches: Annotated[int, Field(ge=1, le=10)] = 2
    spread: Distance = 0.02
    repeatability: Distance = 0.01
    latency: Seconds = 0.0
    polling: Seconds = 0.0
