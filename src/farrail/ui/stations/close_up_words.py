"""What the Close-up station says: sentences and rows."""

import math
from collections.abc import Callable, Sequence

from farrail.language import say
from farrail.optics.focus_stack import FocusStack
from farrail.planning.answer_words import distance_words, stops_words
from farrail.planning.ask import Answer, Asked
from farrail.planning.ends import EndsRow, EndsTable
from farrail.quantities import headed, number, sentence
from farrail.readouts.close_up.model import CloseUp
from farrail.readouts.figure import Figure
from farrail.readouts.interval_words import enter_first, value_words
from farrail.readouts.names import loss_name, scale_name
from farrail.readouts.range_findings import RangeReport
from farrail.readouts.ranges import Spread
from farrail.ui.widgets.ledger_rows import Cell, Row
from farrail.ui.widgets.row_keys import FigureKey, Nth, TermKey
from farrail.units import mm_to_micrometres

Words = Callable[[float], str]
# Figures in the order people ask for them, with the decimals they are shown to.
SHOWN = (
    ("closeup.magnification", 3), ("closeup.ratio", 0), ("closeup.width_mm", 1), ("closeup.height_mm", 1),
    ("closeup.working_distance_mm", 1), ("closeup.subject_to_sensor_mm", 1), ("closeup.near_mm", 1),
    ("closeup.far_mm", 1), ("closeup.effective_f_number", 1), ("closeup.stops_lost", 2),
    ("closeup.stops_against_bare", 2), ("closeup.depth_of_field_mm", 3), ("closeup.depth_geometric_mm", 3),
    ("closeup.depth_diffraction_mm", 3), ("closeup.diffraction_f_number", 1), ("closeup.sharpest_f_number", 1),
    ("closeup.pixel_um", 2), ("closeup.crop_share", 1),
)  # fmt: skip


def millimetres(value: float) -> str:
    """Return a length as people say it: to a millimetre, below ten to a tenth."""
    if math.isinf(value):
        return say("infinity")
    return say("{value:.1f mm}", value=value) if value < 10.0 else say("{value:.0f mm}", value=value)


def sentences(close: CloseUp, ranges: RangeReport) -> tuple[str, str]:
    """Return the headline and the detail under it, with the intervals of what is not known."""
    spread_of = ranges.spread_of
    if close.system is None:
        return say("Close-up needs a camera lens and a camera."), say(
            "Choose a camera lens as the optic, or search below."
        )
    if not close.active:
        lens = close.layout.optic.name
        return (
            say("This train has no closest focus and no close-up part."),
            say(
                "Enter the closest focus of {lens} in Parts, add a tube or a close-up lens, or search for a subject's "
                "size.",
                lens=lens,
            ),
        )
    if not close.now.focused:
        return say("Nothing can be brought into focus."), say("Remove a close-up lens or a tube, or focus farther.")
    near, far = _range_end(close.near.distance_mm, spread_of("closeup.near_mm")), close.far.distance_mm
    if abs(close.near.distance_mm - far) < 0.05:
        window = say("In focus at {near} only.", near=near)
    elif math.isinf(far):
        window = say("In focus from {near} to infinity.", near=near)
    else:
        window = say("In focus from {near} to {far}.", near=near, far=_range_end(far, spread_of("closeup.far_mm")))
    if not close.now.magnification > 0.0:
        return say("The lens is set to infinity."), say("{window} Move the focus closer.", window=window)
    size, away = spread_of("closeup.magnification"), spread_of("closeup.working_distance_mm")
    head = say(
        "{scale}: the frame shows {field}, {away} from the front glass.",
        scale=_between(close.now.magnification, size, scale_name, scale_name),
        field=_between(close.field_mm[0], spread_of("closeup.width_mm"), _field_words, _field_number),
        away=_range_end(close.now.distance_mm, away),
    )
    stops = say(
        "Light lost: {stops} stops against infinity, {against} against the lens alone.",
        stops=_between(close.stops_lost, spread_of("closeup.stops_lost"), _stops_number, _stops_number),
        against=_between(
            close.stops_against_bare, spread_of("closeup.stops_against_bare"), _stops_number, _stops_number
        ),
    )
    first = _first(close, ranges)
    return head, " ".join(part for part in (first, window, stops) if part)


def _first(close: CloseUp, ranges: RangeReport) -> str:
    """Return what to enter or measure first where size or distance is not known to a fifth; "" where it is."""
    for key, value in (("closeup.magnification", close.now.magnification),
                       ("closeup.working_distance_mm", close.now.distance_mm)):  # fmt: skip
        words = enter_first(value, ranges.spread_of(key), ranges.shelf)
        if words:
            return words
    return ""


def _between(value: float, spread: Spread | None, words: Words, end: Words) -> str:
    """Return a value in words, with its interval where it has one that shows."""
    if spread is None or end(spread.low) == end(spread.high):
        return words(value)
    return say("{value} ({low} to {high})", value=words(value), low=end(spread.low), high=end(spread.high))


def _range_end(value_mm: float, spread: Spread | None) -> str:
    return _between(value_mm, spread, millimetres, _bare)


def _bare(value_mm: float) -> str:
    """Return an end of an interval of distances; a subject inside the lens is at 0."""
    if math.isinf(value_mm):
        return say("infinity")
    value_mm = max(value_mm, 0.0)
    return say("{value:.1f length}", value=value_mm) if value_mm < 10.0 else say("{value:.0f length}", value=value_mm)


def _field_words(value_mm: float) -> str:
    return say("{wide:.1f mm}", wide=value_mm) if value_mm < 100.0 else say("{wide:.0f mm}", wide=value_mm)


def _field_number(value_mm: float) -> str:
    return say("{wide:.1f length}", wide=value_mm) if value_mm < 100.0 else say("{wide:.0f length}", wide=value_mm)


def _stops_number(value: float) -> str:
    return number(value, 1)


def figure_rows(figures: dict[str, Figure]) -> list[Row]:
    """Return a row for each close-up figure that there is."""
    rows = []
    for key, decimals in SHOWN:
        figure = figures.get(key)
        if figure is None:
            continue
        finite = isinstance(figure.value, float) and math.isfinite(figure.value)
        text, unit = value_words(figure, decimals), figure.unit_word if finite else ""
        label = headed(figure.label)
        main = key in ("closeup.magnification", "closeup.width_mm", "closeup.working_distance_mm")
        cells = (
            Cell(label, tip=f"{label}\n{figure.working}"), Cell(text, strong=main, origin=figure.provenance),
            Cell(unit, "steel"),
        )  # fmt: skip
        rows.append(Row(cells, FigureKey(key)))
    return rows or [Row((Cell(say("No close distance is in focus."), "steel"), Cell(""), Cell("")))]


def answer_row(answer: Answer, number: int) -> Row:
    """Return the row of a combination that does what was asked, or just does not."""
    c = answer.combination
    fails = bool(answer.why)
    price = "?" if c.price is None else say("{price:g}", price=c.price) if c.missing else "–"
    missing = say("\nTo buy: {listed}", listed=", ".join(p.name for p in c.missing)) if c.missing else ""
    cautions = "".join(
        say("\nBut {caution}.", caution=caution) for caution in (*answer.cautions, *corner_words(answer))
    )
    tip = f"{c.words}{missing}{cautions}" + (f"\n{answer.why}" if fails else "")
    if not fails and not answer.certain:
        tip += say("\nPossible, not certain: the lens is not wholly known.")
    cells = (
        Cell(c.words, "steel" if fails else "", strong=number == 0 and not fails, tip=tip),
        Cell(distance_words(answer), "steel" if fails else "", tip=tip),
        Cell(stops_words(answer), "steel"),
        Cell(price, "look" if c.missing else "steel", tip=tip),
    )
    return Row(cells, Nth(number))


def corner_words(answer: Answer) -> list[str]:
    """Return what a combination does to the corners, in words; nothing where they stay clean."""
    return [say("corners {loss_name}", loss_name=loss_name(answer.corner_stops or 0.0))] if answer.vignettes else []


def ends_titles(table: EndsTable, of_an_end: Sequence[str]) -> list[str]:
    """Return the titles of a lens's table: the focal length is with the first of each end."""
    ends = (*table.focal_mm, *(0.0 for _ in range(2 - len(table.focal_mm))))
    zoom = len(table.focal_mm) > 1
    return [
        say("Equipment"),
        *(
            say("{focal:g}: {title}", focal=focal, title=title) if zoom and not n else title
            for focal in ends
            for n, title in enumerate(of_an_end)
        ),
    ]


def ends_row(row: EndsRow, number: int) -> Row:
    """Return a row of a lens's table: what is placed, and for each end field, distances and gain."""
    name = " + ".join(part.name for part in row.parts) or say("the lens alone")
    cells = [Cell(name, strong=not row.parts, tip=name)]
    for end in (*row.ends, *(None for _ in range(2 - len(row.ends)))):
        if end is None:
            cells += [Cell("–", "steel") for _ in range(6)]
            continue
        wide = _field(end.width_mm)
        tip = say(
            "{name}\n{focal_mm:g} mm: {stops:.1f} stops lost against infinity",
            name=name,
            focal_mm=end.combination.focal_mm,
            stops=end.stops,
        )
        gain = "–"
        if end.gain is not None:
            gain = say("{gain:.2f}×", gain=end.gain) if end.gain < 10.0 else say("{gain:.1f}×", gain=end.gain)
        cells += [
            Cell(wide, strong=True, tip=tip),
            Cell(say("{from_front_mm:.0f length}", from_front_mm=end.from_front_mm), tip=tip),
        ]
        cells += [
            Cell(text, "steel", tip=tip)
            for text in (
                say("{from_sensor_mm:.0f length}", from_sensor_mm=end.from_sensor_mm), gain,
                "∞" if end.far_width_mm is None else _field(end.far_width_mm),
                "∞" if end.far_from_front_mm is None else say("{far:.0f length}", far=end.far_from_front_mm),
            )
        ]  # fmt: skip
    return Row(tuple(cells), Nth(number))


def _field(width_mm: float) -> str:
    """Return the width of a field: tenths of a millimetre where it is small."""
    return (
        say("{width_mm:.1f length}", width_mm=width_mm)
        if width_mm < 100.0
        else say("{width_mm:.0f length}", width_mm=width_mm)
    )


# From so many answers on, why the others do not do it is shown when it is asked for.
PLENTY = 6


def asked_words(asked: Asked) -> tuple[str, str]:
    """Return what came of a wish, and why the others do not do it where there is plenty to choose from."""
    scale, reasons = scale_name(asked.magnification), asked_reasons(asked)
    if not asked.answers:
        told = say("No combination reaches {scale}; these come closest.", scale=scale)
        return f"{told} {reasons}", ""
    told = say("{scale}: {done} of {tried} do.", scale=scale, done=asked.done, tried=asked.tried)
    return (told, reasons) if len(asked.answers) >= PLENTY else (f"{told} {reasons}".strip(), "")


def asked_reasons(asked: Asked) -> str:
    """Return why combinations do not do what was asked, in a sentence; "" where all do."""
    return sentence("; ".join(f"{number} {words}" for words, number in asked.reasons)) if asked.reasons else ""


def stack_rows(close: CloseUp, plan: FocusStack, overlap: float, interval_s: float) -> list[Row]:
    """Return the rows of a focus stack's plan."""
    depth, circle = close.depth, close.circle_mm
    assert depth is not None
    time_s = plan.time_s(interval_s)
    minutes = say("{time_s:.1f} min", time_s=time_s / 60.0) if time_s >= 120.0 else say("{time_s:.0f} s", time_s=time_s)
    told = (
        (
            say("Depth of field, each frame"),
            say("{mm_to_micrometres:.0f} µm", mm_to_micrometres=mm_to_micrometres(depth.whole_mm)),
            say("sharp to {circle}", circle=circle[2]),
        ),
        (
            say("Step"),
            say("{mm_to_micrometres:.0f} µm", mm_to_micrometres=mm_to_micrometres(plan.step_mm)),
            say("{overlap:.0f} % overlap", overlap=100.0 * overlap),
        ),
        (say("Frames"), f"{plan.frames}", say("{travel_mm:.2f mm} of travel", travel_mm=plan.travel_mm)),
        (say("Time"), minutes, say("{interval_s:g} s a frame", interval_s=interval_s)),
    )
    return [
        Row(
            (Cell(name, strong=name == "Frames"), Cell(value, strong=name == "Frames"), Cell(how, "steel")),
            TermKey(name),
        )
        for name, value, how in told
    ]
