"""Sequences: what shall happen, as typed steps, before it is text.

- ``values``     numbers, parameters and expressions
- ``steps``      the steps: move, spindle, dwell, compute, choose, set, say, stop
- ``exchanges``  the planners of exchanges, a module a style of changer, found by the style's name
"""
