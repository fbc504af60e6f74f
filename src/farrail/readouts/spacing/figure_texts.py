"""What the spacing figures say: label, value and working."""

from dataclasses import dataclass

from farrail.language import N_, say
from farrail.optics.focus import DEPTH_OF_FOCUS_SOURCE
from farrail.optics.plates import SOURCE as PLATE_SOURCE
from farrail.optics.tolerances import SOURCE as STACK_SOURCE
from farrail.parts.glass import Glass
from farrail.parts.provenance import Quantity
from farrail.readouts.figure import Figure, FigureText, FigureWords, figure_words
from farrail.readouts.spacing.focuser_and_guider import Guiding
from farrail.readouts.spacing.model import GlassLine, Line, Loosest, Requirement
from farrail.readouts.spacing.names import datum_name, glass_name, line_name, requirement_name

LAID_SOURCE = N_("sum of shoulder-to-shoulder lengths")
TRAVEL_SOURCE = N_("focal plane at the inner stop + glass − actual distance")


def loosest_name(loosest: Loosest) -> str:
    """Return what spreads the error most."""
    if isinstance(loosest.of, Line):
        return say("length of {line_name}", line_name=line_name(loosest.of))
    return (
        say("glass of {glass_name}", glass_name=glass_name(loosest.of))
        if isinstance(loosest.of, GlassLine)
        else requirement_name(loosest.of)
    )


@dataclass(frozen=True)
class ActualDistance(FigureText):
    """From the datum to the sensor: all lengths from shoulder to shoulder, and the camera's own distance."""

    kind = "spacing.laid_mm"
    unit = "mm"
    lengths_mm: tuple[float, ...]

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        lengths = " + ".join(say("{mm:.2f}", mm=mm) for mm in self.lengths_mm) or "0"
        return figure_words(
            say("actual distance"),
            say("Σ lengths + flange to sensor"),
            say("{lengths} = {number:.2f} mm", lengths=lengths, number=figure.number),
            LAID_SOURCE,
        )


@dataclass(frozen=True)
class GlassShift(FigureText):
    """How much farther from the optic glass in the light moves the focus, and with it the sensor."""

    kind = "spacing.glass_shift_mm"
    unit = "mm"
    glass: tuple[Glass, ...]
    credit_mm: float

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        parts = " + ".join(glass.working for glass in self.glass) or say("no glass counted")
        if self.credit_mm:
            parts += say(" − {credit_mm:.3f} already included by the optic", credit_mm=self.credit_mm)
        return figure_words(
            say("glass shift"),
            say("Σ t·(1 − 1/n), paraxial"),
            say("{parts}; sum {number:.3f} mm", parts=parts, number=figure.number),
            PLATE_SOURCE,
        )


@dataclass(frozen=True)
class RequiredDistance(FigureText):
    """Required distance of the sensor: the optic's back focus plus the focus shift of the glass behind it."""

    kind = "spacing.required_mm"
    unit = "mm"
    requirement: Requirement
    shift_mm: float
    extension_mm: tuple[float, ...]

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        need, name = self.requirement, requirement_name(self.requirement)
        meant = " + ".join(say("{mm:.2f}", mm=mm) for mm in self.extension_mm)
        also = say(" + {meant} meant", meant=meant) if meant else ""
        return figure_words(
            say("required ({name} + glass)", name=name),
            say("{name} + Σ glass shift{also}", name=name, also=say(" + extension") if also else ""),
            say(
                "{value:.2f} + {shift_mm:.3f}{also} = {number:.3f} mm",
                value=need.distance.value,
                shift_mm=self.shift_mm,
                also=also,
                number=figure.number,
            ),
            need.distance.in_use.note
            or say("{origin} for {datum_name}", origin=need.distance.origin, datum_name=datum_name(need)),
        )


@dataclass(frozen=True)
class SpacingError(FigureText):
    """Actual less required. Minus is too short: length is missing between datum and camera. Plus is too long."""

    kind = "spacing.error_mm"
    unit = "mm"
    actual_mm: float
    required_mm: float

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        numbers = say(
            "{actual_mm:.3f} − {required_mm:.3f} = {number:+.3f} mm",
            actual_mm=self.actual_mm,
            required_mm=self.required_mm,
            number=figure.number,
        )
        return figure_words(say("error (actual − required)"), say("actual − required"), numbers, LAID_SOURCE)


@dataclass(frozen=True)
class LengthToFill(FigureText):
    """The length still to be put between datum and camera where the train is too short."""

    kind = "spacing.spare_mm"
    unit = "mm"
    actual_mm: float
    required_mm: float

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        numbers = say("{required_mm:.3f} − {actual_mm:.3f}", required_mm=self.required_mm, actual_mm=self.actual_mm)
        return figure_words(say("length still to fill"), say("required − actual, if too short"), numbers, LAID_SOURCE)


@dataclass(frozen=True)
class StackUpWorst(FigureText):
    """How far the sum of lengths may be off if every tolerance adds up against you."""

    kind = "spacing.stack_worst_mm"
    unit = "mm"
    tolerances_mm: tuple[float, ...]

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        written = " + ".join(say("{t:.2f}", t=t) for t in self.tolerances_mm) or "0"
        return figure_words(
            say("stack-up, worst case"),
            say("Σ tolerances"),
            say("{written} = ±{number:.3f} mm", written=written, number=figure.number),
            STACK_SOURCE,
        )


@dataclass(frozen=True)
class StackUpLikely(FigureText):
    """How far the sum of lengths is off at most in nineteen of twenty trains built like this."""

    kind = "spacing.stack_rss_mm"
    unit = "mm"

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        return figure_words(
            say("stack-up, 95 %"),
            say("2·sqrt(Σt²/3), at most the worst case"),
            say("±{number:.3f} mm", number=figure.number),
            STACK_SOURCE,
        )


@dataclass(frozen=True)
class MeasureFirst(FigureText):
    """The value whose uncertainty matters most: measuring it narrows the result most."""

    kind = "spacing.measure_first"
    loosest: Loosest

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        what = loosest_name(self.loosest)
        numbers = say("{what}: ±{half_width_mm:.3f} mm", what=what, half_width_mm=self.loosest.half_width_mm)
        return figure_words(say("measure first"), say("largest half width of all inputs"), numbers, STACK_SOURCE, what)


@dataclass(frozen=True)
class SpacingTolerance(FigureText):
    """The error the optic permits before corner stars are drawn out."""

    kind = "spacing.tolerance_mm"
    unit = "mm"
    tolerance: Quantity

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        source = self.tolerance.in_use.note or self.tolerance.origin
        return figure_words(
            say("spacing tolerance"), say("given for the optic"), say("±{number:.2f} mm", number=figure.number), source
        )


@dataclass(frozen=True)
class DepthOfFocus(FigureText):
    """Distance from focus, to either side, within which a star stays as small as diffraction allows: ±2λN²."""

    kind = "spacing.depth_of_focus_mm"
    unit = "mm"
    f_number: float

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        numbers = say("2·0.00055·{f_number:.3g}² = ±{number:.4f} mm", f_number=self.f_number, number=figure.number)
        return figure_words(say("depth of focus at the sensor"), say("±2λN², λ 550 nm"), numbers, DEPTH_OF_FOCUS_SOURCE)


@dataclass(frozen=True)
class FarthestFocus(FigureText):
    """The farthest distance a lens focuses at when it is too far from the sensor."""

    kind = "spacing.farthest_focus_mm"
    unit = "mm"
    focal_mm: float
    error_mm: float

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        numbers = say(
            "{focal_mm:g}²/{error_mm:.3f} = {number:.0f} mm",
            focal_mm=self.focal_mm,
            error_mm=self.error_mm,
            number=figure.number,
        )
        return figure_words(say("farthest focus"), "f²/e", numbers, say("conjugates in Newton's form, x·x′ = f²"))


@dataclass(frozen=True)
class TelescopeError(FigureText):
    """Error of the corrector's distance from its telescope."""

    kind = "spacing.telescope_error_mm"
    unit = "mm"
    actual_mm: float
    required_mm: float

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        numbers = say(
            "{actual_mm:.2f} − {required_mm:.2f} = {number:+.2f} mm",
            actual_mm=self.actual_mm,
            required_mm=self.required_mm,
            number=figure.number,
        )
        return figure_words(
            say("telescope to corrector, actual − required"), say("actual − required"), numbers, LAID_SOURCE
        )


@dataclass(frozen=True)
class FilterError(FigureText):
    """The spacing error with this filter of the wheel or set in the beam; each shifts the focus by its own glass."""

    kind = "spacing.filter.*.error_mm"
    unit = "mm"
    filter: str
    error_mm: float
    refocus_mm: float

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        numbers = say(
            "{error_mm:+.3f} − ({refocus_mm:+.3f}) = {number:+.3f} mm",
            error_mm=self.error_mm,
            refocus_mm=self.refocus_mm,
            number=figure.number,
        )
        return figure_words(
            say("error with {filter}", filter=self.filter),
            say("error − (shift of this filter − shift in the beam)"),
            numbers,
            PLATE_SOURCE,
        )


@dataclass(frozen=True)
class FocuserTravel(FigureText):
    """Focuser position with this train in focus, from its inner stop."""

    kind = "spacing.focuser_travel_mm"
    unit = "mm"
    travel_mm: float | None

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        limit = "" if self.travel_mm is None else say(", of {travel_mm:g} mm", travel_mm=self.travel_mm)
        return figure_words(
            say("focuser drawn out by"),
            say("focal plane racked in + glass − datum to sensor"),
            say("{number:+.2f} mm{limit}", number=figure.number, limit=limit),
            TRAVEL_SOURCE,
        )


@dataclass(frozen=True)
class GuideSpacing(FigureText):
    """Distance behind the guider's port at which the guide sensor shares the camera's focus."""

    kind = "spacing.guide.*_mm"
    unit = "mm"
    guide: "Guiding"

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        g = self.guide
        numbers = say(
            "{to_sensor_mm:.2f} from prism to sensor − {glass_mm:.2f} glass behind it + "
            "{own_mm:.2f} the prism's own − {port_mm:.2f} to the port = {spacing_mm:.2f} mm",
            to_sensor_mm=g.to_sensor_mm,
            glass_mm=g.glass_mm,
            own_mm=g.own_mm,
            port_mm=g.port_mm,
            spacing_mm=g.spacing_mm,
        )
        return figure_words(
            say("guide sensor behind the port of {name}", name=g.name),
            say("the same focus through the prism"),
            numbers,
            say("equal optical distance from the datum"),
        )


@dataclass(frozen=True)
class TrainShadowShare(FigureText):
    """The share of the mirror that the train itself shadows, standing ahead of it."""

    kind = "light.train_shadow"
    unit = "%"
    part: str
    aperture_mm: float

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        numbers = say(
            "{part}: {number:.1f} % of {aperture_mm:g} mm",
            part=self.part,
            number=figure.number,
            aperture_mm=self.aperture_mm,
        )
        return figure_words(
            say("light the train blocks ahead of the mirror"), say("(widest part / aperture)²"), numbers,
            say("area of the shadow over area of the mirror"),
        )  # fmt: skip
