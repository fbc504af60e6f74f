"""Figures with what they may be: the typical value with its interval, and what to enter first."""

import math
from collections.abc import Mapping

from farrail.language import local_number, say
from farrail.parts.base import PartBase
from farrail.quantities import between
from farrail.readouts.figure import Figure
from farrail.readouts.ranges import Spread
from farrail.readouts.unknown_field import field_label
from farrail.readouts.unknowns import Unknown

# An interval wider than this to either side of the typical value starts with what to enter or measure.
WIDE_SHARE = 0.2


def digits_of(figure: Figure, digits: int) -> int:
    """Return the digits after the point for an interval: enough to show a twentieth of its width.

    Args:
        figure: with its ends, where it has some.
        digits: the most.
    """
    if figure.low is None or figure.high is None or not math.isfinite(figure.high - figure.low):
        return digits
    width = figure.high - figure.low
    return digits if width <= 0.0 else min(max(math.ceil(-math.log10(width / 20.0)), 0), digits)


def ends_words(figure: Figure, digits: int = 2) -> str:
    """Return a figure's interval, such as `44.8 to 57.8`; "" where its ends read alike and it is always reached.

    Args:
        figure: with its ends, where it has some.
        digits: after the point.
    """
    if figure.low is None or figure.high is None:
        return say("never") if figure.or_never else ""
    digits = digits_of(figure, digits)
    low, high = _number(figure, figure.low, digits), _number(figure, figure.high, digits)
    if figure.or_never:
        return say("{low}, or never", low=low) if low == high else say("{low} to {high}, or never", low=low, high=high)
    return "" if low == high else say("{low} to {high}", low=low, high=high)


def interval_words(figure: Figure, digits: int = 2) -> str:
    """Return a figure as one number, or where it has an interval as that alone: for narrow columns.

    Args:
        figure: with its ends, where it has some.
        digits: after the point.
    """
    if figure.low is not None and figure.high is not None and not figure.or_never:
        told = digits_of(figure, digits)
        low, high = _number(figure, figure.low, told), _number(figure, figure.high, told)
        return low if low == high else between(low, high)
    return ends_words(figure, digits) or (
        _number(figure, figure.number, digits) if isinstance(figure.value, float) else str(figure.shown)
    )


def value_words(figure: Figure, digits: int = 2) -> str:
    """Return a figure as its typical value with its interval behind: `51.0 (44.8 to 57.8)`.

    Args:
        figure: with its ends, where it has some.
        digits: after the point.
    """
    if not isinstance(figure.value, float):
        ends = _sides(figure, digits) if figure.spans else ends_words(figure, digits)
        told = str(figure.shown)
        return say("{value} ({ends})", value=told, ends=ends) if ends else told
    own, ends = _number(figure, figure.value, digits_of(figure, digits)), ends_words(figure, digits)
    return say("{value} ({ends})", value=own, ends=ends) if ends else own


def _sides(figure: Figure, digits: int) -> str:
    told = []
    for low, high in figure.spans:
        one, other = local_number(f"{low:.{digits}f}"), local_number(f"{high:.{digits}f}")
        told.append(one if one == other else say("{low} to {high}", low=one, high=other))
    return " × ".join(told)


def _number(figure: Figure, value: float, digits: int) -> str:
    if math.isinf(value):
        return say("infinity") if value > 0.0 else "−∞"
    return figure.number_words(value, digits)[0]


def unknown_words(unknown: Unknown, shelf: Mapping[str, PartBase]) -> str:
    """Return an unknown and whose it is, as it is asked for.

    Args:
        unknown: the value.
        shelf: parts by id.
    """
    part = shelf[unknown.part]
    return say("{field} of {part}", field=field_label(type(part), unknown.path), part=part.name)


def reason_words(spread: Spread | None, shelf: Mapping[str, PartBase]) -> str:
    """Return what an interval rests on most, such as `pupil magnification of Brae 50 not entered`; "" without one.

    Args:
        spread: the interval.
        shelf: parts by id.
    """
    on = None if spread is None else spread.spans_on
    if on is None:
        return ""
    told = unknown_words(on, shelf)
    return (
        say("{unknown} known only within an interval", unknown=told)
        if on.entered
        else say("{unknown} not entered", unknown=told)
    )


def enter_first(value: float, spread: Spread | None, shelf: Mapping[str, PartBase]) -> str:
    """Return what to enter or measure first where an interval is wide; "" where it is not.

    Args:
        value: the typical value.
        spread: the interval.
        shelf: parts by id.
    """
    if spread is None or spread.spans_on is None:
        return ""
    most = max(abs(spread.high - value), abs(value - spread.low))
    if not spread.or_never and most <= WIDE_SHARE * abs(value):
        return ""
    told = unknown_words(spread.spans_on, shelf)
    if spread.spans_on.entered:
        return say("Measure first: {unknown}.", unknown=told)
    return say("Enter or measure first: {unknown}.", unknown=told)
