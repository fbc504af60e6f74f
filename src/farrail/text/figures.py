"""Every figure in words: label, value and working, by its kind."""

import math
from collections.abc import Iterable

from farrail.language import say
from farrail.quantities import Values, in_words, inches, number, unit_word
from farrail.readouts.figure import Figure
from farrail.text import close_up_figures, exposure_figures, front_figures, light_figures, spacing_figures
from farrail.text.working import Told, Working

TELLERS = {
    **spacing_figures.TELLERS,
    **light_figures.TELLERS,
    **front_figures.TELLERS,
    **close_up_figures.TELLERS,
    **exposure_figures.TELLERS,
}


def told(figure: Figure) -> Told:
    """Return a figure in words."""
    return TELLERS[figure.kind](figure, Values(figure.values))


def label_of(figure: Figure) -> str:
    """Return what a figure is, in the field's words."""
    return told(figure).label


def working_of(figure: Figure) -> Working:
    """Return the arithmetic behind a figure."""
    return told(figure).working


def value_of(figure: Figure) -> float | str:
    """Return a figure's value: a number, or in words what is none."""
    return figure.value if isinstance(figure.value, float) else told(figure).value or "–"


# A lens is spoken of by its focal length in millimetres, wherever lengths are told in inches.
FOCAL_LENGTHS = frozenset({"light.focal_length_mm", "front.first_clean_mm", "front.visible_mm"})


def inches_of(figure: Figure) -> str:
    """Return a length in inches as well; "" for what is no length in millimetres, or has no end."""
    value = value_of(figure)
    return inches(value) if figure.unit == "mm" and isinstance(value, float) and math.isfinite(value) else ""


def number_of(figure: Figure, value: float, digits: int = 2) -> tuple[str, str]:
    """Return a value of a figure and its unit in words, lengths in the unit they are told in.

    Args:
        figure: whose value it is.
        value: its own, or an end of its range.
        digits: after the point, where lengths are told in mm.
    """
    if figure.id in FOCAL_LENGTHS:
        return number(value, digits), say(figure.unit)
    return in_words(value, figure.unit, digits)


def unit_of(figure: Figure) -> str:
    """Return the unit a figure is told in."""
    return say(figure.unit) if figure.id in FOCAL_LENGTHS else unit_word(figure.unit)


def workings(figures: Iterable[Figure]) -> str:
    """Return the numbers behind some figures on one line."""
    return "; ".join(working_of(figure).numbers for figure in figures)
