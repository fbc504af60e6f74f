"""Trains side by side in words: what a row is called, what differs, what is missing."""

import math
from collections.abc import Mapping, Sequence

from farrail.language import N_, Message, say
from farrail.logbook.differences import Change, Difference, differences
from farrail.logbook.side_by_side import Ability, Line, SideBySide, price_of
from farrail.parts.registry import Part
from farrail.quantities import headed, in_words, mass_words, unit_word
from farrail.readouts.interval_words import ends_words, interval_words, value_words

FACT_WORDS: dict[str, Message] = {
    "parts": N_("Parts"),
    "joints": N_("Joints"),
    "not_mating": N_("Joints that do not mate"),
    "behind_mm": N_("Length behind the optic"),
    "ahead_mm": N_("Depth ahead of the lens"),
    "mass_g": N_("Mass"),
    "price": N_("Price of all parts"),
    "to_buy": N_("Parts you do not own"),
    "to_pay": N_("… to buy for"),
}


# Less is not seen in a corner; common practice, no source.
NOT_SEEN_STOPS = 0.05
LENGTHS = ("behind_mm", "ahead_mm")


def line_label(line: Line) -> str:
    """Return what a row is about, with its unit."""
    if line.is_fact:
        unit = f", {unit_word('mm')}" if line.key in LENGTHS else ""
        return f"{FACT_WORDS[line.key]}{unit}"
    figure = next(figure for figure in line.figures if figure is not None)
    unit = f", {figure.unit_word}" if figure.unit else ""
    return f"{headed(figure.label)}{unit}"


def cell_words(line: Line, number: int, *, short: bool = False) -> str:
    """Return what is in one column of a row.

    Args:
        line: the row.
        number: the column.
        short: whether a value with an interval is shown as that alone, for narrow columns.
    """
    value, figure = line.values[number], line.figures[number]
    if value is None:
        shown = None if figure is None else figure.shown
        return shown if isinstance(shown, str) else "–"
    if figure is None:
        if line.key == "mass_g":
            return mass_words(value)
        whole = line.key in ("parts", "joints", "not_mating", "to_buy")
        return in_words(value, "mm" if line.key in LENGTHS else "", 0 if whole else 2)[0]
    if value == float("inf"):
        word, ends = say("dark") if "stops" in line.key else "∞", ends_words(figure)
        return f"{word} ({ends})" if ends else word
    digits = 2 if abs(value) < 1000.0 else 0
    return interval_words(figure, digits) if short else value_words(figure, digits)


def deciding_words(compared: SideBySide, names: Sequence[str]) -> str:
    """Return what decides between trains, in one sentence: the best one against the next.

    Args:
        compared: the trains.
        names: what each is called.
    """
    line = compared.deciding
    if line is None:
        return say("Nothing that matters makes one of them better.")
    first = line.best[0]
    other = next(number for number in range(len(names)) if number not in line.best)
    a, b = names[first], names[other]
    mine, its = line.values[first], line.values[other]
    if line.key == "not_mating":
        return say("{a} fits together; of {b} joints do not mate.", a=a, b=b)
    if line.key == "spacing.error_mm" and its is not None:
        way = say("{miss:.2f mm} too short", miss=-its) if its < 0.0 else say("{miss:.2f mm} too long", miss=its)
        return say("{a} is in focus; {b} is {way}.", a=a, b=b, way=way)
    if line.key == "front.first_clean_mm" and mine is not None and its is not None:
        return say("{a} is free of vignetting from {mine:.1f mm}, {b} from {its:.1f mm}.", a=a, b=b, mine=mine, its=its)
    if line.key == "light.corner_stops" and mine is not None and its is not None:
        if mine < NOT_SEEN_STOPS:
            dark = say("is black in the corner") if math.isinf(its) else say("loses {its:.1f} stops there", its=its)
            return say("{a} has no vignetting in the corner; {b} {dark}.", a=a, b=b, dark=dark)
        if math.isinf(its):
            return say("{a} loses {mine:.1f} stops in the corner; that of {b} is black.", a=a, b=b, mine=mine)
        return say("{a} loses {mine:.1f} stops in the corner, {b} {its:.1f}.", a=a, b=b, mine=mine, its=its)
    if line.key == "to_pay" and mine is not None and its is not None:
        return say("{a} is complete for {mine:g}, {b} for {its:g}.", a=a, b=b, mine=mine, its=its)
    return say("{label}: {a} {mine}, {b} {its}.",
               label=line_label(line), a=a, b=b, mine=cell_words(line, first), its=cell_words(line, other))  # fmt: skip


def difference_line(difference: Difference) -> str:
    """Return one difference between two trains."""
    name, many = difference.name, f"{difference.count} × " if difference.count > 1 else ""
    return {
        Change.OPTIC: f"{difference.before or 'no optic'} → {difference.after or 'no optic'}",
        Change.CAMERA: f"{difference.before or 'no camera'} → {difference.after or 'no camera'}",
        Change.ADDED: f"+ {many}{name}",
        Change.GONE: f"− {many}{name}",
        Change.ORDER: say("In a different order"),
        Change.LAID: say("{name} is used differently (rotated, flipped, set, or another filter)", name=name),
        Change.CONDITIONS: say("Different settings: focal length, aperture, focus or light"),
        Change.VALUE: say("{name} has different values", name=name),
    }[difference.change]


def ability_words(ability: Ability) -> str:
    """Return what one set-up alone lets one do, or does best."""
    best = headed(_ability(ability.key, ability.value))
    ends = "" if ability.figure is None else ends_words(ability.figure, 1)
    if ends:
        best = f"{best} ({ends})"
    if ability.best_other is None:
        return f"{best}."
    return say("{best}; the others at best {other}.", best=best, other=_ability(ability.key, ability.best_other))


def _ability(key: str, value: float) -> str:
    return {
        "clean_from_mm": say("free of vignetting from {value:.1f} mm", value=value),
        "field_deg": say("a field {value:.2f}° wide", value=value),
        "magnification": say("magnification up to {value:.2f}x", value=value),
        "slots": say("{value:.0f} slots", value=value),
        "infinity": say("infinity"),
    }[key]


def wish_words(compared: SideBySide, kit_prices: Mapping[str, float]) -> list[tuple[str, str]]:
    """Return what is missing and its price, then the total; a kit is shown with its first part and bought once."""
    rows, told = [], set[str]()
    for part, count in compared.wishes:
        if part.kit:
            price = kit_prices.get(part.kit)
            shown = say("in the kit") if part.kit in told else "–" if price is None else say("{price:.2f}", price=price)
            rows.append((f"{_counted(part, count)} ({part.kit})", shown))
            told.add(part.kit)
        else:
            rows.append((_counted(part, count), _price(part, count)))
    if rows:
        total = price_of(compared.wishes, kit_prices)
        rows.append((say("Together"), say("not known") if total is None else say("{total:.2f}", total=total)))
    return rows


def _counted(part: Part, count: int) -> str:
    return part.name if count == 1 else f"{count} × {part.name}"


def _price(part: Part, count: int) -> str:
    return "–" if part.price is None else say("{count:.2f}", count=part.price * count)


def sides_words(compared: SideBySide, letters: str) -> str:
    """Return what differs against the first train, what each alone does best, and what of mine still fits, as lines."""
    lines: list[str] = []
    first = compared.columns[0]
    for number, column in enumerate(compared.columns):
        lines.append(f"{letters[number]}  {column.name}")
        if number:
            found = differences(first.train, column.train, first.shelf, column.shelf)
            told = [difference_line(one) for one in found] or [say("nothing")]
            lines.append(say("Against {letters}: {listed}", letters=letters[0], listed="; ".join(told)))
        lines += [ability_words(ability) for ability in compared.lets_alone(number)]
        fits = compared.still_fits(number)
        if fits:
            lines.append(say("Your filters that fit: {listed}.", listed=", ".join(part.name for part in fits)))
        lines.append("")
    return "\n".join(lines).strip()
