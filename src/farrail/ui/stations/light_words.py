"""What the Light station says: sentences and rows."""

from collections.abc import Mapping

from farrail.language import local_number, say
from farrail.parts.in_beam import ApertureRole
from farrail.parts.registry import Part
from farrail.planning.cameras import CameraVerdict
from farrail.planning.filter_sizes import smallest_filter
from farrail.planning.flipping import BothWays, Way
from farrail.readouts.figure import Figure
from farrail.readouts.light.findings import MARGINAL_MM
from farrail.readouts.light.model import Light
from farrail.readouts.ranges import Spread
from farrail.readouts.read import Readout
from farrail.text.figures import label_of, working_of
from farrail.text.names import whole_name
from farrail.text.range_findings import field_label
from farrail.text.values import headed, unit_word
from farrail.ui.widgets.ledger_rows import Cell, Row
from farrail.ui.widgets.row_keys import FigureKey, PartKey, ShareKey, WayKey
from farrail.ui.widgets.working import figure_text

# What the Field table tells, in this order; ids that begin with one of these.
FIELD_FIGURES = (
    "light.field_of_view", "light.field_diagonal", "light.pixel_scale", "light.focal_length", "light.image_circle",
    "light.inscribed", "light.clean", "light.target", "light.tilt", "light.passband", "light.plate",
    "light.train_shadow",
    "spacing.focuser", "spacing.guide", "light.f_number", "light.exit_pupil",
)  # fmt: skip
DECIMALS = {"″": 2, "°": 3, "%": 1, "mm": 2, "µm": 1, "": 0, "stops": 2}


def sentences(light: Light) -> tuple[str, str]:
    """Return the headline and what stands under it."""
    first, tightest, ri = light.limiting, light.tightest, light.corner_ri or 0.0
    if first is None:
        if tightest is None:
            return say("Vignetting not judged: no clear aperture is known."), say("Give one in Parts: a caliper tells.")
        detail = say(
            "Tightest: {whole_name}, with {margin_mm:.1f mm} to spare.",
            whole_name=whole_name(tightest.placed),
            margin_mm=tightest.margin_mm,
        )
        return say("Nothing on this train darkens the corner."), f"{detail} {_filter_sentence(light)}".strip()
    lost = say("is dark") if ri <= 0.0 else say("keeps {ri:.0f} %", ri=100 * ri)
    verb = say("shadows it most") if first.placed.passes is not None else say("takes most")
    needs = say(
        "It needs {needed_mm:.1f mm} clear and has {has_mm:.1f mm}.", needed_mm=first.needed_mm, has_mm=first.has_mm
    )
    if first.placed.passes is not None:
        needs = say(
            "Its edge stands at {has_mm:.1f mm} and the light reaches {needed_mm:.1f mm}.",
            has_mm=first.has_mm / 2,
            needed_mm=first.needed_mm / 2,
        )
    return say(
        "{name} {verb}: the corner {lost}.", name=first.placed.part.name, verb=verb, lost=lost
    ), f"{needs} {_filter_sentence(light)}".strip()


def with_range(
    said: tuple[str, str], light: Light, spread: Spread | None, shelf: Mapping[str, Part]
) -> tuple[str, str]:
    """Return headline and what stands under it as far as is known: good is only what is so over the whole range."""
    ri = light.corner_ri
    if spread is None or ri is None or spread.high - spread.low < 0.005:
        return said
    low, high = max(spread.low, 0.0), min(spread.high, 1.0)
    keeps = say("dark") if high <= 0.0 else say("{low:.0f} to {high:.0f} %", low=100 * low, high=100 * high)
    on = spread.spans_on
    rests = (
        ""
        if on is None
        else say(
            " Most rests on {name}: {field_label}.",
            name=shelf[on.part].name,
            field_label=field_label(type(shelf[on.part]), on.path),
        )
    )
    if light.limiting is None:
        return say(
            "The corner may keep only {low:.0f} %, as far as is known.", low=100 * low
        ), f"{keeps}.{rests} {said[1]}"
    return say(
        "{said} ({keeps} as far as is known).", said=said[0].rstrip("."), keeps=keeps
    ), f"{rests} {said[1]}".strip()


def _filter_sentence(light: Light) -> str:
    filters = [c for c in light.clearances if c.placed.role is ApertureRole.IN_BEAM]
    return smallest_filter(max(filters, key=lambda c: c.needed_mm)) if filters else ""


def clearance_row(light: Light, number: int) -> Row:
    """Return an aperture's row."""
    c = light.clearances[number - 1]
    role = "stop" if c.clips else "look" if c.margin_mm < MARGINAL_MM else ""
    alone = (
        "–" if not c.clips else say("dark") if c.alone >= 1.0 else say("{alone_stops:.2f}", alone_stops=c.alone_stops)
    )
    last = "–" if not c.clips else say("{last:.0f} %", last=100 * light.last[number - 1])
    place = say("at the worse end of its unknown place") if c.placed.place_unknown else ""
    cells = (
        Cell(
            whole_name(c.placed),
            strong=c is light.limiting,
            tip=say("{distance_mm:.1f mm} before the sensor", distance_mm=c.distance_mm),
        ),
        Cell(say("{needed_mm:.1f length}", needed_mm=c.needed_mm), tip=place),
        Cell(
            say("{has_mm:.1f length}", has_mm=c.has_mm),
            origin=c.placed.diameter.origin,
            tip=c.placed.diameter.in_use.note,
        ),
        Cell(say("{margin_mm:+.1f length}", margin_mm=c.margin_mm).replace("-", "−"), role, strong=c.clips),
        Cell(alone, role if c.clips else "steel", tip=say("stops lost in the darkest corner to this aperture alone")),
        Cell(last, "steel", tip=say("of the pupil, lost to it after all others")),
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
            tip=say("{takes_most} takes most", takes_most=c.takes_most) if c.takes_most else say("nothing clips"),
        ),
        Cell(say("{margin_mm:+.1f length}", margin_mm=c.margin_mm).replace("-", "−"), "steel"),
        Cell(
            "–" if c.covered is None else say("{covered:.0f} %", covered=100 * c.covered),
            "" if c.covered == 1.0 else "steel",
        ),
        Cell(
            error,
            "steel",
            tip=say("spacing with this camera, the rest as it lies") if c.mates else say("does not mate here"),
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

    def stops(way: Way) -> str:
        return (
            say("dark")
            if way.corner_stops == float("inf")
            else say("{corner_stops:.2f}", corner_stops=way.corner_stops)
        )

    heading = (
        Cell(both.part.name, strong=True),
        Cell(say("as it lies"), "steel"),
        Cell(say("turned round"), "steel"),
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


def field_rows(readout: Readout) -> list[Row]:
    """Return the rows of what the frame covers and what the cone does."""
    figures = readout.spacing_figures | readout.light_figures | readout.field_figures
    found = []
    for start in FIELD_FIGURES:
        found += [_figure_row(f) for key, f in figures.items() if key.startswith(start)]
    return found


def _figure_row(figure: Figure) -> Row:
    decimals = 1 if figure.id == "light.f_number" else DECIMALS.get(figure.unit, 2)
    text = figure_text(figure, decimals)
    label = headed(label_of(figure))
    cells = (Cell(label, tip=label), Cell(text, origin=figure.provenance, strong=True, tip=working_of(figure).numbers))
    return Row(cells, FigureKey(figure.id))
