"""The planners of exchanges, a module a style of changer, found by the style's name."""

from orthotrope.sequence.exchanges import thread_on
from orthotrope.sequence.exchanges.registry import Exchange, plan_every, plan_one

__all__ = ["Exchange", "plan_every", "plan_one", "thread_on"]
