"""The calculations, a module a family, each registered by its name; and all that is derived from a Setup.

- ``registry``   name → calculation, with typed input and output
- ``pockets``    where the pockets of racks and discs are; fits to taught ones
- ``heights``    the height ladder of a changer
- ``coupling``   threads a nut on and off
- ``lengths``    tool lengths and the setter
- ``probing``    touches: surfaces, spans, angles, corners, circles, styli
- ``metrology``  repeatability, uncertainty, cutting data, stopping
- ``wiring``     what a control sees of an input
- ``crossing``   an axis across its travel
- ``slips``      what a control shows against what was meant
- ``space``      how much of the table is left
- ``capture``    from a machine's position to a quantity of the Setup
- ``alignment``  where the pockets of a rack are, from taught ones
- ``storage``    which tool fits where
- ``derived``    every quantity that follows from a Setup, with its working; ``rack`` and ``disc`` what styles share of
  it

Others import ``CALCULATIONS`` and the functions.
"""

from orthotrope.calc.registry import CALCULATIONS, Calculation

__all__ = ["CALCULATIONS", "Calculation"]
