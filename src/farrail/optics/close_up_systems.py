"""Many close-up arrangements at once: where each focuses, how large, and at what cost in light.

An arrangement is a lens with its own focusing, extension behind it, perhaps a teleconverter, and thin close-up lenses
ahead of it. One number drives it from the far end of its focus window (0: the lens at infinity, bellows shut) to the
near end (1). Arrays are one entry an arrangement, (C,); drives may be (C, K).

With m the magnification of lens and extension, f its focal length then, and a how far ahead of the innermost close-up
lens it is focused, q = m·a = m (f − s − z) + f stays finite at infinity. A stack of close-up lenses with the ray matrix
A, B, C, D from subject to lens brings the subject to (q·D − m·B)/(m·A − q·C) ahead of its outermost lens and the
magnification to m·A − q·C (system matrices: Smith, *Modern Optical Engineering*; from memory).
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from farrail.language import N_
from farrail.optics.clipping import Array

SOURCE = N_("thin lenses by ray matrices; m = m0 + extension/f")
HALVINGS = 36


@dataclass(frozen=True)
class CloseUpSystems:
    """What C arrangements are made of, each (C,).

    Attributes:
        far_focal_mm: f with the lens at infinity.
        near_focal_mm: f at its own nearest.
        own_magnification: m0, its own magnification there; 0 for a lens that is not focused itself.
        principal_mm: s, its front principal plane behind its filter thread seat, at infinity.
        near_principal_mm: the same at its own closest focus.
        pupil_ratio: p, exit over entrance pupil.
        shortest_mm: extension at the far end.
        longest_mm: extension at the near end.
        converter: factor of a teleconverter, 1 for none.
        first_mm: z, from the seat to the innermost close-up lens.
        a: of the close-up lenses' ray matrix.
        b: likewise.
        c: likewise.
        d: likewise.
        front_mm: how far the foremost glass is ahead of the plane the distance is counted from.
        reversed: 1 where the lens is flipped, else 0.
        f_number: N, as engraved.
        near_cone: effective f-number at its closest focus over N(1 + m0/p).
        pupil_depth_mm: its entrance pupil behind the seat.
        coupled_pupil_mm: diameter of the pupil of a lens coupled ahead, infinite without one.
        coupled_at_mm: where that pupil is, ahead of the seat.
    """

    far_focal_mm: Array
    near_focal_mm: Array
    own_magnification: Array
    principal_mm: Array
    pupil_ratio: Array
    shortest_mm: Array
    longest_mm: Array
    converter: Array
    first_mm: Array
    a: Array
    b: Array
    c: Array
    d: Array
    front_mm: Array
    reversed: Array
    near_principal_mm: Array
    f_number: Array
    near_cone: Array
    pupil_depth_mm: Array
    coupled_pupil_mm: Array
    coupled_at_mm: Array

    def at(self, focus_position: Array) -> "Points":
        """Return where the arrangements are at drives of 0 to 1, (C,) or (C, K)."""
        many = focus_position.ndim == 2

        def spread(values: Array) -> Array:
            return values[:, None] if many else values

        m0, far, near = spread(self.own_magnification), spread(self.far_focal_mm), spread(self.near_focal_mm)
        focal = far + (near - far) * focus_position
        short, long = spread(self.shortest_mm), spread(self.longest_mm)
        extension = short + (long - short) * focus_position
        of_lens = m0 * focus_position + extension / focal
        principal = spread(self.principal_mm)
        principal = principal + (spread(self.near_principal_mm) - principal) * focus_position
        q = of_lens * (focal - principal - spread(self.first_mm)) + focal
        of_all = of_lens * spread(self.a) - q * spread(self.c)
        with np.errstate(divide="ignore", invalid="ignore"):
            distance = (q * spread(self.d) - of_lens * spread(self.b)) / of_all
        # A focus inside the lenses, or none at all.
        lost = (q <= 0.0) | (of_all < 0.0) | (distance <= 0.0)
        p = spread(self.pupil_ratio)
        cone = 1.0 + (spread(self.near_cone) - 1.0) * focus_position
        darker = np.where(spread(self.reversed) > 0.0, 1.0 / p + of_lens, 1.0 + of_lens / p) * cone
        # The bundle of the lens's pupil where a coupled lens's pupil is: it narrows toward the lens's own object.
        depth = spread(self.pupil_depth_mm)
        with np.errstate(divide="ignore", invalid="ignore"):
            object_mm = np.where(of_lens > 0.0, focal * (1.0 + 1.0 / of_lens) - principal + depth, np.inf)
            beam_mm = np.abs(1.0 - (depth + spread(self.coupled_at_mm)) / object_mm) * focal
        narrower = np.maximum(1.0, beam_mm / (spread(self.f_number) * cone * spread(self.coupled_pupil_mm)))
        darker = darker * spread(self.converter) * narrower
        return Points(
            magnification=np.where(lost, np.nan, of_all * spread(self.converter)),
            distance_mm=np.where(lost, np.nan, distance - spread(self.front_mm)),
            of_lens=np.where(lost, np.nan, of_lens),
            darker=darker,
            narrower=np.broadcast_to(narrower, darker.shape),
        )

    def position_for(self, magnification: Array) -> Array:
        """Return the drive at which each reaches a magnification, (C,); NaN where it is outside its window."""
        return self._solve(magnification, lambda points: points.magnification)

    def position_for_distance(self, distance_mm: Array) -> Array:
        """Return the drive at which each focuses at a distance from its foremost glass, (C,); NaN outside."""
        inverse = np.where(distance_mm > 0.0, 1.0 / np.maximum(distance_mm, 1e-9), np.nan)
        return self._solve(inverse, lambda points: 1.0 / points.distance_mm)

    def _solve(self, wanted: Array, value_at: "Callable[[Points], Array]") -> Array:
        count = self.far_focal_mm.size
        low, high = self._focusing(np.zeros(count), np.ones(count), value_at)
        at_low, at_high = value_at(self.at(low)), value_at(self.at(high))
        rising = at_high >= at_low
        with np.errstate(invalid="ignore"):
            inside = (np.minimum(at_low, at_high) <= wanted * (1.0 + 1e-9)) & (
                wanted <= np.maximum(at_low, at_high) * (1.0 + 1e-9)
            )
        for _ in range(HALVINGS):
            middle = 0.5 * (low + high)
            with np.errstate(invalid="ignore"):
                below = (value_at(self.at(middle)) < wanted) == rising
            low, high = np.where(below, middle, low), np.where(below, high, middle)
        return np.where(inside, 0.5 * (low + high), np.nan)

    def _focusing(self, low: Array, high: Array, value_at: "Callable[[Points], Array]") -> tuple[Array, Array]:
        """Return the part of each window in which something comes to a focus, where one of its ends does.

        With much extension the subject is inside the lens at the near end, and before the glass at the far one.
        """
        lost_low, lost_high = np.isnan(value_at(self.at(low))), np.isnan(value_at(self.at(high)))
        half = lost_low != lost_high
        if not half.any():
            return low, high
        focused, lost = np.where(lost_low, high, low), np.where(lost_low, low, high)
        for _ in range(HALVINGS):
            middle = 0.5 * (focused + lost)
            here = np.isnan(value_at(self.at(middle)))
            focused, lost = np.where(here, focused, middle), np.where(here, middle, lost)
        return np.where(half & lost_low, focused, low), np.where(half & lost_high, focused, high)


@dataclass(frozen=True)
class Points:
    """Where arrangements are, each shaped as the drive; NaN where nothing comes to a focus.

    Attributes:
        magnification: image over subject, close-up lenses and teleconverter included.
        distance_mm: from the foremost glass to the subject; infinite where the far end is infinity.
        of_lens: magnification of lens and extension alone.
        darker: effective f-number over the engraved one.
        narrower: the part of `darker` caused by the pupil of a coupled lens; 1 if it does not limit the beam.
    """

    magnification: Array
    distance_mm: Array
    of_lens: Array
    darker: Array
    narrower: Array

    @property
    def stops(self) -> Array:
        """Stops lost against the lens at infinity."""
        return 2.0 * np.log2(self.darker)
