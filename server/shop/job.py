"""What makes a function a job: it is computed in a worker process for someone who waits, plain values in, the answer's
JSON out. Jobs know no database."""

import gzip
from collections.abc import Callable
from functools import wraps
from typing import Any, ParamSpec

from orthotrope.errors import InputError
from orthotrope.setup.document import unit_of_document
from orthotrope.units import shown_in
from pydantic import TypeAdapter

Arguments = ParamSpec("Arguments")

LARGE = 400_000
"""Bytes from which an answer is packed before it leaves its worker: the server holds and sends a tenth then. A usual
one is out sooner as it is."""


def packed(job: Callable[..., bytes], *args: Any) -> tuple[bytes, str]:
    """What a job answers, and its content encoding ("": as it is)."""
    found = job(*args)
    return (found, "") if len(found) < LARGE else (gzip.compress(found, 1), "gzip")


def answers(response: Any) -> Callable[[Callable[Arguments, Any]], Callable[Arguments, bytes]]:
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
            return adapter.dump_json(found)

        return run

    return wrap
