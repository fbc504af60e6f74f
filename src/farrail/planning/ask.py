"""Asking for a subject's size: which combinations fill the frame with it, far and light enough, and why others fail."""

import math
from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from farrail.cancel import Stopped, never, until_stopped
from farrail.errors import BadInput
from farrail.language import N_, Message, say
from farrail.parts.inventory_item import PartId
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.closer import Bellows, CloseUpLens, ExtensionTube, Teleconverter
from farrail.parts.registry import Part
from farrail.parts.written import read_written
from farrail.planning.answer_ranges import Ends, ends_of
from farrail.planning.combinations import Combination, at_focal_length, combinations_of
from farrail.readouts.close_up.findings import soft_corners
from farrail.readouts.close_up.model import LEAST_LIT_MM
from farrail.readouts.close_up.system import systems
from farrail.readouts.limits import CLEAN_STOPS
from farrail.readouts.read import read
from farrail.train.train import MountedPart, Train
from farrail.train.zoom_tables import pupil_depth_at

MOST_ANSWERS, MOST_MISSES = 60, 12
# Of so many answers, the best, the corners are worked out; that takes longer than all the rest.
MOST_JUDGED = 24
# At so many focal lengths a zoom is tried, and so often the step between two of them is halved.
MOST_FOCALS, HALVINGS = 17, 12
# A subject so much wider or narrower than asked for still fills the frame; common practice, no source.
USUAL_TOLERANCE, MOST_TOLERANCE = 0.02, 0.5


@dataclass(frozen=True)
class Wish:
    """What is asked for.

    Attributes:
        width_mm: how much of the subject fills the frame's width.
        least_distance_mm: how far away it may be at least, from the foremost glass.
        most_stops: how much light it may cost at most, against the lens at infinity.
        tolerance: by what share the width may be off; what comes nearer is preferred.
        reversed_lenses: whether lenses may be reversed, on the camera or on the front of another.
    """

    width_mm: float
    least_distance_mm: float = 0.0
    most_stops: float = 99.0
    tolerance: float = 0.0
    reversed_lenses: bool = True

    def __post_init__(self) -> None:
        """Refuse what cannot be asked for.

        Raises:
            BadInput: a number out of range.
        """
        if not (math.isfinite(self.width_mm) and 0.01 <= self.width_mm <= 100_000.0):
            raise BadInput(
                "A subject width of {width_mm:g} mm cannot be used; enter 0.01 to 100 000 mm.",
                width_mm=self.width_mm,
            )
        if not (math.isfinite(self.least_distance_mm) and 0.0 <= self.least_distance_mm <= 100_000.0):
            raise BadInput(
                "A distance of {least_distance_mm:g} mm cannot be used; enter 0 to 100 000 mm.",
                least_distance_mm=self.least_distance_mm,
            )
        if not (math.isfinite(self.most_stops) and 0.0 <= self.most_stops <= 99.0):
            raise BadInput("At most {most_stops:g} stops cannot be used; enter 0 to 99.", most_stops=self.most_stops)
        if not (math.isfinite(self.tolerance) and 0.0 <= self.tolerance <= MOST_TOLERANCE):
            raise BadInput("A width ± {percent:g} % cannot be used; enter 0 to 50 %.", percent=100.0 * self.tolerance)


def width_and_tolerance(text: str) -> tuple[float, float]:
    """Read a subject's width with how far it may be off: `22`, `22 ± 5 %`, `22 ± 1` or `1 in ± 3 %`.

    Returns:
        Millimetres, and the tolerance as a share; without one, the usual tolerance.

    Raises:
        BadInput: it is no width.
    """
    width, sign, off = text.replace("+/-", "±").partition("±")
    found = read_written(width, "mm").low
    if not sign:
        return found, USUAL_TOLERANCE
    share = off.strip().endswith("%")
    by = read_written(off.replace("%", " "), "" if share else "mm").low
    return found, by / 100.0 if share else by / max(found, 1e-9)


@dataclass(frozen=True)
class Answer:
    """One combination, focused so that the subject fills the frame, or as near to it as it comes.

    Attributes:
        combination: what it is made of.
        focus_position: where in its focus window it is.
        magnification: then.
        distance_mm: working distance.
        stops: lost against the lens at infinity.
        effective_f_number: as the sensor sees it.
        cautions: quality cautions, in words.
        why: why it does not do; "" where it does.
        corner_stops: light lost in the corners to vignetting; None where it was not worked out.
        ends: what it may come to where something about its lenses is not known; None where all is known.
    """

    combination: Combination
    focus_position: float
    magnification: float
    distance_mm: float
    stops: float
    effective_f_number: float
    cautions: tuple[str, ...]
    why: str = ""
    corner_stops: float | None = None
    ends: Ends | None = None

    @property
    def certain(self) -> bool:
        """Whether it fulfils the wish for every value of the unknowns."""
        return self.ends is None or self.ends.certain

    @property
    def vignettes(self) -> bool:
        """Whether its corners are darker than one would overlook."""
        return self.corner_stops is not None and self.corner_stops > CLEAN_STOPS

    def field_mm(self, frame_mm: tuple[float, float]) -> tuple[float, float]:
        """Return width and height of what fills a frame of these sides."""
        return frame_mm[0] / self.magnification, frame_mm[1] / self.magnification


@dataclass(frozen=True)
class Asked:
    """What came of it.

    Attributes:
        wish: what was asked for.
        magnification: what it takes.
        answers: combinations that do, the best first.
        misses: some that do not, the nearest first.
        reasons: for how many each reason holds, the commonest first.
        tried: how many combinations were tried.
    """

    wish: Wish
    magnification: float
    answers: tuple[Answer, ...]
    misses: tuple[Answer, ...]
    reasons: tuple[tuple[Message, int], ...]
    tried: int

    @property
    def done(self) -> int:
        """How many combinations do it, those beyond the list of answers included."""
        return self.tried - sum(count for _, count in self.reasons)


TOO_SMALL, TOO_LARGE = N_("cannot magnify enough"), N_("always magnify too much")
TOO_NEAR, TOO_DARK, NO_FOCUS = N_("move closer than that"), N_("cost more light"), N_("do not focus at all")


def ask(
    wish: Wish, shelf: Mapping[PartId, Part], camera: Camera, f_number: float | None = None, stopped: Stopped = never
) -> Asked:
    """Return the combinations of a shelf that fulfil a wish, the best first.

    First what fulfils the wish for every value of the unknowns, then what needs no purchase. Then what has fewer
    cautions (soft or dark corners, no room for light), fewer parts, less light lost, and more room.
    A zoom is tried at both ends, and between them where neither end does it.

    Args:
        wish: what is wanted.
        shelf: parts by id.
        camera: the camera, whose width is to be filled.
        f_number: what the lenses are used at; None: each wide open.
        stopped: returns True once the search is cancelled.

    Raises:
        Cancelled: the search is cancelled.
        BadInput: no lens of the shelf mates with the camera.
    """
    tried = combinations_of(shelf, camera, f_number, stopped=stopped)
    if not wish.reversed_lenses:
        tried = tuple(one for one in tried if not one.reversed and one.carried is None)
    if not tried:
        raise BadInput(
            "No camera lens among your parts mates with {name}; choose another camera, or add an adapter.",
            name=camera.name,
        )
    wanted = camera.sensor_width_mm.value / wish.width_mm
    ends = _tried(tried, wish, wanted)
    inside = between_ends(ends, f_number)
    tried = (*tried, *inside)
    all_of = _tried(tried, wish, wanted) if inside else ends
    answers = _distinct(sorted((all_of.answer(int(i)) for i in np.flatnonzero(all_of.good)), key=_rank))[:MOST_ANSWERS]
    likely = until_stopped(iter(answers[:MOST_JUDGED]), stopped, every=1)
    judged = sorted((_with_corners(answer, shelf, camera) for answer in likely), key=_rank)
    answers = _with_ends([*judged, *answers[MOST_JUDGED:]], wish, wanted)
    # Certain answers come before possible ones.
    answers.sort(key=lambda answer: not answer.certain)
    misses = [all_of.answer(index, all_of.why(index)) for index in all_of.nearest_misses()]
    misses = _with_ends(misses, wish, wanted)
    reasons = tuple((words, count) for words, count in all_of.reasons().most_common() if count)
    return Asked(wish, wanted, tuple(answers), tuple(misses), reasons, len(tried))


@dataclass(frozen=True)
class Trial:
    """Combinations put to a wish, each focused so that the subject fills the frame or as near to it as it comes.

    Attributes:
        combinations: C of them.
        wish: what is asked for.
        wanted: the magnification that takes.
        focus_position: where in its focus window each is, (C,).
        magnification: then, (C,); NaN where nothing comes to a focus.
        distance_mm: working distance, (C,).
        stops: lost against the lens at infinity, (C,).
        f_numbers: as the sensor sees them, (C,).
        reached: whether the subject fills the frame, (C,).
    """

    combinations: tuple[Combination, ...]
    wish: Wish
    wanted: float
    focus_position: np.ndarray
    magnification: np.ndarray
    distance_mm: np.ndarray
    stops: np.ndarray
    f_numbers: np.ndarray
    reached: np.ndarray

    @property
    def too_near(self) -> np.ndarray:
        """Those that are nearer than wished."""
        return self.reached & (self.distance_mm < self.wish.least_distance_mm - 1e-6)

    @property
    def too_dark(self) -> np.ndarray:
        """Those that cost more light than wished."""
        return self.reached & (self.stops > self.wish.most_stops + 1e-6)

    @property
    def good(self) -> np.ndarray:
        """Those that do it."""
        good: np.ndarray = self.reached & ~self.too_near & ~self.too_dark
        return good

    @property
    def side(self) -> np.ndarray:
        """−1 where the subject stays too small, 1 where it is too large, 0 where it fits or nothing focuses."""
        with np.errstate(invalid="ignore"):
            off: np.ndarray = np.nan_to_num(np.sign(self.magnification - self.wanted))
        off[self.reached] = 0.0
        return off

    def answer(self, index: int, why: str = "") -> Answer:
        """Return one of them as an answer."""
        c = self.combinations[index]
        return Answer(
            c, float(self.focus_position[index]), float(self.magnification[index]), float(self.distance_mm[index]),
            float(self.stops[index]), float(self.f_numbers[index]),
            _cautions(c, float(self.distance_mm[index])), why,
        )  # fmt: skip

    def reasons(self) -> Counter[Message]:
        """Return for how many each reason holds why they do not do."""
        lost = ~self.reached & np.isnan(self.magnification)
        return Counter({
            TOO_SMALL: int((self.side < 0).sum()), TOO_LARGE: int((self.side > 0).sum()),
            TOO_NEAR: int(self.too_near.sum()), TOO_DARK: int((self.too_dark & ~self.too_near).sum()),
            NO_FOCUS: int(lost.sum()),
        })  # fmt: skip

    def nearest_misses(self) -> list[int]:
        """Return those that miss by least: doublings of size, of distance and of light count alike."""
        out = self.good | np.isnan(self.magnification)
        with np.errstate(invalid="ignore", divide="ignore"):
            size = np.abs(np.log2(self.magnification / self.wanted))
            near = np.maximum(np.log2(max(self.wish.least_distance_mm, 1e-9) / self.distance_mm), 0.0)
            light = np.maximum(self.stops - self.wish.most_stops, 0.0)
            far_off = np.where(out, np.inf, size + near + light)
        order = np.argsort(far_off, kind="stable")
        return [int(i) for i in order[:MOST_MISSES] if math.isfinite(far_off[i])]

    def why(self, index: int) -> str:
        """Return why one of them does not do, in words."""
        if not self.reached[index]:
            width = self.wish.width_mm * self.wanted / self.magnification[index]
            if self.magnification[index] < self.wanted:
                return say("fills the frame with {width:.1f mm} at its closest focus", width=width)
            return say("shows only {width:.1f mm} even at its far end", width=width)
        why = []
        if self.distance_mm[index] < self.wish.least_distance_mm:
            why.append(say("is {distance_mm:.0f mm} away", distance_mm=self.distance_mm[index]))
        if self.stops[index] > self.wish.most_stops:
            why.append(say("costs {stops:.2f} stops", stops=self.stops[index]))
        return say(" and ").join(why)


def _tried(combinations: tuple[Combination, ...], wish: Wish, wanted: float) -> Trial:
    """Put combinations to a wish."""
    table = systems([c.system for c in combinations])
    count = len(combinations)
    focus_position = table.position_for(np.full(count, wanted))
    far, near = table.at(np.zeros(count)), table.at(np.ones(count))
    reached = ~np.isnan(focus_position)
    # Those that do not reach it are shown at the end of their window that comes nearest to it.
    with np.errstate(invalid="ignore"):
        gap_far, gap_near = np.abs(far.magnification - wanted), np.abs(near.magnification - wanted)
    other = np.where(np.nan_to_num(gap_far, nan=np.inf) < np.nan_to_num(gap_near, nan=np.inf), 0.0, 1.0)
    focus_position = np.where(reached, focus_position, other)
    at = table.at(focus_position)
    with np.errstate(invalid="ignore", divide="ignore"):
        # A lens that focuses no further, as a reversed one, is as near as its end comes.
        reached = reached | (np.abs(np.log(at.magnification / wanted)) <= math.log1p(wish.tolerance) + 1e-12)
    f_numbers = np.array([c.system.f_number for c in combinations]) * at.darker
    return Trial(
        combinations, wish, wanted, focus_position, at.magnification, at.distance_mm, at.stops, f_numbers, reached
    )


def between_ends(ends: Trial, f_number: float | None) -> tuple[Combination, ...]:
    """Return the combinations with a zoom that do it between its ends and at neither, each at the best focal length.

    Whole millimetres are tried, closer where a zoom runs from too small to too large between two of them; best is
    what loses least light, then is farthest away.

    Args:
        ends: the combinations with the zooms at their ends, put to the wish.
        f_number: what the lenses are used at; None: each wide open.
    """
    groups: dict[tuple[object, ...], list[int]] = {}
    for index, one in enumerate(ends.combinations):
        if one.lens.longest_focal_mm is not None:
            groups.setdefault(one.key, []).append(index)
    good, side = ends.good, ends.side
    # One that is too small at both ends is so between them as well.
    open_ = [g for g in groups.values() if not good[g].any() and not (abs(side[g]).all() and len(set(side[g])) == 1)]
    if not open_:
        return ()
    rows = []
    for group in open_:
        one = ends.combinations[group[0]]
        rows += [at_focal_length(one, focal, f_number) for focal in _focals_between(one)]
    over = _tried(tuple(rows), ends.wish, ends.wanted)
    found = _best(over)
    closer = tuple(one for one in _closing_in(over, f_number) if one.key not in found)
    if closer:
        found |= _best(_tried(closer, ends.wish, ends.wanted))
    return tuple(found.values())


def _focals_between(one: Combination) -> list[float]:
    """Return focal lengths of a zoom, its ends among them, whole millimetres between."""
    assert one.lens.longest_focal_mm is not None
    short, long = sorted((one.lens.focal_length_mm.value, one.lens.longest_focal_mm.value))
    between = {float(f) for f in np.round(np.geomspace(short, long, MOST_FOCALS)) if short < f < long}
    return [short, *sorted(between), long]


def _closing_in(tried: Trial, f_number: float | None) -> tuple[Combination, ...]:
    """Return what is where one neighbour is too small and the next too large, halved again and again."""
    side, rows = tried.side, tried.combinations
    pairs = [
        (rows[n], rows[n].focal_mm, rows[n + 1].focal_mm, side[n]) for n in range(len(rows) - 1)
        if rows[n].key == rows[n + 1].key and side[n] * side[n + 1] < 0
    ]  # fmt: skip
    for _ in range(HALVINGS):
        if not pairs:
            return ()
        middles = tuple(at_focal_length(one, 0.5 * (a + b), f_number) for one, a, b, _ in pairs)
        here = _tried(middles, tried.wish, tried.wanted).side
        pairs = [
            (one, m.focal_mm, b, s) if h == s else (one, a, m.focal_mm, s)
            for (one, a, b, s), m, h in zip(pairs, middles, here, strict=True)
        ]  # fmt: skip
    # A tenth of a millimetre where that does, else as near as it takes.
    return tuple(
        at_focal_length(one, focal, f_number) for one, _, b, _ in pairs for focal in (round(b, 1), round(b, 3))
    )


def _best(tried: Trial) -> dict[tuple[object, ...], Combination]:
    """Return of each set of parts the focal length that does it best."""
    best: dict[tuple[object, ...], tuple[tuple[float, float], Combination]] = {}
    for index in np.flatnonzero(tried.good):
        one = tried.combinations[index]
        rank = (round(float(tried.stops[index]), 2), -round(float(tried.distance_mm[index]), 1))
        if one.key not in best or rank < best[one.key][0]:
            best[one.key] = rank, one
    return {key: one for key, (_, one) in best.items()}


def _distinct(answers: list[Answer]) -> list[Answer]:
    """Return the first answer of each set of parts: lenses in two orders, or tubes of one length, are shown once."""
    found: dict[tuple[object, ...], Answer] = {}
    for answer in answers:
        c = answer.combination
        carried = None if c.carried is None else c.carried.id
        # Tubes of the same length together are the same answer: the better one is shown.
        tubes = [p.path_length_mm.value for p in c.behind if isinstance(p, ExtensionTube)]
        others = tuple(p.id for p in c.behind if not isinstance(p, ExtensionTube))
        behind, ahead = (round(sum(tubes), 2), *others), tuple(sorted(p.id for p in c.ahead))
        found.setdefault((c.lens.id, c.focal_mm, c.reversed, behind, ahead, carried), answer)
    return list(found.values())


def _with_corners(answer: Answer, shelf: Mapping[PartId, Part], camera: Camera) -> Answer:
    """Return an answer with what its rims take of the corners."""
    train = laid(answer, Train(id="asked", name="asked", optic=answer.combination.lens.id, camera=camera.id))
    return replace(answer, corner_stops=read(train, shelf).corner_stops)


def _with_ends(answers: list[Answer], wish: Wish, wanted: float) -> list[Answer]:
    """Return answers with what they may come to."""
    found = ends_of([one.combination for one in answers], wanted, wish.least_distance_mm, wish.most_stops)
    return [replace(one, ends=ends) for one, ends in zip(answers, found, strict=True)]


def answer_at(combination: Combination, focus_position: float) -> Answer:
    """Return a combination at a place of its focus window."""
    found = systems([combination.system]).at(np.array([focus_position]))
    darker = float(found.darker[0])
    return Answer(
        combination, focus_position, float(found.magnification[0]), float(found.distance_mm[0]), float(found.stops[0]),
        combination.system.f_number * darker, _cautions(combination, float(found.distance_mm[0])),
    )  # fmt: skip


def _rank(answer: Answer) -> tuple[float, int, int, float, float]:
    price = answer.combination.price
    parts = len(answer.combination.parts)
    # Half of what light needs is not hard to light but hardly possible: that weighs more than a soft corner.
    cautions = len(answer.cautions) + answer.vignettes + 2 * (answer.distance_mm < LEAST_LIT_MM / 2.0)
    return (math.inf if price is None else price, cautions, parts, round(answer.stops, 2),
            -answer.distance_mm)  # fmt: skip


def _cautions(combination: Combination, distance_mm: float) -> tuple[str, ...]:
    lenses = [part for part in combination.ahead if isinstance(part, CloseUpLens)]
    found = []
    power = combination.system.stack.dioptres
    if soft_corners(lenses, power):
        found.append(say("+{power:.3g} dpt in {count}: soft corners", power=power, count=len(lenses)))
    if combination.carried is not None:
        found.append(say("a coupled lens darkens corners unless both are opened"))
    if combination.reversed:
        found.append(say("reversed: no automatic aperture"))
    if distance_mm < LEAST_LIT_MM:
        found.append(say("only {distance_mm:.0f mm} to the subject: hard to light", distance_mm=distance_mm))
    return tuple(found)


def laid(answer: Answer, train: Train) -> Train:
    """Return a train with a combination placed in it and focused as it says; what was placed before gives way."""
    c = answer.combination
    behind = []
    for part in c.behind:
        setting = None
        if isinstance(part, Bellows) and c.stretch_mm is not None:
            setting = round(c.stretch_mm[0] + (c.stretch_mm[1] - c.stretch_mm[0]) * answer.focus_position, 3)
        behind.append(MountedPart(part=part.id, setting_mm=setting))
    ahead = [MountedPart(part=part.id) for part in c.ahead]
    if c.carried is not None:
        ahead[-1] = ahead[-1].model_copy(update={"lens": c.carried.id})
    depth = 0.0 if c.reversed else pupil_depth_at(c.lens, c.focal_mm).value
    focus = answer.distance_mm + depth + c.system.stack.ahead_mm
    conditions = train.conditions.model_copy(
        update={
            "focus_mm": round(focus, 4) if 10.0 <= focus <= 1e9 else None,
            "focal_mm": c.focal_mm if c.lens.longest_focal_mm is not None else None,
            # Cameras count a teleconverter by its name, wherever it is.
            "f_number": c.system.f_number * math.prod(p.factor.value for p in c.behind if isinstance(p, Teleconverter)),
        }
    )
    return train.model_copy(
        update={
            "optic": c.lens.id, "optic_reversed": c.reversed, "front_stack": tuple(ahead),
            "rear_train": tuple(behind), "conditions": conditions,
        }
    )  # fmt: skip
