"""What the light figures say: label, value and working."""

from dataclasses import dataclass

from farrail.language import N_, say
from farrail.optics.passband import SOURCE as PASSBAND_SOURCE
from farrail.optics.plates import SOURCE as PLATE_SOURCE
from farrail.optics.tilt import SOURCE as TILT_SOURCE
from farrail.readouts.figure import Figure, FigureText, FigureWords, figure_words
from farrail.readouts.light.sharpness import Passband

STOP_SOURCE = N_("definition of a stop")
FIELD_FORMULAS = {
    "rectilinear": N_("2·atan(d/2f)"),
    "equidistant": "d/f",
    "equisolid": N_("4·asin(d/4f)"),
    "stereographic": N_("4·atan(d/4f)"),
    "orthographic": N_("2·asin(d/2f)"),
}


def _sides(sides: tuple[float, ...]) -> str:
    return say("{sides:.1f} × {sides_2:.1f} mm", sides=sides[0], sides_2=sides[1])


@dataclass(frozen=True)
class TiltAllowed(FigureText):
    """The tilt of the sensor that stays within the depth of focus from corner to corner."""

    kind = "light.tilt_allowed_deg"
    unit = "°"
    f_number: float
    corner_mm: float

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        numbers = say(
            "atan(2·0.00055·{f_number:.3g}²/{corner_mm:.2f}) = {number:.4f}°",
            f_number=self.f_number,
            corner_mm=self.corner_mm,
            number=figure.number,
        )
        return figure_words(say("tilt allowed"), "atan(2λN²/h)", numbers, TILT_SOURCE)


@dataclass(frozen=True)
class TiltShim(FigureText):
    """That tilt as a wedge across the flange."""

    kind = "light.tilt_shim_mm"
    unit = "mm"
    flange_mm: float
    tilt_deg: float

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        numbers = say(
            "{flange_mm:g}·tan {tilt_deg:.4f}° = {number:.4f} mm",
            flange_mm=self.flange_mm,
            tilt_deg=self.tilt_deg,
            number=figure.number,
        )
        return figure_words(say("tilt allowed, as shim across the flange"), say("flange · tan a"), numbers, TILT_SOURCE)


@dataclass(frozen=True)
class TiltOfOnePixel(FigureText):
    """The tilt that blurs the corner by one pixel."""

    kind = "light.tilt_pixel_deg"
    unit = "°"
    f_number: float
    corner_mm: float
    pixel_um: float

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        numbers = say(
            "atan({f_number:.3g}·{pixel_um:g} µm/{corner_mm:.2f} mm) = {number:.4f}°",
            f_number=self.f_number,
            pixel_um=self.pixel_um,
            corner_mm=self.corner_mm,
            number=figure.number,
        )
        return figure_words(say("tilt that blurs a corner by one pixel"), say("atan(N·p/h)"), numbers, TILT_SOURCE)


@dataclass(frozen=True)
class TiltPlateMoves(FigureText):
    """How far this tilt plate moves a corner of the sensor along the axis, at most."""

    kind = "light.tilt_plate.*_um"
    unit = "µm"
    part: str
    most_deg: float
    corner_mm: float

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        numbers = say(
            "{corner_mm:.2f} mm · tan {most_deg:g}° = {number:.0f} µm",
            corner_mm=self.corner_mm,
            most_deg=self.most_deg,
            number=figure.number,
        )
        return figure_words(
            say("most a corner is moved by {part}", part=self.part), say("h · tan a"), numbers, TILT_SOURCE
        )


@dataclass(frozen=True)
class GlassAberration(FigureText):
    """The blur plane glass adds to a converging cone."""

    kind = "light.plate_aberration_um"
    unit = "µm"
    tolerable_um: float

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        numbers = say("{number:.2f} µm of {tolerable_um:.1f} µm", number=figure.number, tolerable_um=self.tolerable_um)
        formula = say("edge ray's shift − paraxial shift, summed; tolerable 16λN²")
        return figure_words(say("spherical aberration of the glass"), formula, numbers, PLATE_SOURCE)


@dataclass(frozen=True)
class PassbandShare(FigureText):
    """How far a narrow filter's passband moves, and what it still passes of its line, at this cone's steepest rays."""

    kind = "light.passband.*"
    unit = "%"
    band: "Passband"

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        band = self.band
        corner = (
            say(
                "; in the corner {corner:.0f} %, mean shift {corner_nm:.2f} nm",
                corner=100 * band.corner,
                corner_nm=band.corner_nm,
            )
            if band.corner is not None
            else ""
        )
        numbers = say(
            "mean shift {mean_nm:.2f} nm, edge {edge_nm:.2f} nm, width {width_nm:g} nm: "
            "flat-top {passes:.0f} %, Gaussian {gaussian:.0f} %{corner}",
            mean_nm=band.mean_nm,
            edge_nm=band.edge_nm,
            width_nm=band.width_nm,
            passes=100 * band.passes,
            gaussian=100 * band.gaussian,
            corner=corner,
        )
        formula = say("share of the pupil whose shifted passband still holds the line")
        return figure_words(
            say("share of its own line passed by {name}", name=band.name), formula, numbers, PASSBAND_SOURCE
        )
