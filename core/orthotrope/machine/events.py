"""The kinds of what happens in a run."""

from typing import Literal

EventKind = Literal[
    # what a program does
    "message",
    "pause",
    "set",
    "spindle",
    "switched",
    "touch",
    "missed-touch",
    "tool-changed",
    "contact-kept",
    "length-old",
    "length-active",
    "length-set",
    "offset-set",
    "zero-set",
    "touched-move",
    "turned",
    # how it confirms what it switched
    "blind-dwell",
    "unconfirmed",
    "not-simulated",
    "wait-expired",
    # what stops a machine
    "already-made",
    "beyond-travel",
    "body-contact",
    "end-stop",
    "feed-over-axis",
    "not-homed",
    "overtravel-exceeded",
    # what gives way
    "pressed",
    "released",
    # devices and tools of a changer
    "device",
    "done",
    "comes-onto",
    "driven-in",
    "dropped-tool",
    "goes-off",
    "moved-ungripped",
    "no-such-pocket",
    "not-oriented",
    "pocket-empty",
    "pocket-occupied",
    "spindle-still",
    "spindle-turning",
    # the thread of a nut
    "freed",
    "gripped",
    "thread-leaves",
    "thread-meets",
]
