"""Whether a text may be called ready to be run on a machine, as far as its signals are concerned."""

from orthotrope.program.blocks import Block, Plain
from orthotrope.program.reader import read_text
from orthotrope.sequence.values import Number
from orthotrope.setup import Setup


def touches(text: str, setup: Setup) -> bool:
    """Whether a text has a touching move of the Setup's control."""
    profile = setup.profile
    words = {word for word in (profile.touch_stops, profile.touch_goes_on) if word is not None}
    for block in read_text(text).blocks:
        if isinstance(block, Plain):
            codes = [value for letter, value in zip(block.letters, block.values, strict=True) if letter == "G"]
        else:
            assert isinstance(block, Block)
            codes = [w.value.value for w in block.words if w.letter == "G" and isinstance(w.value, Number)]
        if any(round(code * 10) / 10 in words for code in codes):
            return True
    return False


def untested(setup: Setup, tested: set[int]) -> str:
    """Why a text that touches is not ready: which of its inputs was not tested as it is wired now; "" where all
    were."""
    missing = [entry.name for entry in setup.inputs if entry.touches and entry.number not in tested]
    if not any(entry.touches for entry in setup.inputs):
        return "The text touches and there is no input for a touch; add it on the Signals stage."
    if missing:
        named = f"input {missing[0]} is" if len(missing) == 1 else f"inputs {' and '.join(missing)} are"
        return f"The text touches, and the {named} not tested; look at the Signals stage."
    return ""
