"""The faults that the signals of forks can notice."""

from orthotrope.proof.judging import DETECTION, GRIPPED

DETECTION.add("side-entry", GRIPPED)
