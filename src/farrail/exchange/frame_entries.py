"""The observations that frames make, ready to be written down."""

from collections.abc import Sequence
from datetime import date
from typing import Any

import numpy as np

from farrail.frames.flat import Explained, FlatTrouble
from farrail.frames.flat_model import Change
from farrail.frames.kinds import FrameKind
from farrail.frames.look import Looked
from farrail.frames.picture import Picture
from farrail.frames.report import flat_lines, looked_words
from farrail.frames.stars import Drawn
from farrail.logbook.kinds.front import CornerLoss, ExitPupilInFrame, OpeningInFrame, PupilInFrame
from farrail.logbook.kinds.keeping import FreeNote
from farrail.logbook.kinds.near import FieldWidth
from farrail.logbook.kinds.star_frames import GuideStar, TiltByStars
from farrail.logbook.kinds.stars import CornerStars
from farrail.logbook.learning.openings import LEAST_OFF_MM as LEAST_OPENING_MM
from farrail.logbook.learning.pupil_frames import LEAST_OFF_MM
from farrail.logbook.observation import Observation

# A flat that says what the corner loses to what is placed; how far that may be off.
LIT, OFF_STOPS = (None, FlatTrouble.EVEN, FlatTrouble.ONLY_FALLOFF), 0.05
MOST_NOTE = 2000
# An opening this near to what its part says is as wide as it is said to be.
AS_SAID_MM = 0.2
# No tilt and no centre of a rotation is known more closely than this; our own choice, no source.
LEAST_TILT_DEG, LEAST_CENTRE_MM = 0.005, 0.3

# Fields of an observation with what goes into them.
Values = tuple[tuple[str, Any], ...]
Seen = tuple[type[Observation], Values]


def seen_in(looked: Looked) -> tuple[Seen, ...]:
    """Return the observations that frames make: kind and values of each."""
    if looked.kind is FrameKind.FLAT:
        return _flats(looked)
    told = _note(looked.picture, looked_words(looked))
    if looked.rule is not None:
        wide = looked.rule.width_mm
        width = ("width_mm", round(wide.value, 2)), ("off_mm", round(wide.off, 2))
        return ((FieldWidth, (*width, *_note(looked.picture, ())[1:])),)
    if looked.stars is not None:
        return _of_stars(looked, told)
    if looked.motes or (looked.sky is not None and looked.sky.trouble is None):
        return ((FreeNote, told),)
    return ()


def _of_stars(looked: Looked, told: Values) -> tuple[Seen, ...]:
    """Return what stars put into the log: tilt by a run through focus, the guide star, and how corner stars look."""
    stars, entries = looked.stars, list[Seen]()
    assert stars is not None
    if looked.tilt is not None:
        tilt, curved = looked.tilt, looked.tilt.curvature_um
        hour = round(tilt.hour(looked.width_mm, looked.height_mm), 1)
        clear = any(tilt.farthest(looked.width_mm, looked.height_mm))
        values = {
            "tilt_deg": round(tilt.tilt_deg.value, 3), "off_deg": round(max(tilt.tilt_deg.off, LEAST_TILT_DEG), 3),
            "hour": hour if clear else None, "curvature_um": round(curved.value, 1),
            "off_curvature_um": round(curved.off, 1), "position_um": round(tilt.middle_um.value, 1),
        }  # fmt: skip
        entries.append((TiltByStars, (*((name, one) for name, one in values.items() if one is not None), *told)))
    if stars.drawn is Drawn.ROTATED and stars.rotation is not None:
        # The picture is upside down on the sensor.
        right, up = (round(-one, 2) for one in stars.rotation.centre_mm)
        off = round(max(stars.rotation.centre_off_mm, LEAST_CENTRE_MM), 2)
        entries.append((GuideStar, (("right_mm", right), ("up_mm", up), ("off_mm", off), *told)))
    elif stars.drawn is not None:
        entries.append((CornerStars, (("shape", stars.drawn.value), *told)))
    return tuple(entries)


def _flats(looked: Looked) -> tuple[Seen, ...]:
    """Return what flats put into the log, with focal length and aperture as their files say."""
    entries: list[Seen] = []
    for number, (picture, flat) in enumerate(looked.flats):
        taken = ("focal_mm", picture.focal_mm), ("f_number", picture.f_number)
        set_to = tuple((name, value) for name, value in taken if value is not None)
        told = (*_note(picture, flat_lines(looked, number)), *set_to)
        if flat.depth is not None:
            off = round(max(flat.depth.off, LEAST_OFF_MM), 2)
            entries.append((PupilInFrame, (("depth_mm", round(flat.depth.value, 2)), ("off_mm", off), *told)))
        elif flat.exit_mm is not None and looked.pupil_part:
            off = round(flat.exit_mm.off, 1)
            of_it = ("part", looked.pupil_part), ("distance_mm", round(flat.exit_mm.value, 1)), ("off_mm", off)
            entries.append((ExitPupilInFrame, (*of_it, *told)))
        elif (opening := _opening(flat.explained)) is not None:
            entries.append((OpeningInFrame, (*opening, *told)))
        elif np.isfinite(flat.corner_stops) and flat.trouble in LIT:
            entries.append((CornerLoss, (("stops", round(flat.loss_stops, 2)), ("off_stops", OFF_STOPS), *told)))
    return tuple(entries)


def _opening(explained: Explained | None) -> Values | None:
    """Return whose opening a flat shows, and how wide; None where several could be meant or too much is left over."""
    if explained is None or explained.imaged is None or explained.value is None or explained.doubtful:
        return None
    placed = explained.imaged.placed
    if placed.height is not None and explained.change is not Change.REACH:
        return None
    # Where parts meet, one of them is meant only while it is as wide as it is said to be, and the others are wider.
    others = [one.placed for one in explained.beside if one.placed.part.id != placed.part.id]
    as_said = abs(placed.diameter.value - explained.value.value) <= explained.value.off + AS_SAID_MM
    if others and not (as_said and all(one.diameter.value > explained.value.high for one in others)):
        return None
    off = round(max(explained.value.off, LEAST_OPENING_MM), 2)
    value = ("value_mm", round(explained.value.value, 2)), ("off_mm", off)
    return (("part", placed.part.id), ("path", placed.path), *value)


def day_of(values: Values) -> str:
    """Return the day on which a frame was taken, as its file says; today where it says none, or one to come."""
    today = date.today()
    try:
        day = date.fromisoformat(str(dict(values).get("day")))
    except ValueError:
        return today.isoformat()
    return min(day, today).isoformat()


def fields_of(values: Values) -> dict[str, Any]:
    """Return the fields of an entry without its day."""
    return {name: value for name, value in values if name != "day"}


def _note(picture: Picture, lines: Sequence[str]) -> Values:
    note = ("note", " ".join(lines)[:MOST_NOTE]), ("photo", picture.name)
    return note if picture.day is None else (*note, ("day", picture.day))
