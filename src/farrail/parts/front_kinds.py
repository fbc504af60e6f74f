"""Kinds of part that stand ahead of a lens: rings, holders with slots, sheets, coupling rings, hoods.

In a front stack a part's front faces the scene and its rear the lens.
"""

from enum import StrEnum
from typing import Annotated, Literal

from pydantic import Field

from farrail.parts.base import FixedLength, Housing, PartBase
from farrail.parts.glass import Glass
from farrail.parts.provenance import Density, Diameter, Length, Offset


class HolderRing(Housing):
    """Carries a holder on a lens; its length is where the holder's seat stands ahead of the lens's thread seat.

    A recessed ring puts it behind: its length is negative, and its skirt reaches over the barrel.
    """

    kind: Literal["holder_ring"] = "holder_ring"
    path_length_mm: Offset


class FilterHolder(Housing):
    """Holds sheet filters in slots, one behind the other, and perhaps a round filter dropped in behind them.

    Slot 0 is the rearmost: `first_slot_mm` runs from the rear face to its middle, `slot_pitch_mm` on to the next. The
    window is what frame and rails leave free; without a height it is open above and below.
    """

    kind: Literal["filter_holder"] = "filter_holder"
    slots: Annotated[int, Field(ge=0, le=6)] = 2
    sheet_width_mm: Diameter
    slot_thickness_mm: Length
    slot_pitch_mm: Length
    first_slot_mm: Length
    window_width_mm: Diameter | None = None
    window_height_mm: Diameter | None = None
    # Takes a round filter this wide behind the sheets, its middle so far ahead of the rear face.
    drop_in_mm: Diameter | None = None
    drop_in_at_mm: Length | None = None
    # A plate behind the rearmost slot that keeps stray light out; a gasket seals against it.
    baffle: bool = False


class CouplingRing(FixedLength):
    """Joins a second holder that turns on its own."""

    kind: Literal["coupling_ring"] = "coupling_ring"


class Hood(FixedLength):
    """A hood or shade, open to the scene."""

    kind: Literal["hood"] = "hood"


class Gradation(StrEnum):
    """How a sheet's density runs from top to bottom."""

    NONE = "none"
    HARD = "hard"
    MEDIUM = "medium"
    SOFT = "soft"
    REVERSE = "reverse"


class SheetFilter(PartBase):
    """A rectangular sheet that slides into a holder's slot."""

    kind: Literal["sheet_filter"] = "sheet_filter"
    width_mm: Diameter
    height_mm: Diameter
    glass: Glass
    # Optical density of the dark part; None: a clear or coloured sheet.
    density: Density | None = None
    gradation: Gradation = Gradation.NONE
    # How far its gradation takes to run from clear to dark; None: usual for its kind.
    transition_mm: Length | None = None
    polariser: bool = False
    # A soft frame on its rear that keeps stray light out; it belongs against the holder's plate.
    gasket: bool = False
