"""What each number of a Setup is called, what it is, how it is found, and what is usual: the one source of names and help.

The published schema has them as title and description, the screen as name and help, lists of changes and findings as name."""

from typing import Any, NamedTuple

from orthotrope.setup.keys import KEYS
from orthotrope.validation import parts_of


class Quantity(NamedTuple):
    """``name`` as on the screen; ``what`` it is; ``how`` it is found ("": it is chosen, or follows from a drawing); ``usual`` values
    ("": none can be said). Ranges are those of hardware.md."""

    name: str
    what: str
    how: str = ""
    usual: str = ""

    @property
    def is_place(self) -> bool:
        """Whether it is a coordinate that is found at the machine or in the part's drawing: there 0 is no "none"."""
        return self.how in (DIAL, JOG, PART)


DIAL = "Turn a dial indicator about it with the spindle, and read the position."
JOG = "Jog the spindle over it and read the machine position."
CALLIPER = "Measure it with a calliper."
SHEET = "From the data sheet."
PART = "From the part's drawing."

QUANTITIES: dict[str, Quantity] = {
    # the machine
    "axes/*/least": Quantity("Data sheet from", "The lower end of the travel as the data sheet has it.", SHEET),
    "axes/*/greatest": Quantity("Data sheet to", "The upper end of the travel; for Z usually 0, at the top.", SHEET),
    "measured/least": Quantity(
        "Measured from",
        "Where the travel really ends.",
        "Creep to the end, take the reading in the hand panel, home again and compare.",
    ),
    "measured/greatest": Quantity(
        "Measured to",
        "Where the travel really ends.",
        "Creep to the end, take the reading in the hand panel, home again and compare.",
    ),
    "axes/*/margin": Quantity("Margin", "The soft limits are this far inside the travel.", "", "0.5 to 2 mm"),
    "axes/*/rapid": Quantity(
        "Rapid",
        "The fastest that the axis goes.",
        "Time a long move.",
        "5,000 to 20,000 mm/min on a router, 20,000 to 40,000 on a machining centre",
    ),
    "axes/*/acceleration": Quantity(
        "Acceleration",
        "How fast the axis gains speed.",
        "Time short moves.",
        "150 to 1,000 mm/s² on a router, Z the lowest; 2,000 to 6,000 on a machining centre",
    ),
    "kept/rapid": Quantity("Rapid kept to", "A rapid that is kept below what the axis can do."),
    "kept/acceleration": Quantity("Acceleration kept to", "An acceleration that is kept below what the axis can do."),
    "axes/*/resolution": Quantity(
        "Resolution", "The smallest step of the axis; readings are rounded to it.", SHEET, "0.001 to 0.01 mm"
    ),
    "home_scatter": Quantity(
        "Scatter of home",
        "Two standard deviations of where homing ends.",
        "A series of readings in the hand panel.",
        "0.01 to 0.10 mm on a router, 0.001 to 0.005 on a machining centre",
    ),
    "backlash": Quantity(
        "Backlash",
        "The whole play of the axis.",
        "A series of readings in the hand panel, from both sides.",
        "0.02 to 0.15 mm on a router, 0.002 to 0.010 on a machining centre",
    ),
    "machine/latency": Quantity(
        "Latency",
        "From a signal to the control's answer: the latched position.",
        "Touch at two feeds and compare.",
        "1 to 10 ms on a router, 0.1 to 4 ms on a machining centre",
    ),
    "least_clearance": Quantity(
        "Least clearance",
        "What passes something else by less than this is reported by the proof; 0: only what touches.",
        "",
        "1 to 5 mm",
    ),
    "spindle/least_speed": Quantity("Least speed", "Below it the spindle does not turn evenly.", SHEET),
    "spindle/greatest_speed": Quantity("Greatest speed", "The fastest that the spindle turns.", SHEET),
    "seconds_to_speed": Quantity("Time to speed", "From standing to the greatest speed.", "Time it.", "2 to 5 s"),
    "nose_diameter": Quantity("Nose diameter", "Of the part of the spindle that comes down to the changer.", CALLIPER),
    "nose_length": Quantity("Nose length", "From the gauge line up to where the spindle widens.", CALLIPER),
    "body_diameter": Quantity("Body diameter", "Of the spindle above its nose.", CALLIPER),
    "body_length": Quantity("Body length", "How far the body goes up above the nose.", CALLIPER),
    # bodies, positions, work offsets
    "bodies/*/x": Quantity("X", "Machine X of its middle.", JOG),
    "bodies/*/y": Quantity("Y", "Machine Y of its middle.", JOG),
    "bodies/*/bottom_z": Quantity(
        "Bottom", "Machine Z of its lower face.", "Touch what it stands on with a tool of known length."
    ),
    "bodies/*/top_z": Quantity("Top", "Machine Z of its upper face.", "Touch it with a tool of known length."),
    "bodies/*/size_x": Quantity("Size along X", "Of the body.", CALLIPER),
    "bodies/*/size_y": Quantity("Size along Y", "Of the body.", CALLIPER),
    "bodies/*/give": Quantity("Give", "How far it can be pushed down before it stops."),
    "bodies/*/diameter": Quantity("Diameter", "Of the body.", CALLIPER),
    "turn_deg": Quantity("Turned by", "The body's own turn, counter-clockwise seen from above."),
    "moves/*/X": Quantity(
        "X", "Machine X of the stored position; moves are made in this order, axes of one number together.", JOG
    ),
    "moves/*/Y": Quantity(
        "Y", "Machine Y of the stored position; moves are made in this order, axes of one number together.", JOG
    ),
    "moves/*/Z": Quantity(
        "Z", "Machine Z of the stored position; moves are made in this order, axes of one number together.", JOG
    ),
    "work_offsets/*/x": Quantity(
        "Zero X", "Machine X of the part's zero.", "Set by a routine, or read from the control."
    ),
    "work_offsets/*/y": Quantity(
        "Zero Y", "Machine Y of the part's zero.", "Set by a routine, or read from the control."
    ),
    "work_offsets/*/z": Quantity(
        "Zero Z", "Machine Z of the part's zero.", "Set by a routine or a plate, or read from the control."
    ),
    # signals
    "inputs/*/number": Quantity("Number in a program", "By which a program reads the input."),
    "outputs/*/number": Quantity("Number", "Tells the outputs apart."),
    "work_offsets/*/number": Quantity("Number", "1 is G54."),
    "inputs/*/filter": Quantity(
        "Filter",
        "A change shorter than this is not seen. It delays a touch: a filter of 5 ms at 600 mm/min is 0.05 mm.",
        SHEET,
        "0 to 10 ms",
    ),
    "outputs/*/seconds": Quantity(
        "Takes", "How long its device takes to act.", "Time it, from the word to the input that tells.", "0.2 to 1 s"
    ),
    # the changer
    "datum/x": Quantity("Datum X", "Machine X of the datum: the place of the rack that was measured.", JOG),
    "datum/y": Quantity("Datum Y", "Machine Y of the datum.", JOG),
    "datum/pocket": Quantity("Datum pocket", "The pocket whose place was measured."),
    "taught/*/x": Quantity("Taught X", "Machine X of a pocket, as it was taught.", JOG),
    "taught/*/y": Quantity("Taught Y", "Machine Y of a pocket, as it was taught.", JOG),
    "taught/*/z": Quantity("Taught Z", "Machine Z of a pocket, as it was taught.", JOG),
    "rack/bearing_deg": Quantity(
        "Bearing",
        "The way from pocket 1 to the next, counter-clockwise from +X.",
        "Fitted to the taught pockets.",
        "within 0.2° of an axis",
    ),
    "rack/pitch": Quantity(
        "Pitch",
        "From one pocket's axis to the next.",
        "Fitted to the taught pockets; the drawing's is the nominal one.",
    ),
    "row_pitch": Quantity("Row pitch", "From one row to the next.", "Fitted to the taught pockets."),
    "rack/count": Quantity("Pockets in a row", "How many pockets a row has."),
    "rack/rows": Quantity("Rows", "Numbered along the bearing, then row by row; rows step at bearing + 90°."),
    "placing_tolerance": Quantity(
        "Placing tolerance",
        "How far off its axis the spindle may take a tool.",
        SHEET,
        "0.2 to 0.5 mm on a router, 0.1 to 0.2 on a machining centre",
    ),
    "rack/width": Quantity("Block width", "Of the rack, across its row.", CALLIPER),
    "rack/end": Quantity("Beyond end pockets", "How far the rack goes on beyond its last pockets.", CALLIPER),
    "rack/height": Quantity("Block height", "Of the rack.", CALLIPER),
    "top_below_nose": Quantity("Block top below nose", "From a coupled nose down to the rack's top.", CALLIPER),
    "heights/touch_z": Quantity(
        "Seat, measured",
        "Machine Z of the nose where it takes a tool: seated in its pocket, or with the bare nose on the setting spacer.",
        "Come down onto a seated tool and read the position.",
    ),
    "recess": Quantity("Rack sunk by", "How far the rack is sunk below the face that the spacer stood on.", CALLIPER),
    "hover_gap": Quantity(
        "Hover gap",
        "From where a tool is taken up to just above it: more than the engaged thread, or than taper and knob are above the gauge line.",
    ),
    "stored_top_z": Quantity(
        "Stored top",
        "Machine Z at which the bare nose would touch the highest stored thing.",
        "Come down onto it and read the position.",
    ),
    "heights/margin": Quantity(
        "Margin", "Free height above what is stored.", "", "10 to 20 mm on a router, 10 to 25 on a machining centre"
    ),
    "pocket_depth": Quantity("Pocket depth", "Free depth below a coupled nose.", CALLIPER),
    "park_z": Quantity("Park", "Fully clear of everything.", "", "near the top of the travel"),
    "planned_longest": Quantity("Longest tool, planned", "It is used for the longest tool until tools are stored."),
    "coupling/lead": Quantity("Thread lead", "How far the nut goes in one turn.", "A thread gauge.", "1 to 2 mm"),
    "coupling/speed": Quantity(
        "Coupling speed",
        "How fast the spindle turns while it threads.",
        "Try it: tight, and off again.",
        "800 to 1,800 rev/min",
    ),
    "speed_cap": Quantity("Speed cap", "The coupling is never turned faster.", SHEET),
    "coupling/feed": Quantity("Coupling feed", "Z while it threads.", "Lead times speed fits the thread."),
    "engaged_length": Quantity("Engaged thread", "How far the nut's thread goes on.", CALLIPER, "7 to 12 mm"),
    "lift_allowed": Quantity(
        "Lift allowed", "How far the nut may be drawn up or pushed down on pick-up.", "", "0.5 mm"
    ),
    "nut_diameter": Quantity("Nut diameter", "Over its corners.", CALLIPER),
    "coupling/hole_diameter": Quantity("Hole diameter", "What the cutter must pass.", CALLIPER),
    "flats_height": Quantity("Flats' height", "How far above its seat the flats catch the nut.", CALLIPER),
    "coupling/give": Quantity("Pocket gives", "How far a nut can be pushed below its seat.", CALLIPER, "0.5 to 2 mm"),
    "bore_depth": Quantity("Spindle bore depth", "How far a shank may stand into the spindle.", CALLIPER),
    "coupling/dwell": Quantity("Dwell", "Until the nut is tight, or off.", "", "0.3 to 1 s"),
    "changer/hole_diameter": Quantity("Hole diameter", "Of a pocket; the holder's flange lies on its rim.", CALLIPER),
    "knob_height": Quantity(
        "Knob above gauge line",
        "How far taper and knob are above the gauge line: the spindle must rise by more.",
        SHEET,
    ),
    "holder_diameter": Quantity("Holder diameter", "Of its flange.", CALLIPER),
    "push_out": Quantity(
        "Opening pushes out",
        "How far an opening grip pushes the tool down.",
        "A dial on the holder, grip open and closed.",
        "0.3 to 1 mm",
    ),
    "push_out_allowed": Quantity(
        "The pocket allows",
        "How far a pocket gives when the tool is pushed out: a rigid one must give by the same amount.",
        CALLIPER,
    ),
    "slow_distance": Quantity(
        "Slow over the last", "Before the gauge line, coming down onto a tool or with one.", "", "5 to 20 mm"
    ),
    "grip/feed": Quantity("Feed over it", "Z over the slow distance.", "", "500 to 2,000 mm/min"),
    "grip/reach": Quantity(
        "Grip reaches",
        "How far off the gauge line the grip still takes a tool.",
        "Try it, in steps of 0.1 mm.",
        "0.1 to 0.5 mm",
    ),
    "grip/wait": Quantity("Longest wait", "For an input; then the program stops with a message.", "", "2 to 5 s"),
    "orientation/angle_deg": Quantity(
        "Angle",
        "At which the spindle stands when a tool is handed over.",
        "Turn it into the fork by hand and read the angle.",
    ),
    "tolerance_deg": Quantity(
        "Tolerance of the angle",
        "How far off it may stand.",
        "",
        "1 to 2° on a router, 0.5 to 1° on a machining centre",
    ),
    "mouth_deg": Quantity("Mouth", "The way out of a fork, counter-clockwise from +X."),
    "lead_in": Quantity("Lead-in", "How far before a fork the spindle begins to enter it."),
    "forks/feed": Quantity("Feed into a fork", "Into it and out of it.", "", "1,000 to 3,000 mm/min"),
    "groove_diameter": Quantity("Groove diameter", "Of the holder, where the tines grip.", SHEET),
    "groove_below": Quantity("Groove below gauge line", "Down to the middle of the groove.", SHEET),
    "groove_width": Quantity("Groove width", "Of the holder.", SHEET),
    "forks/thickness": Quantity("Tine thickness", "In height.", CALLIPER),
    "tine_width": Quantity("Tine width", "Seen from above.", CALLIPER),
    "tine_reach": Quantity("Tine reach", "How far the tines go beyond the pocket's axis.", CALLIPER),
    "disc/count": Quantity("Pockets", "How many pockets the disc has."),
    "disc/radius": Quantity("Radius", "Of the circle of the pockets' axes.", CALLIPER),
    "disc/bearing_deg": Quantity("Bearing of the disc", "From the disc's middle to the exchange place."),
    "seconds_per_step": Quantity(
        "Time of one step", "From one pocket to the next.", "Time a whole turn.", "0.2 to 0.5 s"
    ),
    "exchange/x": Quantity(
        "Exchange place X", "Machine X of the spindle for an exchange: the one place that is taught.", DIAL
    ),
    "exchange/y": Quantity(
        "Exchange place Y", "Machine Y of the spindle for an exchange: the one place that is taught.", DIAL
    ),
    "changer/swing": Quantity(
        "Swing", "How far the disc swings from home to the spindle, along its bearing.", CALLIPER
    ),
    "arm/reach": Quantity("Arm reach", "From its pivot to a hand.", CALLIPER),
    "arm/stroke": Quantity("Arm stroke", "Down: more than taper and knob stand up.", CALLIPER),
    "changer/x": Quantity("Exchange place X", "Machine X of the spindle while a tool is changed by hand."),
    "changer/y": Quantity("Exchange place Y", "Machine Y of the spindle while a tool is changed by hand."),
    "changer/z": Quantity(
        "Exchange height", "Machine Z while a tool is changed by hand: high, since it returns at this height."
    ),
    "changer/room": Quantity("Room below the nose", "Free height for the longest tool, and the hand that holds it."),
    "reserved/*/pocket": Quantity("Reserved pocket", "It takes no tool."),
    "reserved/*/diameter": Quantity("Diameter", "Of what stands in the reserved pocket.", CALLIPER),
    "reserved/*/top_z": Quantity(
        "Top", "Machine Z of what stands in the reserved pocket.", "Touch it with a tool of known length."
    ),
    # setters and probes
    "input": Quantity("Its input", "The number of the input that a touch makes."),
    "makes": Quantity("Makes the input", "The number of the input that a touch of it makes."),
    "setters/*/pocket": Quantity("Pocket", "Where the setter is: no tool can have that pocket."),
    "setters/*/x": Quantity("Middle X", "Machine X of its middle; of one that is laid, where it lies.", JOG),
    "setters/*/y": Quantity("Middle Y", "Machine Y of its middle; of one that is laid, where it lies.", JOG),
    "setters/*/bottom_z": Quantity("Stands at", "Machine Z of the face that it stands on."),
    "setters/*/diameter": Quantity("Diameter", "As it is seen from above.", CALLIPER),
    "shape/diameter": Quantity("Diameter", "Of a round one, as it is seen from above.", CALLIPER),
    "routines/*/touches": Quantity(
        "Touches",
        "How many are made: of an edge two or more at equal steps, round the clock 3 to 36, of a corner's side one or two (two find its turn).",
    ),
    "shape/size_x": Quantity("Size X", "Of a square one, along X.", CALLIPER),
    "shape/size_y": Quantity("Size Y", "Of a square one, along Y.", CALLIPER),
    "setters/*/size_x": Quantity("Size X", "As it is seen from above.", CALLIPER),
    "setters/*/size_y": Quantity("Size Y", "As it is seen from above.", CALLIPER),
    "setters/*/height": Quantity("Height", "As it is marked or certified."),
    "setters/*/thickness": Quantity("Thickness", "Of the plate.", "A micrometer."),
    "setters/*/work_offset": Quantity("Sets work offset", "The one that its plane belongs to."),
    "plane_z": Quantity(
        "Plane height",
        "Machine Z of the tip at which it triggers.",
        "Calibrate it with a reference tool of known length.",
    ),
    "setters/*/margin": Quantity(
        "Approach margin", "The search begins this far above the expected trigger.", "", "10 to 25 mm"
    ),
    "overtravel": Quantity(
        "Overtravel allowed",
        "How far it can be pushed before it is damaged.",
        SHEET,
        "3 to 6 mm of a sprung setter, about 0.1 mm of a rigid plate",
    ),
    "overtravel_up": Quantity(
        "Overtravel, upwards",
        "How far the stylus gives along Z.",
        SHEET,
        "3 to 6 mm of a sprung stylus, about 0.5 of a rigid one",
    ),
    "overtravel_across": Quantity(
        "Overtravel, sideways",
        "How far the stylus gives across.",
        SHEET,
        "5 to 15 mm of a sprung stylus, about 1 of a rigid one",
    ),
    "search_feed": Quantity(
        "Search feed",
        "Of the fast touch that finds a surface.",
        "The fastest whose overtravel is allowed.",
        "200 to 600 mm/min on a router, 500 to 2,000 on a machining centre",
    ),
    "measure_feed": Quantity(
        "Measuring feed",
        "Of the slow touch that counts: a plane height and an effective diameter are valid at this feed.",
        "",
        "25 to 80 mm/min on a router, 30 to 100 on a machining centre",
    ),
    "guarded_feed": Quantity(
        "Feed of guarded moves",
        "Of moves between touches, where nothing is expected: what is met in them stops them.",
        "",
        "500 to 3,000 mm/min",
    ),
    "back_off": Quantity(
        "Back-off",
        "Between the touches: more than the search runs on, and the switch's hysteresis.",
        "",
        "1 to 3 mm on a router, 0.5 to 3 on a machining centre",
    ),
    "touches": Quantity("Touches", "How many are made."),
    "setters/*/touches": Quantity("Touches that count", "Their mean is taken.", "", "2 to 5"),
    "probes/*/touches": Quantity("Touches that count", "Of each place; their mean is taken.", "", "1 to 5"),
    "artefact/touches": Quantity(
        "Touches round it",
        "By which its middle and the tip are found; the more, the better its form is seen.",
        "",
        "4 to 36",
    ),
    "spread": Quantity(
        "Greatest spread", "Touches that differ by more set nothing.", "", "three times the repeatability"
    ),
    "repeatability": Quantity(
        "Repeatability",
        "Two standard deviations of one touch.",
        "Touch ten times; the readings tell.",
        "3 to 20 µm on a router, 0.5 to 2 on a machining centre",
    ),
    "trigger_travel": Quantity(
        "Trigger travel",
        "From the first contact until the input changes; 0 where it is not known.",
        SHEET,
        "0.005 to 0.05 mm",
    ),
    "setters/*/latency": Quantity(
        "Own latency", "Before its input changes, as a radio one needs; 0 for a wired one.", SHEET
    ),
    "probes/*/latency": Quantity(
        "Own latency", "Before its input changes, as a radio one needs; 0 for a wired one.", SHEET
    ),
    "polling": Quantity(
        "Polled every", "A control that polls its inputs may be late by this time; 0 where it latches.", SHEET
    ),
    "turning_speed": Quantity(
        "Turning speed", "Of a cutter that turns slowly backwards while it touches.", "", "100 to 500 rev/min"
    ),
    "work_offset": Quantity("Work offset", "The one that it belongs to, or sets."),
    "probes/*/tool": Quantity("In the spindle as", "The number of its tool."),
    "stem_diameter": Quantity("Stem diameter", "Of the stylus above its tip: it must not touch first.", CALLIPER),
    "effective_diameter": Quantity(
        "Effective diameter",
        "What the tip is in effect, at the measuring feed: less than its nominal diameter.",
        "Qualify it in a ring, on a plug or a ball.",
    ),
    "effective_x": Quantity("Effective along X", "Its effective diameter along X, where it differs.", "Qualify it."),
    "effective_y": Quantity("Effective along Y", "Its effective diameter along Y, where it differs.", "Qualify it."),
    "effective_uncertainty": Quantity("± of the diameter", "At 95 %.", "Qualify it."),
    "length_uncertainty": Quantity("± of the length", "At 95 %.", "Qualify it."),
    "off_x": Quantity(
        "Off-centre X",
        "Where the tip is off the spindle's axis.",
        "Qualify it by half a turn.",
        "below 0.02 mm once it is set",
    ),
    "off_y": Quantity(
        "Off-centre Y",
        "Where the tip is off the spindle's axis.",
        "Qualify it by half a turn.",
        "below 0.02 mm once it is set",
    ),
    "probes/*/angle_deg": Quantity("At the spindle's angle", "The spindle's angle at which off-centre is valid."),
    "qualified_feed": Quantity("At the feed", "Measuring at another feed than this adds an error; it is shown."),
    "due_days": Quantity(
        "Again after, days", "After this many days it is to be qualified again, and after every knock."
    ),
    "lobing": Quantity(
        "Lobing", "How much its trigger differs round the clock.", "Qualify it with many touches.", "0.5 to 10 µm"
    ),
    "probes/*/size": Quantity("Size of the plate", "Of its top along the part's faces.", CALLIPER),
    "probes/*/thickness": Quantity("Thickness of the plate", "Of its top.", "A micrometer."),
    "edge_x": Quantity("Edge along X", "How far its outer face is off the part's, along X."),
    "edge_y": Quantity("Edge along Y", "How far its outer face is off the part's, along Y."),
    "artefact/diameter": Quantity(
        "Diameter of the artefact", "Of ring, plug or ball, as it is certified.", "Its certificate."
    ),
    "diameter_uncertainty": Quantity(
        "± of the artefact", "Half width at 95 %.", "Its certificate.", "0.5 to 2 µm of a ring"
    ),
    "artefact/depth": Quantity("Touched below its top by", "How far the tip goes down to touch it."),
    "artefact/x": Quantity("Artefact X", "Machine X of its middle, as expected: it is searched for.", JOG),
    "artefact/y": Quantity("Artefact Y", "Machine Y of its middle, as expected: it is searched for.", JOG),
    "artefact/z": Quantity(
        "Artefact Z", "Machine Z of its upper face, as a tip is on it; of a ball its highest point."
    ),
    "face_x": Quantity("Reference face X", "Where the face of known height is touched.", JOG),
    "face_y": Quantity("Reference face Y", "Where the face of known height is touched.", JOG),
    "face_z": Quantity(
        "Reference face Z",
        "Machine Z of the face: the length follows from it.",
        "Touch it with a tool of known length.",
    ),
    "face_uncertainty": Quantity("± of the face", "Half width at 95 % of its height."),
    # routines
    "routines/*/x": Quantity("X", "Machine X of the feature, as it is expected.", JOG),
    "routines/*/y": Quantity("Y", "Machine Y of the feature, as it is expected.", JOG),
    "routines/*/z": Quantity("Upper face, Z", "Machine Z of the upper face, as a tip stands on it.", JOG),
    "before": Quantity(
        "Search begins before", "How far before the expected surface a search begins: more than a part may lie off."
    ),
    "beyond": Quantity(
        "Search ends beyond",
        "How far beyond the expected surface a search ends: no more than the probe gives, should its input be dead.",
    ),
    "clearance": Quantity("Clearance", "The tip moves across so far above the upper face."),
    "routines/*/depth": Quantity(
        "Depth", "How far below the upper face a side is touched: more than the radius of the ball."
    ),
    "routines/*/diameter": Quantity("Diameter", "Of bore or boss, as it should be.", PART),
    "routines/*/width": Quantity("Width", "Of slot or web, as it should be.", PART),
    "routines/*/size_x": Quantity("Size along X", "As it should be.", PART),
    "routines/*/size_y": Quantity("Size along Y", "As it should be.", PART),
    "routines/*/height": Quantity("Height", "As it should be: the second face is lower by this.", PART),
    "away": Quantity("From the corner", "How far from the corner a side is touched first."),
    "span": Quantity(
        "Between the touches",
        "How far further on an edge is touched last: the further apart, the better its angle is known.",
    ),
    "first_deg": Quantity("First touch at", "Counter-clockwise from +X."),
    "to_x": Quantity("To X", "From the first touch, along X.", PART),
    "to_y": Quantity("To Y", "From the first touch, along Y.", PART),
    "bores/*/x": Quantity("Bore X", "The middle of the bore along X, from the place.", PART),
    "bores/*/y": Quantity("Bore Y", "The middle of the bore along Y, from the place.", PART),
    "place_tolerance": Quantity("Place may be off by", "Either way; out of it nothing is set."),
    "size_tolerance": Quantity("Size may be off by", "Either way; out of it nothing is set."),
    "turn_tolerance": Quantity("Turn may be off by", "Either way; out of it nothing is set."),
    "readout_x": Quantity("Readout X there", "What the readout is to show at the place that was found."),
    "readout_y": Quantity("Readout Y there", "What the readout is to show at the place that was found."),
    "readout_z": Quantity("Readout Z there", "What the readout is to show at the place that was found."),
    # tools
    "tools/*/number": Quantity("T", "The number by which it is called."),
    "tools/*/pocket": Quantity("Pocket", "Where it is stored."),
    "tools/*/diameter": Quantity("Diameter", "Over its cutting edges.", CALLIPER),
    "tools/*/length": Quantity(
        "Length", "From the gauge line to the tip.", "At the setter, against a reference tool, or at a surface."
    ),
    "stick_out": Quantity("Stick-out", "From the holder's lower face to the tip.", CALLIPER),
    "shank_above": Quantity("Shank above", "How far the shank's end stands above the gauge line.", CALLIPER),
    "wear": Quantity("Wear", "What has come to the length since it was measured; negative is shorter."),
    "greatest_wear": Quantity(
        "Greatest wear", "More than this either way, and the tool is worn out.", "", "0.05 to 0.3 mm"
    ),
    "in_use": Quantity("Length in use", "The length that the control goes by."),
    "breakage": Quantity(
        "Breakage tolerance",
        "A length that is further off its record than this is taken for a broken tool.",
        "",
        "0.3 to 1 mm",
    ),
    "collar_scatter": Quantity(
        "Scatter with its collar",
        "A stop collar keeps the length within this; without one it is not valid once a nut was put down.",
        "Put it in ten times and measure.",
        "0.02 to 0.10 mm on a router, 0.002 to 0.005 on a machining centre",
    ),
    "flutes": Quantity("Flutes", "How many edges cut."),
    "cutting_length": Quantity("Cutting length", "How far up from the tip the edges go.", CALLIPER),
    "corner_radius": Quantity("Corner radius", "Of a corner-radius end mill; half the diameter of a ball."),
    "tools/*/angle_deg": Quantity("Angle", "The included point angle of a drill; that per side of a chamfer mill."),
    "tools/*/greatest_speed": Quantity(
        "Greatest speed", "What the tool stands, whatever the spindle can do.", "Its maker's table."
    ),
    "fetched_a_shift": Quantity(
        "Fetched in a shift", "How often an exchange fetches it: what measuring it costs a shift."
    ),
    "off_axis": Quantity(
        "Touched off its axis", "A face mill with nothing in its middle is touched at its edge: this far out."
    ),
    "edge_height": Quantity(
        "Edge height for its diameter", "This far above the tip its diameter is touched, from two sides."
    ),
    "holder/*/diameter": Quantity("Holder diameter", "Of one of its steps.", CALLIPER),
    "holder/*/length": Quantity("Holder length", "Of one of its steps.", CALLIPER),
    "cutting/speed": Quantity("Spindle speed", "What it cuts with.", "Its maker's table."),
    "surface_speed": Quantity("Cutting speed", "At its edge, m/min.", "Its maker's table."),
    "cutting/feed": Quantity("Feed", "What it cuts with.", "Its maker's table."),
    "chip_load": Quantity("Feed per tooth", "What each edge takes.", "Its maker's table."),
}
"""By the end of the quantity's pointer, where `*` is an entry of a list, or an axis; the longest that fits counts."""


def quantity_at(pointer: str) -> Quantity | None:
    """The quantity at a JSON pointer, with the place of a list's entry or with its key; None: it is none of the table's."""
    parts = [*parts_of(pointer)]
    for index in range(1, len(parts)):
        if parts[index - 1] in KEYS or parts[index - 1] in UNKEYED:
            parts[index] = "*"
    ends = ("/".join(parts[first:]) for first in range(len(parts)))
    return next((QUANTITIES[end] for end in ends if end in QUANTITIES), None)


UNKEYED = frozenset({"axes", "moves", "holder", "bores"})
"""Lists and records whose entries have no key, or whose fields are axes."""


def described(schema: dict[str, Any]) -> dict[str, Any]:
    """A Setup's JSON Schema with the names and help of its quantities, where one name fits all that a field is used for; in place."""
    for name, definition in schema.get("$defs", {}).items():
        for field, part in definition.get("properties", {}).items():
            ends = [end for end in QUANTITIES if end.rpartition("/")[2] == field]
            own = [end for end in ends if "/" not in end or _section(end) == name.lower()]
            if len(own) == 1 or len(ends) == 1:
                found = QUANTITIES[(own or ends)[0]]
                part["title"] = found.name
                part["description"] = " ".join(text for text in found[1:] if text)
    return schema


def _section(end: str) -> str:
    """What an entry is a field of, as its model is called: "tools/*/length" of a tool."""
    return end.rpartition("/")[0].removesuffix("/*").rpartition("/")[2].rstrip("s")


def units(schema: dict[str, Any]) -> dict[str, str]:
    """The core's unit of each entry of the table, by a Setup's JSON Schema; those without one are left out."""
    found: dict[str, set[str]] = {}
    for definition in schema.get("$defs", {}).values():
        for field, part in definition.get("properties", {}).items():
            every = {str(each["unit"]) for each in (part, *part.get("anyOf", ())) if "unit" in each}
            found.setdefault(field, set()).update(every)
    return {end: next(iter(every)) for end in QUANTITIES if len(every := found.get(end.rpartition("/")[2], set())) == 1}
