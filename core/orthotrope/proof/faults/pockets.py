"""Another thing is in a pocket than should be."""

from dataclasses import replace

from orthotrope.machine.run import Call
from orthotrope.machine.world import World
from orthotrope.proof.case import Case
from orthotrope.proof.faults.registry import FAULTS, Fault
from orthotrope.proof.judging import Detection


def _another(world: World, call: Call) -> int:
    return world.magazine.another(world.tools, call.from_tool, call.to_tool) if world.magazine else 0


IN_THE_SPINDLE = Detection(
    (), "A look at the tool before it is measured, or a margin larger by what another tool is longer, would help."
)

ALIKE = Detection((), "Tools whose lengths differ by more than the setter's overtravel would be detected.")


class PocketFull(Fault):
    """A tool stands where one is to be put."""

    of_exchange = True
    label = "the pocket is full"
    of_request = True
    detection = Detection((), "A sensor at the pocket, or a look at the pockets before the job, would detect it.")

    def applies(self, world: World, call: Call) -> bool:
        stored = world.magazine.stored.values() if world.magazine else ()
        return call.from_tool in stored and _another(world, call) != 0

    def world(self, world: World, call: Call) -> World:
        assert world.magazine is not None
        return replace(world, magazine=world.magazine.mixed_up(call.from_tool, _another(world, call)))

    def changes(self, case: Case) -> frozenset[str]:
        return case.world.magazine.dependencies_of(case.call.from_tool) if case.world.magazine else frozenset()


class PocketEmpty(Fault):
    """Nothing stands where one is to be taken."""

    of_exchange = True
    is_fault = frozenset({"pocket-empty"})
    label = "the pocket is empty"
    of_request = True

    def applies(self, world: World, call: Call) -> bool:
        return world.magazine is not None and call.to_tool in world.magazine.stored.values()

    def world(self, world: World, call: Call) -> World:
        assert world.magazine is not None
        left = {pocket: tool for pocket, tool in world.magazine.stored.items() if tool != call.to_tool}
        return replace(world, magazine=replace(world.magazine, stored=left))

    def changes(self, case: Case) -> frozenset[str]:
        return case.world.magazine.dependencies_of(case.call.to_tool) if case.world.magazine else frozenset()


class WrongTool(Fault):
    """Another tool stands where the requested one should; where it is in the spindle already, it is another one."""

    label = "another tool than the record says"
    of_request = True
    detection = Detection((), "Measuring the tool after each pick-up would detect it: its length differs.")

    def applies(self, world: World, call: Call) -> bool:
        if call.from_tool == call.to_tool:
            return call.to_tool in world.tools and len(world.tools) > 1
        return call.to_tool != 0 and _another(world, call) != 0

    def world(self, world: World, call: Call) -> World:
        if call.from_tool == call.to_tool:
            own = world.tools[call.to_tool]
            others = (tool for number, tool in world.tools.items() if number != own.number)
            other = max(others, key=lambda tool: abs(tool.length - own.length))
            really = replace(other, number=own.number, recorded=own.recorded)
            return replace(world, tools={**world.tools, own.number: really})
        assert world.magazine is not None
        return replace(world, magazine=world.magazine.mixed_up(call.to_tool, _another(world, call)))

    def detected_by(self, case: Case) -> Detection | None:
        if case.call.from_tool == case.call.to_tool:
            return IN_THE_SPINDLE
        return ALIKE if case.main.trace.of_kind("length-set") else self.detection

    def changes(self, case: Case) -> frozenset[str] | None:
        if case.call.from_tool == case.call.to_tool:
            return None
        return case.world.magazine.dependencies_of(case.call.to_tool) if case.world.magazine else frozenset()


for _name, _kind in (("pocket-full", PocketFull), ("pocket-empty", PocketEmpty), ("wrong-tool", WrongTool)):
    FAULTS.add(_name, _kind(_name))
