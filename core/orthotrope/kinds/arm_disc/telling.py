"""The faults that the signals of a disc with an arm can notice."""

from orthotrope.proof.judging import GRIPPED, TELLING

TELLING.add("disc with arm", GRIPPED)
