"""How far apart two filters of a train focus, from the glass each has."""

from farrail.parts.inventory_item import PartId
from farrail.readouts.spacing.model import Spacing
from farrail.units import mm_to_micrometres


def offset_um_of(spacing: Spacing, part: PartId, beside: PartId) -> float | None:
    """Return how far the focuser goes out from one filter to another; None where either is not in a slot.

    A plate that shifts the focus back by more has the focuser go out by the difference.
    """
    found = {one.part: one.refocus_mm for one in spacing.filters}
    return None if part not in found or beside not in found else mm_to_micrometres(found[part] - found[beside])
