"""The base of every stored record: immutable, strict about names, closed to NaN and infinity."""

from collections.abc import Mapping
from functools import cached_property, lru_cache
from typing import Any, Self, get_args, get_origin

from pydantic import BaseModel, ConfigDict, SerializerFunctionWrapHandler, model_serializer, model_validator

from farrail.language import say


class Frozen(BaseModel):
    """A record that never changes; an edit makes a new one."""

    model_config = ConfigDict(
        frozen=True, extra="forbid", allow_inf_nan=False, str_strip_whitespace=True, defer_build=True
    )

    @model_validator(mode="before")
    @classmethod
    def _no_yes_for_a_number(cls, data: Any) -> Any:
        """Refuse true and false where a number is: they would be read as 1 and 0."""
        if isinstance(data, dict):
            for name in numbers_of(cls):
                if isinstance(data.get(name), bool):
                    raise ValueError(say("{name}: give a number, not true or false", name=name))
        return data

    def model_copy(self, *, update: Mapping[str, Any] | None = None, deep: bool = False) -> Self:
        """Return a copy with some fields replaced; what the original had worked out of its fields stays behind."""
        copied = super().model_copy(update=update, deep=deep)
        for name in _worked_out(type(self)):
            vars(copied).pop(name, None)
        return copied


class Tagged(Frozen):
    """A record of one of several kinds, shown by its tag; the tag is written even where defaults are left out."""

    kind: str

    @model_serializer(mode="wrap")
    def _with_kind(self, fields: SerializerFunctionWrapHandler) -> dict[str, Any]:
        return {"kind": self.kind, **fields(self)}


@lru_cache(maxsize=256)
def _worked_out(kind: type[Frozen]) -> tuple[str, ...]:
    """Return the names of what a record keeps once it has worked it out of its fields."""
    members = (pair for base in kind.__mro__ for pair in vars(base).items())
    return tuple(name for name, member in members if isinstance(member, cached_property))


@lru_cache(maxsize=256)
def numbers_of(kind: type[Frozen]) -> tuple[str, ...]:
    """Return the names of a record's fields that hold plain numbers."""
    return tuple(name for name, field in kind.model_fields.items() if _is_number(field.annotation))


def _is_number(annotation: Any) -> bool:
    if annotation in (int, float):
        return True
    if annotation is bool or isinstance(annotation, str):
        return False
    inner = get_args(annotation)
    return get_origin(annotation) is not tuple and bool not in inner and any(_is_number(one) for one in inner)
