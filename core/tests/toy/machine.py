import math
from collections.abc import Iterator
from dataclasses import dataclass, field

from orthotrope.machine.changing import ChangerEvent, Changing, Magazine, Now
from orthotrope.machine.motion import Vector
from orthotrope.machine.shapes import Body, CylinderBody, StackPart
from orthotrope.machine.world import WorldTool
from orthotrope.setup.roles import InputRole


@dataclass(frozen=True, slots=True, kw_only=True)
class Pins(Magazine):
    words: dict[int, str]
    seconds: float

    def changing(self, tool: int, stored: dict[int, int]) -> "Magnet":
        return Magnet(self, tool, stored)

    @property
    def devices(self) -> frozenset[str]:
        return frozenset({"magnet"})

    def device_of(self, word: int, p: float | None) -> tuple[str, str] | None:
        return ("magnet", self.words[word]) if word in self.words else None


@dataclass(slots=True)
class Magnet(Changing):
    pins: Pins
    tool: int = 0
    stored: dict[int, int] = field(default_factory=dict)
    done: float = -math.inf
    wanted: str = ""

    @property
    def holds(self) -> int | None:
        return None if self.busy else self.tool

    @property
    def busy(self) -> bool:
        return self.wanted != ""

    def put(self, number: int) -> None:
        self.tool = number

    def place(self, x: float, y: float) -> int | None:
        return next((n for n, (px, py) in self.pins.places.items() if abs(px - x) < 0.5 and abs(py - y) < 0.5), None)

    def key(self, place: Vector, upright: bool) -> tuple[object, ...]:
        return self.tool, self.place(place[0], place[1]) if upright and not self.tool else None, tuple(self.stored)

    def stack(self, tool: WorldTool) -> Iterator[StackPart]:
        yield StackPart(f"T{tool.number}", tool.radius, -tool.length, 0.0)

    def bodies(self, tools: dict[int, WorldTool], over: object) -> Iterator[Body]:
        for pocket, number in self.stored.items():
            if pocket != over:
                x, y = self.pins.places[pocket]
                yield CylinderBody(
                    f"T{number} on pin {pocket}", x, y, 5.0, self.pins.couple_z - 20.0, self.pins.couple_z, pocket
                )

    def is_made(self, role: InputRole, t: float) -> bool | None:
        return (self.tool != 0 and not self.busy) if role.name == "tool held" else None

    def switch(self, word: int, p: float | None, now: Now) -> Iterator[ChangerEvent]:
        switched = self.pins.device_of(word, p)
        if switched is None or "magnet" in self.pins.failing:
            return
        if switched[1] == "off" and self.tool and (self._under(now.place) is None):
            yield ChangerEvent("dropped-tool", now.t, True, {"tool": self.tool})
            return
        self.wanted, self.done = switched[1], now.t + self.pins.seconds
        data = {"device": "magnet", "state": self.wanted, "was": "on" if self.tool else "off", "done": self.done}
        yield ChangerEvent("device", now.t, False, data)

    def _under(self, place: Vector) -> int | None:
        return self.place(place[0], place[1]) if abs(place[2] - self.pins.couple_z) < 0.5 else None

    def until(self, t: float, place: Vector) -> Iterator[ChangerEvent]:
        if not self.busy or self.done > t + 1e-9:
            return
        state, self.wanted = self.wanted, ""
        pocket = self._under(place)
        if pocket is not None and state == "off" and self.tool:
            self.stored[pocket], self.tool = self.tool, 0
        elif pocket is not None and state == "on" and not self.tool:
            self.tool = self.stored.pop(pocket, 0)
        yield ChangerEvent("done", self.done, False, {"device": "magnet", "state": state})

    def changes_at(self, t: float, turning: bool) -> Iterator[float]:
        if self.busy:
            yield self.done

    def moving(self, start: Vector, end: Vector, now: Now) -> ChangerEvent | None:
        if self.busy:
            data = {"pocket": self._under(start), "tool": self.tool, "why": "before the magnet is done"}
            return ChangerEvent("moved-ungripped", now.t, True, data)
        there = self._under(end)
        if self.tool and there in self.stored:
            return ChangerEvent(
                "pocket-occupied", now.t, True, {"pocket": there, "tool": self.tool, "stored": self.stored[there or 0]}
            )
        return None
