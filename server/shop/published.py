"""The API's own description, as plainly as it is used."""

from typing import Any

from ninja import NinjaAPI
from ninja.openapi.schema import OpenAPISchema


class PublishedAPI(NinjaAPI):
    """What it answers has all its fields, those too that have a value when nothing is said; a few numbers of one kind
    are a list."""

    def get_openapi_schema(self, *args: Any, **kwargs: Any) -> OpenAPISchema:
        found = super().get_openapi_schema(*args, **kwargs)
        schemas = found["components"]["schemas"]
        bodies = [operation.get("requestBody") for path in found["paths"].values() for operation in path.values()]
        sent = _named(bodies, schemas)
        for name, schema in schemas.items():
            if name not in sent and "properties" in schema:
                schema["required"] = list(schema["properties"])
            _plain(schema)
        return found


def _named(node: Any, schemas: dict[str, Any]) -> set[str]:
    """The schemas that a node refers to, and those that they refer to."""
    found: set[str] = set()
    left = [node]
    while left:
        here = left.pop()
        if isinstance(here, dict):
            name = str(here.get("$ref", "")).rpartition("/")[2]
            if name in schemas and name not in found:
                found.add(name)
                left.append(schemas[name])
        left += here.values() if isinstance(here, dict) else here if isinstance(here, list) else ()
    return found


def _plain(node: Any) -> None:
    if isinstance(node, dict):
        each = node.get("prefixItems", [])
        kinds = [{**entry, "type": "number"} if entry.get("type") == "integer" else entry for entry in each]
        if kinds and all(kind == kinds[-1] for kind in kinds):
            del node["prefixItems"]
            node["items"] = kinds[-1]
    for part in node.values() if isinstance(node, dict) else node if isinstance(node, list) else ():
        _plain(part)
