"""What frames of stars say in numbers: tilt and curvature by a run through focus, and where the guide star is."""

import math
from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import Field

from farrail.language import N_
from farrail.logbook.observation import Compared, Measure, Observation, Off, numbers
from farrail.optics.tilt import allowed_tilt_deg
from farrail.parts.field_info import FieldInfo
from farrail.parts.kinds.guiders import OffAxisGuider
from farrail.parts.origin import Origin
from farrail.readouts.read import Readout
from farrail.readouts.spacing.guide_star import guide_star_mm

# So far a tilt by a run through focus may be off where no one says otherwise; our own choice, no source.
TILT_OFF_DEG = 0.05
# So far the centre of a field's rotation may be off; our own choice, no source.
CENTRE_OFF_MM = 1.5
Degrees = Annotated[float, Field(ge=0.0, le=30.0)]
Micrometres = Annotated[float, Field(ge=-1e6, le=1e6)]
Sideways = Annotated[float, Field(ge=-200.0, le=200.0)]


class TiltByStars(Observation):
    """The sensor's tilt and the field's curvature, by stars on both sides of focus."""

    kind_name = N_("tilt by stars")
    rank = 55

    kind: Literal["tilt_by_stars"] = "tilt_by_stars"
    tilt_deg: Annotated[Degrees, FieldInfo("Tilt", "Sensor tilt, by stars through focus", "°")]
    hour: Annotated[
        Annotated[float, Field(ge=0.0, le=12.0)] | None,
        FieldInfo("Clock", "Where in the picture focus is farthest out, 12 at the top", ""),
    ] = None
    off_deg: Annotated[Off, FieldInfo("± tilt", "", "°")] = TILT_OFF_DEG
    curvature_um: Annotated[
        Micrometres | None, FieldInfo("Curvature", "Focus in the corner against the middle", "µm")
    ] = None
    off_curvature_um: Annotated[Off, FieldInfo("± curvature", "", "µm")] = 10.0
    position_um: Annotated[Micrometres | None, FieldInfo("Focuser", "Best focus in the middle", "µm")] = None

    @classmethod
    def suits(cls, readout: Readout) -> bool:
        """Whether there is a camera."""
        return readout.layout.camera is not None

    def compared(self, readout: Readout) -> Compared | None:
        """Return the tilt beside none; it agrees as far as the depth of focus allows."""
        camera = readout.layout.camera
        if camera is None:
            return numbers(self.tilt_deg, None, "°", 0.0, Origin.ASSUMED)
        half = math.hypot(camera.sensor_width_mm.value, camera.sensor_height_mm.value) / 2.0
        number = readout.layout.first_order.effective_f_number
        allowed = allowed_tilt_deg(half, number.value)
        return numbers(self.tilt_deg, 0.0, "°", max(allowed, self.off_deg), number.origin)

    def measures(self) -> Iterator[Measure]:
        """Yield tilt, curvature and best focus."""
        yield Measure(N_("tilt of the sensor"), self.tilt_deg, self.off_deg, "°")
        if self.curvature_um is not None:
            yield Measure(N_("curvature of the field"), self.curvature_um, self.off_curvature_um, "µm")
        if self.position_um is not None:
            yield Measure(N_("best focus"), self.position_um, 0.0, "µm", common=True)


class GuideStar(Observation):
    """Where the guide star is by a field that rotated while the frame was taken: the centre it rotated about."""

    kind_name = N_("guide star by field rotation")
    calibrates = N_("the distance from the axis to the guider's prism")
    rank = 57

    kind: Literal["guide_star"] = "guide_star"
    right_mm: Annotated[Sideways, FieldInfo("Right", "From the picture's middle, on the sensor; left is negative")]
    up_mm: Annotated[Sideways, FieldInfo("Up", "From the picture's middle, on the sensor; down is negative")]
    off_mm: Annotated[Off, FieldInfo("± place")] = CENTRE_OFF_MM

    @property
    def height_mm(self) -> float:
        """How far from the axis it is, in the plane of the sensor."""
        return math.hypot(self.right_mm, self.up_mm)

    @classmethod
    def suits(cls, readout: Readout) -> bool:
        """Whether an off-axis guider takes the guide star's light."""
        return any(isinstance(placed.part, OffAxisGuider) for placed in readout.layout.rear)

    def compared(self, readout: Readout) -> Compared | None:
        """Return its distance from the axis beside the middle of what the prism can take."""
        ends = next(guide_star_mm(readout.layout), None)
        if ends is None:
            return numbers(self.height_mm, None, "mm", 0.0, Origin.ASSUMED)
        middle, half = (ends.low_mm + ends.high_mm) / 2.0, (ends.high_mm - ends.low_mm) / 2.0
        return numbers(self.height_mm, middle, "mm", half + self.off_mm, ends.origin)
