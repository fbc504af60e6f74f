"""What the front stack's figures say: label, value and working."""

from dataclasses import dataclass
from typing import ClassVar

from farrail.language import N_, Message, say
from farrail.optics.polarised_sky import SOURCE as SKY_SOURCE
from farrail.optics.pupils import ApertureImage, Pupil
from farrail.quantities import number
from farrail.readouts.figure import Figure, FigureText, FigureWords, figure_words
from farrail.readouts.names import whole_name
from farrail.train.placed import PlacedAperture
from farrail.train.train import Sky

SOURCE = N_("apertures projected along the corner's rays on to the entrance pupil")
SIZE_SOURCE = N_("similar triangles from the entrance pupil: 2[(E + z)·d/2f + f/2N]")


@dataclass(frozen=True)
class Drawn:
    """What the geometry of a darkened corner is drawn from: the opening that takes most, the pupil, the corner."""

    image: ApertureImage
    pupil: Pupil
    corner_mm: float


@dataclass(frozen=True)
class FrontCornerLoss(FigureText):
    """What the front stack adds to the corner's loss, against the lens alone."""

    kind = "front.corner_loss_stops"
    unit = "stops"
    focal_mm: float
    f_number: float
    depth_mm: float
    apertures: int
    drawn: Drawn | None

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        numbers = say(
            "f {focal_mm:g} mm, f/{f_number:.3g}, E {depth_mm:.1f} mm, {apertures} apertures: {number}",
            focal_mm=self.focal_mm,
            f_number=self.f_number,
            depth_mm=self.depth_mm,
            apertures=self.apertures,
            number=number(figure.number),
        )
        label = say("corner loss added by the front stack")
        return figure_words(label, say("−log2 of the pupil left open, darkest corner"), numbers, SOURCE)


@dataclass(frozen=True)
class CleanFrom(FigureText):
    """A focal length from which the front stack costs no more than a limit."""

    label: ClassVar[Message]
    limit_stops: float
    low_mm: float
    high_mm: float
    lost_stops: float
    drawn: Drawn | None

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        formula = say(
            "loss stays at or below {limit_stops:g} stops from there to {high_mm:g} mm",
            limit_stops=self.limit_stops,
            high_mm=self.high_mm,
        )
        if figure.value is None:
            lost = (
                say("dark")
                if self.lost_stops == float("inf")
                else say("{lost_stops:.2f} stops", lost_stops=self.lost_stops)
            )
            return figure_words(
                self.label,
                formula,
                say("at {high_mm:g} mm it still loses {lost}", high_mm=self.high_mm, lost=lost),
                SOURCE,
                say("none"),
            )
        value = figure.number
        numbers = say(
            "{value:.1f} mm, of {low_mm:g} to {high_mm:g} mm; at {value:.1f}: {lost_stops:.2f} stops",
            value=value,
            low_mm=self.low_mm,
            high_mm=self.high_mm,
            lost_stops=self.lost_stops,
        )
        return figure_words(self.label, formula, numbers, SOURCE)


class FirstClean(CleanFrom):
    """The shortest focal length from which the stack adds at most 0.1 stop to the corners, at longer ones too."""

    kind = "front.first_clean_mm"
    unit = "mm"
    stays_mm = True
    label = N_("first clean focal length")


class FirstInvisible(CleanFrom):
    """The shortest focal length from which the stack's darkening is hardly seen any more."""

    kind = "front.visible_mm"
    unit = "mm"
    stays_mm = True
    label = N_("shortest focal length without visible loss")


@dataclass(frozen=True)
class StackDepth(FigureText):
    """Length of the front stack ahead of the lens's filter thread."""

    kind = "front.depth_mm"
    unit = "mm"
    lengths_mm: tuple[float, ...]

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        lengths = " + ".join(say("{mm:.1f}", mm=mm) for mm in self.lengths_mm)
        return figure_words(
            say("depth of the front stack"),
            say("Σ lengths ahead of the thread seat"),
            say("{lengths} = {number:.1f} mm", lengths=lengths, number=figure.number),
            say("sum of the parts' lengths"),
        )


@dataclass(frozen=True)
class FrontLimitingPart(FigureText):
    """The part of the front stack whose change would help the corner most."""

    kind = "front.limiting_part"
    aperture: PlacedAperture | None

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        name = say("none") if self.aperture is None else whole_name(self.aperture)
        return figure_words(
            say("darkens the corner most"), say("largest loss of one aperture alone"), name, SOURCE, name
        )


@dataclass(frozen=True)
class ImageHeight(FigureText):
    """The image height of one of the three marks of an opening."""

    word: ClassVar[Message]

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        return figure_words(
            say("image height of its {word}", word=self.word),
            "(E + z)·h/f + k·f/2N = r, k 1, 0, −1",
            say("{word} at h {number:.3f} mm", word=self.word, number=figure.number),
            SOURCE,
        )


class OnsetHeight(ImageHeight):
    """The image height at which the limiting opening begins to take light."""

    kind = "front.onset_mm"
    unit = "mm"
    word = N_("onset")


class HalfHeight(ImageHeight):
    """The image height at which half the light is lost."""

    kind = "front.half_mm"
    unit = "mm"
    word = N_("half")


class DarkHeight(ImageHeight):
    """The image height from which all light is lost."""

    kind = "front.dark_mm"
    unit = "mm"
    word = N_("dark")


@dataclass(frozen=True)
class StepBack(FigureText):
    """How much farther away you must be, at the first focal length free of vignetting, for the same picture."""

    kind = "front.step_back"
    unit = "×"
    first_clean_mm: float
    focal_mm: float

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        numbers = say(
            "{first_clean_mm:.1f}/{focal_mm:g} = {number:.2f}",
            first_clean_mm=self.first_clean_mm,
            focal_mm=self.focal_mm,
            number=figure.number,
        )
        return figure_words(
            say("distance for the same framing without vignetting"),
            say("first clean focal length / focal length now"),
            numbers,
            say("magnification of a far subject goes as the focal length"),
        )


@dataclass(frozen=True)
class SheetSize(FigureText):
    """The size a square or rectangular filter needs in this slot."""

    kind = "front.sheet.*_mm"
    slot: int
    ahead_mm: float
    focal_mm: float

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        assert isinstance(figure.value, tuple)
        wide, high, free = figure.value
        numbers = say(
            "E + z {ahead_mm:.1f} mm, f {focal_mm:g} mm: {wide:.1f} × {high:.1f}",
            ahead_mm=self.ahead_mm,
            focal_mm=self.focal_mm,
            wide=wide,
            high=high,
        )
        value = say(
            "{wide:.1f length} × {high:.1f mm}, {free:.1f length} to rotate freely", wide=wide, high=high, free=free
        )
        return figure_words(
            say("filter size needed in slot {slot}", slot=self.slot + 1),
            "2[(E + z)·d/2f + f/2N]",
            numbers,
            SIZE_SOURCE,
            value,
        )


@dataclass(frozen=True)
class SkyUneven(FigureText):
    """How unevenly a polariser darkens a clear blue sky over this frame."""

    kind = "front.sky_uneven_stops"
    unit = "stops"
    sky: Sky
    marks: tuple[float, ...]

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        marks = ", ".join(say("{stops:.2f}", stops=stops) for stops in self.marks)
        sun = say(
            "Sun {sun_high_deg:g}° high, {sun_right_deg:g}° to the right, P_max {most_polarised:g}",
            sun_high_deg=self.sky.sun_high_deg,
            sun_right_deg=self.sky.sun_right_deg,
            most_polarised=self.sky.most_polarised,
        )
        return figure_words(
            say("sky uneven through the polariser"),
            say("T = ½[1 + P(2(a·e)² − 1)], largest less least across the frame"),
            say(
                "{sun}: {marks} stops from left to right; {number:.2f} apart",
                sun=sun,
                marks=marks,
                number=figure.number,
            ),
            SKY_SOURCE,
        )
