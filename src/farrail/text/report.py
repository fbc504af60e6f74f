"""A whole readout as data with stable ids, for scripts and tables; docs/figures.md lists the ids."""

import csv
import io

from farrail.logbook.next_best import next_findings
from farrail.readouts.figure import Figure
from farrail.readouts.finding import SEVERITY_ORDER, Finding
from farrail.readouts.range_findings import RangeReport
from farrail.readouts.ranges import Spread
from farrail.readouts.read import Readout
from farrail.strict_json import plain
from farrail.units import mm_to_inches

COLUMNS = ("id", "figure", "value", "unit", "low", "high", "provenance", "working", "inches")


def as_data(readout: Readout, ranges: RangeReport | None = None) -> dict[str, object]:
    """Return a readout as JSON data; figures that rest on unknowns carry `low`, `high`, `spans_on`.

    Args:
        readout: what is read.
        ranges: what its unknowns make of it, where that was worked out.
    """
    report = ranges or RangeReport(readout.layout.train)
    return {
        "figures": {
            key: _figure(figure, report.spread_of(key)) for key, figure in report.figures(readout.figures).items()
        },
        "findings": [
            {"id": f.id, "severity": f.severity.value, "part": f.part, "text": f.title, "reason": f.reason}
            for f in all_findings(readout, ranges)
        ],
    }


def figures_csv(readout: Readout, ranges: RangeReport | None = None) -> str:
    """Return every figure of a readout as CSV, one a line, by its stable id.

    Args:
        readout: what is read.
        ranges: what its unknowns make of it, where that was worked out.
    """
    report = ranges or RangeReport(readout.layout.train)
    sheet = io.StringIO()
    writer = csv.writer(sheet)
    writer.writerow(COLUMNS)
    for key, figure in report.figures(readout.figures).items():
        told = _figure(figure, report.spread_of(key))
        ends = (" × ".join(f"{one:g}" for one in end) if isinstance(end := told.get(name), list) else told.get(name)
                for name in ("low", "high"))  # fmt: skip
        writer.writerow(
            [
                key, figure.label, told.get("value"), told.get("unit"), *ends, told.get("provenance"),
                told["working"], _inches(told),
            ]
        )  # fmt: skip
    return sheet.getvalue()


def all_findings(readout: Readout, ranges: RangeReport | None) -> list[Finding]:
    """Return what the train, its unknowns and its log say, the gravest first."""
    train, shelf = readout.layout.train, readout.layout.parts
    report = ranges or RangeReport(train)
    more = () if ranges is None else (*ranges.findings, *next_findings(train, shelf))
    return sorted((*report.judged(readout.findings), *more), key=lambda f: SEVERITY_ORDER[f.severity])


def _inches(told: dict[str, object]) -> float | None:
    value = told["value"]
    return round(mm_to_inches(value), 6) if told["unit"] == "mm" and isinstance(value, float) else None


def _figure(figure: Figure, spread: Spread | None = None) -> dict[str, object]:
    data: dict[str, object] = {
        "value": plain(figure.shown),
        "unit": figure.unit,
        "working": str(figure.working),
        "provenance": figure.provenance.value,
    }
    if figure.spans:
        data["low"], data["high"] = ([plain(span[end]) for span in figure.spans] for end in (0, 1))
    elif figure.low is not None and figure.high is not None:
        data["low"], data["high"] = plain(figure.low), plain(figure.high)
    if figure.or_never:
        data["or_never"] = True
    if spread is not None and spread.spans_on is not None:
        data["spans_on"] = {"part": spread.spans_on.part, "field": spread.spans_on.field}
    return data
