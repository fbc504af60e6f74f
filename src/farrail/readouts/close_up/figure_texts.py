"""What the close-up figures say: label, value and working."""

import math
from dataclasses import dataclass
from typing import ClassVar

from farrail.language import N_, Message, say
from farrail.optics.close_up import BELLOWS_SOURCE, CONJUGATES_SOURCE
from farrail.optics.close_up_systems import SOURCE
from farrail.optics.focus_stack import DEPTH_SOURCE, DepthOfField
from farrail.parts.lens_defaults import Basis
from farrail.readouts.close_up.model import CircleBasis, Point
from farrail.readouts.close_up.system import CloseUpSystem
from farrail.readouts.figure import Figure, FigureText, FigureWords, figure_words
from farrail.readouts.names import scale_name
from farrail.units import mm_to_micrometres

FIELD_SOURCE = N_("field = sensor / magnification")
BASELINES = N_("against the lens at infinity")
SHARPEST_SOURCE = N_("blur m²T/(2N_e) and Airy disc 2.44λN_e, squares added, least")
PIXEL_SOURCE = N_("pixel / magnification")
BASES = {
    Basis.RULER: N_("a ruler at its closest focus"),
    Basis.TABLE: N_("its table of closest focus"),
    Basis.PUBLISHED: N_("its published closest focus"),
    Basis.DISTANCE: N_("its minimum focus distance, at a constant focal length"),
    Basis.USUAL: N_("a typical closest focus"),
    Basis.REVERSED: N_("reversed, set to infinity"),
}
CIRCLES = {
    CircleBasis.SET: N_("as set for this train"),
    CircleBasis.PIXEL: N_("one pixel"),
    CircleBasis.DIAGONAL: N_("a 1500th of the diagonal"),
}


@dataclass(frozen=True)
class Focus:
    """A lens's whole system at a position of its focusing ring, and the subject it is focused on."""

    system: CloseUpSystem
    point: Point
    position: float


@dataclass(frozen=True)
class Planes:
    """What is between subject and sensor, in mm, beside the working distance.

    Attributes:
        ahead_mm: glass ahead of the lens.
        principal_mm: from the lens's front to its first principal plane.
        hiatus_mm: from the first to the second principal plane.
        behind_mm: from the second principal plane to the sensor.
        corner_mm: half the frame's diagonal.
    """

    ahead_mm: float
    principal_mm: float
    hiatus_mm: float
    behind_mm: float
    corner_mm: float


def _focus_numbers(focus: Focus) -> str:
    system, point = focus.system, focus.point
    if not point.focused:
        return say("no focus")
    stack, s, focal = system.stack, system.near.principal_mm, system.near.focal_at(focus.position)
    if math.isinf(point.distance_mm):
        return say("infinity")
    if not stack.lenses:
        return say(
            "f(1 + 1/m) − s = {focal:.2f}·(1 + 1/{of_lens:.4f}) − {s:.2f} = {distance_mm:.2f} mm",
            focal=focal,
            of_lens=point.of_lens,
            s=s,
            distance_mm=point.distance_mm,
        )
    a, b, c, d = stack.matrix
    q = point.of_lens * (focal - s - stack.first_mm) + focal
    powers = ", ".join(say("{power:g} dpt", power=power) for power, _ in stack.lenses)
    return say(
        "(qD − mB)/(mA − qC) − front, m {of_lens:.4f}, q = m(f − s − z) + f = {q:.2f}, "
        "{powers} with A {a:.4f}, B {b:.3f}, C {c:.6f}, D {d:.4f}, front {front_mm:.2f}: "
        "{distance_mm:.2f} mm",
        of_lens=point.of_lens,
        q=q,
        powers=powers,
        a=a,
        b=b,
        c=c,
        d=d,
        front_mm=stack.front_mm,
        distance_mm=point.distance_mm,
    )


@dataclass(frozen=True)
class Magnification(FigureText):
    """Image over subject: at 1x a 20 mm subject is 20 mm on the sensor."""

    kind = "closeup.magnification"
    unit = "×"
    system: CloseUpSystem
    now: Point
    position: float

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        system, now = self.system, self.now
        near = system.near
        own = near.magnification * self.position
        extended = say(
            "{longest_mm:.2f}/{focal_at:.2f}", longest_mm=system.longest_mm, focal_at=near.focal_at(self.position)
        )
        parts = say(
            "m0 {own:.3f} ({bases}) + {extended} = {of_lens:.4f}",
            own=own,
            bases=BASES[near.basis],
            extended=extended,
            of_lens=now.of_lens,
        )
        if system.reversed:
            parts = say(
                "v/f − 1 = {far_focal_mm:.2f}/{far_focal_mm_2:g} − 1",
                far_focal_mm=system.longest_mm + near.far_focal_mm,
                far_focal_mm_2=near.far_focal_mm,
            )
        if system.stack.lenses:
            parts += say(
                "; close-up lenses of {dioptres:.3f} D: {converter:.4f}",
                dioptres=system.stack.dioptres,
                converter=now.magnification / system.converter,
            )
        if system.converter != 1.0:
            parts += say("; × {converter:.3f}", converter=system.converter)
        return figure_words(say("magnification"), say("m0 + ext/f, then the close-up lenses' rays"), parts, SOURCE)


@dataclass(frozen=True)
class Scale(FigureText):
    """The same as a reproduction ratio, 1:2 for half life-size."""

    kind = "closeup.ratio"
    magnification: float

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        m = self.magnification
        return figure_words(say("as a scale"), "1 : 1/m", say("m {m:.4f}", m=m), CONJUGATES_SOURCE, scale_name(m))


@dataclass(frozen=True)
class FrameSide(FigureText):
    """How much of the subject fills a side of the frame."""

    word: ClassVar[Message]
    side_mm: float
    magnification: float

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        numbers = say(
            "{side_mm:g}/{magnification:.4f} = {number:.2f} mm",
            side_mm=self.side_mm,
            magnification=self.magnification,
            number=figure.number,
        )
        return figure_words(
            say("fills the frame, {word}", word=self.word), say("sensor side / m"), numbers, FIELD_SOURCE
        )


class FrameWidth(FrameSide):
    """How much of the subject fills the frame's width."""

    kind = "closeup.width_mm"
    unit = "mm"
    word = N_("wide")


class FrameHeight(FrameSide):
    """How much of the subject fills the frame's height."""

    kind = "closeup.height_mm"
    unit = "mm"
    word = N_("high")


@dataclass(frozen=True)
class PixelOnSubject(FigureText):
    """The piece of the subject one pixel sees."""

    kind = "closeup.pixel_um"
    unit = "µm"
    pixel_um: float
    magnification: float

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        return figure_words(
            say("one pixel on the subject"),
            say("pixel / m"),
            say("{pixel_um:.2f}/{magnification:.4f}", pixel_um=self.pixel_um, magnification=self.magnification),
            PIXEL_SOURCE,
        )


@dataclass(frozen=True)
class CropShare(FigureText):
    """The share of pixels that would be left if the bare lens's picture were cropped to this one."""

    kind = "closeup.crop_share"
    unit = "%"
    bare: float
    magnification: float

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        return figure_words(
            say("pixels left by cropping the bare lens instead"),
            say("(m of the lens alone at its closest focus / m)²"),
            say("({bare:.3f}/{magnification:.3f})²", bare=self.bare, magnification=self.magnification),
            FIELD_SOURCE,
        )


@dataclass(frozen=True)
class WorkingDistance(FigureText):
    """From the front of the foremost glass to the subject: the room for light and hands."""

    kind = "closeup.working_distance_mm"
    unit = "mm"
    focus: Focus
    planes: Planes

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        return figure_words(
            say("working distance"), say("from the foremost glass to the subject"), _focus_numbers(self.focus), SOURCE
        )


@dataclass(frozen=True)
class SubjectToSensor(FigureText):
    """From the subject to the sensor, for a copy stand or a rail."""

    kind = "closeup.subject_to_sensor_mm"
    unit = "mm"
    point: Point
    planes: Planes

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        numbers = say(
            "{distance_mm:.2f} + {ahead_mm:.2f} + {principal_mm:.2f} + {hiatus_mm:.2f} + {behind_mm:.2f} = "
            "{number:.2f} mm",
            distance_mm=self.point.distance_mm,
            ahead_mm=self.planes.ahead_mm,
            principal_mm=self.planes.principal_mm,
            hiatus_mm=self.planes.hiatus_mm,
            behind_mm=self.planes.behind_mm,
            number=figure.number,
        )
        formula = say("working distance + glass ahead + s + hiatus + f(1 + m)")
        return figure_words(say("subject to sensor"), formula, numbers, CONJUGATES_SOURCE)


@dataclass(frozen=True)
class FocusEnd(FigureText):
    """One end of the working distances in focus."""

    word: ClassVar[Message]
    place: ClassVar[Message]
    focus: Focus

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        label = say("{word} working distance in focus", word=self.word)
        return figure_words(
            label, say("the lens at {place}", place=self.place), _focus_numbers(self.focus), SOURCE, say("none")
        )


class NearestDistance(FocusEnd):
    """The shortest working distance the lens's own focusing reaches with all that is on."""

    kind = "closeup.near_mm"
    unit = "mm"
    word = N_("nearest")
    place = N_("its closest focus")


class FarthestDistance(FocusEnd):
    """The longest; beyond it there is no focus."""

    kind = "closeup.far_mm"
    unit = "mm"
    word = N_("farthest")
    place = N_("infinity")


@dataclass(frozen=True)
class EffectiveFNumber(FigureText):
    """The cone that reaches the sensor when the lens is farther out; it decides light and diffraction."""

    kind = "closeup.effective_f_number"
    system: CloseUpSystem
    now: Point

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        system, now = self.system, self.now
        formula = "N(1/p + m)" if system.reversed else "N(1 + m/p)"
        extra = say(", × {converter:.3f}", converter=system.converter) if system.converter != 1.0 else ""
        if now.narrower > 1.0:
            extra += say(", × {narrower:.3f} by the coupled lens's opening", narrower=now.narrower)
        numbers = say(
            "N {f_number:.3g}, m {of_lens:.4f} of lens and extension, p {pupil_ratio:g}{extra}: {number:.4f}",
            f_number=system.f_number,
            of_lens=now.of_lens,
            pupil_ratio=system.near.pupil_ratio,
            extra=extra,
            number=figure.number,
        )
        return figure_words(say("effective f-number"), formula, numbers, BELLOWS_SOURCE)


@dataclass(frozen=True)
class StopsLost(FigureText):
    """The light lost against the same lens at infinity."""

    kind = "closeup.stops_lost"
    unit = "stops"
    now: Point

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        numbers = say("2·log2({darker:.4f}) = {number:.3f}", darker=self.now.darker, number=figure.number)
        return figure_words(
            say("light lost {baselines}", baselines=BASELINES), say("2·log2(N_e/N)"), numbers, BELLOWS_SOURCE
        )


@dataclass(frozen=True)
class StopsAgainstBare(FigureText):
    """The light lost against the bare lens at its own closest."""

    kind = "closeup.stops_against_bare"
    unit = "stops"
    now: Point
    bare: Point

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        numbers = say(
            "2·log2({darker:.4f}/{darker_2:.4f}), the lens alone at m {of_lens:.3f}",
            darker=self.now.darker,
            darker_2=self.bare.darker,
            of_lens=self.bare.of_lens,
        )
        label, formula = (
            say("… compared with the lens alone at its closest focus"),
            say("2·log2 of both effective f-numbers"),
        )
        return figure_words(label, formula, numbers, BELLOWS_SOURCE)


@dataclass(frozen=True)
class Depth(FigureText):
    """Depth of field, or one part of it."""

    label: ClassVar[Message]
    depth: DepthOfField
    circle_mm: float
    circle_basis: CircleBasis
    now: Point
    effective_f_number: float

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        numbers = say(
            "2·{effective_f_number:.2f}·{circle_mm:.4f}/{magnification:.3f}² = "
            "{geometric_mm:.4f}, and {diffraction_mm:.4f} by diffraction; c {circles}",
            effective_f_number=self.effective_f_number,
            circle_mm=self.circle_mm,
            magnification=self.now.magnification,
            geometric_mm=self.depth.geometric_mm,
            diffraction_mm=self.depth.diffraction_mm,
            circles=CIRCLES[self.circle_basis],
        )
        return figure_words(self.label, "2N_e·c/m² + 4λN_e²/m²", numbers, DEPTH_SOURCE)


class WholeDepth(Depth):
    """Depth of field, both sides together, with blur and diffraction."""

    kind = "closeup.depth_of_field_mm"
    unit = "mm"
    label = N_("depth of field, both sides")


class DepthByBlur(Depth):
    """The share of that depth the accepted blur gives."""

    kind = "closeup.depth_geometric_mm"
    unit = "mm"
    label = N_("… by blur")


class DepthByDiffraction(Depth):
    """The share diffraction gives."""

    kind = "closeup.depth_diffraction_mm"
    unit = "mm"
    label = N_("… by diffraction")


@dataclass(frozen=True)
class DiffractionFNumber(FigureText):
    """The f-number beyond which diffraction alone blurs more than is accepted."""

    kind = "closeup.diffraction_f_number"
    circle_mm: float
    circle_basis: CircleBasis
    now: Point

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        circle = say(
            "{mm_to_micrometres:.2f} µm, {circles}",
            mm_to_micrometres=mm_to_micrometres(self.circle_mm),
            circles=CIRCLES[self.circle_basis],
        )
        numbers = say("c {circle}; N = N_e/{darker:.3f}", circle=circle, darker=self.now.darker)
        return figure_words(
            say("diffraction shows beyond f/"), "2.44 λ N_e = 2c", numbers, say("first dark ring of the Airy disc")
        )


@dataclass(frozen=True)
class SharpestFNumber(FigureText):
    """The engraved f-number at which the subject's whole depth is drawn sharpest."""

    kind = "closeup.sharpest_f_number"
    deep_mm: float
    now: Point

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        numbers = say(
            "{magnification:.3f}·√({deep_mm:g}/0.00268)/{darker:.3f}",
            magnification=self.now.magnification,
            deep_mm=self.deep_mm,
            darker=self.now.darker,
        )
        label = say("sharpest single frame for a depth of {deep_mm:g} mm, f/", deep_mm=self.deep_mm)
        return figure_words(label, "m √(T/(4.88 λ)) / (N_e/N)", numbers, SHARPEST_SOURCE)
