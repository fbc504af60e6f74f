"""The reach picture's bands and gaps, and the rays the rail draws for a close subject."""

import numpy as np
import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.closer import CloseUpLens
from farrail.parts.registry import Part
from farrail.planning.ask import answer_at, laid
from farrail.planning.combinations import combinations_of
from farrail.planning.reach import DRIVES, FARTHEST_MM, STEPS, Reach, reach_of
from farrail.readouts.close_up.rays import close_rays
from farrail.readouts.read import read

WORKBOOK = demo_workbook()
SHELF = WORKBOOK.by_id


def camera() -> Camera:
    found = SHELF["skua-full"]
    assert isinstance(found, Camera)
    return found


def reach(*keys: str) -> Reach:
    shelf: dict[str, Part] = {key: SHELF[key] for key in (*keys, "skua-full")}
    return reach_of(combinations_of(shelf, camera(), 8.0))


def test_bands_are_what_each_combination_does_when_laid() -> None:
    found = reach("brae-50", "kittiwake-90", "tube-13", "close-up-4", "achromat-5")
    # 50 mm: tube or none, one close-up lens or none; 90 mm: tube or none, the achromat or none.
    assert len(found.combinations) == 8
    assert found.magnification.shape == (8, STEPS)
    for number, combination in enumerate(found.combinations):
        for step in (0, STEPS // 2, STEPS - 1):
            size = found.magnification[number, step]
            if np.isnan(size):
                assert step == 0  # the far end at infinity, or beyond what is drawn
                continue
            answer = answer_at(combination, float(DRIVES[step]))
            close = read(laid(answer, WORKBOOK.train("lichen")), SHELF).close_up
            assert close.now.magnification == pytest.approx(size, rel=1e-4)
            assert close.now.distance_mm == pytest.approx(found.distance_mm[number, step], rel=1e-4)
            assert close.stops_lost == pytest.approx(found.stops[number, step], abs=1e-3)
    assert np.nanmax(found.distance_mm) <= FARTHEST_MM


def test_gaps_lie_between_what_is_reached_and_nowhere_else() -> None:
    """A lens that focuses to 1:7 and a tube of its whole focal length leave a hole between."""
    lens = SHELF["brae-50"].model_copy(update={"id": "far", "nearest_magnification": None, "nearest_mm": None})
    tube = SHELF["tube-35"].model_copy(update={"id": "t"})
    shelf: dict[str, Part] = {"far": lens, "t": tube, "skua-full": camera()}
    found = reach_of(combinations_of(shelf, camera(), 8.0))
    assert len(found.gaps) == 1
    low, high = found.gaps[0]
    assert low == pytest.approx(0.12)
    assert high == pytest.approx(35.0 / 50.0)
    covered = [(np.nanmin(row), np.nanmax(row)) for row in found.magnification]
    for size in np.geomspace(low * 1.02, high * 0.98, 25):
        assert not any(a <= size <= b for a, b in covered)
    assert reach("brae-50", "tube-13", "close-up-1", "close-up-2", "close-up-4").gaps == ()


def test_an_empty_shelf_reaches_nothing() -> None:
    nothing = reach_of(())
    assert nothing.magnification.shape == (0, STEPS)
    assert nothing.gaps == ()


def test_drawn_rays_bend_as_the_close_up_lens_bends_them() -> None:
    """At a thin lens a ray turns by −h·D (definition of the dioptre)."""
    train = WORKBOOK.train("barnacles")
    close = read(train, SHELF).close_up
    rays = close_rays(close)
    lens = SHELF["achromat-5"]
    assert rays is not None
    assert isinstance(lens, CloseUpLens)
    assert rays.shown
    assert rays.glass_mm - rays.subject_mm == pytest.approx(close.now.distance_mm)
    assert rays.half_mm == pytest.approx(np.hypot(36.0, 24.0) / 2.0 / close.now.magnification)
    for ray in (*rays.axis, *rays.corner):
        (z0, h0), (z1, h1), (z2, h2) = ray
        before, after = (h1 - h0) / (z1 - z0), (h2 - h1) / (z2 - z1)
        assert after - before == pytest.approx(-h1 * lens.dioptres.value / 1000.0, abs=1e-9)
    far = WORKBOOK.train("sea-stacks")
    assert close_rays(read(far, SHELF).close_up) is None
