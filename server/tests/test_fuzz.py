"""The API asked with whatever its own description allows, and what it does not: never an answer of 500."""

import json
from typing import Any, cast

import pytest
import schemathesis
from django.test import Client
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st
from schemathesis.generation import GenerationMode
from shop.api import api
from shop.models import Machine
from shop.roles import make_account

SCHEMA = schemathesis.openapi.from_dict(json.loads(json.dumps(api.get_openapi_schema())))
OPERATIONS: dict[str, Any] = {
    f"{one.method.upper()} {one.path}": one for one in (cast(Any, found).ok() for found in SCHEMA.get_all_operations())
}
ANY = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats() | st.text(),
    lambda inner: st.lists(inner) | st.dictionaries(st.text(), inner),
)
SLOW = list(HealthCheck)


@pytest.mark.parametrize("name", sorted(OPERATIONS))
def test_no_request_is_answered_with_500(name: str, heron: Machine, monkeypatch: pytest.MonkeyPatch) -> None:
    # the search's own thread can't see a row of this test's transaction
    monkeypatch.setattr("shop.rooms.running.start", lambda search: None)
    client = Client(raise_request_exception=False)
    client.force_login(make_account("supervisor", "supervisor", "a-long-password"))
    operation = OPERATIONS[name]
    ways = [
        operation.as_strategy(generation_mode=mode)
        for mode in (GenerationMode.POSITIVE, GenerationMode.NEGATIVE)
        if mode is GenerationMode.POSITIVE or operation.body
    ]

    @given(st.one_of(*ways), ANY)
    @settings(max_examples=6, deadline=None, suppress_health_check=SLOW, phases=[Phase.generate], database=None)
    def asked(case: Any, junk: Any) -> None:
        path = case.formatted_path.replace("/machines/0", "/machines/heron")
        if "{slug}" in operation.path:
            path = operation.path.replace("{slug}", "heron")
            for key, value in (case.path_parameters or {}).items():
                path = path.replace("{" + key + "}", str(value))
        for body in (case.body, junk):
            sent = (
                b""
                if type(body).__name__ == "NotSet"
                else body
                if isinstance(body, bytes)
                else json.dumps(body, default=str).encode("utf-8", "surrogatepass")
            )
            answer = client.generic(
                operation.method.upper(), path, sent, content_type="application/json", query_string="imported=x"
            )
            assert answer.status_code < 500, (answer.status_code, answer.content[:400])
            if operation.method == "get":
                break

    asked()
