"""The planners of exchanges: what all styles share, and the registry in which each style's own is found by its name."""

from orthotrope.sequence.exchanges.registry import Exchange, plan_every, plan_one, plan_ready

__all__ = ["Exchange", "plan_every", "plan_one", "plan_ready"]
