"""What may go wrong with the thread itself."""

from dataclasses import replace

from orthotrope.kinds.thread_on.machine import STAYS_ON, ThreadPockets
from orthotrope.machine.run import Call
from orthotrope.machine.world import World
from orthotrope.proof.case import Case
from orthotrope.proof.faults.registry import FAULTS, Fault


class NutStaysOn(Fault):
    """The flats do not hold the nut, or it is too tight: it turns with the nose and comes up again with it."""

    label = "the nut stays on"
    of_exchange = True

    def applies(self, world: World, call: Call) -> bool:
        return isinstance(world.magazine, ThreadPockets)

    def world(self, world: World, call: Call) -> World:
        assert world.magazine is not None
        return replace(world, magazine=replace(world.magazine, failing=frozenset({STAYS_ON})))

    def changes(self, case: Case) -> frozenset[str]:
        return frozenset({STAYS_ON})


FAULTS.add("nut-stays-on", NutStaysOn("nut-stays-on"))
