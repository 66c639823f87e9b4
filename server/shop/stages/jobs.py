"""What follows from a document that need not be stored: derived values, drawing, conflicts, and what a stage shows."""

from dataclasses import dataclass
from typing import Any, get_type_hints

from orthotrope.calc.alignment import Alignment, align
from orthotrope.calc.derived import DerivedChanger, derive
from orthotrope.calc.storage import Storing, storing
from orthotrope.errors import Fault, InputError
from orthotrope.machine.report import Scene
from orthotrope.machine.run import ByHand
from orthotrope.proof.conflicts import conflicts
from orthotrope.proof.findings import Finding
from orthotrope.proof.worlds import UsedSignal, nominal_world, used_signals
from orthotrope.setup import read_setup
from orthotrope.setup.changer import CHANGERS
from orthotrope.setup.templates import bare_setup, changer_template
from pydantic import BaseModel, create_model

from shop.job import answers
from shop.stages.findings import as_findings
from shop.stages.registry import ANSWERS, StageRequest


@dataclass(frozen=True, slots=True)
class Aligned:
    """What the taught pockets say; ``fit`` null: they determine no row, and ``says`` tells why."""

    says: tuple[str, ...]
    fit: Alignment | None


class SharedAnswer(BaseModel):
    """What every stage shows. With ``faults`` the document is not usable, and the rest is null. ``played``: the name of the answer that
    is played, in the sequence that it has; null: nothing is."""

    faults: tuple[Fault, ...]
    derived: DerivedChanger | None = None
    alignment: Aligned | None = None
    storing: list[Storing] = []
    uses: list[UsedSignal] = []
    scene: Scene | None = None
    conflicts: list[Finding] = []
    played: str | None = None


Answer = create_model(
    "Answer",
    __base__=SharedAnswer,
    __doc__="What every stage shows, and what the stage shows that was asked for.",
    **{name: (get_type_hints(answering)["return"] | None, None) for name, answering in ANSWERS.items()},
)  # type: ignore[call-overload]


def answer(document: dict[str, Any], stage: str = "exchange", asked: StageRequest | None = None) -> Any:
    """What follows from a document, and what the ``stage`` shows, under the name of its answer."""
    try:
        setup = read_setup(document)
    except InputError as bad:
        return Answer(faults=bad.faults)
    derived = derive(setup)
    shown = ANSWERS[stage](setup, derived, asked or StageRequest())
    return Answer(
        faults=(),
        derived=derived,
        alignment=_aligned(setup),
        storing=storing(setup),
        uses=used_signals(setup),
        scene=Scene.of(nominal_world(setup)),
        conflicts=as_findings("setup-conflict", conflicts(setup, derived)),
        played=stage if hasattr(shown, "trace") else None,
        **{stage: shown},
    )


def _aligned(setup: Any) -> Aligned | None:
    try:
        found = align(setup)
    except InputError as bad:
        return Aligned(tuple(fault.what for fault in bad.faults), None)
    return Aligned(found.says, found) if found else None


@answers(Answer)
def preview(document: dict[str, Any], asked: dict[str, Any]) -> Any:
    """What would follow from a document, without saving it."""
    stage, tools = asked.pop("stage", "exchange"), tuple(asked.pop("tools", ()))
    by_hand = tuple(ByHand(**entry) for entry in asked.pop("by_hand", ()))
    return answer(document, stage, StageRequest(**asked, tools=tools, by_hand=by_hand))


def warm() -> None:
    """Have everything worked out once that is kept between two answers: a worker that begins with it answers at
    once."""
    bare = bare_setup("warm")
    tools = [{"number": n, "name": "", "diameter": 6.0, "length": 60.0, "stick_out": 30.0, "pocket": n} for n in (1, 2)]
    changer = next(made for style in CHANGERS if (made := changer_template(bare, style)).pocket_count)
    document = {**bare.as_json(), "changer": changer.model_dump(mode="json"), "tools": tools}
    for stage in ANSWERS:
        preview(document, {"from_tool": 1, "to_tool": 2, "profile": None, "stage": stage})
