"""What the changers share whose spindle grips a holder by its drawbar."""

from typing import Annotated

from pydantic import Field

from orthotrope.validation import Angle, Distance, Feed, PositiveLength, Record


class Grip(Record):
    """The drawbar's grip and the holders it takes, mm. ``knob_height``: how far taper and knob stand above the gauge
    line; ``holder_diameter`` of the holder's flange; ``push_out``: how far opening pushes the tool out,
    ``push_out_allowed`` what the pocket gives; ``feed`` over the last ``slow_distance`` before the gauge line;
    ``reach``: how far off the gauge line the grip still takes a tool. ``wait``: longest time to wait for an input,
    seconds."""

    knob_height: PositiveLength
    holder_diameter: PositiveLength
    push_out: Distance
    push_out_allowed: Distance
    slow_distance: PositiveLength
    feed: Feed
    reach: PositiveLength
    wait: Annotated[float, Field(gt=0, le=60, json_schema_extra={"unit": "s"})]


class Orientation(Record):
    """The spindle's angle at which a tool is handed over, degrees; ``half_turn``: whether half a turn off does as
    well."""

    angle_deg: Angle
    tolerance_deg: Annotated[float, Field(gt=0, lt=90, json_schema_extra={"unit": "°"})]
    half_turn: bool


TEMPLATE_GRIP = Grip(
    knob_height=60.0,
    holder_diameter=50.0,
    push_out=0.5,
    push_out_allowed=1.0,
    slow_distance=10.0,
    feed=1000.0,
    reach=0.2,
    wait=3.0,
)
TEMPLATE_ORIENTATION = Orientation(angle_deg=0.0, tolerance_deg=1.0, half_turn=False)
"""Where one starts."""
