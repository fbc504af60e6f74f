"""What every part has, before it is of a kind: identity, ends, a length, a body that may reach over its neighbours."""

from enum import StrEnum
from typing import Annotated

from pydantic import Field

from farrail.parts.connections import Connection
from farrail.parts.frozen import Frozen
from farrail.parts.provenance import Diameter, Length

PartId = Annotated[str, Field(min_length=1, max_length=80, pattern=r"^[a-z0-9][a-z0-9-]*$")]
DrawnSize = Annotated[float, Field(gt=0.0, le=3000.0)]
Price = Annotated[float, Field(ge=0.0, le=1_000_000.0)]
KitName = Annotated[str, Field(max_length=120)]


class Status(StrEnum):
    """Where a part stands between a wish and the bin."""

    OWNED = "owned"
    HOME_MADE = "home-made"
    WANTED = "wanted"
    ORDERED = "ordered"
    LOST = "lost"
    BROKEN = "broken"
    UNOBTAINABLE = "unobtainable"


# What can be laid tonight, and what could be bought for it.
AT_HAND = (Status.OWNED, Status.HOME_MADE)
TO_BUY = (Status.WANTED, Status.ORDERED)


class PartBase(Frozen):
    """What every part has: an identity, a name, a maker, how many are owned, its status and price, a note."""

    id: PartId
    name: Annotated[str, Field(min_length=1, max_length=120)]
    maker: Annotated[str, Field(max_length=120)] = ""
    owned: Annotated[int, Field(ge=0, le=1000)] = 1
    status: Status = Status.OWNED
    # What one of it costs, in whatever money the workbook's owner pays with.
    price: Price | None = None
    # The kit it comes in and is bought with, by name.
    kit: KitName = ""
    note: Annotated[str, Field(max_length=2000)] = ""
    outer_diameter_mm: DrawnSize


class Through(PartBase):
    """A part the light passes from its front to its rear connection."""

    front: Connection
    rear: Connection
    # None: nothing is known and the connections decide.
    clear_aperture_mm: Diameter | None = None


class FixedLength(Through):
    """A part whose shoulders stand a fixed path length apart."""

    path_length_mm: Length


class Adjustable(Through):
    """A part of variable length; the setting belongs to the train it is laid in."""

    shortest_mm: Length
    longest_mm: Length


class Housing(FixedLength):
    """A part whose body may reach beyond its own shoulders, over its neighbours.

    `overhang_front_mm` and `overhang_rear_mm` say by how much; `overhang_clear_mm` is the diameter that stays free
    inside the overhang.
    """

    overhang_front_mm: Length | None = None
    overhang_rear_mm: Length | None = None
    overhang_clear_mm: Diameter | None = None
