"""What is kept of every part on a shelf, no matter what its kind: who it is, whose, how many, at what price."""

from enum import StrEnum
from typing import Annotated

from pydantic import Field

from farrail.parts.field_info import FieldInfo, Group
from farrail.parts.frozen import Tagged

PartId = Annotated[str, Field(min_length=1, max_length=80, pattern=r"^[a-z0-9][a-z0-9-]*$")]
DrawnSize = Annotated[float, Field(gt=0.0, le=3000.0)]
Mass = Annotated[float, Field(gt=0.0, le=100_000.0)]
Price = Annotated[float, Field(ge=0.0, le=1_000_000.0)]
KitName = Annotated[str, Field(max_length=120)]


class Status(StrEnum):
    """Where a part is between a wish and the bin."""

    # A usual size, or a place holder of the first workbook: no one has it until a person says so.
    EXAMPLE = "example"
    OWNED = "owned"
    HOME_MADE = "home-made"
    WANTED = "wanted"
    ORDERED = "ordered"
    LOST = "lost"
    BROKEN = "broken"
    UNOBTAINABLE = "unobtainable"


# What can be placed tonight, and what could be bought for it.
AT_HAND = (Status.OWNED, Status.HOME_MADE)
TO_BUY = (Status.WANTED, Status.ORDERED)


class InventoryItem(Tagged):
    """A thing on the shelf: an identity, a name, a maker, how many are owned, its status and price, a note."""

    id: PartId
    name: Annotated[str, Field(min_length=1, max_length=120), FieldInfo("Name", group=Group.KEEPING)]
    maker: Annotated[str, Field(max_length=120), FieldInfo("Maker", group=Group.KEEPING)] = ""
    owned: Annotated[int, Field(ge=0, le=1000), FieldInfo("Owned", "Number owned", "", Group.KEEPING)] = 1
    status: Annotated[Status, FieldInfo("Status", group=Group.KEEPING)] = Status.OWNED
    # What one of it costs, in no matter what money the workbook's owner pays with.
    price: Annotated[Price | None, FieldInfo("Price", "Price of one", "", Group.KEEPING)] = None
    # The kit it comes in and is bought with, by name.
    kit: Annotated[KitName, FieldInfo("Kit", "The kit it comes in and is bought with", group=Group.KEEPING)] = ""
    note: Annotated[str, Field(max_length=2000), FieldInfo("Note", group=Group.KEEPING)] = ""
    outer_diameter_mm: Annotated[DrawnSize, FieldInfo("Outer diameter, drawn", "From rim to rim", group=Group.BODY)]
    # None: no one has weighed it.
    mass_g: Annotated[Mass | None, FieldInfo("Mass", "Read from a kitchen scale", "g", Group.BODY)] = None
