"""What is found in frames of each kind, with the observation it makes; and the frames of the simulated bench camera."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from farrail.frames.as_taken import as_taken
from farrail.frames.dust import DustReading, find_motes, looked_at_mm, read_mote, stayed
from farrail.frames.estimate import Estimate
from farrail.frames.flat import FlatReading, FlatTrouble, read_flat
from farrail.frames.picture import Picture
from farrail.frames.ruler import RulerReading, read_ruler
from farrail.frames.sky import read_sky
from farrail.frames.stars import TiltReading, find_stars, judge_stars, read_through_focus, sharpest_of
from farrail.logbook.kinds.front import CornerLoss, PupilInFrame
from farrail.logbook.kinds.keeping import FreeNote
from farrail.logbook.kinds.near import FieldWidth
from farrail.logbook.kinds.stars import CornerStars
from farrail.logbook.learning.pupil_frames import LEAST_OFF_MM
from farrail.logbook.observation import Observation
from farrail.readouts.read import Readout
from farrail.simulated.bench_camera import DARK_E, FULL_E, bench_flat, bench_ruler, bench_sky, bench_stars
from farrail.simulated.hidden import hidden_truth
from farrail.text.frames import dust_words, flat_words, ruler_words, sky_words, stars_words, stayed_words, tilt_words
from farrail.train.placed import Place
from farrail.train.rows import Shelf

# A flat that tells what the corner loses to what is laid; how far that may be off.
LIT, OFF_STOPS = (None, FlatTrouble.EVEN, FlatTrouble.ONLY_FALLOFF), 0.05
FLANGE_MM, BENCH_COLUMNS = 60.0, 900
FOCUS_UM = (-600.0, -360.0, -120.0, 120.0, 360.0, 600.0)

# Fields of an observation with what goes into them.
Values = tuple[tuple[str, Any], ...]
Seen = tuple[type[Observation], Values]


@dataclass(frozen=True)
class Looked:
    """What was found in frames.

    Attributes:
        kind: flat, stars, dust, ruler or sky.
        picture: the first of them.
        lines: what they say, the verdict first.
        flat: of a flat.
        dust: of dust.
        seen: the observations it makes: kind and values of each.
        place: where on the rail it points; None for nowhere.
    """

    kind: str
    picture: Picture
    lines: tuple[str, ...]
    flat: FlatReading | None = None
    dust: tuple[DustReading, ...] = ()
    seen: tuple[Seen, ...] = ()
    place: Place | None = None


def look(
    kind: str, pictures: list[Picture], readout: Readout, shelf: Shelf, stopped: Callable[[], bool],
    line: tuple[float, float, float, float] | None = None,
) -> Looked | None:  # fmt: skip
    """Return what frames say of a train; None where nobody wants to know any more."""
    camera = readout.layout.camera
    if camera is None or stopped():
        return None
    picture, wide, high = pictures[0], camera.sensor_width_mm.value, camera.sensor_height_mm.value
    for one in pictures:
        one.check_on(wide, high)
    if kind == "flat":
        return _flats(pictures, readout, shelf, stopped)
    if kind == "dust":
        pixel = looked_at_mm(picture, wide)
        motes = tuple(read_mote(mote, readout, pixel) for mote in find_motes(picture, wide))
        told = [dust_words(one) for one in motes]
        if len(pictures) > 1:
            # Another frame, with a filter or the camera turned between them, tells the motes apart.
            same = stayed([one.mote for one in motes], find_motes(pictures[1], wide), wide, picture.size[0])
            told = [
                f"{line} {stayed_words(stays=stays)}" if one.sure else line
                for one, line, stays in zip(motes, told, same, strict=True)
            ]
        lines = tuple(told) or ("No dust is seen.",)
        return Looked(
            kind,
            picture,
            lines,
            dust=motes,
            seen=((FreeNote, _note(picture, lines)),) if motes else (),
            place=next((one.surfaces[0].place for one in motes if one.surfaces), None),
        )
    if kind == "sky":
        sky = read_sky(picture, as_taken(picture, readout, shelf))
        lines = tuple(sky_words(sky))
        return Looked(kind, picture, lines, seen=() if sky.trouble else ((FreeNote, _note(picture, lines)),))
    if kind == "ruler":
        rule: RulerReading | None = read_ruler(picture, wide, ends=line)
        lines = tuple(ruler_words(rule))
        if rule is None:
            return Looked(kind, picture, lines)
        width = ("width_mm", round(rule.width_mm.value, 2)), ("off_mm", round(rule.width_mm.off, 2))
        return Looked(kind, picture, lines, seen=((FieldWidth, (*width, ("photo", picture.name))),))
    return _stars(pictures, wide, high)


def _flats(pictures: list[Picture], readout: Readout, shelf: Shelf, stopped: Callable[[], bool]) -> Looked:
    """Look at one flat, or at several over a zoom's range, each beside the train set as its file says."""
    ordered = sorted(pictures, key=lambda one: one.focal_mm or 0.0)
    flats = [(one, read_flat(one, as_taken(one, readout, shelf), stopped)) for one in ordered]
    lines: list[str] = []
    seen: list[Seen] = []
    for one, flat in flats:
        told = flat_words(flat)
        if len(flats) > 1:
            told[0] = f"{one.name}{'' if one.focal_mm is None else f', {one.focal_mm:g} mm'}: {told[0]}"
            told = [*told[:2], *(told[2:] if flat is flats[0][1] else [])] if flat.depth is None else told
        lines += told
        if flat.depth is not None:
            seen.append((PupilInFrame, _as_set(one, told, _depth(flat.depth))))
        elif np.isfinite(flat.corner_stops) and flat.trouble in LIT:
            loss = ("stops", round(flat.laid_stops, 2)), ("off_stops", OFF_STOPS)
            seen.append((CornerLoss, _as_set(one, told, loss)))
    return Looked("flat", flats[0][0], tuple(lines), flats[0][1], seen=tuple(seen), place=_place(flats[0][1]))


def _place(flat: FlatReading) -> Place | None:
    """Return where what explains a flat stands."""
    found = flat.explained
    return None if found is None or found.imaged is None else found.imaged.placed.place


def _depth(depth: Estimate) -> Values:
    return ("depth_mm", round(depth.value, 2)), ("off_mm", round(max(depth.off, LEAST_OFF_MM), 2))


def _as_set(picture: Picture, told: list[str], values: Values) -> Values:
    """Return what a flat puts into the log, with focal length and aperture as its file says."""
    taken = ("focal_mm", picture.focal_mm), ("f_number", picture.f_number)
    return (*values, *_note(picture, told), *((name, value) for name, value in taken if value is not None))


def _note(picture: Picture, lines: Sequence[str]) -> Values:
    return ("note", " ".join(lines)[:2000]), ("photo", picture.name)


def _stars(pictures: list[Picture], wide: float, high: float) -> Looked:
    """Look at stars; of a run through focus the frame nearest to focus shows their shape."""
    found = [(one, find_stars(one, wide)) for one in pictures]
    sharpest, stars = found[sharpest_of([stars for _, stars in found])]
    reading = judge_stars(stars, wide, high)
    lines = stars_words(reading)
    places = [(one.focus_um, stars) for one, stars in found if one.focus_um is not None]
    if len(places) > 1:
        tilt: TiltReading | None = read_through_focus([(float(at), stars) for at, stars in places], wide, high)
        # Tilt goes first: it is what the run was taken for.
        lines = tilt_words(tilt, FLANGE_MM, wide, high) + lines if tilt is not None else [
            *lines, "Tilt cannot be told: four places of the focuser or more, on both sides of focus.",
        ]  # fmt: skip
    shape = None if reading.drawn is None else (("shape", reading.drawn.value), *_note(sharpest, lines))
    return Looked("stars", sharpest, tuple(lines), seen=() if shape is None else ((CornerStars, shape),))


def bench_frames(readout: Readout, kind: str, seed: int) -> list[Picture]:
    """Return what the simulated bench camera takes, of stars a run through focus."""

    def frame(light: np.ndarray, focus_um: float | None = None) -> Picture:
        return Picture(
            (light - DARK_E).astype(np.float32), FULL_E - DARK_E, name="simulated bench camera", focus_um=focus_um
        )

    truth = hidden_truth(readout, kind, seed)
    if kind == "stars":
        runs = [(at, hidden_truth(readout, kind, seed, at)) for at in (0.0, *FOCUS_UM)]
        return [frame(bench_stars(readout, one, BENCH_COLUMNS), at) for at, one in runs]
    if kind == "sky":
        return [frame(bench_sky(readout, truth, BENCH_COLUMNS))]
    if kind == "ruler":
        camera = readout.layout.camera
        high = (
            600
            if camera is None
            else round(BENCH_COLUMNS * camera.sensor_height_mm.value / camera.sensor_width_mm.value)
        )
        return [frame(bench_ruler(truth.rule_mm, BENCH_COLUMNS, high, seed=seed))]
    return [frame(bench_flat(readout, replace(truth, seed=seed), BENCH_COLUMNS))]
