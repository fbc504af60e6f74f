"""The guide star's light ahead of an off-axis guider, against rays drawn from the exit pupil to the prism's middle."""

import math
from itertools import product

import numpy as np
import pytest

from farrail.assembly.order import order_for
from farrail.demo.hallan_skerry import demo_workbook
from farrail.parts.kinds.guiders import OffAxisGuider
from farrail.parts.kinds.tubes import Adapter
from farrail.parts.provenance import measured
from farrail.parts.registry import Part
from farrail.readouts.finding import Severity
from farrail.readouts.light.guide import guide_lights
from farrail.readouts.range_findings import range_report
from farrail.readouts.ranges import EVERY
from farrail.readouts.read import Readout, read

BOOK = demo_workbook()
TRAIN = BOOK.train("lantern-wheel")


def narrowed(width_mm: float | None) -> Readout:
    """The demo's train, its ring ahead of the guider so wide."""
    shelf: dict[str, Part] = dict(BOOK.by_id)
    if width_mm is not None:
        ring = shelf["ring-48-48"]
        assert isinstance(ring, Adapter)
        shelf[ring.id] = ring.model_copy(update={"clear_aperture_mm": measured(width_mm)})
    return read(TRAIN, shelf)


@pytest.mark.parametrize("width_mm", [None, 40.0, 34.0, 28.0])
def test_the_loss_is_what_rays_through_the_prisms_middle_lose(width_mm: float | None) -> None:
    """200,000 rays from the obstructed pupil, 520 mm before the sensor, on to where the prism's middle is seen."""
    readout = narrowed(width_mm)
    layout, pupil = readout.layout, readout.light.pupil
    placed = next(one for one in layout.rear if isinstance(one.part, OffAxisGuider))
    part = placed.part
    assert isinstance(part, OffAxisGuider)
    assert part.prism_edge_mm is not None
    assert layout.sensor_mm is not None
    images = readout.light.imaged
    prism_d = next(one.image.distance_mm for one in images if one.image.passes is not None)
    # The prism's middle is 12 + 4 mm from the axis.
    far = part.prism_edge_mm.value + 4.0
    star = far * pupil.exit_distance_mm / (pupil.exit_distance_mm - prism_d)
    dice = np.random.default_rng(3)
    radius = pupil.exit_distance_mm / (2.0 * pupil.f_number)
    r = radius * np.sqrt(pupil.obstruction**2 + (1.0 - pupil.obstruction**2) * dice.random(200_000))
    turn = 2.0 * math.pi * dice.random(200_000)
    x, y = r * np.cos(turn), r * np.sin(turn)
    passes = np.ones(200_000, dtype=bool)
    for one in images:
        if one.image.passes is None and one.image.distance_mm > prism_d:
            share = one.image.distance_mm / pupil.exit_distance_mm
            passes &= np.hypot(star + (x - star) * share, y * share) <= one.image.radius_mm
    (found,) = guide_lights(readout.light)
    assert found.height_mm == pytest.approx(star)
    assert 2.0**-found.stops == pytest.approx(float(passes.mean()), abs=0.006)


def test_a_ring_too_narrow_for_the_guide_star_is_named() -> None:
    def said(width_mm: float | None) -> list[tuple[Severity, str]]:
        return [(f.severity, f.title) for f in narrowed(width_mm).findings if f.kind == "light.guide_clip"]

    assert said(None) == []
    ((severity, title),) = said(28.0)
    assert severity is Severity.LOOK
    assert "Ring 48/48" in title
    assert "guide star" in title


def test_a_prism_that_no_one_measured_gives_an_interval() -> None:
    """Its ends are the losses behind prisms of 6 to 12 mm, each entered as its size, at both ends of the housing."""
    shelf: dict[str, Part] = dict(BOOK.by_id)
    guider = shelf["kittiwake-guider"]
    sizes = ("prism_height_mm", "prism_width_mm", "prism_at_mm")
    shelf[guider.id] = guider.model_copy(update=dict.fromkeys(sizes))
    report = range_report(TRAIN, shelf, EVERY)
    spread = report.spread_of("light.guide.kittiwake-guider_stops")
    assert spread is not None
    losses = []
    for size_mm, at_mm in product((6.0, 8.0, 12.0), (4.0, 8.5, 13.0)):
        entered = dict(zip(sizes, map(measured, (size_mm, size_mm, at_mm)), strict=True))
        (found,) = guide_lights(read(TRAIN, {**shelf, guider.id: guider.model_copy(update=entered)}).light)
        losses.append(found.stops)
    assert spread.low == pytest.approx(min(losses), abs=0.01)
    assert spread.high == pytest.approx(max(losses), abs=0.01)


def test_the_finding_says_the_interval_and_what_to_enter() -> None:
    shelf = {part.id: part for part in narrowed(28.0).layout.parts.values()}
    guider = shelf["kittiwake-guider"]
    shelf[guider.id] = guider.model_copy(update={"prism_height_mm": None})
    report = range_report(TRAIN, shelf, EVERY)
    spread = report.spread_of("light.guide.kittiwake-guider_stops")
    assert spread is not None
    (found,) = (one for one in report.judged(read(TRAIN, shelf).findings) if one.kind == "light.guide_clip")
    assert found.title.endswith(f"darkens the guide star: {spread.low:.2f} to {spread.high:.2f} stops lost.")
    assert "prism, high" in found.reason


def test_a_piece_ordered_ahead_of_a_guider_lets_the_guide_star_pass() -> None:
    """By hand: 2·17.46·(1 − 54.6/520) + 54.6/4 = 44.9 mm and half a millimetre to spare; behind the guider 27.8."""
    readout = narrowed(None)
    ahead = order_for(readout, 1, 4.0)
    behind = order_for(readout, 3, 4.0)
    assert ahead.bore_mm == pytest.approx(45.4, abs=0.3)
    assert behind.bore_mm < 35.0
