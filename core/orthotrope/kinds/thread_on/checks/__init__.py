"""The checks of the thread, a module each."""

from orthotrope.kinds.thread_on.checks import nut_lift, nut_pushed, ramp_short, speed_over_cap

__all__ = ["nut_lift", "nut_pushed", "ramp_short", "speed_over_cap"]
