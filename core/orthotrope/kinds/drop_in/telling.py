"""The faults that the signals of drop-in pockets can notice."""

from orthotrope.proof.judging import GRIPPED, TELLING

TELLING.add("drop-in", GRIPPED)
