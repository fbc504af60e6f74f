"""Pupils and rims from darkened corners: models.md's numbers, hidden truth, and what cannot be shown."""

import numpy as np
import pytest

from farrail.logbook.kinds.front import Darkening, Judged, Level
from farrail.logbook.learning.model import Assumption, Found, Learnt, Refused, Settles, Why
from farrail.logbook.learning.pupil import learn_pupils
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.provenance import assumed, measured
from tests.logbook.gear import CORNER_MM, DAY, body, evidence, focal_where_it_shows, lens, stack, tube

AHEAD = 41.0


def seen(number: int, focal: float, n: float, *, state: str = "t", level: Level = Level.ONSET,
         judged: Judged = Judged.MEASURED, part: str = "") -> Darkening:  # fmt: skip
    return Darkening(id=f"d{number}", train=state, state=state, day=DAY, focal_mm=focal, f_number=n, level=level,
                     judged=judged, part=part)  # fmt: skip


def learnt(one: CameraLens, rings: list, readings: list[Darkening], trains: list | None = None) -> list[Learnt]:  # type: ignore[type-arg]
    trains = [stack(*(ring.id for ring in rings))] if trains is None else trains
    return list(learn_pupils(evidence(trains, [one, body(), *rings], list(readings)), one))


def test_one_reading_by_hand() -> None:
    """models.md, section 3: r 49.5 at 28 mm, N 8, h 21.633: E + z = 61.80; the ring's front is 41 mm ahead."""
    one, ring = lens(assumed(27.0), zoom=False), tube("ring", AHEAD, measured(99.0))
    (found,) = learnt(one, [ring], [seen(1, 28.0, 8.0)])
    assert isinstance(found, Found)
    assert found.value + AHEAD == pytest.approx(61.80, abs=0.02)
    assert found.path == "entrance_pupil_depth_mm"


@pytest.mark.parametrize(("level", "touch"), [(Level.ONSET, 1.0), (Level.HALF, 0.0), (Level.DARK, -1.0)])
@pytest.mark.parametrize("n", [2.8, 8.0, 16.0])
def test_each_level_brings_the_true_depth_back(level: Level, touch: float, n: float) -> None:
    for depth in (15.0, 24.0, 33.0):
        focal = focal_where_it_shows(47.0, AHEAD, depth, n, touch, CORNER_MM)
        one, ring = lens(assumed(27.0)), tube("ring", AHEAD, measured(94.0))
        (found,) = learnt(one, [ring], [seen(1, focal, n, level=level)])
        assert isinstance(found, Found)
        assert found.value == pytest.approx(depth, abs=0.02)
        assert found.focal_mm == pytest.approx(focal, abs=0.06)
        assert found.low < depth < found.high


@pytest.mark.parametrize("by_eye", [False, True])
def test_hidden_depths_lie_in_their_intervals(by_eye: bool) -> None:
    """500 trials, readings off by up to half a millimetre, an eye calling dark anything from k = 0 to 1."""
    dice = np.random.default_rng(7)
    inside = trials = 0
    for _ in range(500):
        depth, n, radius = (
            float(dice.uniform(15, 35)),
            float(dice.choice([4.0, 8.0, 11.0])),
            float(dice.uniform(43, 50)),
        )
        touch = float(dice.uniform(0.0, 1.0)) if by_eye else 1.0
        true = focal_where_it_shows(radius, AHEAD, depth, n, touch, CORNER_MM)
        if not 18.0 < true < 34.0:
            continue
        one, ring = lens(assumed(27.0)), tube("ring", AHEAD, measured(2.0 * radius))
        count = int(dice.integers(1, 4))
        judged = Judged.BY_EYE if by_eye else Judged.MEASURED
        readings = [seen(k, true + float(dice.uniform(-0.5, 0.5)), n, judged=judged) for k in range(count)]
        # Readings spread over a millimetre are of one entry only where they are close.
        for found in learnt(one, [ring], readings):
            assert isinstance(found, Found)
            trials += 1
            inside += found.low <= depth <= found.high
    assert trials > 300
    assert inside / trials >= 0.93


def test_an_eye_is_given_its_doubt_and_a_small_aperture_shrinks_it() -> None:
    """models.md: at f/2.8 not knowing k is worth about ±6 mm of E over k from 0 to 1, at f/8 about ±2."""
    widths = {}
    for n in (2.8, 8.0):
        focal = focal_where_it_shows(47.0, AHEAD, 27.0, n, 0.5, CORNER_MM)
        one, ring = lens(assumed(27.0)), tube("ring", AHEAD, measured(94.0))
        (found,) = learnt(one, [ring], [seen(1, focal, n, judged=Judged.BY_EYE)])
        assert isinstance(found, Found)
        widths[n] = found.touch_mm
        # k/2 of the bundle's radius at the rim, as the corner's rays slope there.
        assert found.touch_mm == pytest.approx(0.5 * focal / (2.0 * n) * focal / CORNER_MM, rel=0.02)
    assert widths[2.8] > 2.5 * widths[8.0]


def test_two_different_parts_tell_the_depth_and_the_unknown_width() -> None:
    """A known ring shows on one train, an unknown one farther out on another: both are shown."""
    depth = 25.0
    one, known, wide = lens(assumed(29.0)), tube("known", 30.0, measured(88.0)), tube("wide", 20.0, assumed(104.0))
    focal = [focal_where_it_shows(44.0, 30.0, depth, 8.0, 1.0, CORNER_MM),
             focal_where_it_shows(50.0, 50.0, depth, 8.0, 1.0, CORNER_MM)]  # fmt: skip
    trains = [stack("known", name="a"), stack("known", "wide", name="b")]
    readings = [seen(1, focal[0], 8.0, state="a"), seen(2, focal[1], 8.0, state="b", part="wide")]
    found = {one.key: one for one in learnt(one, [known, wide], readings, trains)}
    width = found["wide.clear_aperture_mm"]
    assert isinstance(width, Found)
    assert width.value == pytest.approx(100.0, abs=0.1)
    depths = [one for key, one in found.items() if "entrance_pupils" in key]
    assert len(depths) == 2
    assert all(isinstance(one, Found) and one.taken is Assumption.SHARED_OFFSET for one in depths)
    assert [round(one.value, 1) for one in depths if isinstance(one, Found)] == [25.0, 25.0]


def test_one_shared_unknown_width_is_refused_as_ill_conditioned() -> None:
    """models.md: two readings of one unknown rim have a condition number of about 26; no digits are shown."""
    depth = 25.0
    one, wide = lens(assumed(27.0)), tube("wide", AHEAD, assumed(96.0))
    focal = [focal_where_it_shows(47.0, AHEAD, depth, n, 1.0, CORNER_MM) for n in (5.6, 16.0)]
    found = learnt(one, [wide], [seen(1, focal[0], 5.6), seen(2, focal[1], 16.0)])
    assert found
    assert all(isinstance(one, Refused) for one in found)
    assert {one.why for one in found if isinstance(one, Refused)} == {Why.ILL_CONDITIONED}
    assert {one.settles for one in found if isinstance(one, Refused)} == {Settles.OTHER_PART_SHOWS}


def test_a_depth_measured_by_hand_stays_and_its_walk_is_told() -> None:
    """The no-parallax point is measured at 30; the corner darkens as if the pupil was at 24: it walks 6."""
    one = lens(measured(30.0), zoom=False, pupil_walk_mm=None)
    ring = tube("ring", AHEAD, measured(2.0 * 47.0))
    # By hand the ring's half width for which 28 mm is the onset with the pupil 24 behind the seat.
    radius = (24.0 + AHEAD) * CORNER_MM / 28.0 + 28.0 / 16.0
    ring = ring.model_copy(update={"clear_aperture_mm": measured(2.0 * radius)})
    (found,) = learnt(one, [ring], [seen(1, 28.0, 8.0)])
    assert isinstance(found, Found)
    assert found.path == "pupil_walk_mm"
    assert found.value == pytest.approx(6.0, abs=0.05)


def test_nothing_is_learnt_of_another_lens_or_without_a_stack() -> None:
    one = lens(assumed(27.0))
    assert learnt(one, [], [seen(1, 28.0, 8.0)], [stack(name="t")]) == []


def test_a_measured_pupil_settles_the_width_of_a_ring() -> None:
    """The pupil is measured, the ring a guess: one reading shows its width, in an interval that holds it."""
    dice = np.random.default_rng(11)
    held = 0
    for number in range(120):
        depth, half = float(dice.uniform(18.0, 34.0)), float(dice.uniform(45.0, 49.0))
        n = float(dice.choice([4.0, 8.0, 11.0]))
        focal = focal_where_it_shows(half, AHEAD, depth, n, 1.0, CORNER_MM)
        said = depth + float(dice.uniform(-0.5, 0.5))
        one, ring = lens(measured(said), pupil_walk_mm=measured(0.0)), tube("ring", AHEAD, assumed(2.0 * half + 3.0))
        read_off = focal + float(dice.uniform(-0.5, 0.5))
        found = {entry.path: entry for entry in learnt(one, [ring], [seen(1, read_off, n)])}
        width = found["clear_aperture_mm"]
        assert isinstance(width, Found), number
        held += width.low <= 2.0 * half <= width.high
        # The pupil itself is known better than one reading shows it: it stays as measured.
        assert all(isinstance(entry, Refused) for path, entry in found.items() if path.startswith("entrance_pupils"))
    assert held >= 110


def test_neighbouring_readings_that_no_pupil_can_explain_are_noticed() -> None:
    """True depth 25 mm at both; one reading slipped by 3 mm of focal length: two rows that leap are not applied."""
    ring = tube("ring", AHEAD, measured(94.0))
    good = focal_where_it_shows(47.0, AHEAD, 25.0, 8.0, 1.0, CORNER_MM)
    leapt = learnt(lens(assumed(27.0)), [ring], [seen(1, good, 8.0), seen(2, good + 3.0, 8.0)])
    assert {one.why for one in leapt if isinstance(one, Refused)} == {Why.CONTRADICTORY}
    assert all(set(one.seen) == {"d1", "d2"} for one in leapt)
    # A ring farther out shows at a longer focal length: the same pupil, no leap.
    far = tube("far", 20.0, measured(116.0))
    trains = [stack("ring", name="a"), stack("ring", "far", name="b")]
    at = focal_where_it_shows(58.0, AHEAD + 20.0, 25.0, 8.0, 1.0, CORNER_MM)
    steady = learnt(lens(assumed(27.0)), [ring, far],
                    [seen(1, good, 8.0, state="a"), seen(2, at, 8.0, state="b", part="far")], trains)  # fmt: skip
    assert len(steady) == 2
    assert all(isinstance(one, Found) for one in steady)
