"""Every figure in words: label, value and working, by its kind."""

import math
from collections.abc import Iterable

from farrail.readouts.figure import Figure
from farrail.text import close_up_figures, exposure_figures, front_figures, light_figures, spacing_figures
from farrail.text.values import Values, inches
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


def inches_of(figure: Figure) -> str:
    """Return a length in inches as well; "" for what is no length in millimetres, or has no end."""
    value = value_of(figure)
    return inches(value) if figure.unit == "mm" and isinstance(value, float) and math.isfinite(value) else ""


def workings(figures: Iterable[Figure]) -> str:
    """Return the numbers behind some figures on one line."""
    return "; ".join(working_of(figure).numbers for figure in figures)
