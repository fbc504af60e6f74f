"""The base of every stored record: immutable, strict about names, closed to NaN and infinity."""

from collections.abc import Mapping
from functools import cached_property
from typing import Any, Self

from pydantic import BaseModel, ConfigDict


class Frozen(BaseModel):
    """A record that never changes; an edit makes a new one."""

    model_config = ConfigDict(
        frozen=True, extra="forbid", allow_inf_nan=False, str_strip_whitespace=True, defer_build=True
    )

    def model_copy(self, *, update: Mapping[str, Any] | None = None, deep: bool = False) -> Self:
        """Return a copy with some fields replaced; what the original had worked out of its fields stays behind."""
        copied = super().model_copy(update=update, deep=deep)
        for kind in type(self).__mro__:
            for name, member in vars(kind).items():
                if isinstance(member, cached_property):
                    vars(copied).pop(name, None)
        return copied
