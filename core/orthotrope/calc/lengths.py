"""Tool lengths (gauge line to tip, positive) and the setter."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from orthotrope.calc.registry import Result, calculation
from orthotrope.errors import Fault, InputError
from orthotrope.units import in_unit, with_unit
from orthotrope.validation import Count, Distance, Feed, Length, PositiveLength, Record, Seconds


class LengthAtSetterInput(Record):
    trigger_z: Length
    plane_z: Length | None = None
    reference_length: PositiveLength | None = None
    reference_trigger_z: Length | None = None

    @model_validator(mode="after")
    def _one_way(self) -> "LengthAtSetterInput":
        reference = {"reference_length": self.reference_length, "reference_trigger_z": self.reference_trigger_z}
        missing = [name for name, value in reference.items() if value is None]
        if self.plane_z is not None and len(missing) < 2:
            raise InputError.at("/plane_z", "`plane_z` and a reference tool are both given; keep one of them.")
        if self.plane_z is None and len(missing) == 2:
            raise InputError.at(
                "/plane_z", "`plane_z` is missing; give it, or `reference_length` and `reference_trigger_z`."
            )
        if self.plane_z is None and missing:
            raise InputError(Fault("/" + name, f"`{name}` is missing; give it a value.") for name in missing)
        return self


class LengthAtSetterOutput(Result):
    length: Length
    plane_z: Length


@calculation("length-at-setter", "a tool's length from its trigger on the setter")
def length_at_setter(data: LengthAtSetterInput) -> LengthAtSetterOutput:
    """Length = Z at trigger − plane height; the plane height is given, or reference trigger − reference length, mm."""
    if data.plane_z is not None:
        plane = data.plane_z
    else:
        assert data.reference_trigger_z is not None and data.reference_length is not None
        plane = data.reference_trigger_z - data.reference_length
    return LengthAtSetterOutput(length=data.trigger_z - plane, plane_z=plane)


class LengthOutput(Result):
    length: Length


class LengthByDifferenceInput(Record):
    reference_length: PositiveLength
    reading: Length
    shim: Distance


@calculation("length-by-difference", "a tool's length from the readout while the reference length is active")
def length_by_difference(data: LengthByDifferenceInput) -> LengthOutput:
    """Reference length + reading − shim, mm; the reading is what the readout shows at the reference surface."""
    return LengthOutput(length=data.reference_length + data.reading - data.shim)


class LengthAtSurfaceInput(Record):
    z: Length
    surface_z: Length
    shim: Distance


@calculation("length-at-surface", "a tool's length from resting it on a known surface")
def length_at_surface(data: LengthAtSurfaceInput) -> LengthOutput:
    """Machine Z − machine Z of the surface − shim, mm."""
    return LengthOutput(length=data.z - data.surface_z - data.shim)


class SetterBlockCheckInput(Record):
    length: PositiveLength
    plane_z: Length
    block_height: PositiveLength
    reading: Length


class SetterBlockCheckOutput(Result):
    error: Length
    true_length: Length
    true_plane_z: Length


@calculation("setter-block-check", "the error of a plane height, from a tool resting on a block of known height")
def setter_block_check(data: SetterBlockCheckInput) -> SetterBlockCheckOutput:
    """Error = reading − block height (positive: the readout shows too much); true length = length + error; true plane
    height = plane height − error; mm. It is of use only where another tool set the zero that the block stands on.
    """
    error = data.reading - data.block_height
    return SetterBlockCheckOutput(error=error, true_length=data.length + error, true_plane_z=data.plane_z - error)


Basis = Literal["gauge-line", "master-tool", "home-to-part"]


class ToolValue(Record):
    tool: Count
    value: Length


class LengthBasisInput(Record):
    values: Annotated[list[ToolValue], Field(min_length=1, max_length=10_000)]
    from_: Annotated[Basis, Field(alias="from")]
    to: Basis
    master_length: PositiveLength
    home_z: Length
    part_z: Length


class LengthBasisOutput(Result):
    values: list[ToolValue]


@calculation("length-basis", "tool lengths turned from one basis to another")
def length_basis(data: LengthBasisInput) -> LengthBasisOutput:
    """Values in the basis ``to``, mm. gauge-line: the length; master-tool: length − master length; home-to-part: length
    + part Z − home Z."""
    shift = {"gauge-line": 0.0, "master-tool": -data.master_length, "home-to-part": data.part_z - data.home_z}
    change = shift[data.to] - shift[data.from_]
    return LengthBasisOutput(values=[ToolValue(tool=v.tool, value=v.value + change) for v in data.values])


class DiameterAtSetterInput(Record):
    first: Length
    second: Length
    setter_width: PositiveLength


class DiameterAtSetterOutput(Result):
    diameter: PositiveLength


@calculation("diameter-at-setter", "a tool's diameter from touches of a setter's two sides")
def diameter_at_setter(data: DiameterAtSetterInput) -> DiameterAtSetterOutput:
    """|second − first| − setter width, mm: ``first`` and ``second`` where the axis stood at the touches of opposite sides,
    ``setter_width`` as it was calibrated at the same feed.

    Raises:
        InputError: where the touches are not further apart than the setter is wide.
    """
    across = abs(data.second - data.first) - data.setter_width
    if across <= 0:
        raise InputError.at(
            "/second",
            f"`second` must be further from `first` than the setter is wide, {with_unit(data.setter_width)}; "
            f"got {in_unit(data.second)}.",
        )
    return DiameterAtSetterOutput(diameter=across)


class SetterWindowInput(Record):
    plane_z: Length
    z_min: Length
    z_top: Length
    longest: PositiveLength
    shortest: PositiveLength
    margin: Distance
    search_feed: Feed
    measure_feed: Feed
    back_off: Distance

    @model_validator(mode="after")
    def _ordered(self) -> "SetterWindowInput":
        faults = []
        if self.shortest > self.longest:
            faults.append(
                Fault(
                    "/shortest",
                    f"`shortest` must be at most the longest tool, {self.longest:g} mm; got {self.shortest:g}.",
                )
            )
        if self.z_min >= self.z_top:
            faults.append(Fault("/z_min", f"`z_min` must be below `z_top`, {self.z_top:g} mm; got {self.z_min:g}."))
        if faults:
            raise InputError(faults)
        return self


class SetterWindowOutput(Result):
    approach_z: Length
    search_depth: Distance
    approach_fits: bool
    depth_fits: bool
    seconds_longest: Seconds
    seconds_shortest: Seconds


@calculation("setter-window", "approach height, search depth and time of a setter for a range of tools")
def setter_window(data: SetterWindowInput) -> SetterWindowOutput:
    """Approach = plane + longest + margin; depth = longest − shortest + 2·margin (mm); whether both are within travel;
    seconds of search, back-off and measuring touch for the longest and the shortest tool."""
    approach = data.plane_z + data.longest + data.margin
    depth = data.longest - data.shortest + 2 * data.margin

    def seconds(gap: float) -> float:
        return 60 * (gap / data.search_feed + data.back_off / data.search_feed + data.back_off / data.measure_feed)

    return SetterWindowOutput(
        approach_z=approach,
        search_depth=depth,
        approach_fits=approach <= data.z_top,
        depth_fits=approach - depth >= data.z_min,
        seconds_longest=seconds(data.margin),
        seconds_shortest=seconds(data.margin + data.longest - data.shortest),
    )
