"""Close-up formulas against exact ray matrices, made here from refraction and travel alone.

Matrices: Gerrard and Burch, *Introduction to Matrix Methods in Optics* (cited from memory).
"""

import math

import pytest
from tests.reference.rays import conjugate, lens, travel

from farrail.errors import BadInput
from farrail.optics import close_up
from farrail.optics.focus_stack import depth_of_field, focus_stack


def test_extension_against_matrices() -> None:
    m = close_up.extended_magnification(50.0, 25.0)
    distance, by_matrix = conjugate(lens(50.0), travel(75.0))
    assert m == pytest.approx(by_matrix) == pytest.approx(0.5)
    assert close_up.subject_distance_mm(50.0, m) == pytest.approx(distance) == pytest.approx(150.0)
    assert close_up.subject_to_sensor_mm(50.0, m) == pytest.approx(225.0)
    effective = close_up.effective_f_number(4.0, m)
    assert (effective / 4.0) ** 2 == pytest.approx(2.25)
    assert close_up.stops_between(4.0, effective) == pytest.approx(1.1699, abs=5e-5)


def test_the_focus_scale_counts_the_hiatus() -> None:
    assert close_up.subject_to_sensor_mm(100.0, 1.0, 12.0) == pytest.approx(412.0)
    assert close_up.subject_to_sensor_mm(100.0, 0.5, 12.0) == pytest.approx(462.0)
    assert math.isinf(close_up.subject_distance_mm(50.0, 0.0))


def test_a_measured_pair_needs_no_principal_plane() -> None:
    seen = close_up.through_close_up(260.0, [(4.0, 0.0)])
    assert seen.distance_mm == pytest.approx(127.451, abs=5e-4)
    assert 1.0 / seen.gain == pytest.approx(0.490196, abs=5e-7)


@pytest.mark.parametrize(("before", "after"), [((280, 170), (160, 105)), ((140, 260), (70, 130))])
def test_bench_facts_of_a_close_up_lens_of_four_dioptres(before: tuple[int, int], after: tuple[int, int]) -> None:
    """Field width and distance before and after, common practice, no source; read to ± 5 mm."""
    seen = close_up.through_close_up(before[1], [(4.0, 0.0)])
    assert before[0] / seen.gain == pytest.approx(after[0], rel=0.06)
    assert seen.distance_mm == pytest.approx(after[1], rel=0.06)


def test_a_close_up_lens_on_a_lens_at_infinity() -> None:
    seen = close_up.through_close_up(math.inf, [(2.0, 0.0)])
    assert seen.distance_mm == pytest.approx(500.0)
    distance, m = conjugate(lens(500.0), travel(10.0), lens(200.0), travel(200.0))
    assert [distance, m] == pytest.approx([500.0, 0.4])
    assert close_up.magnification_at_infinity(200.0, [(2.0, 0.0)]) == pytest.approx(0.4)


@pytest.mark.parametrize(
    ("focal", "extension", "own", "dioptres", "gap", "d", "m"),
    [(100.0, 0.0, 1.0, 5.0, 15.0, 96.1039, 1.9250), (72.5, 69.0, 1.0, 10.0, 40.0, 41.0539, 3.31103)],
)
def test_a_close_up_lens_on_a_macro_lens(
    focal: float, extension: float, own: float, dioptres: float, gap: float, d: float, m: float
) -> None:
    bare = close_up.extended_magnification(focal, extension, own)
    seen = close_up.through_close_up(close_up.subject_distance_mm(focal, bare) - gap, [(dioptres, 0.0)])
    distance, by_matrix = conjugate(lens(1000.0 / dioptres), travel(gap), lens(focal), travel(focal * (1.0 + bare)))
    assert seen.distance_mm == pytest.approx(distance) == pytest.approx(d, abs=5e-5)
    assert bare * seen.gain == pytest.approx(by_matrix) == pytest.approx(m, abs=5e-6)


def test_one_to_one_and_tubes() -> None:
    m = close_up.extended_magnification(72.5, 69.0, 1.0)
    assert m == pytest.approx(1.95172, abs=5e-6)
    assert close_up.subject_distance_mm(72.5, m) == pytest.approx(109.647, abs=5e-4)
    effective = close_up.effective_f_number(4.0, m)
    assert effective == pytest.approx(11.8069, abs=5e-5)
    assert close_up.stops_between(4.0, effective) == pytest.approx(3.1231, abs=5e-5)
    assert close_up.stops_between(close_up.effective_f_number(4.0, 1.0), effective) == pytest.approx(1.123, abs=5e-4)
    # Common practice, no source: 69 mm of tubes on a 1:1 lens come near 2:1.
    for focal in (70.0, 72.5, 75.0):
        assert 1.9 <= close_up.extended_magnification(focal, 69.0, 1.0) <= 2.0


def test_close_up_lenses_in_a_stack_against_matrices() -> None:
    stack = [(3.0, 0.0), (2.0, 5.0), (1.0, 5.0)]
    seen = close_up.through_close_up(260.0, stack)
    assert seen.distance_mm == pytest.approx(95.043, abs=5e-4)
    assert seen.gain == pytest.approx(2.5219, abs=5e-5)
    assert close_up.stack_dioptres(stack) == pytest.approx(5.9302, abs=5e-5)
    contact = [(3.0, 0.0), (2.0, 0.0), (1.0, 0.0)]
    together = close_up.through_close_up(260.0, contact)
    assert [together.distance_mm, together.gain] == pytest.approx([101.5625, 2.56])
    assert close_up.stack_dioptres(contact) == pytest.approx(6.0)
    # A lens of 100 mm focused 260 mm ahead of the innermost one, 20 mm before its principal plane.
    m = 100.0 / (280.0 - 100.0)
    distance, by_matrix = conjugate(
        lens(1000.0), travel(5.0), lens(500.0), travel(5.0), lens(1000.0 / 3.0), travel(20.0),
        lens(100.0), travel(100.0 * (1.0 + m)),
    )  # fmt: skip
    assert seen.distance_mm == pytest.approx(distance)
    assert m * seen.gain == pytest.approx(by_matrix)


def test_lenses_turned_round() -> None:
    m = close_up.reversed_magnification(28.0, 75.0)
    assert m == pytest.approx(1.67857, abs=5e-6)
    assert close_up.subject_distance_mm(28.0, m) == pytest.approx(44.6809, abs=5e-5)
    assert conjugate(lens(28.0), travel(75.0)) == pytest.approx([44.68085, m])
    assert close_up.coupled_magnification(200.0, 50.0) == pytest.approx(4.0)
    assert conjugate(lens(50.0), travel(37.0), lens(200.0), travel(200.0)) == pytest.approx([50.0, 4.0])


def test_the_pupil_ratio_of_a_retrofocus_lens() -> None:
    """−60, 20 mm to the stop, 10 mm on, +40: p and the f-number traced by matrices."""
    front, rear = lens(-60.0), lens(40.0)
    system = rear @ travel(30.0) @ front
    focal = -1.0 / system[1, 0]
    assert focal == pytest.approx(48.0)
    # The stop seen from the scene and from the sensor: images of a plane behind a lens, and before one.
    entrance = 1.0 / conjugate(front, travel(20.0))[1]
    exit_pupil = 1.0 / conjugate(rear, travel(10.0))[1]
    ratio = exit_pupil / entrance
    assert ratio == pytest.approx(1.77778, abs=5e-6)
    effective = close_up.effective_f_number(32.0, 0.416667, ratio)
    assert effective == pytest.approx(39.5, abs=5e-4)
    turned = close_up.effective_f_number(32.0, 0.416667, ratio, reversed_round=True)
    assert turned / 32.0 == pytest.approx(0.97917, abs=5e-6)


def test_depth_of_field_and_the_frames_of_a_stack() -> None:
    effective = close_up.effective_f_number(4.0, 2.0)
    depth = depth_of_field(effective, 2.0, 0.005, 550.0)
    assert [depth.geometric_mm, depth.diffraction_mm] == pytest.approx([0.03, 0.0792])
    plan = focus_stack(5.0, depth.whole_mm, 0.25)
    assert plan.frames == 61
    assert plan.step_mm == pytest.approx(0.0819)
    assert plan.travel_mm + depth.whole_mm >= 5.0 > plan.travel_mm - plan.step_mm + depth.whole_mm
    assert focus_stack(0.05, depth.whole_mm, 0.25).frames == 1
    assert focus_stack(1.5, 0.5, 0.5).frames == 5


@pytest.mark.parametrize("dioptres", [0.0, -2.0, math.nan, 1000.0])
def test_what_is_no_close_up_lens_is_refused_in_a_sentence(dioptres: float) -> None:
    with pytest.raises(BadInput) as caught:
        close_up.through_close_up(260.0, [(dioptres, 0.0)])
    assert str(caught.value).endswith(".")


def test_what_cannot_focus_is_refused_in_a_sentence() -> None:
    for wrong in (
        lambda: close_up.reversed_magnification(28.0, 28.0),
        lambda: close_up.through_close_up(-5.0, [(4.0, 0.0)]),
        lambda: close_up.through_close_up(100.0, [(4.0, 0.0), (2.0, 90.0)]),
        lambda: close_up.extended_magnification(50.0, -1.0),
        lambda: close_up.effective_f_number(0.1, 1.0),
        lambda: close_up.stack_dioptres([]),
        lambda: depth_of_field(8.0, 0.0, 0.005),
        lambda: focus_stack(1e9, 0.01, 0.5),
        lambda: focus_stack(5.0, 0.1, 1.0),
    ):
        with pytest.raises(BadInput) as caught:
            wrong()
        assert str(caught.value).endswith(".")
