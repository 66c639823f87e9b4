"""Planners of measuring at a setter and of what goes with it: a tool's length, all tools in turn, the plane height, the
touch plate, a breakage check, using a changed length. Each registers itself in ``registry``; ``touching`` is the shape
of a touch that all share. Others use :func:`plan_measuring`."""

from orthotrope.sequence.measuring.registry import MEASURING, MeasuringRequest, plan_measuring

__all__ = ["MEASURING", "MeasuringRequest", "plan_measuring"]
