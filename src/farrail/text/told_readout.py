"""A whole readout as data with stable ids, for scripts and tables; docs/figures.md lists the ids."""

import csv
import io
import math
from typing import Any

from farrail.logbook.next_best import next_findings
from farrail.readouts.figure import Figure
from farrail.readouts.finding import SEVERITY_ORDER, Finding
from farrail.readouts.range_findings import RangeReport
from farrail.readouts.ranges import Spread, ends_of
from farrail.readouts.read import Readout
from farrail.text.figures import label_of, value_of, working_of
from farrail.text.findings import reason_of, text_of
from farrail.units import mm_to_inches

COLUMNS = ("id", "figure", "value", "unit", "low", "high", "provenance", "working", "inches")


def as_data(readout: Readout, ranges: RangeReport | None = None) -> dict[str, object]:
    """Return a readout as JSON data; figures that rest on unknowns carry `low`, `high`, `spans_on`.

    Args:
        readout: what is read.
        ranges: what its unknowns make of it, where that was worked out.
    """
    spreads = {} if ranges is None else ranges.spreads
    return {
        "figures": {key: _figure(figure, spreads.get(key)) for key, figure in readout.figures.items()},
        "findings": [
            {"id": f.id, "severity": f.severity.value, "part": f.part, "text": text_of(f), "reason": reason_of(f)}
            for f in all_findings(readout, ranges)
        ],
    }


def figures_csv(readout: Readout, ranges: RangeReport | None = None) -> str:
    """Return every figure of a readout as CSV, one a line, by its stable id.

    Args:
        readout: what is read.
        ranges: what its unknowns make of it, where that was worked out.
    """
    spreads = {} if ranges is None else ranges.spreads
    sheet = io.StringIO()
    writer = csv.writer(sheet)
    writer.writerow(COLUMNS)
    for key, figure in readout.figures.items():
        told = _figure(figure, spreads.get(key))
        writer.writerow(
            [
                key, label_of(figure), *(told.get(name) for name in ("value", "unit", "low", "high", "provenance")),
                told["working"], _inches(told),
            ]
        )  # fmt: skip
    return sheet.getvalue()


def all_findings(readout: Readout, ranges: RangeReport | None) -> list[Finding]:
    """Return what the train, its unknowns and its log say, the gravest first."""
    train, shelf = readout.layout.train, readout.layout.parts
    more = () if ranges is None else (*ranges.findings, *next_findings(train, shelf))
    return sorted((*readout.findings, *more), key=lambda f: SEVERITY_ORDER[f.severity])


def plain(value: Any) -> Any:
    """Return a value as JSON can hold it: an infinity or NaN becomes null."""
    return None if isinstance(value, float) and not math.isfinite(value) else value


def _inches(told: dict[str, object]) -> float | None:
    value = told["value"]
    return round(mm_to_inches(value), 6) if told["unit"] == "mm" and isinstance(value, float) else None


def _figure(figure: Figure, spread: Spread | None = None) -> dict[str, object]:
    data: dict[str, object] = {
        "value": plain(value_of(figure)),
        "unit": figure.unit,
        "working": str(working_of(figure)),
        "provenance": figure.provenance.value,
    }
    ends = ends_of(figure, spread)
    if ends is not None:
        data["low"], data["high"] = (plain(end) for end in ends)
    if spread is not None and spread.spans_on is not None:
        data["spans_on"] = {"part": spread.spans_on.part, "field": spread.spans_on.field}
    return data
