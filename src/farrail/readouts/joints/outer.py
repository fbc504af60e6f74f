"""What of a part a body that reaches over it may run into."""

from dataclasses import dataclass
from enum import StrEnum


class Body(StrEnum):
    """What of a part another one runs into."""

    BODY = "body"
    BARREL = "barrel"
    FOCUSER = "focuser"
    HANDLE = "handle"


@dataclass(frozen=True)
class Outer:
    """What is between two planes of the rail, and how wide it is from rim to rim."""

    part: str
    name: str
    z0: float
    z1: float
    diameter_mm: float
    what: Body
