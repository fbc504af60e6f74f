"""The parfocal table: where each filter of a train focuses, as measured on evenings and as its glass says."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from farrail.logbook.kinds.evening import FilterFocus
from farrail.logbook.observation import Observation
from farrail.parts.inventory_item import PartId
from farrail.readouts.read import Readout
from farrail.readouts.spacing.parfocal import offset_um_of


@dataclass(frozen=True)
class ParfocalRow:
    """One filter against the filter in the beam.

    Attributes:
        part: the filter.
        name: what it is called.
        glass_um: how far the focuser goes out to it, from both filters' glass; None where that is not known.
        measured_um: the same, from the log; None where no evening connects the two.
        off_um: half width of what holds the measured one with 95 %.
        count: readings of it.
    """

    part: PartId
    name: str
    glass_um: float | None
    measured_um: float | None
    off_um: float | None
    count: int


def parfocal_table(readout: Readout, log: Sequence[Observation]) -> tuple[ParfocalRow, ...]:
    """Return a row for each filter in a train's slots; () where it has none.

    Args:
        readout: the train.
        log: all observations; those of its filters that are not set aside count, with any train.
    """
    filters = {one.part: one.label for one in readout.spacing.filters}
    here = next((one.part for one in readout.spacing.filters if one.in_beam), next(iter(filters), ""))
    pairs = [
        seen for seen in log
        if isinstance(seen, FilterFocus) and not seen.aside and seen.part in filters and seen.beside in filters
    ]  # fmt: skip
    measured = _solved([*filters], here, pairs)
    rows = []
    for part, name in filters.items():
        value, off = measured.get(part, (None, None))
        count = sum(part in (seen.part, seen.beside) for seen in pairs)
        rows.append(ParfocalRow(part, name, offset_um_of(readout.spacing, part, here), value, off, count))
    return tuple(rows)


def _solved(filters: list[PartId], here: PartId, pairs: Sequence[FilterFocus]) -> dict[PartId, tuple[float, float]]:
    """Return offsets and their 95 % half widths by weighted least squares, of the filters that pairs connect."""
    joined = {here}
    for _ in filters:
        joined |= {end for seen in pairs for end in (seen.part, seen.beside) if {seen.part, seen.beside} & joined}
    unknown = [part for part in filters if part in joined and part != here]
    used = [seen for seen in pairs if seen.part in joined]
    if not unknown:
        return {}
    columns = {part: number for number, part in enumerate(unknown)}
    matrix, offsets = np.zeros((len(used), len(unknown))), np.zeros(len(used))
    for row, seen in enumerate(used):
        # A reading that is off by at most so much either way has this deviation.
        weight = np.sqrt(3.0) / max(seen.off_um, 1e-3)
        for part, sign in ((seen.part, 1.0), (seen.beside, -1.0)):
            if part != here:
                matrix[row, columns[part]] += sign * weight
        offsets[row] = seen.offset_um * weight
    inverse = np.linalg.pinv(matrix.T @ matrix)
    found = inverse @ matrix.T @ offsets
    return {part: (float(found[n]), 2.0 * float(np.sqrt(inverse[n, n]))) for part, n in columns.items()}
