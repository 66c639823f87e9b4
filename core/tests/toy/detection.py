from orthotrope.proof.judging import DETECTION, Detection

DETECTION.add(
    "magnet row", {"pocket-empty": Detection(("tool held",), "An input with the role tool held would detect it.")}
)
