"""Numbers, lengths, masses and distances as people write them, in the unit and language in force."""

from farrail import lengths
from farrail.language import local_number, say
from farrail.units import MM_PER_METRE, mm_to_feet, mm_to_inches, mm_to_metres


def signed(value: float, digits: int = 2) -> str:
    """Return a number with its sign, a true minus."""
    return local_number(f"{value:+.{digits}f}").replace("-", "−")


def number(value: float, digits: int = 2) -> str:
    """Return a number to some decimals, a true minus, and the sign of what has no end."""
    told = f"{value:.{digits}f}"
    if not told.strip("-0."):
        told = told.removeprefix("-")
    return local_number(told).replace("-", "−").replace("inf", "∞")


def unit_word(unit: str) -> str:
    """Return a unit as it is shown: that of lengths, where it is mm."""
    return lengths.current().value if unit == "mm" else say(unit) if unit else ""


def typed_text(value: float, tolerance: float = 0.0, unit: str = "mm", *, stays_mm: bool = False) -> str:
    """Return a number and how far it may be off as an editor shows it: as its cell does, with its unit in inches.

    Args:
        value: lengths in mm.
        tolerance: half width, in the same; 0 for none.
        unit: of both.
        stays_mm: whether it is in mm wherever lengths are shown in inches.
    """
    in_inches = unit == "mm" and lengths.current() is lengths.LengthUnit.INCH
    if stays_mm or not in_inches:
        spread = say(" ± {tolerance:g}", tolerance=tolerance) if tolerance else ""
        return f"{say('{value:.10g}{spread}', value=value, spread=spread)}{' mm' if in_inches else ''}"
    spread = say(" ± {inches:.4f}", inches=mm_to_inches(tolerance)) if tolerance else ""
    return say("{inches:.4f}{spread} in", inches=mm_to_inches(value), spread=spread)


def typed_bare(length_mm: float) -> str:
    """Return a length as the bare number of a field that has its unit beside it."""
    return say("{value:.6g}", value=round(lengths.in_unit(length_mm)[0], 4))


def as_typed(text: str, value: float, tolerance: float = 0.0, *, stays_mm: bool = False) -> str:
    """Return a length as it was typed over a value, with its unit; what the editor showed is the value itself."""
    if lengths.current() is lengths.LengthUnit.MM or stays_mm:
        return text
    if text.strip() == typed_text(value, tolerance):
        return f"{value!r}{f' ± {tolerance!r}' if tolerance else ''} mm"
    return lengths.as_shown(text)


def in_words(value: float, unit: str, digits: int = 2) -> tuple[str, str]:
    """Return a number and its unit, lengths in the unit they are shown in.

    Args:
        value: lengths in mm.
        unit: such as `mm` or `stops`.
        digits: after the point, where lengths are shown in mm.
    """
    if unit == "mm":
        value, digits = lengths.in_unit(value, digits)
    return number(value, digits), unit_word(unit)


def signed_length(value_mm: float, digits: int = 2) -> str:
    """Return a length as a bare number with its sign, in the unit lengths are shown in."""
    return signed(*lengths.in_unit(value_mm, digits))


def decimal(value: float) -> str:
    """Return a number to two decimals, without those that say nothing."""
    return say("{value:.10g}", value=round(value, 2)).replace("-", "−")


def sentence(text: str) -> str:
    """Return a phrase as a sentence."""
    return f"{text[:1].upper()}{text[1:]}."


def headed(text: str) -> str:
    """Return a phrase with a capital, as a heading begins."""
    return f"{text[:1].upper()}{text[1:]}"


def grouped(value: float) -> str:
    """Return a number as people read it: to three figures, thousands apart."""
    if value < 100.0:
        return say("{value:.3g}", value=value)
    digits = 10.0 ** (len(f"{int(value)}") - 3)
    return say("{digits:,.0f}", digits=round(value / digits) * digits).replace(",", " ")


def away(distance_mm: float) -> str:
    """Return a distance: millimetres under a metre, else metres; inches, else feet, where those are shown."""
    if distance_mm < MM_PER_METRE:
        return say("{distance_mm:.0f mm}", distance_mm=distance_mm)
    if lengths.current() is lengths.LengthUnit.INCH:
        return say("{mm_to_feet:.2g} ft", mm_to_feet=mm_to_feet(distance_mm))
    return say("{mm_to_metres:.2g} m", mm_to_metres=mm_to_metres(distance_mm))


def inches(value_mm: float) -> str:
    """Return a length in inches, to a ten-thousandth: 2.5 µm, finer than a caliper reads."""
    return say("{length:.4f} in", length=mm_to_inches(value_mm))


def focal_or_none(focal_mm: float | None) -> str:
    """Return a focal length, or "none"."""
    return say("none") if focal_mm is None else say("{focal_mm:.1f} mm", focal_mm=focal_mm)


def mm_or_none(value: float | None) -> str:
    """Return a length, or "none"."""
    return say("none") if value is None else say("{value:.1f mm}", value=value)


def mass_words(mass_g: float) -> str:
    """Return a mass as it is meant: in grams below a kilogram."""
    return say("{mass_g:.0f} g", mass_g=mass_g) if mass_g < 999.5 else say("{mass_g:.1f} kg", mass_g=mass_g / 1000.0)


def between(low: str, high: str) -> str:
    """Return an interval as short as a narrow column needs it: 0.4–0.9, or with signs −0.1…0.4.

    Args:
        low: its lower end, in words.
        high: its upper end.
    """
    signed = low[:1] in "+−-" or high[:1] in "+−-"
    return say("{low}…{high}", low=low, high=high) if signed else say("{low}–{high}", low=low, high=high)
