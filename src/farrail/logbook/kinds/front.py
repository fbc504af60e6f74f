"""What is seen of a front stack: a corner that darkens, and by how much."""

from dataclasses import replace
from enum import StrEnum
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from farrail.language import N_, say
from farrail.logbook.observation import Agreement, Compared, Corner, Observation, Off, numbers
from farrail.parts.field_info import FieldInfo
from farrail.parts.inventory_item import PartId
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, weakest
from farrail.readouts.front.model import Front
from farrail.readouts.front.rims import focal_at_touch, rims_over
from farrail.readouts.read import Readout

# A focal length read off a zoom's ring may be off so far where no one says otherwise; common practice, no source.
FOCAL_OFF_MM = 0.5
# So far a width by a frame may be off where no one says otherwise; our own choice, no source.
WIDTH_OFF_MM = 0.3
# So far an exit pupil by a frame may be off where no one says otherwise; our own choice, no source.
EXIT_OFF_MM = 10.0
# So many stops an eye is off judging a corner; common practice, no source.
STOPS_OFF = 0.2
# Of a fixed lens: so much of the bundle's radius a judgement by eye may be off; common practice, no source.
TOUCH_OFF = 1.0


def _focal_lengths(observed_mm: float, predicted_mm: float | None, off_mm: float, rests_on: Origin) -> Compared:
    return replace(numbers(observed_mm, predicted_mm, "mm", off_mm, rests_on), stays_mm=True)


# How far beyond its engraved ends a zoom may be read.
BEYOND_ENGRAVED = 0.03


class Level(StrEnum):
    """How much of the corner's bundle is cut."""

    ONSET = "onset"
    HALF = "half"
    DARK = "dark"


class Judged(StrEnum):
    """How a darkening was shown."""

    BY_EYE = "by_eye"
    MEASURED = "measured"


# k of the rim's place: where the cut begins, takes half, takes all (models.md, section 3).
TOUCH = {Level.ONSET: 1.0, Level.HALF: 0.0, Level.DARK: -1.0}


class Darkening(Observation):
    """A corner seen to darken: the longest focal length at which it still shows so much."""

    kind_name = N_("corner darkens")
    calibrates = N_("the entrance pupil, or the clear width of the part that shows")
    rank = 10

    kind: Literal["darkening"] = "darkening"
    focal_mm: Annotated[
        Annotated[float, Field(gt=0.0, le=100_000.0)],
        FieldInfo("Focal length", "Read off the zoom as the corner shows it"),
    ]
    level: Annotated[Level, FieldInfo("Mark", "It begins to show, half of the light is gone, all is dark", "")] = (
        Level.ONSET
    )
    judged: Annotated[Judged, FieldInfo("Judged", "By eye, or measured in a picture", "")] = Judged.BY_EYE
    off_mm: Annotated[Off, FieldInfo("± focal length", "Uncertainty of the reading, ±")] = FOCAL_OFF_MM
    corners: Annotated[tuple[Corner, ...], Field(max_length=4), FieldInfo("Corners", "None: all equal", "")] = ()
    # The part that showed, where one could say; "": no one could, and the tightest is taken.
    part: Annotated[str, Field(max_length=80), FieldInfo("Part in the picture", "Where it was visible", "")] = ""

    @property
    def touch(self) -> float:
        """K of the rim."""
        return TOUCH[self.level]

    @property
    def touch_low(self) -> float:
        """The least k that an eye may mean: a beginning darkening is seen late, never early."""
        return 0.0 if self.level is Level.ONSET and self.judged is Judged.BY_EYE else self.touch

    def rims_meant(self, front: Front) -> tuple[int, ...]:
        """Return the numbers of the apertures that may have shown: those of the part named, else all."""
        return tuple(n for n, placed in enumerate(front.placed) if placed.part.id == self.part)

    @classmethod
    def suits(cls, readout: Readout) -> bool:
        """Whether something is ahead of a lens."""
        return readout.front.judged

    def compared(self, readout: Readout) -> Compared | None:
        """Return the focal length beside the one predicted; of a fixed lens how far the rim is from there."""
        front = readout.front
        if not front.judged:
            return numbers(self.focal_mm, None, "mm", 0.0, Origin.ASSUMED)
        only = self.rims_meant(front)
        low, high = front.range_mm
        if high <= low:
            return self._of_fixed_lens(front, only)
        predicted = focal_at_touch(front, self.touch, only)
        if predicted is None:
            # It was seen, and nothing should show at any focal length.
            return Compared(self.focal_mm, None, "mm", self.off_mm, front.origin, Agreement.DIFFERS)
        found = _focal_lengths(self.focal_mm, predicted, self.off_mm, front.origin)
        if found.agreement is not Agreement.DIFFERS or self.focal_mm > predicted or self.touch_low == self.touch:
            return found
        # A beginning seen late is seen at a shorter focal length: that much the eye is given.
        latest = focal_at_touch(front, self.touch_low, only)
        late = predicted - (low if latest is None else latest)
        return _focal_lengths(self.focal_mm, predicted, self.off_mm + late, front.origin)

    def _of_fixed_lens(self, front: Front, only: tuple[int, ...]) -> Compared:
        rims = rims_over(front, np.array([front.focal_mm]))
        assert rims is not None
        free = rims.free[0][list(only)] if only else rims.free[0]
        return numbers(self.touch, float(free.min()), "", TOUCH_OFF, front.origin)

    @property
    def series(self) -> tuple[str, ...]:
        """The mark, and the part that showed: a beginning is no half."""
        return (self.level, self.part)

    def refusal(self, readout: Readout) -> str:
        """Return that the lens has no such focal length."""
        lens = readout.layout.optic
        if not isinstance(lens, CameraLens) or lens.longest_focal_mm is None:
            return ""
        low, high = lens.focal_length_mm.low, lens.longest_focal_mm.high
        if low * (1.0 - BEYOND_ENGRAVED) <= self.focal_mm <= high * (1.0 + BEYOND_ENGRAVED):
            return ""
        return say("{name} has {low:g} to {high:g} mm; {focal:g} mm is outside. Enter it again.",
                   name=lens.name, low=low, high=high, focal=self.focal_mm)  # fmt: skip


class CornerLoss(Observation):
    """How much darker a corner is than the middle, natural falloff left out."""

    kind_name = N_("corner loss")
    rank = 20

    kind: Literal["corner_loss"] = "corner_loss"
    stops: Annotated[
        Annotated[float, Field(ge=0.0, le=20.0)],
        FieldInfo("Stops lost", "In the darkest corner, compared with the same lens without the front stack", "stops"),
    ]
    off_stops: Annotated[Off, FieldInfo("± stops", "", "stops")] = STOPS_OFF

    @classmethod
    def suits(cls, readout: Readout) -> bool:
        """Whether there is a frame with corners."""
        return bool(readout.light.corners)

    def compared(self, readout: Readout) -> Compared | None:
        """Return the stops beside those predicted."""
        if not readout.light.corners:
            return numbers(self.stops, None, "stops", 0.0, Origin.ASSUMED)
        origins = [o.diameter.origin for o in readout.light.placed]
        if readout.front.judged:
            origins.append(readout.front.origin)
        return numbers(self.stops, readout.corner_stops, "stops", self.off_stops, weakest(origins))


class PupilInFrame(Observation):
    """Where the entrance pupil is by a photo of an even wall behind a front stack, all parts as they are placed."""

    kind_name = N_("entrance pupil in a frame")
    calibrates = N_("the entrance pupil")
    rank = 25

    kind: Literal["pupil_in_frame"] = "pupil_in_frame"
    depth_mm: Annotated[
        Annotated[float, Field(ge=-500.0, le=2_000.0)], FieldInfo("Depth", "Entrance pupil behind the thread seat")
    ]
    off_mm: Annotated[Off, FieldInfo("± depth", "Half of what holds it with 95 %")] = FOCAL_OFF_MM

    @classmethod
    def suits(cls, readout: Readout) -> bool:
        """Whether something is ahead of a lens."""
        return readout.front.judged

    def compared(self, readout: Readout) -> Compared | None:
        """Return the depth beside the one the lens is said to have."""
        has = readout.layout.first_order.entrance_pupil
        return numbers(self.depth_mm, has.value, "mm", self.off_mm, has.origin)


class OpeningInFrame(Observation):
    """How wide an opening is by a frame of an even wall: its shadow over the picture, all else as it is placed.

    Of what covers the picture's edge, such as a guider's prism, `value_mm` is how far its edge is from the axis.
    """

    kind_name = N_("opening in a frame")
    calibrates = N_("the clear width of the part")
    rank = 27

    kind: Literal["opening_in_frame"] = "opening_in_frame"
    part: Annotated[PartId, FieldInfo("Part", "Whose opening it is", "")]
    # The part's field it is about.
    path: Annotated[str, Field(pattern=r"^[a-z_]{3,60}$"), FieldInfo("Value", "One of its openings", "")] = (
        "clear_aperture_mm"
    )
    value_mm: Annotated[
        Annotated[float, Field(ge=-500.0, le=2_000.0)],
        FieldInfo("Clear width", "Or its edge's distance from the axis"),
    ]
    off_mm: Annotated[Off, FieldInfo("± width", "Half of what holds it with 95 %")] = WIDTH_OFF_MM

    @property
    def series(self) -> tuple[str, ...]:
        """The part and its opening."""
        return (self.part, self.path)

    @classmethod
    def suits(cls, readout: Readout) -> bool:
        """Whether anything in the train has an opening."""
        return bool(readout.light.placed)

    def compared(self, readout: Readout) -> Compared | None:
        """Return the width beside the one the part is said to have."""
        has = getattr(readout.layout.parts.get(self.part), self.path, None)
        if not isinstance(has, Quantity):
            return numbers(self.value_mm, None, "mm", 0.0, Origin.ASSUMED)
        return numbers(self.value_mm, has.value, "mm", self.off_mm, has.origin)


class ExitPupilInFrame(Observation):
    """Where the exit pupil is by a frame of an even wall: behind an opening whose width was measured."""

    kind_name = N_("exit pupil in a frame")
    calibrates = N_("the exit pupil")
    rank = 28

    kind: Literal["exit_pupil_in_frame"] = "exit_pupil_in_frame"
    part: Annotated[PartId, FieldInfo("Part", "The corrector, or the lens or telescope without one", "")]
    distance_mm: Annotated[
        Annotated[float, Field(gt=0.0, le=20_000.0)], FieldInfo("Distance", "Exit pupil before the sensor")
    ]
    off_mm: Annotated[Off, FieldInfo("± distance", "Half of what holds it with 95 %")] = EXIT_OFF_MM

    @classmethod
    def suits(cls, readout: Readout) -> bool:
        """Whether anything in the train has an opening."""
        return bool(readout.light.placed)

    def compared(self, readout: Readout) -> Compared | None:
        """Return the distance beside the one used now."""
        known = readout.layout.first_order.exit_pupil
        return numbers(self.distance_mm, known.value, "mm", self.off_mm, known.origin)
