"""The reverse question as one row of a page: what the selected part, or the one to blame, must measure."""

from typing import Literal, TypeAlias

from farrail.errors import BadInput
from farrail.parts.base import FixedLength
from farrail.parts.inventory_item import PartId
from farrail.parts.kinds.filters import RoundFilter
from farrail.planning.needs import LeastWidth, LengthForScale, Need, missing, needs_of
from farrail.readouts.read import Readout
from farrail.train.rows import Shelf
from farrail.train.train import Side

# The pages that have the row.
Room: TypeAlias = Literal["spacing", "vignetting", "filters", "close_up"]


def needs_in(room: Room, readout: Readout, shelf: Shelf, selected: PartId | None) -> tuple[Need, ...]:
    """Return what a part must measure as a page asks it; nothing where the page has no such question.

    Args:
        room: the page.
        readout: the train, read.
        shelf: parts by id.
        selected: the part selected on the rail, if any; else the part to blame is taken.
    """
    layout = readout.layout
    row = layout.train.row(Side.FRONT if room == "filters" else Side.REAR)
    chosen = selected if any(one.part == selected for one in row) else None
    if room == "spacing" and chosen is None:
        gap = missing(readout)
        return () if gap is None else (gap,)
    if room == "close_up":
        return _for_subject(readout, shelf, chosen)
    if chosen is None:
        chosen = _to_blame(readout, room)
    if chosen is None:
        return ()
    try:
        found = needs_of(layout.train, shelf, chosen)
    except BadInput:
        return ()
    if room == "filters":
        # Where nothing it could measure helps, that is said once, of what a person has selected.
        return tuple(need for need in found if need.needed_mm is not None) or (found[:1] if chosen == selected else ())
    return tuple(need for need in found if isinstance(need, LeastWidth) == (room == "vignetting"))


def _to_blame(readout: Readout, room: Room) -> PartId | None:
    if room == "filters":
        return next((f.part for f in readout.findings if f.kind == "front.shows" and f.part), None)
    tight = readout.light.tightest
    return None if tight is None or tight.margin_mm >= 0.0 else tight.placed.part.id


def _for_subject(readout: Readout, shelf: Shelf, chosen: PartId | None) -> tuple[Need, ...]:
    """Return how long the selected or the longest tube must be for the subject to fill the frame's width."""
    camera, wide = readout.layout.camera, readout.layout.train.conditions.subject_width_mm
    # A size that was not entered is a range: no one length follows.
    if camera is None or not camera.size_entered or wide is None or readout.close_up.system is None:
        return ()
    tubes = [p for p in readout.layout.rear if isinstance(p.part, FixedLength) and not isinstance(p.part, RoundFilter)]
    if chosen is not None:
        tubes = [p for p in tubes if p.part.id == chosen]
    if not tubes:
        return ()
    tube = max(tubes, key=lambda p: p.length.value).part.id
    scale = camera.sensor_width_mm.value / wide
    found = needs_of(readout.layout.train, shelf, tube, magnification=scale)
    return tuple(need for need in found if isinstance(need, LengthForScale))
