"""The faults that the signals of a disc with an arm can notice."""

from orthotrope.proof.judging import DETECTION, GRIPPED

DETECTION.add("disc with arm", GRIPPED)
