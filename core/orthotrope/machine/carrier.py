"""What the spindle carries: the tool, and what changes it."""

from collections.abc import Container

from orthotrope.machine.changing import Changing, Stored
from orthotrope.machine.journal import Journal
from orthotrope.machine.world import World, WorldStylus


class ToolCarrier:
    """``changer``: the state of what changes tools, None where there is nothing that does; ``loose_tool``: the one that was put in by
    hand where there is none."""

    def __init__(self, world: World, journal: Journal, tool: int):
        self.world, self.journal = world, journal
        self.changer: Changing | None = None
        self.loose_tool = self._first_tool = tool

    @property
    def tool(self) -> int:
        """The tool that is in the spindle, tight or not; 0 is none."""
        return self.changer.tool if self.changer else self.loose_tool

    @property
    def stylus(self) -> WorldStylus | None:
        """What lets the tool in the spindle report a touch itself; None: it does not."""
        tool = self.world.tools.get(self.tool)
        return tool.stylus if tool else None

    def begin(self) -> None:
        """The changer as it is when a program is called."""
        magazine = self.world.magazine
        if magazine:
            self.changer = magazine.begin(self._first_tool)
            self.journal.trace.stored[:] = [(0.0, self.changer.stored)]
            self._watch()

    def have(self, changer: Changing | None) -> None:
        """Have a copy of a changer's state."""
        self.changer = changer
        if changer:
            self.changer = changer.copied()
            self._watch()

    def _watch(self) -> None:
        assert self.changer
        self.changer.stored = Stored(self.changer.stored, self.journal.dependencies)

    def be_in_own_world(self, dependencies: Container[str]) -> None:
        """Go on in this world where the state comes from a run in another: what that run did not depend on (the magazine, a pocket) is
        as this world has it."""
        magazine, trace = self.world.magazine, self.journal.trace
        if "magazine" not in dependencies:
            self.begin()
        elif self.changer and magazine:
            self.changer.place_in(magazine)
            own = magazine.stored_beside(self._first_tool)
            if trace.stored[0][1] != own:
                self.changer.stored = _of_both(self.changer.stored, own, dependencies)
                self._watch()
                trace.stored[:] = [(t, _of_both(there, own, dependencies)) for t, there in trace.stored]

    def change_by_hand(self, number: int) -> None:
        """Put another tool into the spindle by hand; the one that was in it returns to where it belongs."""
        magazine, changer = self.world.magazine, self.changer
        self.journal.dependencies.add("stored")
        if changer and magazine:
            home = {tool: pocket for pocket, tool in magazine.stored.items()}
            if changer.tool in home:
                changer.stored[home[changer.tool]] = changer.tool
            changer.put(number)
            changer.stored.pop(home.get(number, -1), None)
        self.loose_tool = number
        self.journal.trace.holding.append((self.journal.t, number))

    def note_holding(self, t: float) -> None:
        """Note what the spindle holds, and what is stored, where that has changed at ``t``."""
        assert self.changer is not None
        trace, held = self.journal.trace, self.changer.holds
        if held != trace.holding[-1][1]:
            trace.holding.append((t, held))
        if self.changer.stored != trace.stored[-1][1]:
            trace.stored.append((t, dict(self.changer.stored)))


def _of_both(there: dict[int, int], own: dict[int, int], dependencies: Container[str]) -> dict[int, int]:
    """Tools by pocket of another world, but of pockets that were not depended on as they are in the own one."""
    other = {pocket for pocket in {*there, *own} if f"pocket {pocket}" not in dependencies}
    kept = {pocket: tool for pocket, tool in there.items() if pocket not in other}
    return kept | {pocket: tool for pocket, tool in own.items() if pocket in other}
