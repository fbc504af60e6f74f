"""How a near subject's rays run ahead of the lens: what stands there appears larger on the pupil, and elsewhere.

A ray through height c at x ahead of the pupil, aimed at the image of a subject at V from the pupil, meets the pupil at
``s c − s x tan θ`` with ``s = V/(V − x)``. Ahead of a close-up lens it runs from the subject itself, d before that
lens, so that first ``c`` becomes ``c d/(d − w) − H w/(d − w)``, w ahead of the lens and H the subject's height.
Similar triangles throughout.
"""

import math
from dataclasses import dataclass

import numpy as np

from farrail.optics.clipping import Array
from farrail.parts.kinds.lenses import CameraLens
from farrail.readouts.close_up.model import CloseUp
from farrail.train.layout import Layout

# A subject at or inside an aperture is taken just beyond it, by this share of its distance.
JUST_BEYOND = 0.02


@dataclass(frozen=True)
class ObjectConjugate:
    """A train's subject as the entrance pupil sees it.

    Attributes:
        seen_mm: V, from the pupil to the subject or to its image through close-up lenses; infinite far away.
        bend: true slope of the field point's ray over h/f; below 1 where the lens itself is focused close.
        plane_mm: from the pupil to the innermost close-up lens; infinite without one.
        subject_mm: d, from that lens to the subject.
        height_mm: the subject's height over tan θ, taken as lying in the plane of its image.
        drawn_out_mm: how far the lens's own focusing ring has moved it toward the scene.
    """

    seen_mm: float = math.inf
    bend: float = 1.0
    plane_mm: float = math.inf
    subject_mm: float = math.inf
    height_mm: float = 0.0
    drawn_out_mm: float = 0.0

    def place(self, ahead_mm: Array) -> tuple[Array, Array]:
        """Return for apertures at distances ahead of the pupil the lever on tan θ, and how much larger they appear."""
        inside = np.minimum(ahead_mm, self.plane_mm)
        scale = self._toward(self.seen_mm, inside)
        lever = scale * inside
        beyond = np.maximum(ahead_mm - self.plane_mm, 0.0) if math.isfinite(self.plane_mm) else np.zeros_like(ahead_mm)
        if beyond.any():
            out = self._toward(self.subject_mm, beyond)
            # (out − 1) = w/(d − w): how far the subject's own height moves the ray on the close-up lens.
            lever = lever + scale * self.height_mm * (out - 1.0)
            scale = scale * out
        return lever * self.bend, scale

    @staticmethod
    def _toward(distance_mm: float, ahead_mm: Array) -> Array:
        if math.isinf(distance_mm):
            return np.ones_like(ahead_mm)
        return np.asarray(distance_mm / np.maximum(distance_mm - ahead_mm, JUST_BEYOND * distance_mm))


FAR = ObjectConjugate()


def object_conjugate_of(layout: Layout, close: CloseUp | None = None) -> ObjectConjugate:
    """Return a train's subject as its pupil sees it: as focused, or where a close-up train stands in its window.

    Args:
        layout: the train.
        close: its close-up readout where there is one already; None: it is made.
    """
    if not isinstance(layout.optic, CameraLens) or layout.corrector is not None:
        return FAR
    close, near = close or CloseUp(layout), layout.train.conditions.focus_mm
    far = FAR if near is None else ObjectConjugate(seen_mm=near)
    if layout.reversed or not close.active or not close.now.magnification > 0.0:
        return far
    system = close.system
    assert system is not None
    now, stack, lens = close.now, system.stack, system.near
    depth = layout.first_order.entrance_pupil.value
    focal = lens.focal_at(close.focus_position)
    # The slope of a field point's ray for each mm of its image height.
    if now.of_lens > 1e-9:
        seen = focal * (1.0 + 1.0 / now.of_lens) - lens.principal_mm + depth
        slope = 1.0 / (now.of_lens * system.converter * seen)
    else:
        seen, slope = math.inf, 1.0 / (focal * system.converter)
    # Of the lens's magnification its own ring makes what extension behind it does not.
    drawn_out = max(now.of_lens * focal - max(layout.first_order.extension.tubes_mm, 0.0), 0.0)
    bend = slope * layout.first_order.pupil_drawn_out(drawn_out).focal_length_mm
    if not stack.lenses:
        return ObjectConjugate(seen, bend, drawn_out_mm=drawn_out)
    subject = now.distance_mm + stack.ahead_mm - stack.first_mm
    height = 1.0 / (now.magnification * slope)
    return ObjectConjugate(seen, bend, depth + stack.first_mm, subject, height, drawn_out)
