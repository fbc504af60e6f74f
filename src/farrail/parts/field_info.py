"""What a field says of itself: its label, its unit, the group it is read in, and one line of help.

A kind writes this beside the field; sheet rows, table columns, the format page and help are derived from it.
"""

from collections.abc import Callable
from dataclasses import dataclass
from enum import IntEnum
from typing import Any

from pydantic import BaseModel

from farrail.language import say


class Group(IntEnum):
    """In which order a part's fields are read."""

    ENDS = 0
    OPTICS = 1
    SENSOR = 2
    FOCUSING = 3
    POWER = 4
    LENGTH = 5
    APERTURE = 6
    GLASS = 7
    PASSBAND = 8
    SHEET = 9
    HOLDS = 10
    GUIDING = 11
    BODY = 12
    KEEPING = 13


@dataclass(frozen=True)
class FieldInfo:
    """What one field says of itself.

    Attributes:
        label_id: its name on the sheet, in English; of a record the name its own fields are shown with, "" for none.
        help_id: what it means and where one reads it, in one line of English.
        unit: of a quantity; "" for a bare number.
        group: where it is read.
        begins: makes the record that a value is in where a part has none yet; None: it cannot be begun.
        first: the path inside that record by which it is begun.
        stays_mm: whether it is meant in mm wherever lengths are shown in inches: a focal length, a sensor's size.
    """

    label_id: str
    help_id: str = ""
    unit: str = "mm"
    group: Group = Group.LENGTH
    begins: Callable[[Any], BaseModel] | None = None
    first: str = ""
    stays_mm: bool = False

    @property
    def label(self) -> str:
        """Its name in the language in force; "" for none."""
        return say(self.label_id) if self.label_id else ""

    @property
    def help(self) -> str:
        """What it means, in the language in force."""
        return say(self.help_id) if self.help_id else ""
