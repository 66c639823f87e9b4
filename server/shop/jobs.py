"""What is computed in a worker process for someone who waits: plain values in, the answer's JSON out. Nothing here
knows the database; a worker loads this module once, when it begins."""

from collections.abc import Callable
from functools import wraps
from typing import Any, ParamSpec

from orthotrope.calc.capture import offer, targets
from orthotrope.errors import InputError
from orthotrope.formats.layout import ORDERS, Mark, ordered, read_layout
from orthotrope.formats.pocket_table import preview as preview_table
from orthotrope.program.reader import read_text
from orthotrope.program.writer import write
from orthotrope.proof.savings import savings
from orthotrope.proof.settling import record_words, settling
from orthotrope.sequence.approach import approach
from orthotrope.setup import Setup, read_setup
from orthotrope.setup.changer import CHANGERS, AnyChanger
from orthotrope.setup.changes import merge
from orthotrope.setup.document import unit_of_document
from orthotrope.setup.templates import bare_setup, changer_template
from orthotrope.units import shown_in
from orthotrope.validation import unit_at
from pydantic import TypeAdapter

from shop import schemas
from shop.answers import answer
from shop.stages.machine import profile_answer
from shop.stages.registry import Asked

Arguments = ParamSpec("Arguments")


def _answers(response: Any) -> Callable[[Callable[Arguments, Any]], Callable[Arguments, bytes]]:
    """A job whose result goes out as this type; lengths in its messages are in the unit of the document that comes
    first."""
    adapter: TypeAdapter[Any] = TypeAdapter(response)

    def wrap(job: Callable[Arguments, Any]) -> Callable[Arguments, bytes]:
        @wraps(job)
        def run(*args: Arguments.args, **kwargs: Arguments.kwargs) -> bytes:
            with shown_in(unit_of_document(args[0])):
                try:
                    found = job(*args, **kwargs)
                except ArithmeticError as failed:
                    raise InputError.at(
                        "",
                        f"These numbers lead to none that can be worked with ({failed}); is one of them far "
                        "too large or too small?",
                    ) from None
            return adapter.dump_json(adapter.validate_python(found))

        return run

    return wrap


@_answers(schemas.AnswerOut)
def preview(document: dict[str, Any], asked: dict[str, Any]) -> Any:
    """What would follow from a document, without saving it."""
    stage = asked.pop("stage", "exchange")
    return answer(document, stage, Asked(**asked))


@_answers(schemas.ProfileAnswerOut)
def profile_sample(profile: dict[str, Any]) -> Any:
    """A sample program in a control profile, and whether it reads back as what was meant."""
    return profile_answer(profile)


@_answers(schemas.OfferOut)
def make_offer(document: dict[str, Any], quantity: str, position: list[float] | None, tool: int | None) -> Any:
    """Which number of the machine would go into a quantity."""
    setup = read_setup(document)
    nothing = {"axis": None, "raw": None, "value": None, "step": None, "edit_at": "", "edit": None}
    try:
        to = {str(axis): value for axis, value in targets(setup, quantity).items()}
        if position is None or len(position) != 3:
            return {**nothing, "says": "", "targets": to}
        x, y, z = position
        found = offer(setup, quantity, (x, y, z), tool)
    except InputError as bad:
        return {**nothing, "says": bad.faults[0].what, "targets": {}}
    return {
        "axis": found.axis,
        "raw": found.raw,
        "value": found.value,
        "step": found.step,
        "says": found.says,
        "edit_at": found.edit_at,
        "edit": found.edit,
        "targets": to,
    }


@_answers(list[schemas.SavingOut])
def time_savings(document: dict[str, Any], from_tool: int, to_tool: int) -> Any:
    """What would save most time in an exchange, each change tried."""
    found = savings(read_setup(document), from_tool, to_tool)
    return [{"says": saving.says, "where": saving.where, "seconds": saving.seconds} for saving in found]


@_answers(schemas.SettlingOut)
def settling_sheet(document: dict[str, Any], from_tool: int, to_tool: int) -> Any:
    """What may be where after this exchange was stopped, block by block, and how the record is set."""
    setup = read_setup(document)
    rows = [stretch.as_json() for stretch in settling(setup, from_tool, to_tool)]
    return {"stretches": rows, **record_words(setup)}


@_answers(list[schemas.ApproachOut])
def approach_texts(document: dict[str, Any], pocket: int) -> Any:
    """The programs of a pocket's first approach, in the Setup's control profile."""
    setup = read_setup(document)
    return [{"name": made.title, "text": write(made, setup.profile)} for made in approach(setup, pocket)]


@_answers(list[schemas.LayerOut])
def layers(text: str, unit: Any) -> Any:
    """The circles and points of a drawing, by layer, in every order that pockets may be numbered in."""
    found: dict[str, list[Mark]] = {}
    for mark in read_layout(text.encode("utf-8", "replace"), unit):
        found.setdefault(mark.layer, []).append(mark)
    return [
        {
            "name": name,
            "marks": [{"x": m.x, "y": m.y, "diameter": m.diameter} for m in marks],
            "orders": {order: _places(marks, ordered(marks, order)) for order in ORDERS},
        }
        for name, marks in found.items()
    ]


def _places(marks: list[Mark], order: list[Mark]) -> list[int]:
    at = {id(mark): place for place, mark in enumerate(marks)}
    return [at[id(mark)] for mark in order]


@_answers(schemas.TablePreviewOut)
def pocket_table(document: dict[str, Any], content: bytes) -> Any:
    """What a table (CSV or XLSX) would change."""
    rows, tools = preview_table(read_setup(document), content)
    return {
        "rows": [
            {"row": r.row, "pocket": r.pocket, "tool": r.tool, "changes": r.changes, "wrong": r.wrong} for r in rows
        ],
        "tools": tools,
    }


@_answers(schemas.MergedOut)
def merged(theirs: dict[str, Any], base: dict[str, Any], mine: dict[str, Any]) -> Any:
    """What ``mine`` has other than ``base``, in ``theirs``; what was changed otherwise in between is left as it is and
    told."""
    documents = (read_setup(base).as_json(), read_setup(mine).as_json(), read_setup(theirs).as_json())
    document, left = merge(*documents)
    told = [{**conflict.as_json(), "unit": unit_at(Setup, conflict.where)} for conflict in left]
    return {"document": read_setup(document), "left": told}


@_answers(AnyChanger)
def template(document: dict[str, Any], style: str) -> Any:
    """A changer of a style for a machine that has none yet."""
    return changer_template(read_setup(document), style)


def checked(source: bytes | dict[str, Any]) -> dict[str, Any]:
    """A Setup file, read: its document in the present version."""
    return read_setup(source).as_json()


def unreadable(text: str) -> str:
    """The first fault of a program's text; "" where it can be read."""
    faults = read_text(text).faults
    return str(faults[0]) if faults else ""


def warm() -> None:
    """Have everything worked out once that is kept between two answers: a worker that begins with it answers at
    once."""
    bare = bare_setup("warm")
    tools = [{"number": n, "name": "", "diameter": 6.0, "length": 60.0, "stick_out": 30.0, "pocket": n} for n in (1, 2)]
    changer = next(made for style in CHANGERS if (made := changer_template(bare, style)).pocket_count)
    document = {**bare.as_json(), "changer": changer.model_dump(mode="json"), "tools": tools}
    for stage in ("machine", "signals", "exchange"):
        preview(document, {"from_tool": 1, "to_tool": 2, "profile": None, "stage": stage})
