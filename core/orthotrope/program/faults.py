"""Errors of a program: in its text, or in running it."""

from orthotrope.errors import OrthotropeError


class ProgramError(OrthotropeError):
    """``line`` and ``column`` count from 1; ``what`` is a sentence."""

    def __init__(self, line: int, column: int, what: str):
        self.line, self.column, self.what = line, column, what
        super().__init__(f"line {line}, column {column}: {what}")


class RunFault(Exception):
    """What RS-274 calls an error in running a block; the runner adds line and column."""


class Nowhere(RunFault):
    """A jump or call to a place that is not there."""
