"""The faults that the signals of a moving disc can notice."""

from orthotrope.proof.judging import DETECTION, GRIPPED

DETECTION.add("moving disc", GRIPPED)
