"""`far-rail readout FILE --train NAME`: every figure and finding of a train."""

import math
from pathlib import Path

from farrail.cli.printing import FINE, STOPPED, decimals, number, own_trouble, print_json
from farrail.errors import FarRailError
from farrail.language import say, word
from farrail.readouts.figure import Figure
from farrail.readouts.finding import Severity
from farrail.readouts.headlines import train_headline
from farrail.readouts.interval_words import ends_words, reason_words
from farrail.readouts.range_findings import RangeReport, range_report
from farrail.readouts.ranges import EVERY
from farrail.readouts.read import Readout, read
from farrail.text.report import all_findings, as_data
from farrail.workbook.store import read_file


def run(file: Path, train: str, *, as_json: bool) -> int:
    """Print a train's readout; returns the exit code.

    Raises:
        FarRailError: the file or the train cannot be read.
    """
    workbook = read_file(file).workbook
    shelf = workbook.by_id
    readout = read(workbook.train(train), shelf)
    ranges = range_report(readout.layout.train, shelf, EVERY)
    if as_json:
        print_json(as_data(readout, ranges))
    else:
        _print(readout, ranges)
    own = [error for error in readout.errors if not isinstance(error, FarRailError)]
    if own:
        own_trouble(own[0])
    stops = any(finding.severity is Severity.STOP for finding in ranges.judged(readout.findings))
    return STOPPED if stops else FINE


def _number(figure: Figure, value: float) -> str:
    if not math.isfinite(value) or figure.unit != "mm":
        return number(value, figure.unit)
    return figure.number_words(value, decimals(value, figure.unit))[0]


def _ends(figure: Figure) -> str:
    """Return a figure's interval with its unit; "" without one."""
    if figure.spans or figure.low is None or figure.high is None:
        return ends_words(figure)
    low, high = (_number(figure, end) for end in (figure.low, figure.high))
    told = say("{low} to {high} {unit}", low=low, high=high, unit=figure.unit_word).strip()
    return say("{ends}, or never", ends=told) if figure.or_never else told


def _print(readout: Readout, ranges: RangeReport) -> None:
    judged = ranges.judged(readout.findings)
    first, rest = train_headline(readout, judged)
    print(f"{readout.layout.train.name}: {first}\n  {rest}".rstrip())
    spacing = readout.verdict.headline
    print("\n" if spacing == first else say("  Spacing: {verdict}", verdict=spacing) + "\n")
    for figure in ranges.figures(readout.figures).values():
        told = figure.shown
        value = told if isinstance(told, str) else _number(figure, told)
        print(f"{figure.id:<44} {value:>12} {figure.unit_word:<6} {word(figure.provenance)}")
        ends = _ends(figure)
        if ends:
            reason = reason_words(ranges.spread_of(figure.id), readout.layout.parts)
            print(f"    {ends}" + (f": {reason}" if reason else ""))
        print(f"    {figure.working}")
    print()
    findings = all_findings(readout, ranges)
    for finding in findings:
        print(f"[{word(finding.severity)}] {' '.join(finding.sentences)}  ({finding.id})")
    if not findings:
        print(say("No findings."))
