"""The types of the API. Lengths mm, machine coordinates; feeds mm/min; speeds rev/min; angles degrees; time seconds."""

from datetime import datetime
from typing import Annotated, Any, Literal

from ninja import Schema
from orthotrope.machine.shapes import PartOf
from orthotrope.proof.faults.registry import FAULTS
from orthotrope.proof.judging import Verdict
from orthotrope.setup import Setup
from orthotrope.setup.changer import RackPlace
from orthotrope.setup.named import Named
from orthotrope.setup.tools import Tool
from orthotrope.validation import MOST
from pydantic import ConfigDict, Field

from shop.stages.registry import ANSWERS, STAGES, Mark

Severity = Literal["stop", "warn", "note"]


class Taken(Schema):
    """Base of all that comes in: no unknown fields, no guessing of types, no NaN."""

    model_config = ConfigDict(extra="forbid", strict=True, allow_inf_nan=False)


Whole = Annotated[int, Field(ge=-(2**31), lt=2**31)]
Number = Annotated[int, Field(ge=0, lt=2**31)]
Position = Annotated[list[float], Field(min_length=3, max_length=3)]
FaultName = Annotated[str, Named(FAULTS)]
ProgramText = Annotated[str, Field(max_length=5_000_000)]
Plausible = Annotated[float, Field(ge=-MOST, le=MOST)]
"""A reading: no machine's is larger."""


class FaultOut(Schema):
    where: str
    what: str


class FaultsOut(Schema):
    """What is wrong with a request, fault by fault."""

    message: str
    faults: list[FaultOut] = []


class ConflictOut(Schema):
    """``unit``: the core's unit of the values, "" where they have none."""

    where: str
    unit: str
    base: Any
    mine: Any
    theirs: Any


class EditConflictOut(Schema):
    """Values that two people changed; ``document`` and ``revision`` are the stored ones."""

    message: str
    conflicts: list[ConflictOut]
    revision: int
    author: str
    document: Setup


class SessionOut(Schema):
    user: str | None
    role: Literal["viewer", "technician", "supervisor"] | None
    demo_accounts: list[str]


class SignIn(Taken):
    user: Annotated[str, Field(max_length=150)]
    password: Annotated[str, Field(max_length=1000)]


class DemoSignIn(Taken):
    role: Literal["viewer", "technician", "supervisor"]


class QuantityIn(Taken):
    text: Annotated[str, Field(max_length=1000)]
    kind: Literal["length", "feed", "angle", "speed", "time", "acceleration", "count"]
    unit: Literal["mm", "inch"] = "mm"


class QuantityOut(Schema):
    """``value`` in the core's ``unit``; or ``what`` is wrong, at ``column`` from 0."""

    value: float | None
    unit: str
    what: str = ""
    column: int = 0


class TermOut(Schema):
    name: str
    value: float
    unit: str
    where: str


class WorkingOut(Schema):
    name: str
    value: float | None
    unit: str
    formula: str
    terms: list[TermOut]
    rounding: str


class PocketOut(Schema):
    pocket: int
    x: float
    y: float


class LadderOut(Schema):
    couple_z: float
    hover_z: float
    empty_z: float
    carry_z: float
    park_z: float
    carry_possible: bool
    longest: float
    longest_tool: int | None


class PointOut(Schema):
    x: float
    y: float


class TaughtOut(Schema):
    pocket: int
    dx: float
    dy: float
    distance: float
    missed_by: float | None
    stands_out: bool
    slip: str


class KnownPocketOut(Schema):
    pocket: int
    x: float
    y: float
    known_to: float
    fits: bool


class LevelOut(Schema):
    first_z: float
    last_z: float
    worst: float


class FitOut(Schema):
    origin: PointOut
    bearing_deg: float
    pitch: float
    origin_u95: PointOut
    bearing_u95_deg: float
    pitch_u95: float
    rms: float
    worst: float
    room: float
    sigma: float
    assumed: bool
    enough: bool
    taught: list[TaughtOut]
    pockets: list[KnownPocketOut]
    level: LevelOut | None
    take: RackPlace


class AlignmentOut(Schema):
    says: list[str]
    fit: FitOut | None


class StoringOut(Schema):
    tool: int
    pocket: int | None
    spare: float
    clearance: float | None
    overlap: float
    says: str


class TableRowOut(Schema):
    row: int
    pocket: int | None
    tool: int | None
    changes: str
    wrong: str


class TablePreviewOut(Schema):
    """``tools`` null: a row is wrong, nothing is taken over."""

    rows: list[TableRowOut]
    tools: list[Tool] | None


class ArrangeIn(Taken):
    how: Literal["fill", "empty", "renumber"]


class StyleSignalOut(Schema):
    """``name`` null: the machine has no such signal; ``seconds`` that an output's device takes."""

    kind: Literal["input", "output"]
    role: str
    name: str | None
    seconds: float | None


class DerivedOut(Schema):
    """``centre``: the middle of the whole rack, or of the disc at home."""

    pockets: list[PocketOut]
    centre: PointOut
    ladder: LadderOut
    workings: dict[str, WorkingOut]
    alignment: AlignmentOut | None
    storing: list[StoringOut]
    signals: list[StyleSignalOut]
    rack_top_z: float
    stored_top_z: float


class CureOut(Schema):
    says: str
    where: str
    value: float | str


class FindingOut(Schema):
    check: str
    severity: Severity
    message: str
    line: int | None
    at_seconds: float | None
    position: list[float] | None
    quantity: str | None
    cure: CureOut | None


class WellOut(Schema):
    x: float
    y: float
    radius: float


class BodyOut(Schema):
    name: str
    part_of: PartOf
    kind: Literal["box", "cylinder"]
    x: float
    y: float
    bottom: float
    top: float
    radius: float
    half_x: float
    half_y: float
    cos: float
    sin: float
    wells: list[WellOut]


class PartOut(Schema):
    name: str
    radius: float
    low: float
    high: float


class ToolOut(Schema):
    number: int
    name: str
    length: float
    stick_out: float
    radius: float


class RackPocketOut(PocketOut):
    tool: int
    reserved: bool


class WorldDiscOut(Schema):
    """A disc in plan: its circle, the way from its middle to the pocket in front, its middle swung out and at home."""

    count: int
    radius: float
    way: list[float]
    out: list[float]
    home: list[float]
    sense: int
    arm_reach: float
    exchange: list[float]


class GrooveOut(Schema):
    radius: float
    low: float
    high: float


class MagazineOut(Schema):
    """``radius`` of a nut or holder, ``above``: how far a stored tool stands above the height at which it is taken."""

    style: str
    holds: str
    pockets: list[RackPocketOut]
    radius: float
    above: float
    couple_z: float
    disc: WorldDiscOut | None
    groove: GrooveOut | None


class SceneOut(Schema):
    """The nominal world as shapes: what is drawn is what is run."""

    bodies: list[BodyOut]
    spindle: list[PartOut]
    tools: list[ToolOut]
    magazine: MagazineOut | None


class LawOut(Schema):
    way: float
    speed: float
    acceleration: float
    ramp: float
    seconds: float


class ArcOut(Schema):
    axes: list[int]
    centre: list[float]
    radius: float
    start_angle: float
    sweep: float
    rise: float


class SegmentOut(Schema):
    line: int
    kind: Literal["rapid", "feed", "touch", "dwell"]
    start_seconds: float
    end_seconds: float
    start: list[float]
    end: list[float]
    feed: float
    law: LawOut | None
    arc: ArcOut | None


class SpindleRampOut(Schema):
    start_seconds: float
    end_seconds: float
    start_speed: float
    end_speed: float


class HoldingOut(Schema):
    at_seconds: float
    tool: int | None


class StoredToolOut(Schema):
    pocket: int
    tool: int


class SavingOut(Schema):
    says: str
    where: str
    seconds: float


class LayoutIn(Taken):
    """A DXF as text; ``unit``: where it states none."""

    text: ProgramText
    unit: Literal["mm", "inch", "as stated"] = "as stated"


class MarkOut(Schema):
    x: float
    y: float
    diameter: float


class LayerOut(Schema):
    """``orders``: by the name of an order, the marks' places in ``marks``."""

    name: str
    marks: list[MarkOut]
    orders: dict[str, list[int]]


class PairIn(Taken):
    document: dict[str, Any]
    from_tool: Number
    to_tool: Number


class FoundOut(Schema):
    """``holds`` null: the tool is neither held nor free."""

    holds: int | None
    pockets: list[StoredToolOut]


class StretchOut(Schema):
    lines: list[int]
    record: int
    doubtful: bool
    found: list[FoundOut]
    says: str
    out: list[str]


class SettlingOut(Schema):
    """``key``: how the record is keyed into the control, with {tool} for its number and {pocket} for a pocket's; "" for
    none."""

    stretches: list[StretchOut]
    key: list[str]
    key_pocket: str


class SeenOut(Schema):
    """The inputs that the control sees as made from a moment on."""

    at_seconds: float
    made: list[str]


class StoredOut(Schema):
    """What is in the pockets from a moment on."""

    at_seconds: float
    pockets: list[StoredToolOut]


class DeviceMoveOut(Schema):
    """A device of the changer that goes from one state to another; a disc that turns, from one pocket to another."""

    device: str
    was: str
    state: str
    start_seconds: float
    end_seconds: float


class BlockOut(Schema):
    """A block that was run. ``set``: the parameters it set."""

    line: int
    start_seconds: float
    end_seconds: float
    record: float
    doubtful: bool
    tool: int | None
    set: dict[str, float]


class TraceOut(Schema):
    seconds: float
    ended: Literal["end", "stopped"]
    segments: list[SegmentOut]
    stored: list[StoredOut]
    inputs: list[SeenOut]
    devices: list[DeviceMoveOut]
    blocks: list[BlockOut]
    spindle: list[SpindleRampOut]
    holding: list[HoldingOut]


class TextOut(Schema):
    """The text of an exchange in one control profile; ``text`` null: ``why`` not."""

    profile: str
    file: str
    text: str | None
    why: str = ""


class ReadyOut(Schema):
    """The program that readies the next tool while the job cuts."""

    file: str
    text: str


class UnderOut(Schema):
    """The fault that an exchange was run under, and the verdict on it."""

    fault: str
    verdict: Verdict
    says: str
    check: str | None
    line: int | None
    at_seconds: float | None


class ExchangeOut(Schema):
    under: UnderOut | None
    from_tool: int
    to_tool: int
    texts: list[TextOut]
    shown: str
    ready: ReadyOut | None
    trace: TraceOut | None
    findings: list[FindingOut]


class CurvePointOut(Schema):
    seconds: float
    speed: float


class CrossingOut(Schema):
    seconds: float
    seconds_to_speed: float
    distance_to_speed: float
    top_speed: float
    full_speed: bool
    stopping: float
    stops_in_margin: bool
    curve: list[CurvePointOut]


class AxisAnswerOut(Schema):
    soft_least: float
    soft_greatest: float
    now: CrossingOut
    kept: CrossingOut | None


class KeptClearOut(Schema):
    name: str
    outline: list[list[float]]


class SpaceOut(Schema):
    """Areas in mm²; ``rectangle``: least x, least y, greatest x, greatest y."""

    data_sheet: float
    within_limits: float
    left: float
    rectangle: list[float]
    kept_clear: list[KeptClearOut]


class WayOut(Schema):
    name: str
    file: str
    text: str | None
    why: str
    starts: int
    seconds: float
    findings: list[FindingOut]


class CardEntryOut(Schema):
    group: str
    name: str
    where: str
    value: float
    shown: str
    unit: str
    decimals: int


class MachineAnswerOut(Schema):
    axes: dict[str, AxisAnswerOut]
    workings: dict[str, WorkingOut]
    space: SpaceOut
    ways: list[WayOut]
    card: list[CardEntryOut]
    findings: list[FindingOut]
    unknown_before_homing: list[str]


Seen = Literal["idle", "made"]


class InputAnswerOut(Schema):
    number: int
    idle: Seen
    made: Seen
    lead_broken: Seen
    short_to_ground: Seen
    reversed: bool
    broken_noticed: bool
    short_noticed: bool
    says: str
    safe_wiring: Literal["normally open", "normally closed"]
    safe_level: Literal["high", "low"]
    read_word: str
    wait: str


class SignalsAnswerOut(Schema):
    inputs: list[InputAnswerOut]
    findings: list[FindingOut]


class EdgeOut(Schema):
    """An input's change: milliseconds after the first, and whether it was made then."""

    after: float
    made: bool


class InputTestOut(Schema):
    """``wiring`` and ``level``: as the test shows them."""

    number: int
    wiring: Literal["normally open", "normally closed"]
    level: Literal["high", "low"]
    seen: list[Seen]
    outcome: Literal["passed", "reversed", "dead", "stuck", "unsteady"]
    edges: list[EdgeOut]
    by_hand: bool
    author: str
    when: datetime
    stale: bool
    why: str


class EdgeIn(Taken):
    after: float
    made: bool


class InputTestIn(Taken):
    seen: Annotated[list[Seen], Field(max_length=3)]
    edges: Annotated[list[EdgeIn], Field(max_length=500)] = []
    by_hand: bool = False


class ProfileAnswerOut(Schema):
    faults: list[FaultOut]
    text: str | None
    says: str
    agrees: bool
    call: str


class ProfileIn(Taken):
    profile: dict[str, Any]


class AgentIn(Taken):
    """An empty ``address``: the practice machine."""

    address: Annotated[str, Field(max_length=200)]
    device: Annotated[str, Field(max_length=80)]


class PracticeIn(Taken):
    seed: Whole


class OfferIn(Taken):
    document: dict[str, Any]
    quantity: Annotated[str, Field(max_length=200)]
    position: Position | None = None
    tool: Whole | None = None


class OfferOut(Schema):
    """``axis`` null: the quantity can't be taken from a position, ``says`` why. ``targets``: where its stored place
    is."""

    axis: str | None
    raw: float | None
    value: float | None
    step: float | None
    says: str
    edit_at: str
    edit: Any
    targets: dict[str, float]


class ReadingIn(Taken):
    quantity: Annotated[str, Field(max_length=200)]
    source: Literal["machine", "typed", "dial", "read-back"]
    seen: Position | None = None
    value: Plausible | None = None
    came: Whole = 0


class TeachIn(Taken):
    pocket: Number
    seen: Position
    with_height: bool = False


class ApproachIn(Taken):
    document: dict[str, Any]
    pocket: Number


class ApproachOut(Schema):
    name: str
    text: str


class SeriesIn(Taken):
    quantity: Annotated[str, Field(max_length=200)]
    readings: Annotated[list[Number], Field(max_length=500)]


class ReadingOut(Schema):
    """``pointer``: where the quantity stands in the newest document now; "" where it has gone."""

    id: int
    quantity: str
    pointer: str
    source: Literal["machine", "typed", "dial", "series", "read-back"]
    value: float
    raw: float
    step: float | None
    position: list[float] | None
    work_offset: int | None
    tool: int | None
    tool_length: float | None
    says: str
    came: int | None
    difference: float | None
    agrees: bool | None
    slip: str
    author: str
    taken: datetime


class TakenOut(Schema):
    """A reading that was kept, and the edit that puts it into the document (null: none)."""

    reading: ReadingOut
    edit_at: str | None = None
    edit: Any = None


class TaughtPocketOut(Schema):
    readings: list[ReadingOut]
    edit_at: str
    edit: Any


class AnswerOut(Schema):
    """What follows from a document. With ``faults`` the document is not usable, and the rest is null."""

    faults: list[FaultOut]
    derived: DerivedOut | None
    scene: SceneOut | None
    exchange: ExchangeOut | None
    conflicts: list[FindingOut]
    machine: MachineAnswerOut | None = None
    signals: SignalsAnswerOut | None = None


class DocumentIn(Taken):
    document: dict[str, Any]


class TemplateIn(DocumentIn):
    style: Annotated[str, Field(max_length=40)]


class PreviewIn(Taken):
    """``fault``: run the exchange under this fault of the proof."""

    document: dict[str, Any]
    from_tool: Number | None = None
    to_tool: Number | None = None
    profile: Annotated[str, Field(max_length=80)] | None = None
    stage: Annotated[str, Named(ANSWERS)] = "exchange"
    program: ProgramText | None = None
    fault: FaultName | None = None


class MergeIn(Taken):
    """Three documents: what ``mine`` has other than ``base`` is put into ``theirs``."""

    base: dict[str, Any]
    mine: dict[str, Any]
    theirs: dict[str, Any]


class MergedOut(Schema):
    """``left``: values that were changed otherwise in between; they stand as they are."""

    document: Setup
    left: list[ConflictOut]


class StyleWordsOut(Schema):
    """A style of changer: the roles of the signals that its exchanges use, and its own words for the heights."""

    sensors: list[str]
    switches: list[str]
    words: dict[str, str]


class VocabularyOut(Schema):
    """Words that the core has, for the screen to offer; ``keys``: the field that tells the entries of a list apart."""

    input_roles: list[str]
    output_roles: list[str]
    keys: dict[str, str]
    verdicts: dict[Verdict, str]
    faults: dict[str, str]
    styles: dict[str, StyleWordsOut]


class SaveIn(Taken):
    """``base_revision`` and ``base``: the revision and the document that the edit began from."""

    base_revision: Number
    base: dict[str, Any]
    document: dict[str, Any]


class NewMachine(Taken):
    name: Annotated[str, Field(max_length=200)]


class StageOut(Schema):
    name: Annotated[str, Named(STAGES)]
    mark: Mark
    why: str


class ProofIn(Taken):
    """A program that was brought, to be proven in place of the written one; "" the written one."""

    text: ProgramText
    file: Annotated[str, Field(max_length=120)]


class ChangeOut(Schema):
    """``unit``: the core's unit of the values, "" where they have none."""

    where: str
    before: Any
    after: Any
    unit: str


class ProofSummaryOut(Schema):
    id: int
    state: Literal["running", "done", "cancelled", "failed"]
    done: int
    total: int
    stop: int
    warn: int
    cases: int
    unsafe: int
    undetectable: int
    revision: int
    author: str
    started: datetime
    error: str
    stale: bool
    stale_pairs: int
    changes: list[ChangeOut]
    changed_by: str
    changed_at: datetime | None
    file: str
    place: int


class PairOut(Schema):
    from_tool: int
    to_tool: int
    worst: Severity | None
    seconds: float
    findings: list[FindingOut]
    stale: bool


class VerdictGroupOut(Schema):
    """Pairs that came to the same under a fault; ``says`` is the first pair's sentence."""

    verdict: Verdict
    check: str | None
    says: str
    pairs: list[list[int]]


class TimeShareOut(Schema):
    name: str
    seconds: float


class TimesOut(Schema):
    from_tool: int
    to_tool: int
    seconds: float
    shares: list[TimeShareOut]


class FaultGroupsOut(Schema):
    fault: str
    groups: list[VerdictGroupOut]


class CauseOut(Schema):
    """Findings of several pairs that have one cause; ``finding`` is the first, ``pairs`` as [from, to]."""

    finding: FindingOut
    pairs: list[list[int]]


class ProofOut(ProofSummaryOut):
    """``brought``: the program that was brought, "" where it is the written one."""

    brought: str
    pairs: list[PairOut]
    causes: list[CauseOut]
    faults: list[FaultGroupsOut]
    times: list[TimesOut]


class MachineOut(Schema):
    slug: str
    revision: int
    author: str
    changed: datetime
    document: Setup
    stages: list[StageOut]
    proof: ProofSummaryOut | None
    agent: str
    device: str
    tests: list[InputTestOut]


class ShopEntryOut(Schema):
    """``unreadable``: what is wrong with a stored Setup that can't be read; it has no drawing then and no stages."""

    slug: str
    name: str
    description: str
    revision: int
    changed: datetime
    author: str
    travel: list[list[float]]
    unit: Literal["mm", "inch"]
    scene: SceneOut | None
    stages: list[StageOut]
    unreadable: list[FaultOut]


class RevisionOut(Schema):
    number: int
    author: str
    created: datetime
    changed: datetime
    note: str
    changes: list[ChangeOut]


class OldRevisionOut(Schema):
    number: int
    document: Setup
    changes: list[ChangeOut]
