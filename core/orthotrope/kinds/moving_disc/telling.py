"""The faults that the signals of a moving disc can notice."""

from orthotrope.proof.judging import GRIPPED, TELLING

TELLING.add("moving disc", GRIPPED)
