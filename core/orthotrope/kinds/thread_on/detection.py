"""The faults that the signals of a thread-on rack can notice."""

from orthotrope.proof.judging import DETECTION, Detection

DETECTION.add(
    "thread-on",
    {
        "pocket-empty": Detection(
            ("tool present",), "An input with the role tool present, checked after the pick-up, would detect it."
        ),
        "nut-stays-on": Detection(
            ("tool present",), "An input with the role tool present, checked after the put-down, would detect it."
        ),
    },
)
