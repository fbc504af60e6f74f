"""Plates and focus against handbook values, a glass catalogue and a general ray tracer."""

import json
import math
from pathlib import Path

import numpy as np
import pytest

from farrail.errors import BadInput
from farrail.optics.focus import depth_of_focus_mm, farthest_focus_mm
from farrail.optics.plates import marginal_shift_mm, paraxial_shift_mm, reduced_thickness_mm
from farrail.optics.tolerances import root_sum_square_mm, worst_case_mm

REFERENCE = json.loads((Path(__file__).parents[1] / "reference" / "ray_trace.json").read_text())

# Shift per mm of glass: exact formula evaluated independently (docs/models.md; Smith, Modern Optical Engineering).
PER_MM = {
    1.5168: (0.34072, {2.0: 0.35207, 4.0: 0.34361, 5.6: 0.34220, 10.0: 0.34118}),
    1.45846: (0.31435, {2.0: 0.32542, 4.0: 0.31717, 5.6: 0.31579, 10.0: 0.31480}),
    1.5230: (0.34340, {2.0: 0.35477, 4.0: 0.34630, 5.6: 0.34488, 10.0: 0.34387}),
}


@pytest.mark.parametrize("index", PER_MM)
def test_shift_per_mm_of_glass(index: float) -> None:
    paraxial, edges = PER_MM[index]
    assert paraxial_shift_mm(1.0, index) == pytest.approx(paraxial, abs=6e-6)
    for f_number, edge in edges.items():
        assert marginal_shift_mm(1.0, index, f_number) == pytest.approx(edge, abs=6e-6)
        assert marginal_shift_mm(3.0, index, f_number) == pytest.approx(3.0 * edge, abs=2e-5)


def test_longitudinal_aberration_of_the_plate() -> None:
    # Exact values for 1 mm of BK7-type glass in µm (docs/models.md); third order gives 11.65 at f/2.
    for f_number, micrometres in ((2.0, 11.35), (4.0, 2.893), (5.6, 1.481), (10.0, 0.465)):
        spread = marginal_shift_mm(1.0, 1.5168, f_number) - paraxial_shift_mm(1.0, 1.5168)
        assert 1000.0 * spread == pytest.approx(micrometres, rel=2e-3)


@pytest.mark.parametrize("case", REFERENCE["plates"], ids=lambda c: f"f/{c['f_number']:g}")
def test_edge_ray_against_a_general_ray_tracer(case: dict[str, float]) -> None:
    shift = marginal_shift_mm(case["thickness_mm"], case["index"], case["f_number"])
    assert shift == pytest.approx(case["shift_mm"], abs=1e-6)


def test_catalogue_index_of_crown_glass() -> None:
    # nd of N-BK7 in its maker's catalogue, read by the reference script.
    assert REFERENCE["crown_nd"] == pytest.approx(1.5168, abs=1e-5)
    assert paraxial_shift_mm(2.0, REFERENCE["crown_nd"]) == pytest.approx(0.6814, abs=1e-4)


def test_reduced_thickness_complements_the_shift() -> None:
    assert reduced_thickness_mm(3.0, 1.5168) + paraxial_shift_mm(3.0, 1.5168) == pytest.approx(3.0)


@pytest.mark.parametrize(("f_number", "micrometres"), [(2, 4.4), (4, 17.6), (5.6, 34.5), (10, 110.0)])
def test_depth_of_focus(f_number: float, micrometres: float) -> None:
    assert 1000.0 * depth_of_focus_mm(f_number) == pytest.approx(micrometres, abs=0.05)


def test_a_lens_laid_long_loses_infinity() -> None:
    # Newton's conjugates: 85 mm, 0.1 mm long reaches 72 m, 0.5 mm long 14 m.
    assert farthest_focus_mm(85.0, 0.1) / 1000.0 == pytest.approx(72.25)
    assert farthest_focus_mm(85.0, 0.5) / 1000.0 == pytest.approx(14.45)
    assert math.isinf(farthest_focus_mm(85.0, -0.2))


def test_stack_up_of_uniform_tolerances() -> None:
    tolerances = (0.1, 0.05, 0.02, 0.1)
    assert worst_case_mm(tolerances) == pytest.approx(0.27)
    assert root_sum_square_mm(tolerances) == pytest.approx(2.0 * math.sqrt(sum(t * t for t in tolerances) / 3.0))
    assert root_sum_square_mm((0.1,)) == pytest.approx(0.1)  # never above the worst case


def test_stack_up_against_a_monte_carlo() -> None:
    tolerances = [0.1, 0.1, 0.05, 0.05, 0.02, 0.02, 0.1]
    stacks = np.random.default_rng(7).uniform(np.negative(tolerances), tolerances, (200_000, 7)).sum(axis=1)
    assert np.abs(stacks).max() <= worst_case_mm(tolerances)
    inside = float((np.abs(stacks) <= root_sum_square_mm(tolerances)).mean())
    assert inside == pytest.approx(0.955, abs=0.01)


@pytest.mark.parametrize("call", [
    lambda: paraxial_shift_mm(-1.0, 1.5), lambda: paraxial_shift_mm(math.nan, 1.5), lambda: paraxial_shift_mm(1.0, 0.9),
    lambda: marginal_shift_mm(1.0, 1.5, 0.1), lambda: depth_of_focus_mm(math.inf), lambda: depth_of_focus_mm(4.0, 0.0),
])  # fmt: skip
def test_numbers_that_cannot_be_are_refused_in_words(call: object) -> None:
    with pytest.raises(BadInput, match="cannot be used"):
        call()  # type: ignore[operator]
