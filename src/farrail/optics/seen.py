"""How much of an opening is seen in the corner."""

from enum import StrEnum


class Seen(StrEnum):
    """How much of a corner was gone."""

    BEGINS = "begins"
    HALF = "half"
    DARK = "dark"
