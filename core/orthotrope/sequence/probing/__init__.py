"""Planners of probing routines. What a routine touches and what it works out of that is its kind's (``aims``, ``found``); the
same sums are worked out here from readings (``summing``) and by the control in the text (``writing``). Others use
:func:`plan_routine`."""

from orthotrope.sequence.probing.planning import plan_routine, plan_touch
from orthotrope.sequence.probing.registry import PLANS, Tip, tip_of

__all__ = ["PLANS", "Tip", "plan_routine", "plan_touch", "tip_of"]
