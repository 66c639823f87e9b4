"""The datum of a rack, as the Setup keeps it and the calculations take it."""

from typing import Annotated, Literal

from pydantic import Field

from orthotrope.validation import Length, PocketNumber, Record


class PocketDatum(Record):
    """The place of one pocket (number ``pocket``), machine coordinates, mm."""

    at: Literal["pocket"]
    pocket: PocketNumber = 1
    x: Length
    y: Length


class CentreDatum(Record):
    """The middle of the whole array, machine coordinates, mm."""

    at: Literal["centre"]
    x: Length
    y: Length


Datum = Annotated[PocketDatum | CentreDatum, Field(discriminator="at")]
