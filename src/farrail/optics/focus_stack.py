"""Depth of field close up, and how many frames a focus stack takes."""

import math
from dataclasses import dataclass

from farrail.errors import BadInput
from farrail.language import N_
from farrail.optics.focus import DEFAULT_WAVELENGTH_NM
from farrail.optics.plates import check_f_number
from farrail.units import nm_to_mm

DEPTH_SOURCE = N_(
    "2·N_e·c/m² + 4λN_e²/m²: blur no larger than c, and a quarter wave of defocus, both to the subject's side"
)
# More than this many frames is a mistyped number, not a plan.
MOST_FRAMES = 100_000


@dataclass(frozen=True)
class DepthOfField:
    """Depth of field in mm, the two parts that add.

    Attributes:
        geometric_mm: the blur stays within the circle of confusion.
        diffraction_mm: defocus stays within a quarter wave.
    """

    geometric_mm: float
    diffraction_mm: float

    @property
    def whole_mm(self) -> float:
        """Return both together."""
        return self.geometric_mm + self.diffraction_mm


def depth_of_field(
    effective_f_number: float, magnification: float, circle_mm: float, wavelength_nm: float = DEFAULT_WAVELENGTH_NM
) -> DepthOfField:
    """Return the whole depth of field, to both sides, of a close subject.

    Args:
        effective_f_number: N_e, as the sensor sees it.
        magnification: m, above zero.
        circle_mm: c, largest blur on the sensor.
        wavelength_nm: λ.

    Raises:
        BadInput: an argument outside its range.
    """
    check_f_number(effective_f_number)
    if not (math.isfinite(magnification) and magnification > 0.0):
        raise BadInput(
            "A magnification of {magnification:g} has no depth of field; give a number above 0.",
            magnification=magnification,
        )
    if not (math.isfinite(circle_mm) and 0.0 < circle_mm <= 10.0):
        raise BadInput("A blur of {circle_mm:g} mm cannot be used; give above 0 and at most 10.", circle_mm=circle_mm)
    geometric = 2.0 * effective_f_number * circle_mm / magnification**2
    return DepthOfField(geometric, 4.0 * nm_to_mm(wavelength_nm) * effective_f_number**2 / magnification**2)


@dataclass(frozen=True)
class FocusStack:
    """How a deep subject is taken in slices.

    Attributes:
        step_mm: from frame to frame.
        frames: how many.
        travel_mm: from the first to the last.
    """

    step_mm: float
    frames: int
    travel_mm: float

    def place_mm(self, frame: int) -> float:
        """Return where a frame is, counted from 0, from the first on."""
        return frame * self.step_mm

    def time_s(self, interval_s: float) -> float:
        """Return how long all frames take at so long for each."""
        return self.frames * interval_s


def focus_stack(subject_depth_mm: float, field_depth_mm: float, overlap: float) -> FocusStack:
    """Return the frames for a subject: step = depth of field·(1 − overlap), ceil((depth − dof)/step) + 1 frames.

    Args:
        subject_depth_mm: how deep the subject is, above zero.
        field_depth_mm: whole depth of field, above zero.
        overlap: share of each slice that the next repeats, 0 to 0.9.

    Raises:
        BadInput: an argument outside its range, or more frames than anybody takes.
    """
    if not (math.isfinite(subject_depth_mm) and subject_depth_mm > 0.0):
        raise BadInput(
            "A subject depth of {subject_depth_mm:g} mm needs no stack; enter a depth in mm above 0.",
            subject_depth_mm=subject_depth_mm,
        )
    if not (math.isfinite(field_depth_mm) and field_depth_mm > 0.0):
        raise BadInput(
            "A depth of field of {field_depth_mm:g} mm cannot be used; give a depth above 0.",
            field_depth_mm=field_depth_mm,
        )
    if not (math.isfinite(overlap) and 0.0 <= overlap <= 0.9):
        raise BadInput("An overlap of {overlap:g} % cannot be used; give 0 to 90 %.", overlap=100.0 * overlap)
    step = field_depth_mm * (1.0 - overlap)
    further = max(subject_depth_mm - field_depth_mm, 0.0) / step
    if further > MOST_FRAMES:
        raise BadInput(
            "That would take more than {most_frames} frames; stop down or cover less depth.",
            most_frames=MOST_FRAMES,
        )
    # A hair of tolerance, so that a depth of just so many steps is not given one frame more by rounding.
    frames = math.ceil(further - 1e-9) + 1
    return FocusStack(step, frames, step * (frames - 1))
