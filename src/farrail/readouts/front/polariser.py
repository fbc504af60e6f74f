"""Where polarisers are in a front stack."""

from enum import StrEnum

from farrail.parts.kinds.ahead import FilterHolder
from farrail.parts.kinds.filters import RoundFilter, SheetFilter
from farrail.train.layout import Layout


class PolariserAt(StrEnum):
    """Where a polariser is in a front stack."""

    OUTERMOST = "outermost"
    ON_LENS = "on_lens"
    BEHIND_SHEETS = "behind_sheets"
    IN_SLOT = "in_slot"


def polarisers_in(layout: Layout) -> list[tuple[str, PolariserAt]]:
    """Return the polarisers of a front stack by name, and where each is."""
    found = []
    for placed in layout.front:
        if isinstance(placed.part, RoundFilter) and placed.part.polariser:
            outermost = placed.index == len(layout.front) - 1 and placed.index > 0
            found.append((placed.part.name, PolariserAt.OUTERMOST if outermost else PolariserAt.ON_LENS))
        dropped = layout.parts.get(placed.laid.drop_in or "")
        if isinstance(dropped, RoundFilter) and dropped.polariser:
            found.append((dropped.name, PolariserAt.BEHIND_SHEETS))
        for sheet_id in placed.laid.filters if isinstance(placed.part, FilterHolder) else ():
            sheet = layout.parts.get(sheet_id or "")
            if isinstance(sheet, SheetFilter) and sheet.polariser:
                found.append((sheet.name, PolariserAt.IN_SLOT))
    return found
