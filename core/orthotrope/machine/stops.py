"""What ends a run before its program does."""


class Crashed(Exception):
    """The machine has stopped by itself; the trace has the reason."""


class TooManyMoves(Exception):
    """The run has made as many moves as it may (``most_moves``)."""


class CutShort(Crashed):
    """The machine was stopped from outside, at its ``deadline``."""
