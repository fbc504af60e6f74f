"""The front stack: what it darkens at the set focal length, and from which focal length on it is clean.

Everything is counted from the lens's thread seat toward the scene. Only what the stack adds is shown: the bare lens is
the measure. A field point's rays run parallel toward the scene (from a near subject they spread), and each aperture is
projected along them on to the entrance pupil.
"""

import math
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from farrail.optics.clipping import Array
from farrail.optics.illumination import onset_height_mm
from farrail.optics.oblique import STEEPEST_RAD
from farrail.optics.projection import field_angle_rad
from farrail.optics.pupils import ApertureImage, FrontStack, Placing, Pupil, project_over_zoom
from farrail.optics.shapes import light_fraction
from farrail.parts.in_beam import ApertureRole
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.origin import Origin
from farrail.parts.provenance import Span, weakest
from farrail.readouts.close_up.conjugate import ObjectConjugate, object_conjugate_of
from farrail.readouts.light.aperture_images import ApertureImager, frame_corners
from farrail.readouts.light.own_glass import (
    NO_DOUBT,
    Doubt,
    OwnGlass,
    assumed_walk_mm,
    own_glass_of,
    own_glass_seen,
)
from farrail.readouts.light.taking import takes_most
from farrail.readouts.limits import CLEAN_STOPS, VISIBLE_STOPS
from farrail.train.layout import Layout
from farrail.train.placed import PlacedAperture
from farrail.train.train import Side
from farrail.train.zoom_tables import f_numbers, pupil_depth_at, pupil_depths_mm, pupil_walks_mm
from farrail.units import stops_lost

SWEEP_STEPS = 60
FINER = 17
# A loss beyond a limit by less than this is no crossing: it may be the engine's own error.
DEAD_STOPS = 0.005
# So near below a limit a dip between two steps is looked at more finely, at most so many.
NEAR_STOPS, MOST_BUMPS = 0.06, 6
# How far an assumed entrance pupil may be off; common practice, no source.
DOUBT = 0.10


@dataclass(frozen=True)
class Sweep:
    """Added corner loss over a zoom's focal lengths.

    Attributes:
        focal_mm: focal lengths, rising.
        stops: added loss of the darkest corner at each.
        first_clean_mm: the shortest from which on it stays below CLEAN_STOPS; None where it never does.
        visible_mm: the shortest from which on it stays below VISIBLE_STOPS.
    """

    focal_mm: tuple[float, ...]
    stops: tuple[float, ...]
    first_clean_mm: float | None
    visible_mm: float | None


@dataclass(frozen=True)
class Front:
    """The front stack's readout.

    Attributes:
        layout: the train.
        near: its subject, where it is known already.
        crop: the share of the frame's sides that is kept about its middle.
    """

    layout: Layout
    near: ObjectConjugate | None = None
    crop: float = 1.0

    @property
    def lens(self) -> CameraLens | None:
        """The lens it is on; None for a telescope, or for a lens flipped."""
        optic = self.layout.optic
        return optic if isinstance(optic, CameraLens) and not self.layout.reversed else None

    @property
    def judged(self) -> bool:
        """Whether there is a lens with something ahead of it, and a frame to judge by."""
        return self.lens is not None and bool(self.layout.front) and self.layout.camera is not None

    @cached_property
    def focal_mm(self) -> float:
        """What the lens is set to."""
        return self.layout.first_order.own_focal_length.value

    @property
    def f_number(self) -> float:
        """The f-number the lens is used at."""
        return self.layout.first_order.f_number.value

    @cached_property
    def depth_mm(self) -> float:
        """How far the stack reaches ahead of the thread seat."""
        return max((self.layout.front_seat_mm - p.z_front_mm for p in self.layout.front), default=0.0)

    @cached_property
    def placed(self) -> tuple[PlacedAperture, ...]:
        """The stack's apertures, toward the scene first."""
        return tuple(o for o in self.layout.apertures if o.side is Side.FRONT)

    @cached_property
    def pupil(self) -> Pupil:
        """The pupil, the lens focused as it is."""
        return self.layout.first_order.pupil_focused(self.near_subject.ring)

    @cached_property
    def near_subject(self) -> ObjectConjugate:
        """The subject as the entrance pupil sees it."""
        return object_conjugate_of(self.layout) if self.near is None else self.near

    @cached_property
    def _imager(self) -> ApertureImager:
        return ApertureImager(self.layout, self.pupil, self.near_subject)

    @cached_property
    def images(self) -> tuple[ApertureImage, ...]:
        """The stack's apertures as the entrance pupil sees them now."""
        return tuple(self._imager.image_at(placed) for placed in self.placed)

    @cached_property
    def true_images(self) -> tuple[ApertureImage, ...]:
        """The stack's apertures in their true sizes, turned as they are."""
        return tuple(self._imager.true_at(placed) for placed in self.placed)

    def light_over(
        self, focal_mm: Array, doubt: Doubt = NO_DOUBT, images: tuple[ApertureImage, ...] | None = None
    ) -> Array:
        """Return the light that the stack leaves the darkest corner at many focal lengths, against the bare lens, (F,).

        Args:
            focal_mm: focal lengths, (F,).
            doubt: what is taken of the pupil in place of what is known.
            images: apertures in place of the stack's own, one for each of them.
        """
        lens, corners = self.lens, np.array(self.corners)
        assert lens is not None
        if not self.placed or not corners.size:
            return np.ones(focal_mm.size)
        depth = pupil_depths_mm(lens, focal_mm, doubt.end) * (1.0 + doubt.depth)
        walk = pupil_walks_mm(lens, focal_mm) if doubt.walk_mm is None else np.full(focal_mm.size, doubt.walk_mm)
        pupil, near = self.pupil, self.near_subject
        # A teleconverter behind the lens narrows its field as a longer focal length does; so does drawing it out.
        factor = pupil.focal_length_mm / self.focal_mm
        numbers = self.f_numbers_at(focal_mm) * (pupil.f_number / self.f_number)
        own = self.own_glass
        true = self.true_images if images is None else images
        ahead = [self.layout.front_seat_mm - placed.z_mm for placed in self.placed]
        distance = depth[:, None] + np.array(ahead)[None, :]

        coupled = [n for n, placed in enumerate(self.placed) if placed.role is ApertureRole.CARRIED_PUPIL]

        def place(ahead_mm: Array) -> tuple[Array, Array]:
            lever, larger = near.place(ahead_mm)
            if coupled:
                own_lever, own_larger = near.place(ahead_mm[..., coupled], of_coupled=True)
                lever[..., coupled], larger[..., coupled] = own_lever, own_larger
            return lever, larger

        # The axis is looked at besides: what darkens it as much as the corner stops the lens down and is no vignetting.
        places = np.concatenate([corners, np.zeros((1, 2))])

        def seen(apertures: tuple[ApertureImage, ...], at_mm: Array, place: Placing) -> Array:
            stack = FrontStack(apertures, at_mm, walk)
            shapes = project_over_zoom(numbers, pupil.directions, stack, focal_mm * factor, places, place)
            light = light_fraction(shapes).reshape(focal_mm.size, -1)
            relative: Array = np.minimum(light[:, :-1] / np.maximum(light[:, -1:], 1e-9), 1.0)
            return relative

        if own is None:
            darkest: Array = seen(true, distance, place).min(axis=1)
            return darkest
        # Each corner against itself behind the lens's own front glass alone: only what the stack adds is shown.
        glass = depth[:, None] - own.depth_mm
        bare = np.maximum(seen((own.image,), glass, near.place), 1e-9)
        whole = seen((*true, own.image), np.concatenate([distance, glass], axis=1), place)
        ratio: Array = np.minimum(whole / bare, 1.0).min(axis=1)
        return ratio

    def f_numbers_at(self, focal_mm: Array) -> Array:
        """Return the f-number at many focal lengths: as set, or as far as the lens opens where that is less."""
        lens = self.lens
        assert lens is not None
        if not lens.f_numbers:
            return np.full(focal_mm.size, self.f_number)
        factor = self.layout.first_order.shown_factor
        table = f_numbers(lens, focal_mm) * factor
        wanted = self.layout.train.conditions.f_number
        return table if wanted is None else np.maximum(table, wanted)

    @cached_property
    def own_glass(self) -> OwnGlass | None:
        """The lens's own front glass, as far as its vignetting is known."""
        lens = self.lens
        return None if lens is None else own_glass_of(lens, self.pupil.directions)

    def loss_at(self, focal_mm: float, doubt: Doubt = NO_DOUBT) -> float:
        """Return the added loss of the darkest corner at a focal length, in stops (`inf` where it is dark)."""
        return stops_lost(float(self.light_over(np.array([focal_mm]), doubt)[0]))

    @cached_property
    def corners(self) -> tuple[tuple[float, float], ...]:
        """The corners of the sensor, or of the crop, from the axis; () without a camera."""
        corners = frame_corners(self.layout)
        if self.crop == 1.0 or not corners:
            return corners
        x, y = (sum(c[axis] for c in corners) / len(corners) for axis in (0, 1))
        return tuple((x + self.crop * (c[0] - x), y + self.crop * (c[1] - y)) for c in corners)

    @cached_property
    def corner_stops(self) -> float:
        """Added loss of the darkest corner now."""
        return self.loss_at(self.focal_mm)

    @cached_property
    def range_mm(self) -> tuple[float, float]:
        """The lens's focal lengths; twice the same for a fixed lens."""
        lens = self.lens
        assert lens is not None
        longest = lens.longest_focal_mm
        return lens.focal_length_mm.value, lens.focal_length_mm.value if longest is None else longest.value

    def sweep(self, doubt: Doubt = NO_DOUBT) -> Sweep:
        """Return the added corner loss over the lens's focal lengths."""
        low, high = self.range_mm
        steps = SWEEP_STEPS if high > low else 1
        focal = np.geomspace(low, high, steps)
        light = self.light_over(focal, doubt)
        stops = tuple(stops_lost(float(ri)) for ri in light)

        clean, visible = self._firsts(focal, light, doubt)
        return Sweep(tuple(float(f) for f in focal), stops, clean, visible)

    def _firsts(self, focal: Array, light: Array, doubt: Doubt) -> list[float | None]:
        """Return the focal lengths from which on the loss stays within CLEAN_STOPS and within VISIBLE_STOPS.

        The last crossing counts, one between two steps as well; what exceeds a limit by less than DEAD_STOPS does not.
        """
        focal, light = self._with_bumps(focal, light, doubt)
        found: list[float | None] = []
        between: dict[int, tuple[float, float]] = {}
        limits = [2.0**-CLEAN_STOPS, 2.0**-VISIBLE_STOPS]
        for number, limit in enumerate(limits):
            bad = np.flatnonzero(light < limit * 2.0**-DEAD_STOPS)
            last = int(bad[-1]) if bad.size else -1
            found.append(float(focal[0]) if last < 0 else None)
            good = np.flatnonzero(light[last + 1 :] >= limit)
            if 0 <= last < focal.size - 1:
                after = last + 1 + (int(good[0]) if good.size else 0)
                between[number] = float(focal[last]), float(focal[after])
        for _ in range(2 if between else 0):
            # Two rounds of sixteen between two neighbours, both limits at once, find it to a hundredth of a millimetre.
            grids = {number: np.linspace(*ends, FINER) for number, ends in between.items()}
            seen = self.light_over(np.concatenate(list(grids.values())), doubt).reshape(-1, FINER)
            for (number, grid), row in zip(grids.items(), seen, strict=True):
                bad = np.flatnonzero(row < limits[number])
                above = int(bad[-1]) if bad.size else 0
                between[number] = float(grid[above]), float(grid[min(above + 1, FINER - 1)])
                found[number] = between[number][1]
        return found

    def _with_bumps(self, focal: Array, light: Array, doubt: Doubt) -> tuple[Array, Array]:
        """Return the sweep with finer steps where it darkens for a while between two steps, near a limit."""
        dips = np.flatnonzero((light[1:-1] < light[:-2]) & (light[1:-1] <= light[2:])) + 1
        near = [int(n) for n in dips if light[n] < 2.0 ** -(CLEAN_STOPS - NEAR_STOPS)][:MOST_BUMPS]
        if not near:
            return focal, light
        finer = np.unique(np.concatenate([np.linspace(focal[n - 1], focal[n + 1], FINER)[1:-1] for n in near]))
        more = self.light_over(finer, doubt)
        order = np.argsort(np.concatenate([focal, finer]), kind="stable")
        return np.concatenate([focal, finer])[order], np.concatenate([light, more])[order]

    @cached_property
    def now(self) -> Sweep:
        """The sweep with the pupil where it is taken to be."""
        return self.sweep()

    @cached_property
    def band(self) -> tuple[float | None, float | None] | None:
        """First clean focal length at the best and the worst end of what is not known of the pupil; None: all is.

        An interval counts from end to end; an assumed number without one may be a share of the depth off. Where its
        walk to the corner is not entered, it may be zero or as large as usual for wide-angle lenses.
        """
        lens = self.lens
        if lens is None or not self.judged:
            return None
        depths = self._depth_doubts(lens)
        most = assumed_walk_mm(lens, self.field_angle_deg)
        walks = (0.0, most) if most > 0.0 else (None,)
        if len(depths) == len(walks) == 1:
            return None
        found = [
            self.sweep(replace(depth, walk_mm=walk)).first_clean_mm for depth in (*depths, NO_DOUBT) for walk in walks
        ]
        known = [focal for focal in found if focal is not None]
        return min(known, default=None), None if len(known) < len(found) else max(known)

    def _depth_doubts(self, lens: CameraLens) -> tuple[Doubt, ...]:
        """Return what the entrance pupil's depth may be, worst and best; one entry where it is known."""
        depths = [at.depth_mm for at in lens.entrance_pupils] or [lens.entrance_pupil_depth_mm]
        if any(isinstance(depth.in_use, Span) for depth in depths):
            return Doubt(end=-1), Doubt(end=1)
        if self.pupil_origin is Origin.ASSUMED:
            return Doubt(-DOUBT), Doubt(DOUBT)
        return (NO_DOUBT,)

    @property
    def pupil_origin(self) -> Origin:
        """Where the entrance pupil's place came from, at its weakest over the zoom."""
        lens = self.lens
        if lens is None:
            return Origin.ASSUMED
        return weakest([at.depth_mm.origin for at in lens.entrance_pupils] or [lens.entrance_pupil_depth_mm.origin])

    @property
    def walk_unknown(self) -> bool:
        """Whether it is not entered how far the pupil of a wide lens walks."""
        return self.lens is not None and assumed_walk_mm(self.lens, self.field_angle_deg) > 0.0

    @cached_property
    def origin(self) -> Origin:
        """The weakest input of the corner's loss."""
        # What is clear of the corner any decides nothing.
        acting = [o for o in self.placed if self._imager.see(o).acts]
        origins = [o.diameter.origin for o in acting] + [p.length.origin for p in self.layout.front]
        return weakest([self.pupil_origin, self.layout.first_order.f_number.origin, *origins])

    @cached_property
    def limiting(self) -> PlacedAperture | None:
        """The aperture of the part whose change would help the corner most now; None where nothing shows."""
        if not self.placed or not self.corners:
            return None
        owners = [(placed.part.id, placed.index) for placed in self.placed]
        glass = own_glass_seen(self.layout, self.pupil, self.near_subject)
        found = takes_most(self.pupil, self.images, owners, np.array(self.corners), glass)
        return None if found is None else self.placed[found.number]

    def heights_of(self, placed: PlacedAperture) -> tuple[float, float, float] | None:
        """Return the image heights where a round aperture begins to clip, takes half, and leaves all dark."""
        image = self.images[self.placed.index(placed)]
        if not image.centred:
            return None
        onset, half, dark = (onset_height_mm(self.pupil, image, touch) for touch in (1.0, 0.0, -1.0))
        return onset, half, dark

    def turned_stops(self, angle_deg: float) -> float:
        """Return the added corner loss with every rectangular aperture turned by an angle more."""
        turn = math.radians(angle_deg)
        turned = tuple(
            o if o.half_height_mm is None else replace(o, angle_rad=o.angle_rad - turn, centre_mm=_turn(o, -turn))
            for o in self.true_images
        )
        return stops_lost(float(self.light_over(np.array([self.focal_mm]), images=turned)[0]))

    def footprint_mm(self, placed: PlacedAperture) -> tuple[tuple[float, float, float], ...]:
        """Return where the four corners' bundles cross an aperture's plane, as seen from behind: x, y and radius."""
        image = self.images[self.placed.index(placed)]
        found = []
        for corner in self.corners:
            (x, y), radius = self._imager.bundle_at(image, corner)
            found.append((x / image.larger, y / image.larger, radius / image.larger))
        return tuple(found)

    @property
    def bundle_mm(self) -> tuple[float, float, float]:
        """Where the entrance pupil is on the rail, its radius, and the slope of the corner's rays ahead of it."""
        lens, pupil = self.lens, self.pupil
        assert lens is not None
        ways = pupil.directions
        angle = np.array(math.radians(self.field_angle_deg))
        walked = float(ways.walked_mm(np.minimum(angle, STEEPEST_RAD), pupil.focal_length_mm))
        depth = pupil_depth_at(lens, self.focal_mm).value - walked
        slope = math.tan(min(math.radians(self.field_angle_deg), math.radians(89.0)))
        return self.layout.front_seat_mm + depth, pupil.focal_length_mm / (2.0 * pupil.f_number), slope

    @cached_property
    def field_angle_deg(self) -> float:
        """Angle from the axis of the corner's direction."""
        corner = max((math.hypot(*c) for c in self.corners), default=0.0)
        ways = self.pupil.directions
        if ways.distortion:
            return math.degrees(float(ways.angles(np.array(corner), self.pupil.focal_length_mm)))
        return math.degrees(field_angle_rad(corner, self.pupil.focal_length_mm, ways.projection))


def _turn(image: ApertureImage, turn: float) -> tuple[float, float]:
    x, y = image.centre_mm
    return x * math.cos(turn) - y * math.sin(turn), x * math.sin(turn) + y * math.cos(turn)
