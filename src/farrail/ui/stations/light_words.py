"""What the Light station says: sentences and rows."""

from collections.abc import Mapping

from farrail.language import local_number, say
from farrail.parts.in_beam import ApertureRole
from farrail.planning.cameras import CameraVerdict
from farrail.planning.filter_sizes import smallest_filter
from farrail.planning.flipping import BothWays, Orientation
from farrail.quantities import between, headed, unit_word
from farrail.readouts.figure import Figure
from farrail.readouts.interval_words import reason_words
from farrail.readouts.light.findings import MARGINAL_MM
from farrail.readouts.light.model import Clearance, Light
from farrail.readouts.names import whole_name
from farrail.readouts.range_findings import NO_RANGES, RangeReport
from farrail.readouts.ranges import Spread
from farrail.ui.widgets.ledger_rows import Cell, Row
from farrail.ui.widgets.row_keys import FigureKey, PartKey, ShareKey, WayKey
from farrail.ui.widgets.working import figure_text

# What the Field table says, in this order; ids that begin with one of these.
FIELD_FIGURES = (
    "light.field_of_view", "light.field_diagonal", "light.pixel_scale", "light.focal_length", "light.image_circle",
    "light.inscribed", "light.clean", "light.target", "light.mosaic", "light.tilt", "light.passband", "light.plate",
    "light.train_shadow",
    "spacing.focuser", "spacing.guide", "light.f_number", "light.exit_pupil",
)  # fmt: skip
DECIMALS = {"″": 2, "°": 3, "%": 1, "mm": 2, "µm": 1, "": 0, "stops": 2}


def sentences(light: Light, ranges: RangeReport = NO_RANGES) -> tuple[str, str]:
    """Return headline and detail, with the intervals of what is not known: good is what is so over all of it."""
    first, tightest = light.limiting, light.tightest
    if tightest is None:
        return say("Vignetting not judged: no clear aperture is known."), say(
            "Enter a clear aperture in Parts; a caliper measures it."
        )
    ri, spread = light.corner_ri or 0.0, ranges.spread_of("light.corner_ri")
    between, reason = _between(spread), reason_words(spread, ranges.shelf)
    size = _filter_sentence(light, ranges)
    if first is None:
        margin = say(
            "Smallest margin: {name}, {margin_mm:.1f mm}.",
            name=whole_name(tightest.placed),
            margin_mm=tightest.margin_mm,
        )
        if between:
            return say("Corner illumination {between}: {reason}.", between=between, reason=reason), _joined(
                margin, size
            )
        return say("No vignetting: the corner gets all the light of the centre."), _joined(margin, size)
    name = first.placed.part.name
    if between:
        head = say(
            "{name} vignettes: corner illumination {ri:.0f} % ({between}: {reason}).",
            name=name,
            ri=100 * ri,
            between=between,
            reason=reason,
        )
    elif ri > 0.0:
        head = say("{name} vignettes: corner illumination {ri:.0f} %.", name=name, ri=100 * ri)
    else:
        head = say("{name} makes the corner black.", name=name)
    return head, _joined(_sizes(light, ranges), size)


def _between(spread: Spread | None) -> str:
    """Return the interval of the corner's illumination; "" where it is known."""
    if spread is None or spread.high - spread.low < 0.005:
        return ""
    return say("{low:.0f} to {high:.0f} %", low=100 * max(spread.low, 0.0), high=100 * min(spread.high, 1.0))


def _sizes(light: Light, ranges: RangeReport) -> str:
    """Return the clear aperture that the limiting part needs, and the one it has."""
    first = light.limiting
    assert first is not None
    if first.placed.passes is not None:
        return say(
            "Its edge is {has_mm:.1f mm} from the axis; the light reaches {needed_mm:.1f mm}.",
            has_mm=first.has_mm / 2,
            needed_mm=first.needed_mm / 2,
        )
    number = light.clearances.index(first) + 1
    needed = ranges.spread_of(f"light.needed.{number}.{first.placed.part.id}_mm")
    if needed is None or needed.high - needed.low < 0.05:
        return say(
            "Clear aperture needed {needed_mm:.1f mm}, actual {has_mm:.1f mm}.",
            needed_mm=first.needed_mm,
            has_mm=first.has_mm,
        )
    return say(
        "Clear aperture needed {low:.1f length} to {high:.1f mm}, actual {has_mm:.1f mm}.",
        low=needed.low,
        high=needed.high,
        has_mm=first.has_mm,
    )


def _joined(*sentences: str) -> str:
    return " ".join(sentence for sentence in sentences if sentence)


def _filter_sentence(light: Light, ranges: RangeReport) -> str:
    filters = [(n, c) for n, c in enumerate(light.clearances, 1) if c.placed.role is ApertureRole.IN_BEAM]
    if not filters:
        return ""
    number, widest = max(filters, key=lambda pair: pair[1].needed_mm)
    return smallest_filter(widest, ranges.spread_of(f"light.needed.{number}.{widest.placed.part.id}_mm"))


def _alone_words(c: Clearance, lost: Spread | None) -> str:
    """Return the light loss by one aperture alone: a number, or an interval."""
    if lost is None or lost.high - lost.low < 0.005:
        return say("dark") if c.alone >= 1.0 else say("{alone_stops:.2f}", alone_stops=c.alone_stops)
    if lost.high == float("inf"):
        return say("{low:.2f} to dark", low=lost.low)
    return say("{low:.2f}–{high:.2f}", low=lost.low, high=lost.high)


def clearance_row(light: Light, number: int, ranges: RangeReport) -> Row:
    """Return an aperture's row, with the intervals of what something unknown moves."""
    c = light.clearances[number - 1]
    key = f"{number}.{c.placed.part.id}"
    needed, lost = ranges.spread_of(f"light.needed.{key}_mm"), ranges.spread_of(f"light.loss.{key}_stops")
    may_clip = needed is not None and needed.high > c.has_mm
    role = "stop" if c.clips else "look" if c.margin_mm < MARGINAL_MM else ""
    if needed is not None and needed.low <= c.has_mm < needed.high:
        role = "look"
    place = say("at the worse end of its unknown place") if c.placed.place_unknown else ""
    if needed is None:
        need = say("{needed_mm:.1f length}", needed_mm=c.needed_mm)
        margin = say("{margin_mm:+.1f length}", margin_mm=c.margin_mm).replace("-", "−")
    else:
        need = say("{low:.1f length}–{high:.1f length}", low=needed.low, high=needed.high)
        margin = between(
            *(say("{mm:+.1f length}", mm=end).replace("-", "−") for end in c.margins_mm(needed.low, needed.high))
        )
        place = say("{needed_mm:.1f mm} typical", needed_mm=c.needed_mm)
    last = "–" if not c.clips else say("{last:.0f} %", last=100 * light.last[number - 1])
    cells = (
        Cell(
            whole_name(c.placed),
            strong=c is light.limiting,
            tip=say("{distance_mm:.1f mm} before the sensor", distance_mm=c.distance_mm),
        ),
        Cell(need, tip=place),
        Cell(
            say("{has_mm:.1f length}", has_mm=c.has_mm),
            origin=c.placed.diameter.origin,
            tip=c.placed.diameter.in_use.note,
        ),
        Cell(margin, role, strong=c.clips),
        Cell(
            _alone_words(c, lost) if c.clips or may_clip or lost is not None else "–",
            role if c.clips or may_clip else "steel",
            tip=say("stops lost in the darkest corner to this aperture alone"),
        ),
        Cell(last, "steel", tip=say("share of the pupil lost to it after all others")),
    )
    return Row(cells, ShareKey(number, c.placed.part.id))


def camera_row(c: CameraVerdict, current: bool) -> Row:
    """Return a camera's row."""
    role = "stop" if c.lost_stops >= 1.0 else "look" if c.lost_stops >= 0.05 else "good"
    lost = (
        say("dark")
        if c.lost_stops == float("inf")
        else local_number("0.00")
        if c.lost_stops < 0.005
        else say("{lost_stops:.2f}", lost_stops=c.lost_stops)
    )
    size = say(
        "{value:g} × {value_2:g} mm", value=c.camera.sensor_width_mm.value, value_2=c.camera.sensor_height_mm.value
    )
    error = "" if c.error_mm is None else say("{error_mm:+.2f length}", error_mm=c.error_mm).replace("-", "−")
    aside = say(", here") if current else "" if c.mates else say(", does not mate")
    cells = (
        Cell(f"{c.camera.name}{aside}", strong=current, tip=size),
        Cell(
            lost,
            role,
            strong=role != "good",
            tip=say("{takes_most} costs most", takes_most=c.takes_most) if c.takes_most else say("no part clips"),
        ),
        Cell(say("{margin_mm:+.1f length}", margin_mm=c.margin_mm).replace("-", "−"), "steel"),
        Cell(
            "–" if c.covered is None else say("{covered:.0f} %", covered=100 * c.covered),
            "" if c.covered == 1.0 else "steel",
        ),
        Cell(
            error,
            "steel",
            tip=say("spacing with this camera, the rest unchanged") if c.mates else say("does not mate here"),
        ),
    )
    return Row(cells, PartKey(c.camera.id))


def way_rows(both: BothWays) -> list[Row]:
    """Return the rows that set a housing's two ways beside each other."""
    now, turned = both.now, both.turned

    def row(name: str, one: str, other: str, better: int = 0) -> Row:
        cells = (
            Cell(name), Cell(one, "good" if better < 0 else "", strong=better < 0),
            Cell(other, "good" if better > 0 else "", strong=better > 0),
        )  # fmt: skip
        return Row(cells, WayKey(both.index))

    def compare(one: float, other: float) -> int:
        return 0 if abs(one - other) < 0.005 else (1 if one < other else -1)

    def stops(way: Orientation) -> str:
        return (
            say("dark")
            if way.corner_stops == float("inf")
            else say("{corner_stops:.2f}", corner_stops=way.corner_stops)
        )

    heading = (
        Cell(both.part.name, strong=True),
        Cell(say("current"), "steel"),
        Cell(say("reversed"), "steel"),
    )
    corner = compare(turned.corner_stops, now.corner_stops)
    return [
        Row(heading, WayKey(both.index), heavy=True),
        row(
            say("Filter needs clear, {unit}", unit=unit_word("mm")),
            say("{needed_mm:.1f length}", needed_mm=now.needed_mm),
            say("{needed_mm:.1f length}", needed_mm=turned.needed_mm),
        ),
        row(
            say("Filter has to spare, {unit}", unit=unit_word("mm")),
            say("{margin_mm:+.1f length}", margin_mm=now.margin_mm).replace("-", "−"),
            say("{margin_mm:+.1f length}", margin_mm=turned.margin_mm).replace("-", "−"),
            compare(now.margin_mm, turned.margin_mm),
        ),
        row(say("Corner loses, stops"), stops(now), stops(turned), corner),
        row(
            say("Filter before the sensor, {unit}", unit=unit_word("mm")),
            say("{from_sensor_mm:.1f length}", from_sensor_mm=now.from_sensor_mm),
            say("{from_sensor_mm:.1f length}", from_sensor_mm=turned.from_sensor_mm),
        ),
        row(say("Ends mate"), say("yes") if now.mates else say("no"), say("yes") if turned.mates else say("no")),
    ]


def field_rows(figures: Mapping[str, Figure]) -> list[Row]:
    """Return the rows of what the frame covers and what the cone does."""
    found = []
    for start in FIELD_FIGURES:
        found += [_figure_row(f) for key, f in figures.items() if key.startswith(start)]
    return found


def _figure_row(figure: Figure) -> Row:
    decimals = 1 if figure.id == "light.f_number" else DECIMALS.get(figure.unit, 2)
    text = figure_text(figure, decimals)
    label = headed(figure.label)
    cells = (Cell(label, tip=label), Cell(text, origin=figure.provenance, strong=True, tip=figure.working.numbers))
    return Row(cells, FigureKey(figure.id))
