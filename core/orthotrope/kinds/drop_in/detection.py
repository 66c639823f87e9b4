"""The faults that the signals of drop-in pockets can notice."""

from orthotrope.proof.judging import DETECTION, GRIPPED

DETECTION.add("drop-in", GRIPPED)
