"""Lengths, filters, nearest focus and back focus from what was seen: hidden truth, and what cannot be shown."""

import math

import numpy as np
import pytest

from farrail.logbook.kinds.lengths import PathLength
from farrail.logbook.kinds.light import FilterStops
from farrail.logbook.kinds.near import CountedFrom, FieldWidth
from farrail.logbook.kinds.stars import CornerStars, StarShape
from farrail.logbook.learning.close_up import learn_near_focus
from farrail.logbook.learning.lengths import learn_lengths
from farrail.logbook.learning.model import Evidence, Found, Learnt, Refused, Settles, Why
from farrail.logbook.learning.spacing_stars import ladder_of, learn_back_focus
from farrail.logbook.learning.stops import learn_stops
from farrail.logbook.observation import Observation
from farrail.parts.connections import Bayonet, Connection, thread
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.closer import CloseUpLens, ExtensionTube
from farrail.parts.kinds.filters import SheetFilter
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.telescopes import Corrector, ShortStars, Telescope
from farrail.parts.provenance import assumed, measured
from farrail.parts.registry import Part
from farrail.train.train import MountedPart, Train
from tests.logbook.gear import DAY, IN, OUT, body, evidence, glass, lens, spacer, stack

M42 = thread(42, 0.75, IN)


def found_of(learnt: list[Learnt], path: str) -> Found:
    one = next(one for one in learnt if one.path == path)
    assert isinstance(one, Found), one
    return one


# Lengths


def tower(name: str, *parts: str) -> Train:
    return Train(id=name, name=name, optic="scope", rear_train=tuple(MountedPart(part=part) for part in parts))


def scope() -> Telescope:
    return Telescope.template().model_copy(update={"id": "scope"})


def test_hidden_lengths_from_trains_that_share_parts_lie_in_their_intervals() -> None:
    """Sums over a, b, a+b and b+c, each off by up to half a millimetre: 500 trials."""
    dice = np.random.default_rng(11)
    inside = total = 0
    for _ in range(500):
        true = {name: float(dice.uniform(5, 40)) for name in "abc"}
        parts: list[Part] = [scope(), *(spacer(name, assumed(20.0)) for name in "abc")]
        trains = [tower("x", "a", "b"), tower("y", "b", "c"), tower("z", "a")]
        log: list[Observation] = []
        for number, (train, names) in enumerate((("x", "ab"), ("x", "ab"), ("y", "bc"), ("z", "a"))):
            length = sum(true[name] for name in names) + float(dice.uniform(-0.5, 0.5))
            log.append(PathLength(id=f"l{number}", train=train, state=train, day=DAY, length_mm=length, off_mm=0.5))
        for one in learn_lengths(evidence(trains, parts, log)):
            assert isinstance(one, Found)
            total += 1
            inside += one.low <= true[one.part] <= one.high
    assert total == 1500
    assert inside / total >= 0.93


def test_a_sum_of_two_unknown_lengths_tells_neither() -> None:
    parts: list[Part] = [scope(), spacer("a", assumed(20.0)), spacer("b", assumed(20.0))]
    log = [PathLength(id="l", train="x", state="x", day=DAY, length_mm=33.0)]
    refused = list(learn_lengths(evidence([tower("x", "a", "b")], parts, list(log))))
    assert {one.part for one in refused} == {"a", "b"}
    assert all(isinstance(one, Refused) and one.settles is Settles.ACROSS_IT_ALONE for one in refused)
    # What is measured counts as it is: 33 less 12.5 leaves 20.5.
    known: list[Part] = [parts[0], parts[1], spacer("b", measured(12.5))]
    (one,) = learn_lengths(evidence([tower("x", "a", "b")], known, list(log)))
    assert isinstance(one, Found)
    assert one.value == pytest.approx(20.5)


# Filters


def test_hidden_stops_lie_in_their_intervals() -> None:
    """Two readings of a meter in thirds of a stop: each off by up to a sixth; 500 trials."""
    dice = np.random.default_rng(12)
    inside = 0
    for _ in range(500):
        stops = float(dice.uniform(0.5, 12.0))
        sheet = SheetFilter.template().model_copy(update={"id": "nd", "density": assumed(1.8)})
        log: list[Observation] = []
        for number in range(int(dice.integers(1, 5))):
            off = float(dice.uniform(-1 / 6, 1 / 6) + dice.uniform(-1 / 6, 1 / 6))
            log.append(FilterStops(id=f"f{number}", train="t", state="t", day=DAY, part="nd", without_s=1 / 250,
                                   with_s=2.0 ** (stops + off) / 250))  # fmt: skip
        (one,) = learn_stops(evidence([], [sheet], log))
        assert isinstance(one, Found)
        assert one.path == "density"
        inside += one.low <= stops * math.log10(2.0) <= one.high
    assert inside / 500 >= 0.93


def test_a_polariser_is_told_in_stops_and_a_grey_one_not_at_all() -> None:
    log: list[Observation] = [FilterStops(id="f", train="t", state="t", day=DAY, part="p", without_s=0.01, with_s=0.03)]
    plain = glass("p", polariser=True)
    (one,) = learn_stops(evidence([], [plain], log))
    assert isinstance(one, Found)
    assert (one.path, round(one.value, 4)) == ("polariser_stops", round(math.log2(3.0), 4))
    (grey,) = learn_stops(evidence([], [glass("p", polariser=True, density=measured(0.9))], log))
    assert isinstance(grey, Refused)
    assert grey.why is Why.ILL_CONDITIONED


# Nearest focus


def tape(number: int, width: float, state: str, distance: float | None = None, **more: object) -> FieldWidth:
    return FieldWidth(id=f"w{number}", train=state, state=state, day=DAY, width_mm=width, distance_mm=distance, **more)


def tubed(name: str, *rear: str) -> Train:
    return stack(rear=rear, name=name)


def extension(name: str, length: float) -> ExtensionTube:
    mount = Bayonet(name="44 mm SLR bayonet", throat_mm=42.0)
    ends = Connection(standard=mount, gender=IN), Connection(standard=mount, gender=OUT)
    return ExtensionTube.template().model_copy(
        update={"id": name, "name": name, "front": ends[0], "rear": ends[1], "path_length_mm": measured(length)}
    )


def prime() -> CameraLens:
    return lens(assumed(30.0), zoom=False).model_copy(update={"focal_length_mm": measured(50.0)})


def test_hidden_nearest_focus_and_focal_length_lie_in_their_intervals() -> None:
    """m = m0 + e/f_eff, W = 36/m: with no tube, 13, 26 and 39 mm; widths off by up to half a millimetre; 500 trials."""
    dice = np.random.default_rng(13)
    lengths = {"bare": 0.0, "one": 13.0, "two": 26.0, "three": 39.0}
    tubes = [extension("t13", 13.0), extension("t26", 26.0)]
    trains = [tubed("bare"), tubed("one", "t13"), tubed("two", "t26"), tubed("three", "t26", "t13")]
    inside = {"nearest_magnification": 0, "near_focal_mm": 0}
    for _ in range(500):
        m0, f_eff = float(dice.uniform(0.1, 0.2)), float(dice.uniform(42.0, 52.0))
        log: list[Observation] = []
        for number, (name, long) in enumerate(lengths.items()):
            width = 36.0 / (m0 + long / f_eff) + float(dice.uniform(-0.5, 0.5))
            log.append(tape(number, width, name, off_mm=0.5))
        learnt = list(learn_near_focus(evidence(trains, [prime(), body(), *tubes], log), prime()))
        for path, true in (("nearest_magnification", m0), ("near_focal_mm", f_eff)):
            one = found_of(learnt, path)
            inside[path] += one.low <= true <= one.high
    assert min(inside.values()) / 500 >= 0.93, inside


def test_one_tube_alone_is_refused_and_a_bare_ruler_gives_the_pair() -> None:
    tubes = [extension("t13", 13.0)]
    trains = [tubed("bare"), tubed("one", "t13")]
    parts: list[Part] = [prime(), body(), *tubes]
    (refused,) = learn_near_focus(evidence(trains, parts, [tape(1, 90.0, "one")]), prime())
    assert isinstance(refused, Refused)
    assert refused.settles is Settles.OTHER_TUBE
    learnt = list(learn_near_focus(evidence(trains, parts, [tape(1, 280.0, "bare", 170.0)]), prime()))
    assert found_of(learnt, "pair_width_mm").value == pytest.approx(280.0)
    assert found_of(learnt, "pair_distance_mm").value == pytest.approx(170.0)
    assert found_of(learnt, "pair_frame_mm").value == 36.0
    # Counted from the sensor it is the closest focus itself; only a measured barrel brings it to the thread.
    from_sensor = tape(1, 280.0, "bare", 170.0 + 90.0 + 44.0, counted_from=CountedFrom.SENSOR)
    learnt = list(learn_near_focus(evidence(trains, parts, [from_sensor]), prime()))
    assert found_of(learnt, "nearest_mm").value == pytest.approx(304.0)
    assert not any(one.path == "pair_distance_mm" for one in learnt)
    known = prime().model_copy(update={"barrel_mm": measured(90.0)})
    learnt = list(learn_near_focus(evidence(trains, [known, *parts[1:]], [from_sensor]), known))
    assert found_of(learnt, "pair_distance_mm").value == pytest.approx(170.0)
    # Beside readings with tubes the distance measured without one still counts.
    both: list[Observation] = [tape(1, 280.0, "bare", 304.0, counted_from=CountedFrom.SENSOR), tape(2, 90.0, "one")]
    learnt = list(learn_near_focus(evidence(trains, parts, both), prime()))
    assert found_of(learnt, "nearest_mm").value == pytest.approx(304.0)


@pytest.mark.parametrize(("distance", "width", "with_lens", "seen"), [(170.0, 280.0, 105.0, 160.0),
                                                                       (260.0, 140.0, 130.0, 70.0)])  # fmt: skip
def test_a_ruler_calibrates_what_a_close_up_lens_then_does(
    distance: float, width: float, with_lens: float, seen: float
) -> None:
    """Common practice, no source: with +4 dioptres 280 mm at 170 came to 160 at 105, 140 at 260 to 70 at 130; ±6 %."""
    close = CloseUpLens.template().model_copy(update={
        "id": "plus4", "dioptres": measured(4.0), "path_length_mm": measured(0.0), "front": thread(82, 0.75, IN),
        "rear": thread(82, 0.75, OUT)})  # fmt: skip
    one, log = prime(), [tape(1, width, "bare", distance)]
    learnt = list(learn_near_focus(evidence([tubed("bare")], [one, body()], list(log)), one))
    told = {
        path: measured(found_of(learnt, path).value) for path in ("pair_distance_mm", "pair_width_mm", "pair_frame_mm")
    }
    after = one.model_copy(update=told)
    train = stack("plus4")
    there = evidence([train], [after, body(), close], [tape(2, seen, "t", with_lens)])
    compared = there.log[0].compared(there.readout_of(there.log[0]))
    assert compared is not None
    assert compared.predicted == pytest.approx(seen, rel=0.06)


# Back focus


def flattened(spacings: dict[str, float], rule: ShortStars | None, tolerance: float = 0.3) -> Evidence:
    told = {"id": "flat", "back_focus_mm": assumed(55.0), "spacing_tolerance_mm": measured(tolerance),
            "short_stars": rule}  # fmt: skip
    corrector = Corrector.template().model_copy(update=told)
    camera = Camera(
        id="body", name="Body", outer_diameter_mm=96, front=thread(42, 0.75, IN), flange_to_sensor_mm=measured(17.5),
        sensor_width_mm=measured(23.5), sensor_height_mm=measured(15.7),
    )  # fmt: skip
    parts: list[Part] = [scope(), corrector, camera]
    trains = []
    for name, spacing in spacings.items():
        parts.append(spacer(f"s-{name}", measured(spacing - 17.5)))
        row = (MountedPart(part="flat"), MountedPart(part=f"s-{name}"))
        trains.append(Train(id=name, name=name, optic="scope", rear_train=row, camera="body"))
    return evidence(trains, parts, [])


def corrector_of(there: Evidence) -> Corrector:
    part = there.shelf["flat"]
    assert isinstance(part, Corrector)
    return part


def stars(name: str, shape: StarShape, off: float = 0.2) -> CornerStars:
    return CornerStars(id=f"s-{name}", train=name, state=name, day=DAY, shape=shape, off_mm=off)


def test_hidden_back_focus_lies_in_its_interval() -> None:
    """Stars at six spacings, the eye off by up to half a millimetre: 500 trials; the rule is given, or calibrated."""
    dice = np.random.default_rng(14)
    spacings = {str(n): 53.0 + n * 0.8 for n in range(6)}
    there = {rule: flattened(spacings, rule) for rule in (ShortStars.RADIAL, None)}
    for rule, base in there.items():
        inside = told = 0
        for _ in range(500):
            true = float(dice.uniform(54.0, 56.0))
            log: list[Observation] = []
            for name, spacing in spacings.items():
                error = spacing - true + float(dice.uniform(-0.5, 0.5))
                shape = (StarShape.ROUND if abs(error) <= 0.3 else StarShape.RADIAL if error < 0 else
                         StarShape.TANGENTIAL)  # fmt: skip
                log.append(stars(name, shape, 0.5))
            (one,) = learn_back_focus(Evidence(log, base.states, base.shelf), corrector_of(base))
            if isinstance(one, Found):
                told += 1
                inside += one.low <= true <= one.high
        assert told > 400
        assert inside / told >= 0.93, (rule, inside, told)


def test_one_evening_asks_for_another_spacing_and_two_tell_the_way() -> None:
    base = flattened({"a": 54.0, "b": 56.0}, None)
    one = Evidence([stars("a", StarShape.RADIAL)], base.states, base.shelf)
    (refused,) = learn_back_focus(one, corrector_of(base))
    assert isinstance(refused, Refused)
    assert (refused.why, refused.settles) == (Why.WAY_UNKNOWN, Settles.OTHER_SPACING)
    first = ladder_of(one, corrector_of(base))
    assert first is not None
    assert first.add_mm > 0.0
    two = Evidence([*one.log, stars("b", StarShape.TANGENTIAL)], base.states, base.shelf)
    ladder = ladder_of(two, corrector_of(base))
    assert ladder is not None
    assert (ladder.rule, ladder.learnt) == (ShortStars.RADIAL, True)
    # Short at 54 and long at 56: the middle is a millimetre less than the last.
    assert ladder.add_mm == pytest.approx(-1.0, abs=0.05)
    assert not ladder.done
    (told,) = learn_back_focus(two, corrector_of(base))
    assert isinstance(told, Found)
    assert told.value == pytest.approx(55.0, abs=0.02)


def test_a_ladder_ends_where_stars_are_round_and_the_range_is_narrow() -> None:
    base = flattened({"a": 54.5, "b": 55.0, "c": 55.5}, ShortStars.RADIAL)
    log = [stars("a", StarShape.RADIAL, 0.1), stars("c", StarShape.TANGENTIAL, 0.1), stars("b", StarShape.ROUND, 0.1)]
    log = [one.model_copy(update={"day": f"2026-10-0{n + 1}"}) for n, one in enumerate(log)]
    ladder = ladder_of(Evidence(log, base.states, base.shelf), corrector_of(base))
    assert ladder is not None
    assert ladder.done
    assert ladder.add_mm == 0.0


def test_two_shapes_at_one_spacing_contradict_each_other() -> None:
    base = flattened({"a": 54.0, "b": 54.0}, None)
    log = [stars("a", StarShape.RADIAL, 0.05), stars("b", StarShape.TANGENTIAL, 0.05)]
    (refused,) = learn_back_focus(Evidence(log, base.states, base.shelf), corrector_of(base))
    assert isinstance(refused, Refused)
    assert refused.why is Why.CONTRADICTORY
    assert set(refused.seen) == {"s-a", "s-b"}


def test_stars_of_one_corner_tell_of_tilt_and_not_of_spacing() -> None:
    base = flattened({"a": 54.0}, ShortStars.RADIAL)
    one = stars("a", StarShape.RADIAL).model_copy(update={"corners": ("top_left",)})
    assert list(learn_back_focus(Evidence([one], base.states, base.shelf), corrector_of(base))) == []


def test_each_kind_says_what_it_calibrates() -> None:
    """What the log calibrates from says so where it is entered; what it does not, says that."""
    from farrail.logbook.kinds.evening import FilterFocus
    from farrail.logbook.kinds.star_frames import GuideStar
    from farrail.logbook.kinds.stars import CornerStars
    from farrail.logbook.learning.doubts import MEASURES
    from farrail.logbook.observation import serves_words
    from farrail.logbook.registry import OBSERVATIONS

    says = {kind for kind in OBSERVATIONS.values() if serves_words(kind).startswith("Calibrates ")}
    assert says == {*MEASURES, CornerStars, FilterFocus, GuideStar}
