"""What stops a practice machine, in the words of its alarm."""

from collections.abc import Callable
from typing import Any

from orthotrope.units import in_unit, with_unit

ALARMS: dict[str, Callable[[dict[str, Any]], str]] = {
    "body-contact": lambda data: f"Contact: {data['mover']} has met {data['body']}.",
    "pocket-occupied": lambda data: f"Contact: pocket {data['pocket']} holds T{data['stored']} already.",
    "end-stop": lambda data: f"{data['axis']} stands at its hard stop.",
    "beyond-travel": lambda data: (
        f"{data['axis']} {in_unit(data['value'])} is beyond the soft limit, {with_unit(data['limit'])}."
    ),
    "not-homed": lambda data: "Machine coordinates are used and the machine isn't homed.",
    "missed-touch": lambda data: "The touching move has ended without a touch." if data["stops"] else "",
    "already-made": lambda data: f"The input {data['name']} is made before the touching move begins.",
    "overtravel-exceeded": lambda data: (
        f"Contact: {data['body']} was pushed further than it gives, {with_unit(data['give'])}."
    ),
    "moved-ungripped": lambda data: (
        "The spindle moves with a tool that is neither held nor free."
        if "why" in data
        else "The spindle moves with a nut that is neither tight nor free."
    ),
    "dropped-tool": lambda data: f"T{data['tool']} has fallen: nothing held it where the grip let go.",
    "not-oriented": lambda data: "The spindle does not stand at its angle; the keys have met the drive slots.",
    "spindle-turning": lambda data: f"The spindle turns as {data['doing']}.",
    "no-such-pocket": lambda data: f"There is no pocket {data['pocket']} on the disc.",
    "pocket-empty": lambda data: f"There is nothing to fetch in pocket {data['pocket']}.",
    "spindle-still": lambda data: "The spindle turns the wrong way for the thread, or stands.",
}
"""Events that stop the machine, in the words of its alarm."""
