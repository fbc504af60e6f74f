"""Pouches and cases: what parts travel in, and how many go in."""

from collections.abc import Iterator
from enum import StrEnum
from typing import Annotated, Literal

from pydantic import Field

from farrail.language import N_, say
from farrail.parts.base import PartBase
from farrail.parts.field_info import FieldInfo, Group
from farrail.parts.inventory_item import DrawnSize
from farrail.parts.provenance import Diameter, assumed
from farrail.parts.usual import COMMON, Usual, key, size

SHEET_POUCHES_MM = (100, 150, 165)
ROUND_WALLETS_MM = (60, 86)


class Carries(StrEnum):
    """What a pouch or case is made for."""

    SHEETS = "sheets"
    ROUND_FILTERS = "round_filters"
    ANYTHING = "anything"


class Case(PartBase):
    """A pouch, wallet or case. It is on no rail: the pack list puts what a train needs into it."""

    kind_name = N_("pouch or case")
    rank = 168

    kind: Literal["case"] = "case"
    outer_diameter_mm: Annotated[DrawnSize, FieldInfo("Outside, width", "Size in the bag", group=Group.BODY)] = 200.0
    carries: Annotated[
        Carries, FieldInfo("Made for", "Square filters, round filters or anything", group=Group.HOLDS)
    ] = Carries.ANYTHING
    holds: Annotated[int, Field(ge=1, le=500), FieldInfo("Holds", "Number of pieces it holds", "", Group.HOLDS)] = 1
    # None: no one has tried; everything is taken to fit.
    widest_mm: Annotated[
        Diameter | None, FieldInfo("Widest piece", "The widest filter, cell or part that goes in", group=Group.HOLDS)
    ] = None

    @classmethod
    def template(cls) -> "Case":
        """Return a pouch of ten sheets of 100 mm."""
        return cls(id="new-pouch", name=say("New pouch"), carries=Carries.SHEETS, holds=10, widest_mm=assumed(100.0))

    @classmethod
    def usual_sizes(cls) -> Iterator[Usual[PartBase]]:
        """Yield pouches for the usual sheets, and wallets for round filters."""
        for wide in SHEET_POUCHES_MM:
            part = cls(
                id=key("sheet-pouch", wide),
                name=say("Pouch, ten filters of {wide} mm", wide=wide),
                carries=Carries.SHEETS, holds=10,
                widest_mm=size(float(wide)), outer_diameter_mm=wide + 70.0,
            )  # fmt: skip
            yield Usual(say("pouches and cases"), part, COMMON)
        for wide in ROUND_WALLETS_MM:
            part = cls(
                id=key("filter-wallet", wide), name=say("Wallet, four filters up to {wide} mm", wide=wide),
                carries=Carries.ROUND_FILTERS, holds=4, widest_mm=size(float(wide)), outer_diameter_mm=wide + 20.0,
            )  # fmt: skip
            yield Usual(say("pouches and cases"), part, COMMON)
