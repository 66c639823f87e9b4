"""The planners of exchanges, a module a style or two of changer, found by the style's name."""

import importlib
import pkgutil

from orthotrope.sequence.exchanges.discs import plan_ready
from orthotrope.sequence.exchanges.registry import Exchange, plan_every, plan_one

__all__ = ["Exchange", "plan_every", "plan_one", "plan_ready"]

for _module in pkgutil.iter_modules(__path__):
    importlib.import_module(f"{__name__}.{_module.name}")
