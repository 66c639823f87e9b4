"""The faults that the signals of forks can notice."""

from orthotrope.proof.judging import GRIPPED, TELLING

TELLING.add("side-entry", GRIPPED)
