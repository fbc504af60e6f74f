"""What frames of each kind say of the train that took them: one order of looking, for window and command line."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from farrail.errors import BadInput
from farrail.frames.as_taken import as_taken
from farrail.frames.dust import DustReading, Mote, find_motes, looked_at_mm, read_mote, stayed
from farrail.frames.flat import FlatReading, read_flat
from farrail.frames.kinds import FrameKind
from farrail.frames.picture import Picture
from farrail.frames.ruler import RulerReading, read_ruler
from farrail.frames.sky import SkyReading, read_sky
from farrail.frames.stars import (
    Drawn,
    StarReading,
    TiltReading,
    find_stars,
    judge_stars,
    read_through_focus,
    sharpest_of,
)
from farrail.frames.watch import UNWATCHED, Watch
from farrail.optics.tilt import allowed_tilt_deg
from farrail.readouts.corner_stars import Spaced, spaced_by_stars
from farrail.readouts.read import Readout
from farrail.train.placed import Place
from farrail.train.rows import Shelf

# Of the time frames take, so much goes into reading their files.
READING = 0.4


@dataclass(frozen=True)
class ByHand:
    """What a person adds to frames.

    Attributes:
        line: two places along a rule: column and row of each, pixels.
        motes: outlines drawn about dust: column and row of the middle and the width, pixels.
        focus_um: where the focuser was at each frame, where their files do not say.
    """

    line: tuple[float, float, float, float] | None = None
    motes: tuple[tuple[float, float, float], ...] = ()
    focus_um: tuple[float, ...] = ()


NOTHING_BY_HAND = ByHand()


@dataclass(frozen=True)
class Looked:
    """What frames say.

    Attributes:
        kind: what they show.
        picture: the one to be shown.
        width_mm: how wide the sensor is.
        height_mm: how high it is.
        flats: flats with what each says, by focal length.
        motes: of dust.
        stays: of each mote, whether it is in the other frame too; () without another frame.
        stars: of stars, of the sharpest frame.
        spaced: which way the spacing is off by them; None where no corrector asks for one, or they say nothing.
        error_mm: how far the spacing is off as the train is placed; None where no one knows.
        tilt: of a run through focus.
        allowed_tilt_deg: what the train's depth of focus allows.
        unplaced: of several frames of stars, how many do not say where the focuser was.
        frames: how many frames there are.
        rule: of a ruler; None where no marks were found.
        sky: of a clear sky.
        pupil_part: id of the part whose exit pupil the train's light comes from.
    """

    kind: FrameKind
    picture: Picture
    width_mm: float
    height_mm: float
    flats: tuple[tuple[Picture, FlatReading], ...] = ()
    motes: tuple[DustReading, ...] = ()
    stays: tuple[bool, ...] = ()
    stars: StarReading | None = None
    spaced: Spaced | None = None
    error_mm: float | None = None
    tilt: TiltReading | None = None
    allowed_tilt_deg: float = 0.0
    unplaced: int = 0
    frames: int = 1
    rule: RulerReading | None = None
    sky: SkyReading | None = None
    pupil_part: str = ""

    @property
    def flat(self) -> FlatReading | None:
        """The first flat's reading."""
        return self.flats[0][1] if self.flats else None

    @property
    def place(self) -> Place | None:
        """Where on the rail it points; None for nowhere."""
        if self.flat is not None:
            found = self.flat.explained
            return None if found is None or found.imaged is None else found.imaged.placed.place
        return next((one.surfaces[0].place for one in self.motes if one.surfaces), None)

    @property
    def rings(self) -> tuple[tuple[float, float, float], ...]:
        """Column, row and diameter of each mote's shadow in the picture's pixels."""
        scale = self.picture.size[0] / self.width_mm
        return tuple((one.mote.column, one.mote.row, one.mote.outer_mm * scale) for one in self.motes)


def look(
    kind: FrameKind, pictures: Sequence[Picture], readout: Readout, shelf: Shelf, watch: Watch = UNWATCHED,
    by_hand: ByHand = NOTHING_BY_HAND,
) -> Looked:  # fmt: skip
    """Return what frames say of the train that took them.

    Args:
        kind: what they show.
        pictures: one frame; of flats one for each focal length, of stars a run through focus, of dust another with a
            filter or the camera turned.
        readout: the train, with a camera.
        shelf: its parts.
        watch: who waits for it.
        by_hand: what a person adds.

    Raises:
        BadInput: a frame is not the camera's, or was not taken with the train's lens.
    """
    camera = readout.layout.camera
    if camera is None:
        raise BadInput(
            "Train “{name}” has no camera, so no frame belongs to it; add one.", name=readout.layout.train.name
        )
    wide, high = camera.sensor_width_mm.value, camera.sensor_height_mm.value
    for one in pictures:
        one.check_on(wide, high)
    first = pictures[0]
    if kind is FrameKind.FLAT:
        ordered = sorted(pictures, key=lambda one: one.focal_mm or 0.0)
        flats = []
        for number, one in enumerate(ordered):
            share = watch.part(number / len(ordered), (number + 1) / len(ordered))
            flats.append((one, read_flat(one, as_taken(one, readout, shelf), share)))
        corrector = readout.layout.corrector
        pupil_part = readout.layout.optic.id if corrector is None else corrector.part.id
        return Looked(
            kind, flats[0][0], wide, high, flats=tuple(flats), frames=len(flats), pupil_part=pupil_part
        )  # fmt: skip
    if kind is FrameKind.DUST:
        return _dust(pictures, readout, wide, high, watch, by_hand.motes)
    if kind is FrameKind.SKY:
        return Looked(kind, first, wide, high, sky=read_sky(first, as_taken(first, readout, shelf)))
    if kind is FrameKind.RULER:
        return Looked(kind, first, wide, high, rule=read_ruler(first, wide, ends=by_hand.line))
    return _stars(pictures, readout, (wide, high), watch, by_hand.focus_um)


def _dust(
    pictures: Sequence[Picture], readout: Readout, wide: float, high: float, watch: Watch,
    drawn: tuple[tuple[float, float, float], ...],
) -> Looked:  # fmt: skip
    first = pictures[0]
    step = wide / first.size[0]
    by_hand = tuple(Mote(column, row, across * step, 0.0, 0.0, drawn=True) for column, row, across in drawn)
    # What is outlined by hand stands for what was found there.
    found = tuple(mote for mote in find_motes(first, wide) if not any(mote.meets(one, step) for one in by_hand))
    watch.reached(0.6)
    motes = tuple(read_mote(mote, readout, looked_at_mm(first, wide)) for mote in (*found, *by_hand))
    stays: tuple[bool, ...] = ()
    if len(pictures) > 1:
        # Another frame, with a filter or the camera turned between them, distinguishes the motes.
        stays = stayed([one.mote for one in motes], find_motes(pictures[1], wide), wide, first.size[0])
    return Looked(FrameKind.DUST, first, wide, high, motes=motes, stays=stays, frames=len(pictures))


def _stars(
    pictures: Sequence[Picture], readout: Readout, sensor_mm: tuple[float, float], watch: Watch,
    focus_um: tuple[float, ...],
) -> Looked:  # fmt: skip
    """Look at stars; of a run through focus the frame nearest to focus shows their shape.

    Raises:
        BadInput: places of the focuser are given for another number of frames.
    """
    wide, high = sensor_mm
    if focus_um and len(focus_um) != len(pictures):
        raise BadInput(
            "{count} places of the focuser are given for {count_2} frames; give one for each, in order.",
            count=len(focus_um),
            count_2=len(pictures),
        )
    stars = []
    for number, one in enumerate(pictures, 1):
        stars.append(find_stars(one, wide))
        watch.reached(0.9 * number / len(pictures))
    sharpest = sharpest_of(stars)
    reading = judge_stars(stars[sharpest], wide, high)
    places: list[float | None] = list(focus_um) or [one.focus_um for one in pictures]
    placed = [(at, one) for at, one in zip(places, stars, strict=True) if at is not None]
    tilt = read_through_focus(placed, wide, high) if len(placed) > 1 else None
    spaced = None
    if reading.drawn is not None and reading.rotation is None:
        radial = None if reading.drawn is Drawn.ROUND else reading.drawn is Drawn.RADIAL
        spaced = spaced_by_stars(readout, radial=radial)
    unplaced = len(pictures) - len(placed) if len(pictures) > 1 else 0
    return Looked(
        FrameKind.STARS, pictures[sharpest], wide, high, stars=reading, spaced=spaced, tilt=tilt, unplaced=unplaced,
        error_mm=readout.spacing.error_mm, frames=len(pictures),
        allowed_tilt_deg=allowed_tilt_deg(
            math.hypot(wide, high) / 2.0, readout.layout.first_order.effective_f_number.value
        ),
    )  # fmt: skip
