"""The named values of a finding or figure, as its sentences read them; numbers as people write them."""

from collections.abc import Mapping
from typing import Any

from farrail.units import MM_PER_METRE, mm_to_metres


class Values:
    """Named values by attribute; a name that was not given is an error of ours."""

    def __init__(self, values: Mapping[str, Any]) -> None:
        """Take the values."""
        self._values = values

    def __getattr__(self, name: str) -> Any:
        """Return the value of a name."""
        try:
            return self._values[name]
        except KeyError:
            raise AttributeError(f"no value “{name}” was given; there are {', '.join(self._values)}") from None


def signed(value: float, digits: int = 2) -> str:
    """Return a number with its sign, a true minus."""
    return f"{value:+.{digits}f}".replace("-", "−")


def number(value: float, digits: int = 2) -> str:
    """Return a number to some decimals, a true minus, and the sign of what has no end."""
    return f"{value:.{digits}f}".replace("-", "−").replace("inf", "∞")


def decimal(value: float) -> str:
    """Return a number to two decimals, without those that say nothing."""
    return f"{round(value, 2):.10g}".replace("-", "−")


def minus(text: str) -> str:
    """Return a text with true minus signs for its hyphens."""
    return text.replace("-", "−")


def sentence(text: str) -> str:
    """Return a phrase as a sentence."""
    return f"{text[:1].upper()}{text[1:]}."


def headed(text: str) -> str:
    """Return a phrase with a capital, as a heading begins."""
    return f"{text[:1].upper()}{text[1:]}"


def grouped(value: float) -> str:
    """Return a number as people read it: to three figures, thousands apart."""
    if value < 100.0:
        return f"{value:.3g}"
    digits = 10.0 ** (len(f"{int(value)}") - 3)
    return f"{round(value / digits) * digits:,.0f}".replace(",", " ")


def away(distance_mm: float) -> str:
    """Return a distance: millimetres under a metre, else metres."""
    return f"{distance_mm:.0f} mm" if distance_mm < MM_PER_METRE else f"{mm_to_metres(distance_mm):.2g} m"


def mm_or_none(value: float | None) -> str:
    """Return a length, or "none"."""
    return "none" if value is None else f"{value:.1f} mm"


def mass_words(mass_g: float) -> str:
    """Return a mass as it is spoken of: in grams below a kilogram."""
    return f"{mass_g:.0f} g" if mass_g < 999.5 else f"{mass_g / 1000.0:.1f} kg"
