"""What the figures of the field say: label, value and working."""

from dataclasses import dataclass

from farrail.language import N_, local_number, say, word
from farrail.optics.field import CIRCLE_SOURCE, FIELD_SOURCE
from farrail.readouts.field.coverage import Circle
from farrail.readouts.field.sky import Framing, Panel, sky_place_words
from farrail.readouts.figure import Figure, FigureText, FigureWords, figure_words
from farrail.readouts.names import ARCMINUTES, angle_names

STOP_SOURCE = N_("definition of a stop")
SIDES = {"width": N_("width"), "height": N_("height"), "diagonal": N_("diagonal")}
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
class FieldOfView(FigureText):
    """The angles the frame covers, across and upright."""

    kind = "light.field_of_view"
    focal_mm: float
    sides_mm: tuple[float, float]
    projection: str

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        assert isinstance(figure.value, tuple)
        across, down = angle_names(*figure.value)
        numbers = say(
            "f {focal_mm:.1f} mm, {sides_mm:g} × {sides_mm_2:g} mm: {across} × {down}",
            focal_mm=self.focal_mm,
            sides_mm=self.sides_mm[0],
            sides_mm_2=self.sides_mm[1],
            across=across,
            down=down,
        )
        formula = say("{field_formulas} for each side", field_formulas=FIELD_FORMULAS[self.projection])
        return figure_words(say("field of view"), formula, numbers, FIELD_SOURCE, f"{across} × {down}")


@dataclass(frozen=True)
class FieldAngle(FigureText):
    """The angle one side of the frame covers."""

    kind = "light.field_*_deg"
    unit = "°"
    focal_mm: float
    side_mm: float
    projection: str

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        angle, formula = figure.number, str(FIELD_FORMULAS[self.projection])
        focal, side = local_number(f"{self.focal_mm:.1f}"), local_number(f"{self.side_mm:.2f}")
        filled = formula.replace("4f", f"(4·{focal})").replace("2f", f"(2·{focal})")
        filled = filled.replace("d/f", f"d/{focal}").replace("d/", f"{side}/")
        numbers = say(
            "{filled} = {angle:.3f}° = {arcminutes:.1f}′", filled=filled, angle=angle, arcminutes=angle * ARCMINUTES
        )
        return figure_words(
            say("field of view, {which}", which=say(SIDES[figure.which])), formula, numbers, FIELD_SOURCE
        )


@dataclass(frozen=True)
class PixelScale(FigureText):
    """The piece of sky one pixel sees, in seconds of arc."""

    kind = "light.pixel_scale_arcsec"
    unit = "″"
    focal_mm: float
    pixel_um: float

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        numbers = say(
            "206.265·{pixel_um:g}/{focal_mm:.1f} = {number:.3f}″",
            pixel_um=self.pixel_um,
            focal_mm=self.focal_mm,
            number=figure.number,
        )
        return figure_words(say("pixel scale"), "206.265·p/f", numbers, FIELD_SOURCE)


@dataclass(frozen=True)
class ImageCircleMargin(FigureText):
    """How far the optic's image circle reaches beyond the sensor's diagonal."""

    kind = "light.image_circle_margin_mm"
    unit = "mm"
    circle: "Circle"

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        circle = self.circle
        numbers = say(
            "{value:.1f} − {diagonal_mm:.2f} = {number:+.2f} mm",
            value=circle.diameter.value,
            diagonal_mm=circle.needed_mm,
            number=figure.number,
        )
        if not circle.centred:
            label, formula = (
                say("image circle less what the frame needs"),
                say("circle − 2 × farthest corner from the axis"),
            )
            return figure_words(label, formula, numbers, FIELD_SOURCE)
        source = circle.diameter.in_use.note or word(circle.diameter.origin)
        return figure_words(say("image circle less the frame's diagonal"), say("circle − diagonal"), numbers, source)


@dataclass(frozen=True)
class HingeDistance(FigureText):
    """How far below a tilted lens the plane of sharp focus passes, at any focus distance."""

    kind = "light.hinge_mm"
    unit = "mm"
    focal_mm: float
    tilt_deg: float

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        numbers = say(
            "{focal:.1f}/sin {tilt:.1f}° = {number:.0f} mm",
            focal=self.focal_mm,
            tilt=abs(self.tilt_deg),
            number=figure.number,
        )
        label = say("plane of focus below the lens") if self.tilt_deg > 0 else say("plane of focus above the lens")
        source = say("the rule of the hinge: H. M. Merklinger, Focusing the View Camera (1993), from memory")
        return figure_words(label, "f/sin θ", numbers, source)


@dataclass(frozen=True)
class ImageCircleCover(FigureText):
    """The share of the frame inside the image circle."""

    kind = "light.image_circle_cover"
    unit = "%"
    circle: "Circle"

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        numbers = say("circle {value:.1f} mm: {number:.1f} %", value=self.circle.diameter.value, number=figure.number)
        return figure_words(
            say("frame inside the image circle"),
            say("area of frame inside circle / area of frame"),
            numbers,
            CIRCLE_SOURCE,
        )


@dataclass(frozen=True)
class InscribedFrame(FigureText):
    """The largest frame of this shape inside the image circle."""

    kind = "light.inscribed_frame"

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        assert isinstance(figure.value, tuple)
        words = _sides(figure.value)
        label, formula = (
            say("largest frame inside the image circle"),
            say("sensor × circle / diagonal, at most the sensor"),
        )
        return figure_words(label, formula, words, CIRCLE_SOURCE, words)


@dataclass(frozen=True)
class TargetPanels(FigureText):
    """Number of frames side by side needed for the target."""

    kind = "light.target_panels"
    framing: "Framing"

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        framing = self.framing
        numbers = say(
            "{across_mm:.1f} × {down_mm:.1f} mm as turned on a frame of {sides_mm:g} × "
            "{sides_mm_2:g} mm: {columns} × {rows}",
            across_mm=framing.across_mm,
            down_mm=framing.down_mm,
            sides_mm=framing.sides_mm[0],
            sides_mm_2=framing.sides_mm[1],
            columns=framing.columns,
            rows=framing.rows,
        )
        formula = say("reach / (side·(1 − {overlap:g})), rounded up", overlap=framing.target.overlap)
        return figure_words(say("panels for {name}", name=framing.target.name), formula, numbers, FIELD_SOURCE)


@dataclass(frozen=True)
class MosaicPanel(FigureText):
    """Where one panel of the target's mosaic is aimed: right ascension and declination, degrees."""

    kind = "light.mosaic_panel.*"
    panel: "Panel"
    target: str

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        assert isinstance(figure.value, tuple)
        place, panel = sky_place_words(*figure.value), self.panel
        numbers = say(
            "{right:+.2f} mm to the right and {up:+.2f} mm up from the middle of {name}: {place}",
            right=panel.right_mm, up=panel.up_mm, name=self.target, place=place,
        )  # fmt: skip
        label = say("panel: row {row}, column {column}", row=panel.row, column=panel.column)
        return figure_words(label, say("tangent projection about the target’s middle"), numbers, FIELD_SOURCE, place)
