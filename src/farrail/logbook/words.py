"""The log in words: what was seen, how it is to what was predicted, what it calibrates, what to look at next."""

import math
from collections.abc import Callable, Mapping, Sequence
from enum import Enum
from typing import Any

from farrail.language import N_, Message, begun_small, joined, say, say_n
from farrail.logbook.consequences import Consequence, TrainVerdict
from farrail.logbook.kinds.evening import Change, DustSeen, FilterFocus, Moved, Stray, StrayLight, Temperature
from farrail.logbook.kinds.front import (
    CornerLoss,
    Darkening,
    ExitPupilInFrame,
    Judged,
    Level,
    OpeningInFrame,
    PupilInFrame,
)
from farrail.logbook.kinds.keeping import Flats
from farrail.logbook.kinds.lengths import PathLength, Weighed
from farrail.logbook.kinds.light import FilterStops
from farrail.logbook.kinds.near import CountedFrom, FieldWidth, WorkingDistance
from farrail.logbook.kinds.stars import CornerStars, FocusReached, InfinityMark, StarShape
from farrail.logbook.learning.doubts import Doubt
from farrail.logbook.learning.model import Assumption, Found, Refused, Settles, Why
from farrail.logbook.learning.spacing_stars import Ladder, Works, back_focus_of
from farrail.logbook.next_best import NextBest
from farrail.logbook.observation import Agreement, Compared, Corner, Observation
from farrail.logbook.registry import OBSERVATIONS
from farrail.logbook.state import State as KeptState
from farrail.logbook.value_names import FIGURE_WORDS, Names, part_name, value_name
from farrail.parts.inventory_item import PartId
from farrail.parts.kinds.telescopes import ShortStars
from farrail.parts.origin import Origin
from farrail.quantities import headed, in_words, number, signed
from farrail.readouts.spacing.grounds import State

States = Mapping[PartId, KeptState]

WORDS: dict[str, Message] = {
    "round": N_("round"), "radial": N_("drawn out from the middle"), "tangential": N_("drawn out around the middle"),
    "not_round": N_("not round"), "reached": N_("focus reached"), "not_reached": N_("focus not reached"),
    "at_infinity": N_("at the infinity mark"), "before_infinity": N_("before the infinity mark"),
}  # fmt: skip
LEVELS = {Level.ONSET: N_("begins to darken"), Level.HALF: N_("has lost half its light"), Level.DARK: N_("is dark")}
CORNERS = {Corner.TOP_LEFT: N_("top left"), Corner.TOP_RIGHT: N_("top right"), Corner.BOTTOM_LEFT: N_("bottom left"),
           Corner.BOTTOM_RIGHT: N_("bottom right")}  # fmt: skip
CHOICES: dict[Enum, Message] = {
    Level.ONSET: N_("It begins to darken"),
    Level.HALF: N_("Half its light is gone"),
    Level.DARK: N_("All is dark"),
    Judged.BY_EYE: N_("By eye"),
    Judged.MEASURED: N_("Measured in a picture"),
    CountedFrom.GLASS: N_("The front glass"),
    CountedFrom.SEAT: N_("The thread seat"),
    CountedFrom.SENSOR: N_("The sensor"),
    StarShape.ROUND: N_("Round"),
    StarShape.RADIAL: N_("Drawn out from the middle"),
    StarShape.TANGENTIAL: N_("Drawn out around the middle"),
    Stray.LEAK: N_("Light leak"),
    Stray.REFLECTION: N_("Reflection"),
    Stray.HALO: N_("Halo around bright stars"),
    Stray.FLARE: N_("Flare"),
    Change.CAMERA_OFF: N_("Camera off and on again"),
    Change.ROTATED: N_("Something rotated"),
    Change.SPACING: N_("Spacing changed"),
    Change.CLEANED: N_("Glass cleaned"),
    Change.FILTERS: N_("Filters changed"),
    Change.OTHER: N_("Something else"),
}


def choice_words(choice: Enum) -> str:
    """Return one answer of a field with a few."""
    return str(CHOICES[choice])


FROM = {CountedFrom.GLASS: N_("from the front glass"), CountedFrom.SEAT: N_("from the thread seat"),
        CountedFrom.SENSOR: N_("from the sensor")}  # fmt: skip


def number_words(value: float, unit: str, *, stays_mm: bool = False) -> str:
    """Return a number with its unit at the precision its unit is shown with; a focal length stays in mm."""
    if unit == "stops":
        return say("{value:.2f} stops", value=value)
    if unit == "g":
        return say("{value:.0f} g", value=value)
    if unit == "µm":
        return say("{value:.0f} µm", value=value)
    if unit in ("", "×"):
        return say("{value:.3g}", value=value) + unit
    if unit == "m":
        return say("{value:.3g} m", value=value)
    digits = 2 if abs(value) < 100.0 else 1
    return f"{number(value, digits)} {say(unit)}" if stays_mm else " ".join(in_words(value, unit, digits))


def told_by(value: float | str, unit: str, *, stays_mm: bool = False) -> str:
    """Return what was seen or predicted, a number or a word."""
    return str(WORDS.get(value, value)) if isinstance(value, str) else number_words(value, unit, stays_mm=stays_mm)


def seen_words(seen: Observation, names: Names) -> str:
    """Return what was seen in one phrase.

    Args:
        seen: the observation.
        names: parts by id, for those it names.
    """
    told = TELLERS.get(type(seen))
    return seen.note or str(type(seen).kind_name) if told is None else told(seen, names)


def _darkening(seen: Any, names: Names) -> str:
    stop = "" if seen.f_number is None else say(", f/{f_number:g}", f_number=seen.f_number)
    part = f" ({part_name(seen.part, names)})" if seen.part else ""
    return say(
        "the corner {levels} at {focal_mm:g} mm{stop}{part}",
        levels=LEVELS[seen.level],
        focal_mm=seen.focal_mm,
        stop=stop,
        part=part,
    )


def _loss(seen: Any, _: Names) -> str:
    return say("the corner loses {stops:g} stops", stops=seen.stops)


def _pupil(seen: Any, _: Names) -> str:
    return say("entrance pupil {depth_mm:g mm} behind the thread, from a frame", depth_mm=seen.depth_mm)


def _exit_pupil(seen: Any, _: Names) -> str:
    return say("exit pupil {distance_mm:.0f mm} before the sensor, from a frame", distance_mm=seen.distance_mm)


def _opening(seen: Any, names: Names) -> str:
    what = value_name(names.get(seen.part), seen.path)
    return say(
        "{part}: {what} {value_mm:g mm}, from a frame", part=part_name(seen.part, names), what=what,
        value_mm=seen.value_mm,
    )  # fmt: skip


def _width(seen: Any, _: Names) -> str:
    where = say("at closest focus") if seen.nearest else say("focused")
    far = (
        ""
        if seen.distance_mm is None
        else say(", {distance_mm:g mm} {from_}", distance_mm=seen.distance_mm, from_=FROM[seen.counted_from])
    )
    return say("{width_mm:g mm} of tape {where}{far}", width_mm=seen.width_mm, where=where, far=far)


def _working_distance(seen: Any, _: Names) -> str:
    return say("sharp {distance_mm:g mm} {from_}", distance_mm=seen.distance_mm, from_=FROM[seen.counted_from])


def _stars(seen: Any, _: Names) -> str:
    which = (
        ""
        if not seen.corners
        else say_n(" in {count} corner", " in {count} corners", len(seen.corners), count=len(seen.corners))
    )
    return say("corner stars {words}{which}", words=WORDS[seen.shape], which=which)


def _focus(seen: Any, _: Names) -> str:
    return str(WORDS["reached" if seen.reached else "not_reached"])


def _infinity(seen: Any, _: Names) -> str:
    return (
        say("infinity at its mark")
        if seen.mark_m is None
        else say("infinity with the ring at {mark_m:g} m", mark_m=seen.mark_m)
    )


def _metered(seen: Any, names: Names) -> str:
    return say("{part_name} costs {stops:.2f} stops", part_name=part_name(seen.part, names), stops=seen.stops)


def _length(seen: Any, _: Names) -> str:
    begin = say("the datum") if seen.first is None else say("part {first}", first=seen.first)
    end = say("the sensor") if seen.last is None else say("part {last}", last=seen.last)
    return say("{length_mm:g mm} from {begin} to {end}", length_mm=seen.length_mm, begin=begin, end=end)


def _weighed(seen: Any, names: Names) -> str:
    return say(
        "{also} weighs {mass_g:g} g",
        also=part_name(seen.part, names) if seen.part else say("the train"),
        mass_g=seen.mass_g,
    )


def _flats(seen: Any, _: Names) -> str:
    count = "" if seen.frames is None else f"{seen.frames} "
    end = (
        say("still good")
        if seen.void_since is None
        else say("no longer valid since {void_since}: {void_by}", void_since=seen.void_since, void_by=seen.void_by)
    )
    return say("{count}flat frames, {end}", count=count, end=end)


def _filter_focus(seen: Any, names: Names) -> str:
    return say(
        "{part} focuses {offset:+.0f} µm from {beside}",
        part=part_name(seen.part, names), offset=seen.offset_um, beside=part_name(seen.beside, names),
    )  # fmt: skip


def _dust(seen: Any, names: Names) -> str:
    where = _corners(seen.corners)
    if seen.part is None:
        return say("dust{where}", where=where)
    return say("dust on {part}{where}", part=part_name(seen.part, names), where=where)


def _stray(seen: Any, names: Names) -> str:
    what, where = begun_small(choice_words(seen.what)), _corners(seen.corners)
    if seen.part is None:
        return say("{what}{where}", what=what, where=where)
    return say("{what} from {part}{where}", what=what, part=part_name(seen.part, names), where=where)


def _temperature(seen: Any, _: Names) -> str:
    if seen.position_um is None:
        return say("{celsius:.1f} °C", celsius=seen.celsius)
    return say("{celsius:.1f} °C, focuser at {at:.0f} µm", celsius=seen.celsius, at=seen.position_um)


def _change(seen: Any, names: Names) -> str:
    what = begun_small(choice_words(seen.what))
    return what if seen.part is None else say("{what}: {part}", what=what, part=part_name(seen.part, names))


def _corners(corners: Sequence[Corner]) -> str:
    return say(", {listed}", listed=", ".join(str(CORNERS[one]) for one in corners)) if corners else ""


TELLERS: dict[type[Observation], Callable[[Any, Names], str]] = {
    Darkening: _darkening,
    CornerLoss: _loss,
    PupilInFrame: _pupil,
    OpeningInFrame: _opening,
    ExitPupilInFrame: _exit_pupil,
    FieldWidth: _width,
    WorkingDistance: _working_distance,
    CornerStars: _stars,
    FocusReached: _focus,
    InfinityMark: _infinity,
    FilterStops: _metered,
    PathLength: _length,
    Weighed: _weighed,
    Flats: _flats,
    FilterFocus: _filter_focus,
    DustSeen: _dust,
    StrayLight: _stray,
    Temperature: _temperature,
    Moved: _change,
}


def difference_words(compared: Compared | None) -> str:
    """Return an observation beside its prediction in one sentence; "" where nothing was predicted of its kind."""
    if compared is None:
        return ""
    if compared.agreement is Agreement.NOT_PREDICTED:
        return say("No prediction: a value it needs is not known.")
    if compared.predicted is None:
        return say("It should not show at all.")
    if isinstance(compared.predicted, float) and math.isinf(compared.predicted):
        return say("Predicted was a dark corner.")
    predicted = told_by(compared.predicted, compared.unit, stays_mm=compared.stays_mm)
    if compared.difference is None:
        told = (
            say("Agrees")
            if compared.agreement is Agreement.AGREES
            else say("Predicted was {predicted}", predicted=predicted)
        )
    elif compared.agreement is Agreement.AGREES:
        told = say("Agrees with the {predicted} predicted", predicted=predicted)
    else:
        by = number_words(abs(compared.difference), compared.unit, stays_mm=compared.stays_mm)
        more = say("more") if compared.difference > 0.0 else say("less")
        told = say("Differs: {by} {more} than the {predicted} predicted", by=by, more=more, predicted=predicted)
    if compared.rests_on is Origin.ASSUMED:
        told += say(", which rests on an assumed value")
    return f"{told}."


def found_words(found: Found, names: Names) -> str:
    """Return a calibrated value in one sentence."""
    part = names.get(found.part)
    name = value_name(part, found.path, found.focal_mm)
    digits = 3 if found.unit in ("", "×") else 2
    (low, told_unit), (high, _), (value, _) = (
        in_words(one, found.unit, digits) for one in (found.low, found.high, found.value)
    )
    unit = f" {told_unit}" if told_unit else ""
    ends = say("{low} to {high}{unit}", low=low, high=high, unit=unit)
    count = say_n("{count} observation", "{count} observations", len(found.seen), count=len(found.seen))
    shared = say("; one offset taken for all focal lengths") if found.taken is Assumption.SHARED_OFFSET else ""
    told = say(
        "{part_name}: {name} {value}{unit} ({minus}), from {count}{shared}.",
        part_name=part_name(found.part, names),
        name=name,
        value=value,
        unit=unit,
        minus=ends,
        count=count,
        shared=shared,
    )
    if found.touch_mm > WIDE_TOUCH_MM:
        eye = say(
            "±{touch_mm:.1f mm} of it is the eye's: stop down to f/8 or f/11 and look again.", touch_mm=found.touch_mm
        )
        return joined(told, eye)
    return told


def evidence_words(
    found: Found, log: Sequence[Observation], states: Mapping[str, KeptState], shelf: Names
) -> list[str]:
    """Return the observations a calibrated value rests on, one a line, with the spacing where stars were looked at.

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
            at = "" if laid is None else say(" at {actual:.2f mm}", actual=laid)
        lines.append(f"{seen.day}  {state.train.name}: {seen_words(seen, state.by_id)}{at}")
    return lines


# From here on it is worth stopping down before a corner is judged by eye; models.md has about ±2 mm at f/8.
WIDE_TOUCH_MM = 2.5
WHYS: dict[Why, Message] = {
    Why.TOO_FEW: N_("too few observations"),
    Why.ILL_CONDITIONED: N_("the observations cannot separate it from another unknown"),
    Why.WAY_UNKNOWN: N_("the direction of drawn-out stars when too short is not entered"),
    Why.ONE_SIDED: N_("stars were only seen on one side of it"),
    Why.CONTRADICTORY: N_("the observations contradict each other; all of them are kept"),
    Why.OUTSIDE: N_("the result is impossible"),
}
SETTLES: dict[Settles, Message] = {
    Settles.OTHER_PART_SHOWS: N_(
        "one more reading at which another part shows, such as with another holder or a filter "
        "taken off, or its clear width measured with a caliper"
    ),
    Settles.NO_PARALLAX: N_("the no-parallax point found and its distance behind the thread measured"),
    Settles.ACROSS_IT_ALONE: N_("one length measured across that part alone, or across all others of the sum"),
    Settles.BARREL: N_("the barrel length of this lens, from filter thread to flange at its closest focus"),
    Settles.OTHER_TUBE: N_("one more width with another tube, or without any"),
    Settles.OTHER_SPACING: N_("corner stars at one more spacing"),
    Settles.LONGER_SPACING: N_("corner stars at a longer spacing"),
    Settles.SHORTER_SPACING: N_("corner stars at a shorter spacing"),
    Settles.AGAIN: N_("the same looked at once more"),
}


def refused_words(refused: Refused, names: Names) -> str:
    """Return why a value cannot be shown yet, and what would settle it."""
    name = value_name(names.get(refused.part), refused.path, refused.focal_mm)
    why, settles = WHYS[refused.why], SETTLES[refused.settles]
    return say(
        "{part_name}: {name} not known: {why}. Needed: {settles}.",
        part_name=part_name(refused.part, names),
        name=name,
        why=why,
        settles=settles,
    )


RULES = {ShortStars.RADIAL: N_("drawn out from the middle"), ShortStars.TANGENTIAL: N_("drawn out around the middle")}


# A spacing is not changed by less.
LEAST_CHANGE_MM = 0.05


def ladder_words(ladder: Ladder, names: Names) -> str:
    """Return what to try next with a corrector's spacing."""
    if ladder.done and ladder.low_mm is not None and ladder.high_mm is not None:
        return say(
            "No change needed: the true back focus is between {low_mm:.2f length} and "
            "{high_mm:.2f mm}, and the spacing is within that.",
            low_mm=ladder.low_mm,
            high_mm=ladder.high_mm,
        )
    if ladder.add_mm == 0.0:
        return say("The stars contradict each other; look again at one of these spacings.")
    if abs(ladder.add_mm) < max(LEAST_CHANGE_MM, ladder.step_mm or 0.0):
        return say("No change: what is left is less than the thinnest ring or {least:.2f mm}.", least=LEAST_CHANGE_MM)
    step = "" if ladder.step_mm is None else say("; your thinnest ring is {step_mm:g mm}", step_mm=ladder.step_mm)
    way = say("longer") if ladder.add_mm > 0.0 else say("shorter")
    known = ""
    if ladder.rule is not None:
        whose = (
            say("as your own stars show")
            if ladder.learnt
            else say("as {part_name} is entered", part_name=part_name(ladder.corrector, names))
        )
        known = say("Too short means stars {rules}, {whose}.", rules=RULES[ladder.rule], whose=whose)
    elif any(one.seen.shape not in ("round",) for one in ladder.tried):
        known = say("Which way they point when it is too short is not known yet: try a second spacing.")
    whose = say("Make this train") if ladder.of_this_train else say("Try")
    return joined(
        say("{whose} {add_mm:.2f mm} {way} next{step}.", whose=whose, add_mm=abs(ladder.add_mm), way=way, step=step),
        known,
    )


def works_words(works: Works) -> str:
    """Return that a train is best left as it is."""
    spare = (
        ""
        if works.spare_mm is None
        else say("{spare_mm:.2f mm} are to spare on either side at the least.", spare_mm=works.spare_mm)
    )
    return joined(
        say("Corner stars were round with the current spacing ({day}): if it works, leave it.", day=works.day), spare
    )


def next_words(best: NextBest, names: Names) -> str:
    """Return which observation narrows an open verdict most."""
    what = FIGURE_WORDS[best.open.figure]
    part = names.get(best.part)
    if best.kind:
        look = say("note “{kind_name}”", kind_name=OBSERVATIONS[best.kind].kind_name)
    else:
        look = say(
            "measure {part_name}: {value_name}",
            part_name=part_name(best.part, names),
            value_name=value_name(part, best.path),
        )
    return say(
        "Still uncertain: {what}. Best next step: {look} (cuts the uncertainty to {left:.0f} %).",
        what=what,
        look=look,
        left=100.0 * best.left,
    )


def judged_words(judged: TrainVerdict) -> str:
    """Return what is said of a train, in short."""
    told = judged.spacing.headline.rstrip(".")
    if not judged.has_front:
        return told
    clean = say("never free of vignetting") if judged.first_clean_mm is None else (
        say("free of vignetting from {first_clean_mm:.1f} mm", first_clean_mm=judged.first_clean_mm)
    )  # fmt: skip
    return clean if judged.state in (State.UNJUDGED, State.GOOD) else f"{told}; {clean}"


def consequence_words(consequence: Consequence) -> str:
    """Return how a train is judged differently."""
    before, after = judged_words(consequence.before), judged_words(consequence.after)
    if before == after:
        count = len(consequence.after.stops) - len(consequence.before.stops)
        after += say(" ({signed} findings that stop it)", signed=signed(float(count), 0)) if count else ""
    return f"{consequence.train.name}: {before} → {after}"


def kind_words(kind: type[Observation]) -> str:
    """Return what a kind is called, as a heading begins."""
    return headed(str(kind.kind_name))


def doubt_words(doubt: Doubt, log: Mapping[str, Observation], names: Names) -> str:
    """Return which entry contradicts others, by how much, and what that means for it."""
    seen = log[doubt.seen]
    entry = {"day": seen.day, "entry": seen_words(seen, names)}
    if doubt.residual is None:
        return say("{day}: {entry}. Without it the others agree: it is left out. Set it aside, or correct it.", **entry)
    far = signed(doubt.residual, 2)
    if doubt.outvoted:
        return say("{day}: {entry}. It is {far} {unit} from the others and is left out. Set it aside, or correct it.",
                   **entry, far=far, unit=doubt.unit)  # fmt: skip
    return say("{day}: {entry}. It is {far} {unit} from the other: set one aside, or correct it.",
               **entry, far=far, unit=doubt.unit)  # fmt: skip
