"""Ranges that hold: shown intervals against the truth sampled, sums by hand, and verdicts that depend on an unknown."""

import math

import pytest

from farrail.parts.connections import Connection, Gender
from farrail.parts.kinds.closer import ExtensionTube
from farrail.parts.kinds.tubes import Spacer
from farrail.parts.provenance import measured, published, unknown
from farrail.readouts.range_findings import range_report
from farrail.readouts.range_messages import LossDepends
from farrail.readouts.ranges import EVERY, ranges_of
from farrail.readouts.read import Readout
from farrail.readouts.spacing.grounds import State
from farrail.train.train import MountedPart
from tests.comparison.truth import compare
from tests.readouts.light.test_pupils import BAYONET, behind_lens
from tests.train.gear import ENDS, bare_filter, laid, reducer, spacer


def test_no_sample_of_the_truth_lies_outside_what_is_told() -> None:
    found = compare(14, 40, seed=3)
    assert found["outside"] == []
    assert found["ranges"] > 20
    assert found["median_width"] < 1.25


@pytest.mark.parametrize(("seed", "only"), [(101, (83, 113)), (102, (49,))])
def test_an_unknown_that_matters_only_where_another_is_extreme(seed: int, only: tuple[int, ...]) -> None:
    """A drawtube that is ample for a typical exit pupil, a filter seat whose filter is ample at its typical width."""
    found = compare(200, 200, seed, only=only)
    assert found["outside"] == []
    assert found["ranges"] >= len(only)


def of(found: Readout) -> dict[str, tuple[float, float]]:
    spreads = ranges_of(found.layout.train, found.layout.parts, EVERY)
    return {key: (spread.low, spread.high) for key, spread in spreads.items()}


def test_glass_of_unknown_thickness_moves_the_focus_by_what_a_sum_says() -> None:
    """1 to 3 mm of index 1.5: the shift is t/3, so ±0.33 mm on the error; ±0.30 is then not met for sure."""
    plain = reducer().model_copy(update={"lens_focal_mm": None, "spacing_tolerance_mm": published(0.30)})
    glass = bare_filter("filter", 2.0)
    thick = glass.glass.model_copy(update={"thickness_mm": unknown(1.0, 3.0)})
    unknown_glass = glass.model_copy(update={"glass": thick})
    rest = spacer("a", 60.0 + 2.0 / 3.0 - 20.0)
    found = laid(
        MountedPart(part="reducer"),
        MountedPart(part="filter"),
        MountedPart(part="a"),
        parts=(plain, unknown_glass, rest),
    )
    assert found.spacing.error_mm == pytest.approx(0.0, abs=1e-6)
    assert found.spacing.error_range_mm == pytest.approx((-1.0 / 3.0, 1.0 / 3.0), abs=1e-6)
    assert found.spacing.within_tolerance is False
    assert found.verdict.state is not State.GOOD
    assert of(found)["spacing.error_mm"] == pytest.approx((-1.0 / 3.0, 1.0 / 3.0), abs=1e-6)
    (told,) = (f for f in range_report(found.layout.train, found.layout.parts).findings if f.kind == "spacing.depends")
    assert "filter: glass" in told.title
    # 0.30 away at t/3 = 2/3 ± 0.30: at 1.10 and at 2.90 mm.
    assert any(f"{at:.2f}" in told.reason for at in (1.10, 2.90)) or "turns" not in told.reason


def test_what_is_meant_as_extension_misses_nothing_however_long_it_is() -> None:
    tube = ExtensionTube(
        id="tube", name="tube", outer_diameter_mm=70, front=Connection(standard=BAYONET, gender=Gender.INTERNAL),
        rear=Connection(standard=BAYONET, gender=Gender.EXTERNAL), path_length_mm=unknown(20.0, 30.0),
    )  # fmt: skip
    found = behind_lens(MountedPart(part="tube"), parts=(tube,), pupil_ratio=measured(1.0))
    assert found.spacing.error_range_mm == pytest.approx((0.0, 0.0))


@pytest.mark.parametrize(("low", "high"), [(24.0, 40.0), (30.0, 60.0), (44.0, 46.0)])
def test_a_clear_aperture_of_unknown_size_is_told_from_its_worst_to_its_best(low: float, high: float) -> None:
    tube = Spacer(id="a", name="a", path_length_mm=measured(30.0), clear_aperture_mm=unknown(low, high), **ENDS)
    found = laid(
        MountedPart(part="a"), parts=(tube,), sensor_width_mm=published(23.5), sensor_height_mm=published(15.7)
    )
    ends = [
        laid(
            MountedPart(part="a"), parts=(tube.model_copy(update={"clear_aperture_mm": measured(clear)}),),
            sensor_width_mm=published(23.5), sensor_height_mm=published(15.7),
        ).light.corner_ri
        for clear in (low, high)
    ]  # fmt: skip
    told = of(found).get("light.corner_ri", (found.light.corner_ri,) * 2)
    assert told == pytest.approx(tuple(ends), abs=2e-3)
    report = range_report(found.layout.train, found.layout.parts)
    depends = [f for f in report.findings if f.kind == "light.depends"]
    assert bool(depends) == (ends[0] != ends[1])
    if ends[1] == 1.0 and ends[0] is not None and ends[0] < 0.9:
        needed = max(c.needed_mm for c in found.light.clearances)
        assert isinstance(depends[0].text, LossDepends)
        flips = depends[0].text.flips_at
        assert flips is not None
        # It turns where the loss passes a twentieth of a stop, just below the width that takes nothing.
        assert needed - 3.0 < flips < needed
        assert f"{flips:.2f}" in depends[0].reason


def test_a_lens_of_unknown_exit_pupil_is_judged_at_its_worst_end() -> None:
    ring = Spacer(
        id="a", name="a", path_length_mm=measured(0.0), clear_aperture_mm=measured(41.0),
        **(ENDS | {"front": behind_lens().layout.optic.rear, "rear": behind_lens().layout.optic.rear}),
    )  # fmt: skip
    found = behind_lens(MountedPart(part="a"), parts=(ring,), focal_length_mm=published(20.0))
    told = of(found)["light.corner_ri"]
    ends = []
    for far in (44.0, 176.0):
        known = behind_lens(MountedPart(part="a"), parts=(ring,), focal_length_mm=published(20.0),
                            exit_pupil_distance_mm=measured(far))  # fmt: skip
        ends.append(known.light.corner_ri)
    assert told == pytest.approx((min(ends), max(ends)), abs=2e-3)  # type: ignore[type-var]
    spread = ranges_of(found.layout.train, found.layout.parts)["light.corner_ri"]
    assert spread.spans_on is not None
    assert (spread.spans_on.part, spread.spans_on.field) == ("lens", "exit_pupil_distance_mm")


def test_nothing_unknown_has_no_ranges() -> None:
    found = laid(MountedPart(part="a"), parts=(spacer("a", 30.0),))
    assert ranges_of(found.layout.train, found.layout.parts) == {}
    assert not math.isnan(found.light.corner_ri or 0.0)
