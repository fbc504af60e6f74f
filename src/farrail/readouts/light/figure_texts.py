"""What the light figures say: label, value and working."""

import math
from dataclasses import dataclass

from farrail.language import N_, say, word
from farrail.optics.illumination import SOURCE as RI_SOURCE
from farrail.optics.pupils import CLEAR_DIAMETER_SOURCE, Pupil
from farrail.parts.provenance import Quantity
from farrail.quantities import number
from farrail.readouts.figure import Figure, FigureText, FigureWords, figure_words
from farrail.readouts.light.guide import GuideLight
from farrail.readouts.light.model import Clearance
from farrail.readouts.light.taking import Taking
from farrail.readouts.limits import CLEAN_STOPS
from farrail.readouts.names import aperture_name, whole_name
from farrail.train.train import Side
from farrail.units import stops_lost

STOP_SOURCE = N_("definition of a stop")
EDGES = {"top": N_("top"), "bottom": N_("bottom"), "left": N_("left"), "right": N_("right")}
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
class SensorFNumber(FigureText):
    """Focal length over aperture: the cone of light that reaches the sensor."""

    kind = "light.f_number"
    quantity: Quantity

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        quantity = self.quantity
        return figure_words(
            say("f-number at the sensor"),
            "N",
            say("{number:.3g}", number=figure.number),
            quantity.in_use.note or word(quantity.origin),
        )


@dataclass(frozen=True)
class ExitPupil(FigureText):
    """How far before the sensor the light seems to come from: its cones start there."""

    kind = "light.exit_pupil_mm"
    unit = "mm"
    quantity: Quantity

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        quantity = self.quantity
        label = (
            say("exit pupil before the sensor")
            if figure.number >= 0.0
            else say("exit pupil, before the sensor (negative: behind it)")
        )
        numbers = (
            say("{number:.1f} mm", number=figure.number)
            if figure.low is None
            else say("{low:.0f} to {high:.0f} mm", low=figure.low, high=figure.high)
        )
        return figure_words(label, "L", numbers, quantity.in_use.note or quantity.origin)


@dataclass(frozen=True)
class FocalLength(FigureText):
    """The focal length with everything in the train that has power."""

    kind = "light.focal_length_mm"
    unit = "mm"
    stays_mm = True
    quantity: Quantity

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        note = self.quantity.in_use.note
        return figure_words(
            say("focal length at the sensor"), "f·(1 − d/f_r)", note, say("thin lens at its distance before the sensor")
        )


@dataclass(frozen=True)
class CornerIllumination(FigureText):
    """Relative illumination: the corner's light as a share of the centre's, cut by parts alone."""

    kind = "light.corner_ri"
    apertures: int
    corner_mm: float
    f_number: float

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        numbers = say(
            "{apertures} apertures at h {corner_mm:.2f} mm, N {f_number:.3g}: {number:.4f}",
            apertures=self.apertures,
            corner_mm=self.corner_mm,
            f_number=self.f_number,
            number=figure.number,
        )
        return figure_words(
            say("relative illumination in the corner"),
            say("open area of the pupil / area of the pupil"),
            numbers,
            RI_SOURCE,
        )


@dataclass(frozen=True)
class CornerLoss(FigureText):
    """The corner's loss in stops: one stop is half the light."""

    kind = "light.corner_stops"
    unit = "stops"
    ri: float

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        return figure_words(
            say("light lost in the corner"),
            say("−log2 RI"),
            say("−log2 {ri:.4f} = {number}", ri=self.ri, number=number(figure.number)),
            STOP_SOURCE,
        )


@dataclass(frozen=True)
class EdgeLoss(FigureText):
    """The loss in the middle of one edge of the picture, in stops."""

    kind = "light.edge.*_stops"
    unit = "stops"
    ri: float
    edge: str

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        label = say("light lost in the middle of the picture's {edge}", edge=say(EDGES[self.edge]))
        return figure_words(
            label,
            say("−log2 RI"),
            say("−log2 {ri:.4f} = {number}", ri=self.ri, number=number(figure.number)),
            STOP_SOURCE,
        )


@dataclass(frozen=True)
class LimitingPart(FigureText):
    """The part that clips the corner most: change this one first."""

    kind = "light.limiting_part"
    clearance: Clearance | None
    taking: Taking | None

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        first = self.clearance
        numbers, name = say("no aperture clips inside the frame"), say("none")
        if first is not None and self.taking is not None:
            name, (x, y) = first.placed.part.name, self.taking.point_mm
            numbers = say(
                "{name}, {aperture_name}: without it {gain:.1f} % of the pupil more at {hypot:.1f} mm",
                name=name,
                aperture_name=aperture_name(first.placed),
                gain=100 * self.taking.gain,
                hypot=math.hypot(x, y),
            )
        formula = say("largest gain in the darkest place if one part alone is made large enough")
        return figure_words(say("costs most"), formula, numbers, RI_SOURCE, name)


@dataclass(frozen=True)
class CleanFrame(FigureText):
    """The largest part of the frame, of the same shape, that is free of vignetting (0.1 stop)."""

    kind = "light.clean_frame"
    pixels: tuple[int, ...] | None

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        assert isinstance(figure.value, tuple)
        size = _sides(figure.value)
        pixels = (
            ""
            if self.pixels is None
            else say(", {pixels} × {pixels_2} pixels", pixels=self.pixels[0], pixels_2=self.pixels[1])
        )
        formula = say(
            "largest frame of the sensor's aspect that loses at most {clean_stops:g} stops", clean_stops=CLEAN_STOPS
        )
        told_size = say("{wide:.1f length} × {high:.1f mm}", wide=figure.value[0], high=figure.value[1])
        return figure_words(say("vignetting-free crop"), formula, size, RI_SOURCE, f"{told_size}{pixels}")


@dataclass(frozen=True)
class CleanShare(FigureText):
    """How much of the frame's area that is."""

    kind = "light.clean_share"
    unit = "%"
    clean_mm: tuple[float, float]
    frame_mm: tuple[float, float]

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        numbers = say(
            "{sides} of {frame_mm:g} × {frame_mm_2:g} mm = {number:.0f} %",
            sides=_sides(self.clean_mm),
            frame_mm=self.frame_mm[0],
            frame_mm_2=self.frame_mm[1],
            number=figure.number,
        )
        return figure_words(
            say("vignetting-free part of the frame"), say("vignetting-free area / frame area"), numbers, RI_SOURCE
        )


@dataclass(frozen=True)
class GuideLoss(FigureText):
    """What the star of a guider's prism loses to the parts ahead of it."""

    kind = "light.guide.*_stops"
    unit = "stops"
    guide: GuideLight

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        guide = self.guide
        numbers = say(
            "star {height:.1f mm} from the axis; {name} has {has:.1f mm}, needed {needed:.1f mm}",
            height=guide.height_mm, has=guide.has_mm, needed=guide.needed_mm,
            name=say("no part") if guide.tightest is None else guide.tightest.part.name,
        )  # fmt: skip
        return figure_words(
            say("guide star, light lost ahead of {name}", name=guide.prism.part.name), "2h(1 − d/E) + d/N", numbers,
            RI_SOURCE,
        )  # fmt: skip


@dataclass(frozen=True)
class NeededDiameter(FigureText):
    """The clear aperture this place needs so that the whole cone toward the corner passes."""

    kind = "light.needed.*_mm"
    unit = "mm"
    clearance: Clearance
    pupil: Pupil
    corner_mm: float
    centred: bool

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        c, pupil, corner = self.clearance, self.pupil, self.corner_mm
        n, distance = pupil.f_number, c.distance_mm
        if c.placed.side is Side.FRONT:
            formula, focal = "f/N + 2x·h/f", pupil.focal_length_mm
            numbers = say(
                "{focal:g}/{n:.3g} + 2·{distance:.2f}·{corner:.2f}/{focal:g}",
                focal=focal,
                n=n,
                distance=distance,
                corner=corner,
            )
        else:
            formula, far = "2h·|1 − x/L| + x/N", pupil.exit_distance_mm
            numbers = say(
                "{corner:.2f}·|1 − {distance:.2f}/{far:.4g}| + {distance:.2f}/{n:.3g}",
                corner=2 * corner,
                distance=distance,
                far=far,
                n=n,
            )
        if not self.centred:
            formula += say(", about its own centre and sides")
        label = say("clear diameter needed: {whole_name}", whole_name=whole_name(c.placed))
        return figure_words(
            label,
            formula,
            say("{numbers} = {number:.2f} mm", numbers=numbers, number=figure.number),
            CLEAR_DIAMETER_SOURCE,
        )


@dataclass(frozen=True)
class ApertureLoss(FigureText):
    """What this aperture would cost the corner if it were the only one."""

    kind = "light.loss.*_stops"
    unit = "stops"
    clearance: Clearance
    last: float

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        numbers = say(
            "alone {number}, after all others {last:.1f} % of the pupil ({stops_lost:.2f} stops)",
            number=number(figure.number),
            last=100 * self.last,
            stops_lost=stops_lost(1.0 - self.last),
        )
        label = say("lost in the corner to {whole_name}, alone", whole_name=whole_name(self.clearance.placed))
        return figure_words(label, say("−log2 RI behind it alone"), numbers, RI_SOURCE)
