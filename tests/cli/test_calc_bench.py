"""The calculators of the bench, against the check values of the design and a person's sums."""

import pytest
from tests.cli.test_cli import answer
from tests.command_line import far_rail


def values(*words: str) -> dict[str, float]:
    told = answer("calc", *words)["values"]
    assert isinstance(told, dict)
    return {name: one["value"] for name, one in told.items()}


def test_a_reducer_moves_pupil_and_f_number() -> None:
    """f 2032, aperture 203.2, f_r 285, d 105: M .63158, N 6.3158, a 1865.75, L −231.38 (by hand, thin lenses)."""
    told = values("reducer", "--focal", "2032", "--aperture", "203.2", "--corrector", "285", "--distance", "105")
    assert told["magnification"] == pytest.approx(0.63158, abs=1e-5)
    assert told["f_number"] == pytest.approx(6.3158, abs=1e-4)
    assert told["apart_mm"] == pytest.approx(1865.75, abs=0.01)
    assert told["exit_pupil_mm"] == pytest.approx(-231.38, abs=0.01)


def test_a_lens_too_far_from_its_sensor() -> None:
    """85 mm, 0.1 mm too long: 72 m; 0.5 mm: 14 m (common practice, no source)."""
    assert values("far-focus", "--focal", "85", "--long", "0.1")["farthest_mm"] == pytest.approx(72_250.0)
    assert values("far-focus", "--focal", "85", "--long", "0,5mm")["farthest_mm"] == pytest.approx(14_450.0)


def test_an_entrance_pupil_from_what_was_seen() -> None:
    """f 16, f/8, disc 96 at z 22: E 22 begins to show at h 17.091, half at 17.455, dark at 17.818."""
    for seen, height in (("begins", "17.091"), ("half", "17.455"), ("dark", "17.818")):
        told = values(
            "entrance-pupil", "--focal", "16", "--f-number", "8", "--clear", "96", "--ahead", "22", "--height", height,
            "--seen", seen,
        )  # fmt: skip
        assert told["depth_mm"] == pytest.approx(22.0, abs=0.01)


@pytest.mark.parametrize(("clear", "ri"), [("27", 0.94958), ("25", 0.79873), ("31", 1.0)])
def test_an_opening_before_the_sensor(clear: str, ri: float) -> None:
    told = values(
        "opening", "--f-number", "3.9", "--pupil-distance", "780", "--clear", clear, "--distance", "26.5",
        "--height", "11.09",
    )  # fmt: skip
    assert told["illumination"] == pytest.approx(ri, abs=2e-4)


@pytest.mark.parametrize(("angle", "shorter"), [("30", 0.790), ("40", 0.885), ("50", 1.018), ("55", 1.101)])
def test_glass_ahead_of_a_lens(angle: str, shorter: float) -> None:
    assert values("glass-ahead", "--thickness", "2", "--angle", angle)["shorter_mm"] == pytest.approx(shorter, abs=6e-4)


def test_the_sky_through_a_polariser() -> None:
    told = values("sky", "--width", "36", "--focal", "17")
    assert [told[f"{name}_stops"] for name in ("left", "left_quarter", "middle", "right_quarter", "right")] == (
        pytest.approx([1.496, 2.123, 3.322, 2.123, 1.496], abs=1e-3)
    )
    turned = values("sky", "--width", "36", "--focal", "17", "--sun-right", "60")
    assert turned["left_quarter_stops"] == pytest.approx(3.210, abs=1e-3)
    assert turned["right_stops"] == pytest.approx(1.065, abs=1e-3)


def test_a_stack_up_and_its_chance() -> None:
    """Two of ±0.1: worst 0.2; their sum is triangular, so that 1 − ½·(1 − ½)²·2 = 3/4 stays within ±0.1."""
    told = values("stack-up", "--each", "0.1", "--each", "0.1", "--error", "0", "--allowed", "0.1")
    assert told["worst_mm"] == pytest.approx(0.2)
    assert told["likely_mm"] == pytest.approx(2.0 * (2.0 * 0.01 / 3.0) ** 0.5)
    assert told["chance"] == pytest.approx(0.75, abs=2e-3)


def test_dust_from_its_ring() -> None:
    assert values("dust", "--ring", "4", "--f-number", "5")["distance_mm"] == pytest.approx(20.0)


@pytest.mark.parametrize(
    "words",
    [
        ("stack-up", "--each", "-1"), ("dust", "--ring", "0", "--f-number", "4"),
        ("reducer", "--focal", "400", "--aperture", "72", "--corrector", "285", "--distance", "300"),
        ("reducer", "--focal", "400", "--aperture", "72", "--corrector", "0", "--distance", "30"),
        ("far-focus", "--focal", "0", "--long", "1"), ("glass-ahead", "--thickness", "2", "--angle", "95"),
        ("opening", "--f-number", "4", "--clear", "0", "--distance", "1", "--height", "1"),
        ("sky", "--width", "36", "--focal", "17", "--most", "3"),
    ],
)  # fmt: skip
def test_what_cannot_be_is_one_sentence(words: tuple[str, ...]) -> None:
    run = far_rail("calc", *words)
    assert run.returncode == 2
    assert run.stderr.count("\n") == 1
