"""What was seen, in words: one phrase for each kind of observation."""

from collections.abc import Callable, Sequence
from enum import Enum
from typing import Any

from farrail.language import N_, Message, begun_small, say, say_n
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
from farrail.logbook.kinds.star_frames import GuideStar, TiltByStars
from farrail.logbook.kinds.stars import CornerStars, FocusReached, InfinityMark, StarShape
from farrail.logbook.observation import Corner, Observation
from farrail.logbook.value_names import Names, part_name, value_name
from farrail.quantities import in_words, number

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
    if unit == "°":
        return say("{value:.2f}°", value=value)
    if unit == "°C":
        return say("{value:.1f} °C", value=value)
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


def _tilt(seen: Any, _: Names) -> str:
    where = "" if seen.hour is None else say(", focus farthest out at {hour:.0f} o'clock", hour=round(seen.hour) or 12)
    return say("sensor tilted by {tilt:.2f}°{where}", tilt=seen.tilt_deg, where=where)


def _guide_star(seen: Any, _: Names) -> str:
    return say("guide star {height:.1f mm} from the middle of the field", height=seen.height_mm)


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
    TiltByStars: _tilt,
    GuideStar: _guide_star,
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
