"""Seconds and memory of what is computed, and the refusals that tell of them."""

import resource
import sys
from dataclasses import dataclass

from orthotrope.errors import OrthotropeError


@dataclass(frozen=True, slots=True)
class Limits:
    """What one task may take: seconds, and bytes of memory beyond what its process had when it began."""

    seconds: float
    memory: int


class Refused(OrthotropeError):
    """What was asked for is not computed; the text says why and what to do."""


class TooLong(Refused):
    def __init__(self, seconds: float):
        super().__init__(
            f"This takes longer than {seconds:g} seconds and was stopped. Is there a loop without an end, or far more "
            "than one machine has? Send less at a time."
        )


class StillStarting(Refused):
    def __init__(self) -> None:
        super().__init__("The server's workers are still starting. Try again in some seconds.")


class TooMuch(Refused):
    def __init__(self, memory: int):
        super().__init__(
            f"This needs more than {memory / 1e6:.0f} MB of memory and was stopped. Is there a loop without an end, or "
            "far more than one machine has? Send less at a time."
        )


class Died(Refused):
    def __init__(self) -> None:
        super().__init__("The process that worked on this has ended unexpectedly. Try again.")


class Dropped(Refused):
    """Nobody waits for it any more."""

    def __init__(self) -> None:
        super().__init__("This was asked anew, or nobody waits for it any more.")


class Crowded(Refused):
    def __init__(self) -> None:
        super().__init__("Too many of your requests are being worked on. Wait until they are answered, then try again.")


def hold(memory: int) -> None:
    """Let this process take no more than so many bytes beyond what it has; where the system can't, it has no limit."""
    if sys.platform != "linux":
        return
    with open("/proc/self/statm", encoding="ascii") as pages:
        data = int(pages.read().split()[5]) * resource.getpagesize()
    resource.setrlimit(resource.RLIMIT_DATA, (data + memory, data + memory))
