"""The log in words: what was seen, how it stands to what was predicted, what it teaches, what to look at next."""

from collections.abc import Callable, Mapping, Sequence
from enum import Enum
from typing import Any

from farrail.logbook.consequences import Consequence, Standing
from farrail.logbook.kinds.front import CornerLoss, Darkening, Judged, Level, PupilInFrame
from farrail.logbook.kinds.keeping import Flats
from farrail.logbook.kinds.lengths import PathLength, Weighed
from farrail.logbook.kinds.light import FilterStops
from farrail.logbook.kinds.near import CountedFrom, FieldWidth, WorkingDistance
from farrail.logbook.kinds.stars import CornerStars, FocusReached, InfinityMark, StarShape
from farrail.logbook.learning.model import Found, Refused, Settles, Taken, Why
from farrail.logbook.learning.spacing_stars import Ladder, Works, back_focus_of
from farrail.logbook.next_best import NextBest
from farrail.logbook.observation import Agreement, Compared, Corner, Observation
from farrail.logbook.registry import OBSERVATIONS
from farrail.logbook.state import State as KeptState
from farrail.parts.fields import field_at
from farrail.parts.kinds.telescopes import ShortStars
from farrail.parts.provenance import Origin
from farrail.parts.registry import Part
from farrail.parts.shelved import PartId
from farrail.readouts.spacing.verdict import State
from farrail.text.values import Values, headed, minus, signed
from farrail.text.verdicts import headline

Names = Mapping[PartId, Part]
States = Mapping[PartId, KeptState]

WORDS: dict[str, str] = {
    "round": "round", "radial": "drawn out from the middle", "tangential": "drawn out around the middle",
    "not_round": "not round", "reached": "focus reached", "not_reached": "focus not reached",
    "at_infinity": "at the infinity mark", "before_infinity": "before the infinity mark",
}  # fmt: skip
LEVELS = {Level.ONSET: "begins to darken", Level.HALF: "has lost half its light", Level.DARK: "is dark"}
CORNERS = {Corner.TOP_LEFT: "top left", Corner.TOP_RIGHT: "top right", Corner.BOTTOM_LEFT: "bottom left",
           Corner.BOTTOM_RIGHT: "bottom right"}  # fmt: skip
CHOICES: dict[Enum, str] = {
    Level.ONSET: "It begins to darken", Level.HALF: "Half its light is gone", Level.DARK: "All is dark",
    Judged.BY_EYE: "By eye", Judged.MEASURED: "Measured in a picture",
    CountedFrom.GLASS: "The front glass", CountedFrom.SEAT: "The thread seat", CountedFrom.SENSOR: "The sensor",
    StarShape.ROUND: "Round", StarShape.RADIAL: "Drawn out from the middle",
    StarShape.TANGENTIAL: "Drawn out around the middle",
}  # fmt: skip


def choice_words(choice: Enum) -> str:
    """Return one answer of a field with a few."""
    return CHOICES[choice]


FROM = {CountedFrom.GLASS: "from the front glass", CountedFrom.SEAT: "from the thread seat",
        CountedFrom.SENSOR: "from the sensor"}  # fmt: skip


def number_words(value: float, unit: str) -> str:
    """Return a number with its unit at the precision its unit is told with."""
    if unit == "stops":
        return f"{value:.2f} stops"
    if unit == "g":
        return f"{value:.0f} g"
    if unit in ("", "×"):
        return f"{minus(f'{value:.3g}')}{unit}"
    if unit == "m":
        return f"{value:.3g} m"
    return minus(f"{value:.2f} {unit}" if abs(value) < 100.0 else f"{value:.1f} {unit}")


def told_by(value: float | str, unit: str) -> str:
    """Return what was seen or predicted, a number or a word."""
    return WORDS.get(value, value) if isinstance(value, str) else number_words(value, unit)


def seen_words(seen: Observation, names: Names) -> str:
    """Return what was seen in one phrase.

    Args:
        seen: the observation.
        names: parts by id, for those it names.
    """
    told = TELLERS.get(type(seen))
    return seen.note or type(seen).kind_name if told is None else told(seen, names)


def part_name(part_id: str, names: Names) -> str:
    """Return a part's name; its id where it is gone."""
    part = names.get(part_id)
    return part_id if part is None else part.name


def _darkening(seen: Any, names: Names) -> str:
    stop = "" if seen.f_number is None else f", f/{seen.f_number:g}"
    part = f" ({part_name(seen.part, names)})" if seen.part else ""
    return f"the corner {LEVELS[seen.level]} at {seen.focal_mm:g} mm{stop}{part}"


def _loss(seen: Any, _: Names) -> str:
    return f"the corner loses {seen.stops:g} stops"


def _pupil(seen: Any, _: Names) -> str:
    return f"the entrance pupil lies {seen.depth_mm:g} mm deep by a frame"


def _width(seen: Any, _: Names) -> str:
    where = "at nearest focus" if seen.nearest else "focused"
    far = "" if seen.distance_mm is None else f", {seen.distance_mm:g} mm {FROM[seen.counted_from]}"
    return f"{seen.width_mm:g} mm of tape {where}{far}"


def _working_distance(seen: Any, _: Names) -> str:
    return f"sharp {seen.distance_mm:g} mm {FROM[seen.counted_from]}"


def _stars(seen: Any, _: Names) -> str:
    which = "" if not seen.corners else f" in {len(seen.corners)} corner{'' if len(seen.corners) == 1 else 's'}"
    return f"corner stars {WORDS[seen.shape]}{which}"


def _focus(seen: Any, _: Names) -> str:
    return WORDS["reached" if seen.reached else "not_reached"]


def _infinity(seen: Any, _: Names) -> str:
    return "infinity at its mark" if seen.mark_m is None else f"infinity with the ring at {seen.mark_m:g} m"


def _metered(seen: Any, names: Names) -> str:
    return f"{part_name(seen.part, names)} takes {seen.stops:.2f} stops"


def _length(seen: Any, _: Names) -> str:
    begin = "the datum" if seen.first is None else f"part {seen.first}"
    end = "the sensor" if seen.last is None else f"part {seen.last}"
    return f"{seen.length_mm:g} mm from {begin} to {end}"


def _weighed(seen: Any, names: Names) -> str:
    return f"{part_name(seen.part, names) if seen.part else 'the train'} weighs {seen.mass_g:g} g"


def _flats(seen: Any, _: Names) -> str:
    count = "" if seen.frames is None else f"{seen.frames} "
    end = "still good" if seen.void_since is None else f"void since {seen.void_since}: {seen.void_by}"
    return f"{count}flat frames, {end}"


TELLERS: dict[type[Observation], Callable[[Any, Names], str]] = {
    Darkening: _darkening,
    CornerLoss: _loss,
    PupilInFrame: _pupil,
    FieldWidth: _width,
    WorkingDistance: _working_distance,
    CornerStars: _stars,
    FocusReached: _focus,
    InfinityMark: _infinity,
    FilterStops: _metered,
    PathLength: _length,
    Weighed: _weighed,
    Flats: _flats,
}


def difference_words(compared: Compared | None) -> str:
    """Return an observation beside its prediction in one sentence; "" where nothing was predicted of its kind."""
    if compared is None:
        return ""
    if compared.agreement is Agreement.NOT_PREDICTED:
        return "Nothing was predicted: what it needs is not known."
    if compared.predicted is None:
        return "It should not show at all."
    predicted = told_by(compared.predicted, compared.unit)
    if compared.difference is None:
        told = "Agrees" if compared.agreement is Agreement.AGREES else f"Predicted was {predicted}"
    elif compared.agreement is Agreement.AGREES:
        told = f"Agrees with the {predicted} predicted"
    else:
        by = number_words(abs(compared.difference), compared.unit)
        more = "more" if compared.difference > 0.0 else "less"
        told = f"Differs: {by} {more} than the {predicted} predicted"
    if compared.rests_on is Origin.ASSUMED:
        told += ", which rests on an assumed value"
    return f"{told}."


# Fields that are told otherwise than on the sheet, or lie in a zoom's table.
PATHS: dict[str, str] = {
    "entrance_pupils": "entrance pupil behind the seat",
    "entrance_pupils.walk_mm": "walk of the entrance pupil",
    "near_points.magnification": "magnification at nearest focus",
    "near_points.nearest_mm": "nearest focus, to the sensor",
    "nearest_magnification": "magnification at nearest focus",
    "pair_distance_mm": "ruler seen at nearest focus, from the thread seat",
    "pair_width_mm": "width of ruler seen at nearest focus",
    "pair_frame_mm": "frame it was seen on",
}


def value_name(part: Part | None, path: str, focal_mm: float | None = None) -> str:
    """Return what a value of a part is called."""
    label = PATHS.get(path, "")
    if not label and part is not None:
        field = field_at(type(part), path)
        label = "" if field is None else field.label[:1].lower() + field.label[1:]
    at = "" if focal_mm is None else f" at {focal_mm:g} mm"
    return f"{label or path}{at}"


def found_words(found: Found, names: Names) -> str:
    """Return a learnt value in one sentence."""
    part = names.get(found.part)
    name = value_name(part, found.path, found.focal_mm)
    unit = f" {found.unit}" if found.unit else ""
    digits = 3 if found.unit in ("", "×") else 2
    ends = f"{found.low:.{digits}f} to {found.high:.{digits}f}{unit}"
    count = f"{len(found.seen)} observation{'' if len(found.seen) == 1 else 's'}"
    shared = "; one offset taken for all focal lengths" if found.taken is Taken.SHARED_OFFSET else ""
    told = (
        f"{part_name(found.part, names)}: {name} {found.value:.{digits}f}{unit} ({minus(ends)}), from {count}{shared}."
    )
    if found.touch_mm > WIDE_TOUCH_MM:
        told += f" ±{found.touch_mm:.1f} mm of it is the eye's: stop down to f/8 or f/11 and look again."
    return told


def evidence_words(
    found: Found, log: Sequence[Observation], states: Mapping[str, KeptState], shelf: Names
) -> list[str]:
    """Return the observations a learnt value rests on, one a line, with the spacing where stars were looked at.

    Args:
        found: the value.
        log: all observations.
        states: kept states by id.
        shelf: parts as they are known now.
    """
    lines = []
    for seen in log:
        if seen.id not in found.seen:
            continue
        state = states[seen.state]
        at = ""
        if isinstance(seen, CornerStars):
            laid = back_focus_of(state.train, {**state.by_id, **shelf}, found.part)
            at = "" if laid is None else f" at {laid:.2f} mm"
        lines.append(f"{seen.day}  {state.train.name}: {seen_words(seen, state.by_id)}{at}")
    return lines


# From here on it is worth stopping down before a corner is judged by eye; models.md has about ±2 mm at f/8.
WIDE_TOUCH_MM = 2.5
WHYS: dict[Why, str] = {
    Why.TOO_FEW: "too few observations to tell it",
    Why.ILL_CONDITIONED: "what was seen cannot tell it apart from another unknown",
    Why.WAY_UNKNOWN: "which way stars are drawn out when it is too short is not known",
    Why.ONE_SIDED: "stars were only seen on one side of it",
    Why.CONTRADICTORY: "the observations contradict each other; all of them are kept",
    Why.OUTSIDE: "what comes out cannot be",
}
SETTLES: dict[Settles, str] = {
    Settles.OTHER_PART_SHOWS: "one more reading at which another part shows, such as with another holder or a filter "
    "taken off, or its clear width measured with a caliper",
    Settles.NO_PARALLAX: "the no-parallax point found and its distance behind the thread measured",
    Settles.ACROSS_IT_ALONE: "one length measured across that part alone, or across all others of the sum",
    Settles.OTHER_TUBE: "one more width with another tube, or without any",
    Settles.OTHER_SPACING: "corner stars at one more spacing",
    Settles.LONGER_SPACING: "corner stars at a longer spacing",
    Settles.SHORTER_SPACING: "corner stars at a shorter spacing",
    Settles.AGAIN: "the same looked at once more",
}


def refused_words(refused: Refused, names: Names) -> str:
    """Return why a value cannot be told yet, and what would settle it."""
    name = value_name(names.get(refused.part), refused.path, refused.focal_mm)
    why, settles = WHYS[refused.why], SETTLES[refused.settles]
    return f"{part_name(refused.part, names)}: {name} not told: {why}. It would take {settles}."


RULES = {ShortStars.RADIAL: "drawn out from the middle", ShortStars.TANGENTIAL: "drawn out around the middle"}


def ladder_words(ladder: Ladder, names: Names) -> str:
    """Return what to try next with a corrector's spacing."""
    if ladder.done and ladder.low_mm is not None and ladder.high_mm is not None:
        return (
            f"Leave it: the true back focus lies between {ladder.low_mm:.2f} and {ladder.high_mm:.2f} mm, and the "
            "spacing in it."
        )
    if ladder.add_mm == 0.0:
        return "The stars contradict each other; look again at one of these spacings."
    step = "" if ladder.step_mm is None else f"; the thinnest ring at hand is {ladder.step_mm:g} mm"
    way = "longer" if ladder.add_mm > 0.0 else "shorter"
    known = ""
    if ladder.rule is not None:
        whose = "as your own stars show" if ladder.learnt else f"as {part_name(ladder.corrector, names)} is entered"
        known = f" Too short means stars {RULES[ladder.rule]}, {whose}."
    elif any(one.seen.shape not in ("round",) for one in ladder.tried):
        known = " Which way they point when it is too short is not known yet: a second spacing tells."
    whose = "Make this train" if ladder.of_this_train else "Try"
    return f"{whose} {abs(ladder.add_mm):.2f} mm {way} next{step}.{known}"


FIGURE_WORDS = {
    "spacing.error_mm": "the spacing",
    "light.corner_stops": "the light in the corner",
    "front.corner_loss_stops": "whether the front stack shows",
    "front.first_clean_mm": "from which focal length on the front stack stays clear",
}


def works_words(works: Works) -> str:
    """Return that a train is best left as it lies."""
    spare = "" if works.spare_mm is None else f" {works.spare_mm:.2f} mm are to spare on either side at the least."
    return f"Corner stars were round as it lies ({works.day}): if it works, leave it.{spare}"


def next_words(best: NextBest, names: Names) -> str:
    """Return which observation narrows an open verdict most."""
    what = FIGURE_WORDS[best.open.figure]
    part = names.get(best.part)
    if best.kind:
        look = f"note “{OBSERVATIONS[best.kind].kind_name}”"
    else:
        look = f"measure {part_name(best.part, names)}: {value_name(part, best.path)}"
    return f"Open is {what}. Best next: {look}; it leaves {100.0 * best.left:.0f} % of the doubt."


def _look_next(v: Values) -> tuple[str, str]:
    best, shelf = v.best, v.shelf
    part = shelf.get(best.part)
    what = FIGURE_WORDS[best.open.figure]
    if best.kind:
        look = f"note “{OBSERVATIONS[best.kind].kind_name}” (Ctrl+I)"
    else:
        look = f"measure {part_name(best.part, shelf)}: {value_name(part, best.path)}"
    return f"Best next: {look}.", f"Of {what}, it leaves {100.0 * best.left:.0f} % of the doubt."


# The finding of the log, told with all others.
SENTENCES = {"log.look_next": _look_next}


def judged_words(judged: Standing) -> str:
    """Return what is said of a train, in short."""
    told = headline(judged.spacing).rstrip(".")
    if not judged.has_front:
        return told
    clean = "never free of vignetting" if judged.first_clean_mm is None else (
        f"free of vignetting from {judged.first_clean_mm:.1f} mm"
    )  # fmt: skip
    return clean if judged.state in (State.UNJUDGED, State.GOOD) else f"{told}; {clean}"


def consequence_words(consequence: Consequence) -> str:
    """Return how a train is judged otherwise."""
    before, after = judged_words(consequence.before), judged_words(consequence.after)
    if before == after:
        count = len(consequence.after.stops) - len(consequence.before.stops)
        after += f" ({signed(float(count), 0)} findings that stop it)" if count else ""
    return f"{consequence.train.name}: {before} → {after}"


def kind_words(kind: type[Observation]) -> str:
    """Return what a kind is called, as a heading begins."""
    return headed(kind.kind_name)
