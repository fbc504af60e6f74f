"""`far-rail readout FILE --train NAME`: every figure and finding of a train."""

import math
from collections.abc import Mapping
from pathlib import Path

from farrail.cli.printing import FINE, STOPPED, decimals, number, own_trouble, print_json
from farrail.errors import FarRailError
from farrail.language import begun_large, local_number, say, word
from farrail.readouts.figure import Figure
from farrail.readouts.finding import Severity
from farrail.readouts.headlines import train_headline
from farrail.readouts.interval_words import ends_words, reason_words
from farrail.readouts.range_findings import RangeReport, range_report
from farrail.readouts.ranges import EVERY
from farrail.readouts.read import Readout, read
from farrail.text.report import all_findings, as_data
from farrail.workbook.store import read_file

# What decides, in the order of the pages; the rest is with --all.
MAIN_FIGURES = (
    "spacing.laid_mm", "spacing.required_mm", "spacing.error_mm", "spacing.tolerance_mm", "light.f_number",
    "light.corner_stops", "light.limiting_part", "light.field_of_view", "light.pixel_scale_arcsec",
    "light.target_panels", "front.first_clean_mm", "front.corner_loss_stops", "front.depth_mm", "closeup.magnification",
    "closeup.width_mm", "closeup.working_distance_mm", "closeup.effective_f_number", "closeup.depth_of_field_mm",
    "exposure.total_stops", "exposure.time_s",
)  # fmt: skip


def run(file: Path, train: str, *, every: bool, as_json: bool) -> int:
    """Print a train's readout; returns the exit code.

    Args:
        file: the workbook.
        train: name or id of the train.
        every: with every figure by its id, and its working.
        as_json: as JSON, which always has everything.

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
        _print(readout, ranges, every=every)
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
    line = say("{low} to {high} {unit}", low=low, high=high, unit=figure.unit_word).strip()
    return say("{ends}, or never", ends=line) if figure.or_never else line


def _print(readout: Readout, ranges: RangeReport, *, every: bool) -> None:
    """Print the verdict, the findings and the figures that decide; or every figure with its working."""
    judged = ranges.judged(readout.findings)
    first, rest = train_headline(readout, judged)
    print(f"{readout.layout.train.name}: {first}\n  {rest}".rstrip())
    spacing = readout.verdict.headline
    if spacing != first:
        print(say("  Spacing: {verdict}", verdict=spacing))
    print()
    findings = all_findings(readout, ranges)
    for finding in findings:
        line = f"[{word(finding.severity)}] {' '.join(finding.sentences)}"
        print(f"{line}  ({finding.id})" if every else line)
    if not findings:
        print(say("No findings."))
    print()
    figures = ranges.figures(readout.figures)
    if every:
        _print_every(readout, ranges, figures)
        return
    shown = [figures[key] for key in MAIN_FIGURES if key in figures]
    wide = max((len(figure.label) for figure in shown), default=0)
    for figure in shown:
        value = figure.shown if isinstance(figure.shown, str) else _short(figure, figure.shown)
        low, high = figure.low, figure.high
        ends = _ends(figure) if figure.spans or low is None or high is None else say(
            "{low} to {high}", low=_short(figure, low), high=_short(figure, high)
        )  # fmt: skip
        interval = f"  ({ends})" if ends and low != high else ""
        print(f"  {begun_large(figure.label):<{wide}}  {value}  {word(figure.provenance)}{interval}")
    left = len(figures) - len(shown)
    if left:
        print(say("{left} more figures, and the working of each: --all.", left=left))


def _short(figure: Figure, value: float) -> str:
    """Return a number with its unit as it is read at a glance: two places, three significant in seconds and ratios."""
    if not math.isfinite(value):
        return say("black") if figure.unit == "stops" else say("infinite")
    if figure.unit == "mm":
        line = figure.number_words(value, 2)[0]
    else:
        line = local_number(f"{value:.2f}" if figure.unit == "stops" else f"{value:.3g}")
    return f"{line} {figure.unit_word}".rstrip()


def _print_every(readout: Readout, ranges: RangeReport, figures: Mapping[str, Figure]) -> None:
    for figure in figures.values():
        line = figure.shown
        value = line if isinstance(line, str) else _number(figure, line)
        print(f"{figure.id:<44} {value:>12} {figure.unit_word:<6} {word(figure.provenance)}")
        ends = _ends(figure)
        if ends:
            reason = reason_words(ranges.spread_of(figure.id), readout.layout.parts)
            print(f"    {ends}" + (f": {reason}" if reason else ""))
        print(f"    {figure.working}")
