"""Asking for a subject's size: which combinations fill the frame with it, far and light enough, and why others fail."""

import math
from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from farrail.errors import BadInput
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.closer import Bellows, CloseUpLens
from farrail.parts.registry import Part
from farrail.parts.shelved import PartId
from farrail.planning.combinations import Combination, combinations_of
from farrail.readouts.close_up.findings import soft_corners
from farrail.readouts.close_up.system import systems
from farrail.train.train import Laid, Train
from farrail.train.zoom_tables import pupil_depth_at

MOST_ANSWERS, MOST_MISSES = 60, 12


@dataclass(frozen=True)
class Wish:
    """What is asked for.

    Attributes:
        width_mm: how much of the subject fills the frame's width.
        least_distance_mm: how far away it may be at least, from the foremost glass.
        most_stops: how much light it may cost at most, against the lens at infinity.
    """

    width_mm: float
    least_distance_mm: float = 0.0
    most_stops: float = 99.0

    def __post_init__(self) -> None:
        """Refuse what cannot be asked for.

        Raises:
            BadInput: a number out of range.
        """
        if not (math.isfinite(self.width_mm) and 0.01 <= self.width_mm <= 100_000.0):
            raise BadInput(f"A subject {self.width_mm:g} mm wide cannot be asked for; give 0.01 to 100 000 mm.")
        if not (math.isfinite(self.least_distance_mm) and 0.0 <= self.least_distance_mm <= 100_000.0):
            raise BadInput(f"A distance of {self.least_distance_mm:g} mm cannot be asked for; give 0 to 100 000 mm.")
        if not (math.isfinite(self.most_stops) and 0.0 <= self.most_stops <= 99.0):
            raise BadInput(f"At most {self.most_stops:g} stops cannot be asked for; give 0 to 99.")


@dataclass(frozen=True)
class Answer:
    """One combination, focused so that the subject fills the frame, or as near to it as it comes.

    Attributes:
        combination: what it is made of.
        focus_position: where in its focus window it stands.
        magnification: then.
        distance_mm: working distance.
        stops: lost against the lens at infinity.
        effective_f_number: as the sensor sees it.
        cautions: quality cautions, in words.
        why: why it does not do; "" where it does.
    """

    combination: Combination
    focus_position: float
    magnification: float
    distance_mm: float
    stops: float
    effective_f_number: float
    cautions: tuple[str, ...]
    why: str = ""

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
    reasons: tuple[tuple[str, int], ...]
    tried: int

    @property
    def done(self) -> int:
        """How many combinations do it, those beyond the list of answers included."""
        return self.tried - sum(count for _, count in self.reasons)


TOO_SMALL, TOO_LARGE = "do not come so close", "cannot focus so far away"
TOO_NEAR, TOO_DARK, NO_FOCUS = "stand nearer than that", "cost more light", "do not focus at all"


def ask(wish: Wish, shelf: Mapping[PartId, Part], camera: Camera, f_number: float | None = None) -> Asked:
    """Return the combinations of a shelf that fulfil a wish, the best first.

    First what costs nothing to buy, then what has fewer quality cautions, then fewer parts, then less light lost, then
    more room.

    Args:
        wish: what is wanted.
        shelf: parts by id.
        camera: the camera, whose width is to be filled.
        f_number: what the lenses are used at; None: each wide open.

    Raises:
        BadInput: no lens of the shelf mates with the camera.
    """
    tried = combinations_of(shelf, camera, f_number)
    if not tried:
        raise BadInput(f"No camera lens on the shelf mates with {camera.name}; lay another camera, or add an adapter.")
    wanted = camera.sensor_width_mm.value / wish.width_mm
    table = systems([c.system for c in tried])
    focus_position = table.position_for(np.full(len(tried), wanted))
    far, near = table.at(np.zeros(len(tried))), table.at(np.ones(len(tried)))
    reached = ~np.isnan(focus_position)
    # Those that do not reach it are shown at the end of their window that comes nearest to it.
    with np.errstate(invalid="ignore"):
        gap_far, gap_near = np.abs(far.magnification - wanted), np.abs(near.magnification - wanted)
    other = np.where(np.nan_to_num(gap_far, nan=np.inf) < np.nan_to_num(gap_near, nan=np.inf), 0.0, 1.0)
    focus_position = np.where(reached, focus_position, other)
    at = table.at(focus_position)
    focused = ~np.isnan(at.magnification)
    stops, distance = at.stops, at.distance_mm
    too_near = reached & (distance < wish.least_distance_mm - 1e-6)
    too_dark = reached & (stops > wish.most_stops + 1e-6)
    good = reached & ~too_near & ~too_dark
    f_numbers = np.array([c.system.f_number for c in tried]) * at.darker

    def told(index: int, why: str = "") -> Answer:
        c = tried[index]
        return Answer(
            c, float(focus_position[index]), float(at.magnification[index]), float(distance[index]),
            float(stops[index]), float(f_numbers[index]), _cautions(c), why,
        )  # fmt: skip

    answers = sorted((told(int(i)) for i in np.flatnonzero(good)), key=_rank)
    with np.errstate(invalid="ignore"):
        small = ~reached & focused & (at.magnification < wanted)
    large, lost = ~reached & focused & ~small, ~reached & ~focused
    counts = Counter({
        TOO_SMALL: int(small.sum()), TOO_LARGE: int(large.sum()), TOO_NEAR: int(too_near.sum()),
        TOO_DARK: int((too_dark & ~too_near).sum()), NO_FOCUS: int(lost.sum()),
    })  # fmt: skip
    misses = []
    for index in _nearest_misses(wish, wanted, good | lost, at.magnification, distance, stops):
        why = _why(wish, wanted, reached[index], at.magnification[index], distance[index], stops[index])
        misses.append(told(index, why))
    reasons = tuple((words, count) for words, count in counts.most_common() if count)
    return Asked(wish, wanted, tuple(answers[:MOST_ANSWERS]), tuple(misses), reasons, len(tried))


def answer_at(combination: Combination, focus_position: float) -> Answer:
    """Return a combination at a place of its focus window."""
    found = systems([combination.system]).at(np.array([focus_position]))
    darker = float(found.darker[0])
    return Answer(
        combination, focus_position, float(found.magnification[0]), float(found.distance_mm[0]), float(found.stops[0]),
        combination.system.f_number * darker, _cautions(combination),
    )  # fmt: skip


def _rank(answer: Answer) -> tuple[float, int, int, float, float]:
    price = answer.combination.price
    parts = len(answer.combination.parts)
    return (math.inf if price is None else price, len(answer.cautions), parts, round(answer.stops, 2),
            -answer.distance_mm)  # fmt: skip


def _cautions(combination: Combination) -> tuple[str, ...]:
    lenses = [part for part in combination.ahead if isinstance(part, CloseUpLens)]
    found = []
    power = combination.system.stack.dioptres
    if soft_corners(lenses, power):
        found.append(f"+{power:.3g} D in {len(lenses)}: soft corners")
    if combination.carried is not None:
        found.append("a coupled lens darkens corners unless both are opened")
    if combination.reversed:
        found.append("turned round: no automatic aperture")
    return tuple(found)


def _nearest_misses(
    wish: Wish, wanted: float, out: np.ndarray, magnification: np.ndarray, distance: np.ndarray, stops: np.ndarray
) -> list[int]:
    """Return the combinations that miss by least: doublings of size, of distance and of light count alike."""
    with np.errstate(invalid="ignore", divide="ignore"):
        size = np.abs(np.log2(magnification / wanted))
        near = np.maximum(np.log2(max(wish.least_distance_mm, 1e-9) / distance), 0.0)
        light = np.maximum(stops - wish.most_stops, 0.0)
        far_off = np.where(out, np.inf, size + near + light)
    order = np.argsort(far_off, kind="stable")
    return [int(i) for i in order[:MOST_MISSES] if math.isfinite(far_off[i])]


def _why(wish: Wish, wanted: float, reached: bool, magnification: float, distance: float, stops: float) -> str:
    if not reached:
        width = wish.width_mm * wanted / magnification
        if magnification < wanted:
            return f"fills the frame with {width:.1f} mm at its nearest"
        return f"shows only {width:.1f} mm even at its far end"
    why = []
    if distance < wish.least_distance_mm:
        why.append(f"stands {distance:.0f} mm away")
    if stops > wish.most_stops:
        why.append(f"costs {stops:.2f} stops")
    return " and ".join(why)


def laid(answer: Answer, train: Train) -> Train:
    """Return a train with a combination laid in it and focused as it says; what was laid before gives way."""
    c = answer.combination
    behind = []
    for part in c.behind:
        setting = None
        if isinstance(part, Bellows) and c.stretch_mm is not None:
            setting = round(c.stretch_mm[0] + (c.stretch_mm[1] - c.stretch_mm[0]) * answer.focus_position, 3)
        behind.append(Laid(part=part.id, setting_mm=setting))
    ahead = [Laid(part=part.id) for part in c.ahead]
    if c.carried is not None:
        ahead[-1] = ahead[-1].model_copy(update={"lens": c.carried.id})
    depth = 0.0 if c.reversed else pupil_depth_at(c.lens, c.focal_mm).value
    focus = answer.distance_mm + depth + c.system.stack.ahead_mm
    conditions = train.conditions.model_copy(
        update={
            "focus_mm": round(focus, 4) if 10.0 <= focus <= 1e9 else None,
            "focal_mm": c.focal_mm if c.lens.longest_focal_mm is not None else None,
            "f_number": c.system.f_number * c.system.converter,
        }
    )
    return train.model_copy(
        update={
            "optic": c.lens.id, "optic_reversed": c.reversed, "front_stack": tuple(ahead),
            "rear_train": tuple(behind), "conditions": conditions,
        }
    )  # fmt: skip
