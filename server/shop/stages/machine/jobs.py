"""A sample program in a control profile that need not be stored."""

from dataclasses import dataclass
from typing import Any

from orthotrope.errors import Fault, InputError, OrthotropeError
from orthotrope.program.readback import read_back
from orthotrope.program.reader import read_text
from orthotrope.program.writer import as_written, write
from orthotrope.sequence.sample import sample
from orthotrope.setup.control import read_profile

from shop.job import answers


@dataclass(frozen=True, slots=True)
class ProfileAnswer:
    """``text`` None: it can't be written, ``says`` why; ``agrees``: read back, it gives what was meant. ``call``: the
    words that call an exchange."""

    faults: tuple[Fault, ...]
    text: str | None = None
    says: str = ""
    agrees: bool = False
    call: str = ""


@answers(ProfileAnswer)
def profile_sample(profile: dict[str, Any]) -> ProfileAnswer:
    """A sample program in a control profile, and whether it reads back as what was meant."""
    try:
        known = read_profile(profile)
    except InputError as bad:
        return ProfileAnswer(bad.faults)
    call = f"G65 P{known.exchange_program} A1 B2" if known.exchange_call == "G65" else "T2 M6"
    sequence = sample(known)
    try:
        text = write(sequence, known)
        again = read_back(read_text(text), known)
    except OrthotropeError as failed:
        return ProfileAnswer((), says=str(failed), call=call)
    if again != as_written(sequence, known):
        return ProfileAnswer((), text, "Read back, it gives other steps than were meant.", call=call)
    return ProfileAnswer((), text, f"Read back, it gives the same {len(again.steps)} steps.", True, call)
