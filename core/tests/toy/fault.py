from dataclasses import replace

from orthotrope.machine.run import Call
from orthotrope.machine.world import World
from orthotrope.proof.faults.registry import FAULTS, Fault


class MagnetWeak(Fault):
    label = "the magnet is weak"

    def applies(self, world: World, call: Call) -> bool:
        return world.magazine is not None and "magnet" in world.magazine.devices

    def world(self, world: World, call: Call) -> World:
        assert world.magazine is not None
        return replace(world, magazine=replace(world.magazine, failing=frozenset({"magnet"})))


FAULTS.add("magnet-weak", MagnetWeak("magnet-weak"))
