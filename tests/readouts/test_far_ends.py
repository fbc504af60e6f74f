"""The far ends of what can be given: a number or a sentence each time, never NaN, never silently another value."""

import math
from typing import Any

import pytest

from farrail.errors import FarRailError
from farrail.parts.provenance import measured, published
from farrail.readouts.not_judged import NotJudged
from farrail.readouts.read import Readout
from farrail.train.train import Conditions, MountedPart
from tests.readouts.front.test_front import disc, holder, lens, ring, sheet, stack
from tests.readouts.light.test_pupils import behind_lens
from tests.train.gear import laid, reducer, spacer


def told(readout: Readout) -> None:
    """Every figure is a number, an infinity that is meant, or nothing; every finding is a sentence."""
    for key, figure in readout.figures.items():
        if isinstance(figure.value, float):
            assert not math.isnan(figure.value), key
        elif isinstance(figure.value, tuple):
            assert not any(math.isnan(one) for one in figure.value), key
    for finding in readout.findings:
        if isinstance(finding.text, NotJudged):
            assert isinstance(finding.text.error, FarRailError), finding.text.error
        assert all(text.endswith((".", "!", "?")) for text in finding.sentences), finding.id


@pytest.mark.parametrize("n", [0.3, 0.95, 2.8, 64.0, 200.0])
@pytest.mark.parametrize("focal", [8.0, 50.0, 800.0])
def test_from_the_fastest_to_the_slowest(n: float, focal: float) -> None:
    parts = (ring("r", 8.0), holder("h", 20.0, 7.0, 8.0), sheet("s", density=published(0.9), gradation="soft"))
    for projection in ("rectilinear", "equidistant", "equisolid", "stereographic", "orthographic"):
        on = lens(focal, None, 20.0, projection=projection)
        told(stack("r", MountedPart(part="h", filters=("s", None)), parts=parts, on=on, f_number=n))
    told(behind_lens(conditions=Conditions(f_number=n), focal_length_mm=published(focal)))
    scope = {"focal_length_mm": published(150.0 * n)}
    if n >= 0.3:
        told(laid(MountedPart(part="a"), parts=(spacer("a", 30.0),), scope=scope))


@pytest.mark.parametrize("depth", [-60.0, -10.0, 0.0, 200.0])
def test_pupils_ahead_of_the_seat_and_far_behind_it(depth: float) -> None:
    parts = (ring("r", 8.0), holder("h", 20.0, 7.0, 8.0))
    found = stack("r", "h", parts=parts, on=lens(20.0, None, depth))
    told(found)
    # Seen from a pupil that is ahead of the whole stack nothing of it can cut the corner inward.
    assert found.front.corner_stops >= 0.0


def test_parts_of_no_length_and_sixty_of_them() -> None:
    many = tuple(spacer(f"s{n}", 0.0 if n % 2 else 1.0, 60.0 - n * 0.2) for n in range(60))
    found = laid(*(MountedPart(part=part.id) for part in many), parts=many)
    told(found)
    assert found.spacing.actual_mm == pytest.approx(30.0 + 20.0)
    discs = tuple(disc(f"d{n}", 200.0, 1.0) for n in range(60))
    told(stack(*(part.id for part in discs), parts=discs, on=lens(24.0, None, 20.0)))


@pytest.mark.parametrize("focus", [10.0, 45.0, 60.0, 1e9])
def test_subjects_inside_and_at_what_stands_ahead(focus: float) -> None:
    parts = (ring("r", 8.0), holder("h", 20.0, 7.0, 8.0))
    told(stack("r", "h", parts=parts, on=lens(50.0, None, 20.0, nearest_magnification=published(1.0)), focus=focus))


def test_a_cone_below_the_fastest_is_a_sentence_and_not_another_number() -> None:
    found = laid(MountedPart(part="a"), parts=(spacer("a", 30.0),), scope={"focal_length_mm": published(40.0)})
    kinds = [f.kind for f in found.findings]
    assert "train.not_judged" in kinds
    wrong = next(f for f in found.findings if f.kind == "train.not_judged")
    assert "f/0.267" in wrong.sentences[1]


def test_without_a_camera_and_with_one_turned_and_aside() -> None:
    odd: dict[str, Any] = {"sensor_right_mm": measured(9.0), "sensor_up_mm": measured(-9.0)}
    told(laid(MountedPart(part="reducer"), MountedPart(part="a"), parts=(reducer(), spacer("a", 12.0)), **odd))
    train = laid(MountedPart(part="a"), parts=(spacer("a", 12.0),)).layout
    from farrail.readouts.read import read

    told(read(train.train.model_copy(update={"camera": None}), train.parts))


@pytest.mark.parametrize("f_r", [-500.0, -60.0, 42.0, 61.0, 90.0, 5000.0])
def test_powered_parts_of_any_strength(f_r: float) -> None:
    """A reducer that makes no image there is a finding; all others give numbers, their pupils on either side."""
    optics = reducer().model_copy(update={"lens_focal_mm": published(f_r)})
    for focal in (200.0, 600.0, 4000.0):
        scope = {"focal_length_mm": published(focal), "aperture_mm": published(focal / 8.0)}
        told(laid(MountedPart(part="reducer"), MountedPart(part="a"), parts=(optics, spacer("a", 12.0)), scope=scope))
