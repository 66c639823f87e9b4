"""Fields of a document whose values are the names of a registry, and objects whose kind is one of them."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Any, Union

from pydantic import BaseModel, Field, GetCoreSchemaHandler, GetJsonSchemaHandler, TypeAdapter
from pydantic.json_schema import JsonSchemaValue
from pydantic_core import CoreSchema, PydanticCustomError, core_schema

from orthotrope.errors import InputError
from orthotrope.registry import Registry
from orthotrope.validation import listed, parse, shown


@dataclass(frozen=True)
class Named:
    """A text that is one of the registry's names."""

    registry: Registry[Any]

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        return core_schema.no_info_after_validator_function(self._known, handler(source))

    def __get_pydantic_json_schema__(self, schema: CoreSchema, handler: GetJsonSchemaHandler) -> JsonSchemaValue:
        return {"type": "string", "enum": list(self.registry)}

    def _known(self, name: str) -> str:
        if name not in self.registry:
            raise PydanticCustomError("literal_error", "not known", {"expected": listed(self.registry)})
        return name


@dataclass(frozen=True)
class OneOf:
    """An object whose field ``tag`` says which of the registry's models it is."""

    registry: Registry[type[BaseModel]]
    tag: str

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        written = core_schema.plain_serializer_function_ser_schema(_plain, info_arg=True)
        return core_schema.no_info_plain_validator_function(self._read, serialization=written)

    def __get_pydantic_json_schema__(self, schema: CoreSchema, handler: GetJsonSchemaHandler) -> JsonSchemaValue:
        union: Any = Union[tuple(self.registry.values())]  # noqa: UP007
        return handler(TypeAdapter(Annotated[union, Field(discriminator=self.tag)]).core_schema)

    def _read(self, value: Any) -> BaseModel:
        if isinstance(value, BaseModel):
            return value
        if not isinstance(value, Mapping):
            raise InputError.at("", f"An object is expected; got {shown(value)}.")
        name = value.get(self.tag)
        if not isinstance(name, str) or name not in self.registry:
            raise InputError.at(
                f"/{self.tag}",
                f"`{self.tag}` must say which kind it is, one of {listed(self.registry)}; got {shown(name)}.",
            )
        return parse(self.registry[name], value)  # type: ignore[type-var]


def _plain(value: BaseModel, info: Any) -> Any:
    return value.model_dump(mode=info.mode)
