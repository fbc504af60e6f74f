"""What is said about frame and cone: image circle, passbands, plates, focal length, the train's own shadow."""

from dataclasses import dataclass

from farrail.language import say
from farrail.optics.power import Power
from farrail.readouts.field.coverage import Circle
from farrail.readouts.finding import FindingText
from farrail.readouts.light.sharpness import Passband

# A star's width in pixels that shows its detail, and beyond which nothing more is seen; common practice, no source.
ENOUGH_PX, PLENTY_PX = 2.0, 4.0


@dataclass(frozen=True)
class SensorLargerThanCircle(FindingText):
    """A sensor larger than the image circle."""

    kind = "light.sensor_larger_than_circle"
    circle: Circle

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        circle = self.circle
        if not circle.centred:
            return (
                say(
                    "The corners of the shifted frame reach {margin_mm:.1f mm} beyond the image circle.",
                    margin_mm=-circle.margin_mm / 2.0,
                ),
                say(
                    "Image circle {value:.1f mm}; the farthest corner needs {needed_mm:.1f mm}: {covered:.0f} % of the "
                    "frame is inside. Shift or tilt less, or crop.",
                    value=circle.diameter.value, needed_mm=circle.needed_mm, covered=100 * circle.covered,
                ),
            )  # fmt: skip
        return (
            say(
                "The sensor's diagonal is {margin_mm:.1f mm} larger than the image circle.", margin_mm=-circle.margin_mm
            ),
            say(
                "Image circle {value:.1f mm}, frame diagonal {diagonal_mm:.1f length}: "
                "{covered:.0f} % of the frame is inside. Crop to that, or use a smaller sensor.",
                diagonal_mm=circle.diagonal_mm,
                value=circle.diameter.value,
                covered=100 * circle.covered,
            ),
        )


@dataclass(frozen=True)
class NarrowbandInFastCone(FindingText):
    """A narrow filter in a fast cone."""

    kind = "light.narrowband_in_fast_cone"
    band: Passband

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        band = self.band
        where = "" if band.in_beam else say(", once it is turned into the beam")
        corner = (
            "" if band.corner is None else say(" and {corner:.0f} % in the frame's corner", corner=100 * band.corner)
        )
        return (
            say(
                "{name} passes {passes:.0f} % of its own line in the middle{corner}{where}.",
                name=band.name,
                passes=100 * band.passes,
                corner=corner,
                where=where,
            ),
            say(
                "At f/{f_number:.3g} the cone shifts its passband of {width_nm:g} nm by "
                "{mean_nm:.2f} nm on average and {edge_nm:.2f} nm at the edge. Use a wider one, "
                "one made for fast optics, or stop down.",
                f_number=band.f_number,
                mean_nm=band.mean_nm,
                edge_nm=band.edge_nm,
                width_nm=band.width_nm,
            ),
        )


@dataclass(frozen=True)
class PlateAberration(FindingText):
    """Glass too thick for the cone."""

    kind = "light.plate_aberration"
    aberration_um: float
    tolerable_um: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say(
                "The glass in the beam adds {aberration_um:.0f} µm of spherical aberration.",
                aberration_um=self.aberration_um,
            ),
            say(
                "Refocusing compensates up to {tolerable_um:.0f} µm at this f-number; use thinner glass.",
                tolerable_um=self.tolerable_um,
            ),
        )


@dataclass(frozen=True)
class EffectiveFocalLength(FindingText):
    """What a powered part makes of the focal length."""

    kind = "light.effective_focal_length"
    part: str
    focal_mm: float
    power: Power

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say(
                "{part} makes {magnification:.0f} mm of {focal_mm:g} mm.",
                part=self.part,
                magnification=self.focal_mm * self.power.magnification,
                focal_mm=self.focal_mm,
            ),
            say(
                "At {distance_mm:.1f mm} before the sensor it works at "
                "{magnification:.3f}×; the distance changes that.",
                distance_mm=self.power.distance_mm,
                magnification=self.power.magnification,
            ),
        )


@dataclass(frozen=True)
class TrainShadow(FindingText):
    """A train in its mirror's light."""

    kind = "light.train_shadow"
    share: float
    part: str
    hidden: bool

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        if self.hidden:
            return (
                say("The train is within the shadow of the mirror's own obstruction: no extra light is lost."),
                say("{part}, its widest part, is narrower than that.", part=self.part),
            )
        return (
            say(
                "The train blocks {share:.1f} % of the mirror's light; {part} is its widest part.",
                share=100 * self.share,
                part=self.part,
            ),
            say("Everything ahead of the mirror is in its light; a narrower part there loses less."),
        )


@dataclass(frozen=True)
class TiltPlateReach(FindingText):
    """What a tilt plate can do to a corner."""

    kind = "light.tilt_plate"
    part: str
    moved_um: float
    most_deg: float
    allowed_deg: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say(
                "{part} tilts up to {most_deg:g}°: it moves a corner by {moved_um:.0f} µm at most.",
                part=self.part,
                most_deg=self.most_deg,
                moved_um=self.moved_um,
            ),
            say(
                "{allowed_deg:.3f}° keep the corners in focus. Begin with its plates parallel; stars "
                "long on one side of the frame say which screw to turn.",
                allowed_deg=self.allowed_deg,
            ),
        )


@dataclass(frozen=True)
class SamplingAgainstSeeing(FindingText):
    """How many pixels a star of usual seeing covers.

    Attributes:
        scale_arcsec: what a pixel sees, seconds of arc.
        steady_px: how many pixels the width of a star covers in steady air.
        usual_px: the same in usual air.
    """

    kind = "light.sampling"
    scale_arcsec: float
    steady_px: float
    usual_px: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        what = say(
            "A pixel sees {scale:.2f}″: in seeing of 2″ a star is {steady:.1f} pixels wide, in 4″ {usual:.1f}.",
            scale=self.scale_arcsec,
            steady=self.steady_px,
            usual=self.usual_px,
        )
        if self.usual_px < ENOUGH_PX:
            return what, say(
                "Fewer than two pixels lose detail; a longer focal length or smaller pixels would show it. For wide "
                "fields that is the usual price."
            )
        if self.steady_px > PLENTY_PX:
            return what, say(
                "More than four pixels show nothing more: a reducer, larger pixels or binning would need less time."
            )
        return what, say("Two to four pixels suit a star.")
