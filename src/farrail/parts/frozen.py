"""The base of every stored record: immutable, strict about names, closed to NaN and infinity."""

from pydantic import BaseModel, ConfigDict


class Frozen(BaseModel):
    """A record that never changes; an edit makes a new one."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False, str_strip_whitespace=True)
