"""What is seen close up: how much of a tape measure fills the frame, and from how far."""

from dataclasses import replace
from enum import StrEnum
from typing import Annotated, Literal

from pydantic import Field

from farrail.language import N_
from farrail.logbook.observation import Compared, Observation, Off, numbers
from farrail.parts.field_info import FieldInfo
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.origin import Origin
from farrail.readouts.close_up.model import CloseUp
from farrail.readouts.read import Readout

# So far off a width read from a tape in a picture, and a distance held beside a lens; common practice, no source.
WIDTH_OFF_MM, DISTANCE_OFF_MM = 2.0, 5.0
Seen = Annotated[float, Field(gt=0.0, le=100_000.0)]


class CountedFrom(StrEnum):
    """From what a distance to the subject is counted."""

    GLASS = "glass"
    SEAT = "seat"
    SENSOR = "sensor"


def distance_from(close: CloseUp, counted: CountedFrom) -> float | None:
    """Return the distance to the subject that a train predicts as it is focused; None where it has no focus there."""
    now = close.now
    if not now.focused or close.system is None:
        return None
    if counted is CountedFrom.SENSOR:
        return close.subject_to_sensor_mm
    ahead = close.system.stack.ahead_mm if counted is CountedFrom.SEAT else 0.0
    return now.distance_mm + ahead


class FieldWidth(Observation):
    """How wide a piece of a tape measure fills the frame, at the nearest focus or elsewhere."""

    kind_name = N_("width of tape seen")
    calibrates = N_("the magnification at closest focus")
    rank = 30

    kind: Literal["field_width"] = "field_width"
    width_mm: Annotated[Seen, FieldInfo("Width seen", "Length of a ruler across the frame's long side")]
    distance_mm: Annotated[Seen | None, FieldInfo("Distance", "To the ruler; leave it out if not measured")] = None
    counted_from: Annotated[CountedFrom, FieldInfo("Counted from", "Foremost glass, thread seat or sensor", "")] = (
        CountedFrom.GLASS
    )
    nearest: Annotated[bool, FieldInfo("At minimum focus distance", "Its ring at the near stop", "")] = True
    off_mm: Annotated[Off, FieldInfo("± width")] = WIDTH_OFF_MM
    off_distance_mm: Annotated[Off, FieldInfo("± distance")] = DISTANCE_OFF_MM

    @classmethod
    def suits(cls, readout: Readout) -> bool:
        """Whether a lens before a camera can be focused close."""
        return isinstance(readout.layout.optic, CameraLens) and readout.close_up.system is not None

    def compared(self, readout: Readout) -> Compared | None:
        """Return the width beside the one predicted at the same focus."""
        close = self.focused(readout)
        if close is None:
            return numbers(self.width_mm, None, "mm", 0.0, Origin.ASSUMED)
        assert close.system is not None
        width = close.field_mm[0]
        return numbers(self.width_mm, width, "mm", self.off_mm, close.system.origin)

    def focused(self, readout: Readout) -> CloseUp | None:
        """Return the train focused as it was: at its near end, or on the distance measured; None where it cannot."""
        close = readout.close_up
        if close.system is None:
            return None
        if self.nearest:
            return _set(readout, close.focus_for(1.0))
        if self.distance_mm is None:
            return close
        ahead = close.system.stack.ahead_mm
        distance = self.distance_mm
        if self.counted_from is CountedFrom.SEAT:
            distance -= ahead
        elif self.counted_from is CountedFrom.SENSOR:
            # What is between the foremost glass and the sensor hardly changes with the focus.
            distance -= close.subject_to_sensor_mm - close.now.distance_mm if close.now.focused else 0.0
        return _set(readout, close.focus_at(distance))


def _set(readout: Readout, focus_mm: float) -> CloseUp:
    train = readout.layout.train
    within = min(max(focus_mm, 10.0), 1e9)
    conditions = train.conditions.model_copy(update={"focus_mm": within})
    layout = replace(readout.layout, train=train.model_copy(update={"conditions": conditions}))
    return CloseUp(layout)


class WorkingDistance(Observation):
    """How far the foremost glass is from what is sharp."""

    kind_name = N_("working distance")
    rank = 40

    kind: Literal["working_distance"] = "working_distance"
    distance_mm: Annotated[Seen, FieldInfo("Distance", "To what is sharp")]
    counted_from: Annotated[CountedFrom, FieldInfo("Counted from", "Foremost glass, thread seat or sensor", "")] = (
        CountedFrom.GLASS
    )
    off_mm: Annotated[Off, FieldInfo("± distance")] = DISTANCE_OFF_MM

    @classmethod
    def suits(cls, readout: Readout) -> bool:
        """Whether a lens before a camera can be focused close."""
        return FieldWidth.suits(readout)

    def compared(self, readout: Readout) -> Compared | None:
        """Return the distance beside the one predicted as the train is focused."""
        close = readout.close_up
        if close.system is None:
            return numbers(self.distance_mm, None, "mm", 0.0, Origin.ASSUMED)
        return numbers(
            self.distance_mm, distance_from(close, self.counted_from), "mm", self.off_mm, close.system.origin
        )
