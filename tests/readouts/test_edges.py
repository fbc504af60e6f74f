"""The edges of ranges and the senses that a slip in a sign or a comparison would turn: each against a sum by hand."""

import math

import numpy as np
import pytest

from farrail.errors import BadInput
from farrail.optics.focus_stack import focus_stack
from farrail.optics.passband import edge_shift_nm
from farrail.optics.shapes import Projected, light_fraction
from farrail.parts.connections import Gender, thread
from farrail.parts.kinds.telescopes import Telescope
from farrail.parts.kinds.tubes import Spacer
from farrail.parts.provenance import assumed, measured, published
from farrail.readouts.limits import CLEAN_STOPS
from farrail.train.train import MountedPart, Side
from tests.readouts.front.test_front import holder, ids, lens, ring, sheet, stack
from tests.train.gear import ENDS, laid, reducer, spacer


@pytest.mark.parametrize("depth", [0.0, -1.0, math.inf, math.nan])
def test_a_stack_of_frames_needs_a_depth_of_field(depth: float) -> None:
    with pytest.raises(BadInput, match="depth of field"):
        focus_stack(10.0, depth, 0.2)
    with pytest.raises(BadInput, match="needs no stack"):
        focus_stack(depth, 1.0, 0.2)
    with pytest.raises(BadInput, match="overlap"):
        focus_stack(10.0, 1.0, 0.901)
    assert focus_stack(10.0, 1.0, 0.9).frames == 91  # 9 mm further in steps of a tenth, and the first


def test_an_effective_index_reaches_from_one_to_five() -> None:
    assert edge_shift_nm(656.3, 5.0, 4.0) > 0.0
    for index in (0.99, 5.01, math.nan):
        with pytest.raises(BadInput):
            edge_shift_nm(656.3, index, 4.0)


def test_a_single_straight_edge_is_exact() -> None:
    """A rectangle of which one edge cuts leaves the disc less one circular segment, to the last digit."""
    edge = 0.3
    segment = math.acos(edge) - edge * math.sqrt(1.0 - edge * edge)
    for x, y, wide, high in ((-1.7, 0.0, 2.0, 3.0), (1.7, 0.0, 2.0, 3.0), (0.0, -2.7, 4.0, 3.0), (0.0, 2.7, 4.0, 3.0)):
        shapes = Projected(
            np.array([[x]]), np.array([[y]]), np.array([[wide]]), np.array([[high]]), np.zeros(1),
            np.zeros(1, dtype=bool), np.full(1, np.nan),
        )  # fmt: skip
        assert float(light_fraction(shapes)[0]) == pytest.approx(1.0 - segment / math.pi, abs=1e-12)
    # Both edges of a slit: the disc less two segments, as nearly as chords come.
    slit = Projected(
        np.array([[0.1]]), np.zeros((1, 1)), np.array([[0.4]]), np.array([[3.0]]), np.zeros(1),
        np.zeros(1, dtype=bool), np.full(1, np.nan),
    )  # fmt: skip
    gone = sum(math.acos(e) - e * math.sqrt(1.0 - e * e) for e in (0.5, 0.3))
    assert float(light_fraction(slit)[0]) == pytest.approx(1.0 - gone / math.pi, abs=1e-3)


def test_a_gap_ahead_of_a_corrector_moves_the_telescope_away() -> None:
    """A thread of 6 mm in a bore of 4 mm bottoms: 2 mm of gap, in front of the corrector too."""
    deep = thread(54, 0.75, Gender.EXTERNAL).model_copy(update={"engagement_mm": 6.0})
    shallow = thread(54, 0.75, Gender.INTERNAL).model_copy(update={"engagement_mm": 4.0})
    ahead = Spacer(id="a", name="a", path_length_mm=measured(10.0), **(ENDS | {"rear": deep}))
    optics = reducer(front=shallow)
    optics = optics.model_copy(update={"lens_focal_mm": None})
    found = laid(MountedPart(part="a"), MountedPart(part="reducer"), parts=(ahead, optics))
    layout = found.layout
    assert [gap.length.value for gap in layout.gaps] == [2.0]
    # 10 of spacer, 2 of gap, 40 of corrector, whose rear shoulder is the datum.
    assert layout.optic_rear_mm == pytest.approx(-52.0)
    assert layout.rear[0].z_front_mm == pytest.approx(-52.0)
    assert layout.rear[1].z_front_mm == pytest.approx(-40.0)
    assert layout.flange_mm == pytest.approx(0.0)


def test_a_drawtube_stands_before_the_first_part_of_the_rear_train() -> None:
    scope = {"drawtube_length_mm": measured(80.0), "drawtube_clear_mm": measured(40.0)}
    found = laid(MountedPart(part="a"), parts=(spacer("a", 30.0),), scope=scope)
    tube = [a for a in found.layout.apertures if isinstance(a.part, Telescope)]
    assert [(a.z_mm, a.place.side, a.place.index) for a in tube] == [(-80.0, Side.REAR, -1), (0.0, Side.REAR, -1)]


@pytest.mark.parametrize(("length", "decides"), [(10.0, False), (10.9, True), (9.1, True), (9.5, False)])
def test_an_assumed_length_decides_where_its_doubt_reaches_a_limit(length: float, decides: bool) -> None:
    """±1 is tolerated; the uncertainty of an assumed length is what its tolerance says, ±0.3."""
    guess = Spacer(id="a", name="a", path_length_mm=assumed(length, 0.3), **ENDS)
    optics = reducer().model_copy(update={"lens_focal_mm": None, "back_focus_mm": published(30.0)})
    found = laid(MountedPart(part="reducer"), MountedPart(part="a"), parts=(optics, guess))
    assert found.spacing.error_mm == pytest.approx(length - 10.0)
    assert ("spacing.assumed_decides" in ids(found)) == decides


@pytest.mark.parametrize(("thick", "told"), [(2.0, False), (2.1, False), (2.15, False), (2.5, True), (4.0, True)])
def test_a_sheet_is_too_thick_from_a_little_play_on(thick: float, told: bool) -> None:
    parts = (ring("r", 8.0), holder("h", 20.0, 7.0, 8.0), sheet("s", thick=thick))
    found = stack("r", MountedPart(part="h", filters=("s",)), parts=parts, on=lens(), focal=30.0)
    assert ("front.thick_sheet" in ids(found)) == told


@pytest.mark.parametrize(("right", "up"), [(0.0, 0.0), (3.0, 0.0), (-3.0, 0.0), (0.0, 2.5), (1.5, -2.0)])
def test_the_clean_frame_is_what_trying_every_size_finds(right: float, up: float) -> None:
    """About the sensor's own middle, wherever that is, with rings that darken one corner or side most."""
    rings = (spacer("a", 40.0, 30.0),)
    found = laid(MountedPart(part="a"), parts=rings, sensor_right_mm=measured(right), sensor_up_mm=measured(up))
    clean = found.light.clean_mm
    assert clean is not None
    least = 2.0**-CLEAN_STOPS

    def light(share: float) -> float:
        along = np.linspace(-1.0, 1.0, 81)
        edge = [(x, s) for x in along for s in (-1.0, 1.0)] + [(s, y) for y in along for s in (-1.0, 1.0)]
        points = np.array([(right + share * 18.0 * x, up + share * 12.0 * y) for x, y in edge])
        return float(found.light.light_at(points).min())

    shares = np.linspace(0.02, 1.0, 393)
    best = max(share for share in shares if light(float(share)) >= least)
    assert clean[0] / 36.0 == pytest.approx(best, abs=0.006)
    assert clean[1] / 24.0 == pytest.approx(best, abs=0.006)
