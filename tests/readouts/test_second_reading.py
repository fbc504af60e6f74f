"""What the first model left out: tilted cones in narrow filters, fisheyes' sheets, stacks of close-up lenses, cells."""

import math
from typing import Any

import numpy as np
import pytest

from farrail.exchange.csv_shelf import preview_csv
from farrail.optics.passband import line_transmission_at
from farrail.optics.projection import Projection
from farrail.parts.glass import Plate
from farrail.parts.kinds.filters import RoundFilter, SheetFilter
from farrail.parts.kinds.seats import FilterWheel
from farrail.parts.origin import Origin
from farrail.parts.provenance import measured, published
from farrail.readouts.close_up.conjugate import ObjectConjugate
from farrail.readouts.field.coverage import field_deg
from farrail.readouts.front.sheets import sheet_need, shown_at_mm
from farrail.readouts.light.sharpness import passbands_of
from farrail.train.train import MountedPart
from tests.readouts.front.test_front import holder, ids, lens, ring, sheet, stack
from tests.train.gear import ENDS, bare_filter, drawer, laid, reducer, spacer

# models.md 10: 656.3 nm, 3 nm flat-top, effective index 2; N, L, h: share passed and mean shift, middle and corner.
TILTED = [
    (4.0, 200.0, 14.1, 1.000, 0.635, 0.720, 1.029), (4.0, 120.0, 14.1, 1.000, 0.635, 0.488, 1.721),
    (2.8, 70.0, 14.1, 0.583, 1.283, 0.188, 4.316), (3.6, 150.0, 21.6, 0.964, 0.782, 0.359, 2.393),
    (5.6, 200.0, 21.6, 1.000, 0.325, 0.628, 1.258),
]  # fmt: skip


@pytest.mark.parametrize(("n", "far", "h", "middle", "middle_nm", "corner", "corner_nm"), TILTED)
def test_a_narrow_filter_in_a_tilted_cone(
    n: float, far: float, h: float, middle: float, middle_nm: float, corner: float, corner_nm: float
) -> None:
    """Against the shared worked values, and against rays drawn at random."""
    found = line_transmission_at(656.3, 656.3, 3.0, 2.0, n, h / far)
    # The top is flat: where its edge cuts the cone, the grid of rays decides to about a hundredth.
    assert found[0] == pytest.approx(corner, abs=0.012)
    assert found[1] == pytest.approx(corner_nm, abs=0.01)
    straight = line_transmission_at(656.3, 656.3, 3.0, 2.0, n, 0.0)
    assert straight[0] == pytest.approx(middle, abs=0.012)
    assert straight[1] == pytest.approx(middle_nm, abs=0.005)
    dice = np.random.default_rng(4)
    radius, turn = np.sqrt(dice.random(200_000)) / (2 * n), dice.random(200_000) * 2 * np.pi
    slope = np.hypot(radius * np.cos(turn) - h / far, radius * np.sin(turn))
    shift = 656.3 * (1.0 - np.sqrt(1.0 - (np.sin(np.arctan(slope)) / 2.0) ** 2))
    assert found[0] == pytest.approx(float(np.mean(shift <= 1.5)), abs=0.012)


def test_every_narrow_filter_of_a_set_is_judged_where_it_stands() -> None:
    narrow: dict[str, Any] = {
        "line_nm": published(656.3),
        "passband_nm": published(3.0),
        "effective_index": published(2.0),
    }
    parts = (bare_filter("clear"), bare_filter("line", **narrow))
    set_ = drawer()
    behind = laid(MountedPart(part="drawer", filters=("clear", "line"), in_beam=0), parts=(set_, *parts))
    (band,) = passbands_of(behind.layout)
    assert (band.part, band.in_beam) == ("line", False)
    assert band.f_number == pytest.approx(4.0)
    assert band.corner == pytest.approx(
        line_transmission_at(656.3, 656.3, 3.0, 2.0, 4.0, math.hypot(18, 12) / 600.0)[0], abs=1e-9
    )
    # Ahead of a reducer of 0.79 the cone is the telescope's own, f/4, while the sensor sees f/3.2.
    ahead = laid(MountedPart(part="drawer", filters=("line",)), MountedPart(part="reducer"), MountedPart(part="a"),
                 parts=(set_, *parts, reducer(), spacer("a", 10.0)))  # fmt: skip
    assert ahead.layout.first_order.f_number.value < 3.5
    assert passbands_of(ahead.layout)[0].f_number == pytest.approx(4.0)


LAWS: dict[Projection, Any] = {
    "equisolid": lambda r: 2.0 * math.asin(r / 2.0), "equidistant": lambda r: r,
    "stereographic": lambda r: 2.0 * math.atan(r / 2.0), "rectilinear": math.atan,
}  # fmt: skip


@pytest.mark.parametrize("projection", list(LAWS))
def test_a_sheet_is_as_large_as_the_lens_s_own_directions_ask(projection: Projection) -> None:
    """The middles of the sides by the projection's law, 26 mm ahead of the pupil of a 15 mm lens at f/8."""
    front = stack("r", parts=(ring("r", 8.0, 300.0),), on=lens(15.0, None, projection=projection)).front
    need = sheet_need(front, 26.0)
    law, cone = LAWS[projection], 15.0 / 8.0
    corner = law(math.hypot(18.0, 12.0) / 15.0)
    assert need.corners == (corner < math.radians(89.0))
    sides = [2.0 * 26.0 * math.tan(law(half / 15.0)) + cone for half in (18.0, 12.0)]
    if not need.corners:
        assert need.sizes_mm[:2] == pytest.approx(sides)
        return
    # With the corners served they ask for most: their direction's parts across and down.
    out = 26.0 * math.tan(corner)
    across = [2.0 * out * part / math.hypot(18.0, 12.0) + cone for part in (18.0, 12.0)]
    assert need.sizes_mm[:2] == pytest.approx(across)
    # A line 5 mm up a sheet 26 mm ahead is seen where its direction is shown.
    height = shown_at_mm(front, 5.0, 26.0)
    assert law(height / 15.0) == pytest.approx(math.atan(5.0 / 26.0))


def test_no_sheet_serves_the_corners_of_such_a_fisheye_and_its_field_is_its_own() -> None:
    on = lens(15.0, None, projection="equisolid")
    parts = (ring("r", 8.0, 300.0), holder("h", 20.0, 7.0, 8.0), sheet("s", density=published(1.0)))
    found = stack("r", MountedPart(part="h", filters=("s",)), parts=parts, on=on)
    told = [f for f in found.findings if f.kind == "front.sheet_edge"]
    assert told
    assert told[0].title.startswith("No filter can cover the corners")
    camera = found.layout.camera
    assert camera is not None
    # 4·asin(d/4f) along the diagonal of 43.27 mm, not 2·atan(d/2f).
    assert field_deg(found.layout, camera)[2] == pytest.approx(math.degrees(4 * math.asin(43.267 / 60.0)), abs=0.05)


def test_a_ray_through_three_close_up_lenses() -> None:
    """Drawn outward lens by lens, from two places of the pupil, toward a subject 300 mm ahead of the foremost."""
    planes = ((30.0, 0.004), (41.0, 0.010), (52.0, 0.002))  # mm ahead of the pupil, 1/mm
    # The subject's image as the pupil sees it, by thin lenses from the outside in.
    image = 300.0
    for number, (plane, power) in enumerate(reversed(planes)):
        image = 1.0 / (1.0 / image - power)
        inner = planes[len(planes) - number - 2][0] if number < 2 else 0.0
        image += plane - inner
    near = ObjectConjugate(seen_mm=image, lenses=planes)

    def drawn(p: float, t: float, x: float) -> float:
        y, slope, at = p, t - p / image, 0.0
        for plane, power in planes:
            if x <= plane:
                break
            y, at = y + slope * (plane - at), plane
            slope -= power * y
        return y + slope * (x - at)

    # All rays of one field point meet at the subject.
    meets = [drawn(p, 0.3, 352.0) for p in (-3.0, 0.0, 4.0)]
    assert max(meets) - min(meets) < 1e-9
    ahead = np.array([10.0, 30.0, 35.0, 45.0, 60.0, 150.0])
    lever, larger = near.place(ahead)
    for x, s, big in zip(ahead, lever, larger, strict=True):
        # An aperture's edge at c is met by the pupil height p = big·c − lever·t.
        for c, t in ((20.0, 0.3), (-11.0, 0.1)):
            assert drawn(float(big * c - s * t), t, float(x)) == pytest.approx(c, abs=1e-9)


def test_a_polariser_takes_one_to_two_stops_until_measured() -> None:
    loss = bare_filter(polariser=True).light_loss()
    assert (loss.stops, loss.ends, loss.origin) == (1.5, (1.0, 2.0), Origin.ASSUMED)
    known = bare_filter(polariser=True, polariser_stops=measured(1.3)).light_loss()
    assert (known.stops, known.ends, known.origin) == (1.3, None, Origin.MEASURED)
    # Grey and polarising at once: 3 stops of density 0.9 and the polariser, each once.
    both = bare_filter(polariser=True, density=published(0.9)).light_loss()
    assert both.stops == pytest.approx(0.9 / math.log10(2) + 1.5)
    assert both.ends == pytest.approx((0.9 / math.log10(2) + 1.0, 0.9 / math.log10(2) + 2.0))
    found = laid(
        MountedPart(part="filter"), MountedPart(part="a"), parts=(bare_filter(polariser=True), spacer("a", 10.0))
    )
    total = found.figures["exposure.total_stops"]
    assert (total.low, total.high) == (1.0, 2.0)
    grad = SheetFilter(
        id="s", name="s", outer_diameter_mm=100, width_mm=published(100), height_mm=published(150), polariser=True,
        density=published(0.9), gradation="soft", glass=Plate(thickness_mm=published(2), index=published(1.5)),
    )  # fmt: skip
    assert grad.light_loss().ends == (1.0, 2.0)


def test_what_is_drawn_is_no_clear_aperture_and_no_cell() -> None:
    """A plain disc of 36 mm, imported without an outer diameter: 36 wide, with a clear aperture of 34, any drawn as."""
    table = (
        "kind,name,front,rear,path_length_mm,glass.thickness_mm,glass.index\n"
        "round_filter,Disc,plain 36,plain 36,2,2,1.5\n"
    )
    (row,) = preview_csv(table, {}).rows
    part = row.part
    assert isinstance(part, RoundFilter)
    assert part.outer_diameter_mm == 36.0
    for drawn in (36.0, 41.0, 60.0):
        disc = part.model_copy(update={"outer_diameter_mm": drawn})
        assert disc.clear_width().value == 34.0
        assert disc.cell_mm == 36.0
    wheel = FilterWheel(
        id="w", name="w", slots=2, path_length_mm=measured(20), seat_mm=measured(8), seat_diameter_mm=published(36.3),
        **ENDS,
    )  # fmt: skip
    wide = part.model_copy(update={"outer_diameter_mm": 41.0})
    found = laid(MountedPart(part="w", filters=(part.id,)), parts=(wheel, wide))
    assert not any("cell" in one for one in ids(found))


def test_the_narrowest_of_mask_and_filter_speaks() -> None:
    """A filter of 50 mm behind a mask that leaves too little is not "ample"."""
    masked = drawer(seat_aperture_mm=measured(36.0))
    found = laid(MountedPart(part="drawer", filters=("filter",)), MountedPart(part="a"),
                 parts=(masked, bare_filter(), spacer("a", 20.0)), sensor_width_mm=published(23.5),
                 sensor_height_mm=published(15.7))  # fmt: skip
    mask = next(c for c in found.light.clearances if c.placed.role.value == "filter_seat")
    glass = next(c for c in found.light.clearances if c.placed.part.id == "filter")
    assert mask.margin_mm < 0.0 < glass.margin_mm
    kinds = [f.kind for f in found.findings]
    assert "light.filter_ample" not in kinds
    told = next(f for f in found.findings if f.kind == "light.filter_masked")
    assert f"{-mask.margin_mm:.1f} mm too narrow" in told.title
    assert "a larger filter alone does not help" in told.reason


@pytest.mark.parametrize(("obstruction", "costs"), [(120.0, False), (90.0, False), (60.0, True)])
def test_a_train_in_the_shadow_of_what_is_there_costs_nothing(obstruction: float, costs: bool) -> None:
    """The camera of 90 mm is the widest part of the train ahead of the mirror of 150 mm."""
    scope = {"prime_focus": True, "obstruction_mm": measured(obstruction)}
    found = laid(MountedPart(part="a"), parts=(spacer("a", 10.0),), scope=scope)
    told = next(f for f in found.findings if f.kind == "light.train_shadow")
    assert told.title.startswith("The train blocks" if costs else "The train is within the shadow")
    assert found.layout.first_order.obstruction == pytest.approx(max(obstruction, 90.0) / 150.0)
