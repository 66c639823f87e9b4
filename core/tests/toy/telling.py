from orthotrope.proof.judging import TELLING, Telling

TELLING.add(
    "magnet row", {"pocket-empty": Telling(("tool held",), "An input with the role tool held would detect it.")}
)
