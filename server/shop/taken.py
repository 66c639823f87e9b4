"""What comes in from a browser: its base and its kinds of values. Nothing is guessed, and nothing unknown is passed
over."""

from typing import Annotated, Any

from orthotrope.proof.faults.registry import FAULTS
from orthotrope.setup.named import Named
from orthotrope.validation import MOST
from pydantic import BaseModel, ConfigDict, Field


class Taken(BaseModel):
    """Base of all that comes in: no unknown fields, no guessing of types, no NaN."""

    model_config = ConfigDict(extra="forbid", strict=True, allow_inf_nan=False)


Whole = Annotated[int, Field(ge=-(2**31), lt=2**31)]
Number = Annotated[int, Field(ge=0, lt=2**31)]
Position = Annotated[list[float], Field(min_length=3, max_length=3)]
FaultName = Annotated[str, Named(FAULTS)]
ProgramText = Annotated[str, Field(max_length=5 * 1024 * 1024)]
Plausible = Annotated[float, Field(ge=-MOST, le=MOST)]
"""A reading: no machine's is larger."""

Place = Annotated[list[Plausible], Field(min_length=3, max_length=3)]
"""X, Y and Z, mm."""


class DocumentIn(Taken):
    document: dict[str, Any]


class PairIn(DocumentIn):
    from_tool: Number
    to_tool: Number
