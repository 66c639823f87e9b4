"""One form for every fault of a document or an input: pydantic's errors reported as our own sentences."""

import json
import math
import re
import sys
from collections.abc import Iterable, Iterator, Mapping
from typing import Annotated, Any, TypeVar

from pydantic import BaseModel, ConfigDict, Field, ValidationError
from pydantic_core import ErrorDetails

from orthotrope.errors import Fault, InputError
from orthotrope.units import shown_unit


class Record(BaseModel):
    """Base of all that comes in or goes out as JSON: no unknown fields, no guessing of types, no NaN."""

    model_config = ConfigDict(extra="forbid", strict=True, frozen=True, allow_inf_nan=False, populate_by_name=True)


Model = TypeVar("Model", bound=Record)

MOST = 1e6
"""The largest length, feed, speed and acceleration: a kilometre, a kilometre a minute, … What is larger is a slip, and
no sum of such numbers is beyond what a double holds."""

Length = Annotated[float, Field(ge=-MOST, le=MOST, json_schema_extra={"unit": "mm"})]
PositiveLength = Annotated[float, Field(gt=0, le=MOST, json_schema_extra={"unit": "mm"})]
Distance = Annotated[float, Field(ge=0, le=MOST, json_schema_extra={"unit": "mm"})]
Angle = Annotated[float, Field(ge=-MOST, le=MOST, json_schema_extra={"unit": "°"})]
Feed = Annotated[float, Field(gt=0, le=MOST, json_schema_extra={"unit": "mm/min"})]
Speed = Annotated[float, Field(gt=0, le=MOST, json_schema_extra={"unit": "rev/min"})]
Acceleration = Annotated[float, Field(gt=0, le=MOST, json_schema_extra={"unit": "mm/s²"})]
Seconds = Annotated[float, Field(ge=0, le=MOST, json_schema_extra={"unit": "s"})]
Count = Annotated[int, Field(ge=1, le=10_000)]
PocketNumber = Annotated[int, Field(ge=1, le=10_000)]


def pointer(path: Iterable[str | int]) -> str:
    """A JSON pointer (RFC 6901) from its parts."""
    return "".join(f"/{str(part).replace('~', '~0').replace('/', '~1')}" for part in path)


def parts_of(where: str) -> list[str]:
    """The parts of a JSON pointer: what :func:`pointer` was made of, as text. "" is the whole, which has none."""
    return [part.replace("~1", "/").replace("~0", "~") for part in where.split("/")[1:]]


def listed(names: Iterable[str]) -> str:
    """Names as they stand in a message: "a", "b" or "c"."""
    *others, last = (f'"{name}"' for name in names)
    return f"{', '.join(others)} or {last}" if others else last


def shown(value: Any) -> str:
    """A value as it stands in a message, short enough to read, with a true minus sign."""
    if isinstance(value, bool) or value is None or isinstance(value, dict | list):
        text = json.dumps(value, default=str)
    elif isinstance(value, int) and abs(value) > sys.float_info.max:
        return f"a number of {len(str(abs(value)))} digits"
    elif isinstance(value, int | float):
        return f"{value:.10g}".replace("-", "−")
    else:
        text = json.dumps(str(value), ensure_ascii=False)
    return text if len(text) <= 60 else text[:57] + "…"


_WANTED = {
    "float_type": "a number",
    "int_type": "a whole number",
    "string_type": "text",
    "bool_type": "true or false",
    "list_type": "a list",
    "model_type": "an object",
    "model_attributes_type": "an object",
    "dict_type": "an object",
    "tuple_type": "a list",
    "int_from_float": "a whole number",
    "none_required": "null",
}


def _unit(model: type[BaseModel], path: tuple[str | int, ...]) -> str:
    """The unit of the field at ``path``, found in the JSON schema's own notes; "" where it has none."""
    schema: dict[str, Any] = _schema(model)
    node: dict[str, Any] = schema
    for part in path:
        options = list(_options(schema, node))
        steps = [option["items"] if "items" in option else option.get("properties", {}).get(part) for option in options]
        found = next((_resolve(schema, step) for step in steps if step), None)
        if found is None:
            continue  # a union's tag stands in the path and not in the document
        node = found
    for option in (node, *node.get("anyOf", [])):
        if "unit" in option:
            return str(option["unit"])
    return ""


def unit_at(model: type[BaseModel], where: str) -> str:
    """The core's unit of the value at a JSON pointer of such a document, as its schema tells; "" where it has none."""
    return _unit(model, tuple(int(part) if part.isascii() and part.isdigit() else part for part in parts_of(where)))


def _figure(value: Any, factor: float) -> str:
    """A value in a sentence; a number divided by the factor between the core's unit and the one that is shown."""
    plain = isinstance(value, int | float) and not isinstance(value, bool) and abs(value) <= sys.float_info.max
    return shown(float(f"{value / factor:.6g}")) if plain and factor != 1.0 else shown(value)


def _options(schema: dict[str, Any], node: dict[str, Any]) -> Iterator[dict[str, Any]]:
    """A schema and all that it may be, unions within unions too."""
    node = _resolve(schema, node)
    yield node
    for option in (*node.get("anyOf", []), *node.get("oneOf", [])):
        yield from _options(schema, option)


_SCHEMAS: dict[type[BaseModel], dict[str, Any]] = {}


def _schema(model: type[BaseModel]) -> dict[str, Any]:
    if model not in _SCHEMAS:
        _SCHEMAS[model] = model.model_json_schema(by_alias=True)
    return _SCHEMAS[model]


def _resolve(schema: dict[str, Any], node: dict[str, Any]) -> dict[str, Any]:
    if "$ref" in node:
        return dict(schema["$defs"][node["$ref"].rsplit("/", 1)[1]])
    return node


def _sentence(model: type[BaseModel], error: ErrorDetails, path: tuple[str | int, ...]) -> str:
    name = next((str(part) for part in reversed(path) if isinstance(part, str)), "input")
    kind, context = error["type"], error.get("ctx", {})
    factor, unit = shown_unit(_unit(model, path))
    got = _figure(error["input"], factor)
    if kind == "missing":
        return f"`{name}` is missing; give it a value."
    if kind == "extra_forbidden":
        return f"`{name}` is not a field here; take it out or correct its name."
    if kind == "finite_number":
        return f"`{name}` must be a finite number; got {got}."
    limits = {
        "greater_than": ("gt", "above"),
        "greater_than_equal": ("ge", "at least"),
        "less_than": ("lt", "below"),
        "less_than_equal": ("le", "at most"),
    }
    if kind in limits:
        key, word = limits[kind]
        return f"`{name}` must be {word} {_figure(context[key], factor)}{f' {unit}' if unit else ''}; got {got}."
    if kind in ("literal_error", "enum"):
        return f"`{name}` must be {context['expected'].replace(chr(39), chr(34))}; got {got}."
    if kind == "too_short":
        return f"`{name}` needs {context['min_length']} or more entries; got {context['actual_length']}."
    if kind == "too_long":
        return f"`{name}` holds at most {context['max_length']} entries; got more."
    if kind in ("string_too_short", "string_too_long"):
        least, most = context.get("min_length"), context.get("max_length")
        return f"`{name}` must have {f'{least} or more' if least else f'at most {most}'} characters; got {got}."
    if kind == "string_pattern_mismatch":
        return f"`{name}` does not have the form {context['pattern']}; got {got}."
    if kind in ("union_tag_invalid", "union_tag_not_found"):
        tag = error["input"].get(name) if isinstance(error["input"], Mapping) else error["input"]
        return f"`{name}` must say which kind it is{_tags(context)}; got {shown(tag)}."
    if kind in _WANTED:
        return f"`{name}` must be {_WANTED[kind]}; got {got}."
    return f"`{name}`: {error['msg']}; got {got}."


def _tags(context: Mapping[str, Any]) -> str:
    tags = str(context.get("expected_tags", "")).replace("'", '"')
    return f", one of {tags}" if tags else ""


def parse(model: type[Model], data: Any, lines: tuple[str, ...] = ()) -> Model:
    """Make a ``model`` of decoded JSON. ``lines``: the fields whose text may have several lines.

    Raises:
        InputError: with every fault, each with its JSON pointer and a sentence of its own.
    """
    if not isinstance(data, Mapping):
        raise InputError.at("", f"A JSON object is expected; got {shown(data)}.")
    if faults := list(_unusable(data, lines)):
        raise InputError(faults)
    try:
        return model.model_validate(data)
    except ValidationError as failed:
        raise InputError(_faults(model, failed.errors(include_url=False), data)) from None


DEEPEST = 40
"""Lists and objects nested deeper than this are no document of ours."""


def _unusable(data: Any, lines: tuple[str, ...]) -> Iterator[Fault]:
    """Texts with signs that no file, program or screen can hold, and lists within lists without an end."""
    if _is_usable(data):  # nearly always, and found without noting where each text is
        return
    stack: list[tuple[tuple[str | int, ...], Any]] = [((), data)]
    while stack:
        path, node = stack.pop()
        if len(path) > DEEPEST:
            yield Fault(pointer(path[:6]), f"The input is nested deeper than {DEEPEST} levels.")
            return
        if isinstance(node, Mapping):
            stack += [((*path, str(name)), entry) for name, entry in node.items()]
            stack += [((*path, "a name"), name) for name in node]
        elif isinstance(node, list):
            stack += [((*path, index), entry) for index, entry in enumerate(node)]
        elif isinstance(node, str) and (wrong := unusable_sign(_in_one(node) if path and path[-1] in lines else node)):
            name = next((str(part) for part in reversed(path) if isinstance(part, str)), "input")
            yield Fault(pointer(path), f"`{name}` holds {wrong}, which can't be stored or printed; take it out.")


def _is_usable(data: Any) -> bool:
    """Level by level; all texts are searched at once, since each search alone costs more than a short text."""
    texts: list[str] = []
    level: list[Any] = [data]
    for _ in range(DEEPEST + 1):
        below: list[Any] = []
        for node in level:
            if isinstance(node, str):
                texts.append(node)
            elif isinstance(node, Mapping):
                below += node
                below += node.values()
            elif isinstance(node, list):
                below += node
        if not below:
            return _UNUSABLE.search("".join(texts)) is None
        level = below
    return False


def _in_one(text: str) -> str:
    return text.translate({9: " ", 10: " ", 13: " "})


def unusable_sign(text: str) -> str | None:
    """The first control character or lone half of a character in a text, in words; None: there is none."""
    found = _UNUSABLE.search(text)
    return f"the control character U+{ord(found[0]):04X}" if found else None


_UNUSABLE = re.compile(r"[\x00-\x1f\x7f-\x9f\ud800-\udfff\u2028\u2029\ufffe\uffff]")


def _faults(model: type[BaseModel], errors: list[ErrorDetails], data: Any) -> list[Fault]:
    faults: dict[tuple[str, str], None] = {}
    for error in errors:
        path = _document_path(error["loc"], data, error["type"] == "missing")
        if error["type"] in ("union_tag_invalid", "union_tag_not_found"):
            path = (*path, error["ctx"]["discriminator"].strip("'"))
        cause = error.get("ctx", {}).get("error")
        if isinstance(cause, InputError):  # a model's own rule, with its own places
            for fault in cause.faults:
                faults.setdefault((pointer(path) + fault.where, fault.what), None)
        else:
            faults.setdefault((pointer(path), _sentence(model, error, path)), None)
    return [Fault(where, what) for where, what in faults]


def _document_path(location: tuple[str | int, ...], data: Any, missing: bool) -> tuple[str | int, ...]:
    """The part of pydantic's path that is in the document: the tags of unions, which stand in it too, are left out. The
    last part is not in the document where a field is ``missing``."""
    path: list[str | int] = []
    node = data
    for index, part in enumerate(location):
        last = index == len(location) - 1
        if isinstance(node, Mapping):
            if part in node and (last or isinstance(node[part], Mapping | list)):
                path.append(part)
                node = node[part]
            elif last and missing:
                path.append(part)
        elif isinstance(node, list) and isinstance(part, int):
            path.append(part)
            node = node[part] if part < len(node) else None
    return tuple(path)


LONGEST_WHOLE = 18
"""Digits of a whole number: as many as a database's hold."""


def read_json(text: str | bytes) -> Any:
    """Decode JSON; a field given twice, or text that is no JSON, is an error with its place."""

    def unique(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
        if len({name for name, _ in pairs}) < len(pairs):
            names = [name for name, _ in pairs]
            twice = next(name for name in names if names.count(name) > 1)
            raise InputError.at(pointer([twice]), f"`{twice}` stands twice in one object; keep one of them.")
        return dict(pairs)

    def constant(name: str) -> float:
        raise InputError.at("", f"{name} is no number of JSON; give a finite one.")

    def decimal(digits: str) -> float:
        value = float(digits)
        return value if math.isfinite(value) else constant(digits[:20])

    def whole(digits: str) -> int:
        if len(digits) > LONGEST_WHOLE:
            raise InputError.at(
                "", f"A whole number has at most {LONGEST_WHOLE} digits; got {digits[:10]}… of {len(digits)}."
            )
        return int(digits)

    try:
        return json.loads(text, object_pairs_hook=unique, parse_constant=constant, parse_float=decimal, parse_int=whole)
    except json.JSONDecodeError as failed:
        raise InputError.at("", f"Not JSON: {failed.msg}, line {failed.lineno}, column {failed.colno}.") from None
    except UnicodeDecodeError as failed:
        raise InputError.at("", f"Not JSON: byte {failed.start} is not UTF-8 text.") from None
    except RecursionError:
        raise InputError.at("", "The JSON is nested too deeply to be read.") from None
    except ValueError as failed:  # an integer of thousands of digits
        raise InputError.at("", f"Not usable JSON: {failed}.") from None
