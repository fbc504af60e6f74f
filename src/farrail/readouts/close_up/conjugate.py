"""How a near subject's rays run ahead of the lens: what is there appears larger on the pupil, and elsewhere.

A ray leaves the pupil at height p toward the subject's image, V away, and is bent by every close-up lens it passes:
traced outward it is at ``y(x) = a·p + b·t`` at x ahead of the pupil, t the tangent of the field point's direction.
An aperture there, c beside the axis, so appears on the pupil as one 1/a times as large, at ``(c − b·t)/a``. Without
lenses ``a = 1 − x/V`` and ``b = x``. Thin lenses: passing one of power φ at height y the slope falls by φ·y.
"""

import math
from dataclasses import dataclass

import numpy as np

from farrail.optics.clipping import Array
from farrail.parts.kinds.lenses import CameraLens
from farrail.readouts.close_up.model import CloseUp
from farrail.train.first_order import AT_INFINITY, RingSetting
from farrail.train.layout import Layout
from farrail.units import MM_PER_METRE

# A subject at or inside an aperture is taken just beyond it, by this share of its distance.
JUST_BEYOND = 0.02


@dataclass(frozen=True)
class ObjectConjugate:
    """A train's subject as the entrance pupil sees it.

    Attributes:
        seen_mm: V, from the pupil to the subject or to its image through close-up lenses; infinite far away.
        bend: true slope of the field point's ray over h/f; below 1 where the lens itself is focused close.
        lenses: each close-up lens's distance ahead of the pupil and its power in 1/mm, innermost first.
        ring: how the lens's own focusing ring is set.
    """

    seen_mm: float = math.inf
    bend: float = 1.0
    lenses: tuple[tuple[float, float], ...] = ()
    ring: RingSetting = AT_INFINITY

    def place(self, ahead_mm: Array, *, of_coupled: bool = False) -> tuple[Array, Array]:
        """Return for apertures at distances ahead of the pupil the lever on tan θ, and how much larger they appear.

        Args:
            ahead_mm: distances ahead of the entrance pupil.
            of_coupled: whether they are the pupil of a coupled lens, seen from its own front: its power does not count.
        """
        size, lever = self._traced(ahead_mm, self.lenses[:-1] if of_coupled else self.lenses)
        # Where all rays of a field point meet is the subject itself: nothing beyond it counts.
        size = np.maximum(size, JUST_BEYOND)
        return lever / size * self.bend, 1.0 / size

    def _traced(self, ahead_mm: Array, lenses: tuple[tuple[float, float], ...]) -> tuple[Array, Array]:
        """Return a and b of the ray at distances ahead of the pupil, bent by some lenses."""
        # At the pupil: a, b and their slopes.
        at, (a, b), (da, db) = 0.0, (1.0, 0.0), (-1.0 / self.seen_mm, 1.0)
        size, lever = a + da * ahead_mm, b + db * ahead_mm
        for plane, power in lenses:
            a, b = a + da * (plane - at), b + db * (plane - at)
            da, db, at = da - power * a, db - power * b, plane
            beyond = ahead_mm > plane
            size = np.where(beyond, a + da * (ahead_mm - plane), size)
            lever = np.where(beyond, b + db * (ahead_mm - plane), lever)
        return size, lever


FAR = ObjectConjugate()


def object_conjugate_of(layout: Layout, close: CloseUp | None = None) -> ObjectConjugate:
    """Return a train's subject as its pupil sees it: as focused, or where a close-up train is in its window.

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
        seen = focal * (1.0 + 1.0 / now.of_lens) - lens.principal_at(close.focus_position) + depth
        slope = 1.0 / (now.of_lens * system.converter * seen)
    else:
        seen, slope = math.inf, 1.0 / (focal * system.converter)
    # Of the lens's magnification its own ring makes what extension does not. Behind a teleconverter tubes move the
    # converter's own object by a different length than theirs.
    order = layout.first_order
    extension = system.longest_mm if order.powers else order.extension.tubes_mm
    ring = RingSetting(
        max(now.of_lens * focal - extension, 0.0),
        focal / lens.far_focal_mm,
        1.0 + (lens.near_cone - 1.0) * close.focus_position,
    )
    bend = slope * order.pupil_focused(ring).focal_length_mm
    if not stack.lenses:
        return ObjectConjugate(seen, bend, ring=ring)
    planes, at = [], depth + stack.first_mm
    for number, (dioptres, gap) in enumerate(stack.lenses):
        at += gap if number else 0.0
        planes.append((at, dioptres / MM_PER_METRE))
    return ObjectConjugate(seen, bend, tuple(planes), ring)
