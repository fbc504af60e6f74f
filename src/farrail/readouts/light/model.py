"""Light: which clear aperture darkens which corner, by how much, and what would be wide enough.

Each aperture is taken as the sensor sees it (`aperture_images.py`). Where its place is unknown both ends are tried and
the worse one speaks. Points are places on the sensor seen from behind the camera; the picture the camera displays is
that turned by half a turn.
"""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from farrail.optics.clipping import Array
from farrail.optics.illumination import (
    GRID_COLUMNS,
    GRID_ROWS,
    enlarged,
    frame_points_mm,
    loss_alone,
    loss_last,
    map_of_profile,
    natural_falloff,
    onset_height_mm,
    refined,
    relative_to_axis,
)
from farrail.optics.pupils import ApertureImage, Pupil
from farrail.optics.shapes import DRAGGING_ERROR, FINE_ERROR
from farrail.parts.origin import Origin
from farrail.parts.provenance import weakest
from farrail.readouts.close_up.conjugate import ObjectConjugate, object_conjugate_of
from farrail.readouts.light.aperture_images import ApertureImager, ImagedAperture, Point, frame_corners, sensor_offset
from farrail.readouts.light.own_glass import own_glass_seen
from farrail.readouts.light.taking import Taking, takes_most
from farrail.readouts.limits import CLEAN_STOPS
from farrail.train.layout import Layout
from farrail.train.placed import PlacedAperture
from farrail.train.train import Side
from farrail.units import stops_lost

# Fine enough that looking a frame map up in it errs by less than 1e-3 even behind a pupil of 1 mm.
PROFILE_SAMPLES = 512
# Places between a corner and the axis at which onsets of decentred apertures are sought.
ONSET_STEPS = 40
# The grid a map is made from while a hand drags.
QUICK_GRID = (16, 11)
# A cell of the fine grid whose corners differ by more than this is crossed by a steep shadow.
STEEP = 0.12
# So many steps of the finer grid are in one of the grid's there.
FINER_STEPS = 4
# How far a place of it may be off.
PICTURE_ERROR = 4e-3
# Heights at which one round aperture is looked at for a whole map of which takes most.
HEIGHTS_ALONE = 256
# A drawn curve needs every so many of the profile's samples.
CURVE_STEP = 16
PICTURE_EDGES = ("top", "bottom", "left", "right")


@dataclass(frozen=True)
class Clearance:
    """One aperture against the frame; lengths in mm.

    Attributes:
        placed: the aperture.
        distance_mm: reduced distance before the sensor (ahead of the entrance pupil for the front stack), as seen.
        needed_mm: clear width needed for an unclipped frame, at the worse end of its place.
        needed_best_mm: the same at the better end.
        has_mm: clear width it has.
        alone: light it takes alone at the corner or edge where it takes most, fraction.
        onset_mm: image height at which it begins to clip, `inf` for never.
        origin: weakest input of its margin.
    """

    placed: PlacedAperture
    distance_mm: float
    needed_mm: float
    needed_best_mm: float
    has_mm: float
    alone: float
    onset_mm: float
    origin: Origin

    @property
    def margin_mm(self) -> float:
        """Clear width to spare; negative where it clips."""
        return self.has_mm - self.needed_mm

    @property
    def margin_best_mm(self) -> float:
        """Clear width to spare at the better end of its place."""
        return self.has_mm - self.needed_best_mm

    def margins_mm(self, least_needed_mm: float, most_needed_mm: float) -> tuple[float, float]:
        """Return the least and the greatest margin for an interval of the clear width needed."""
        return self.has_mm - most_needed_mm, self.has_mm - least_needed_mm

    @property
    def clips(self) -> bool:
        """Whether it takes light from the frame."""
        return self.margin_mm < -1e-9

    @property
    def alone_stops(self) -> float:
        """Stops lost to it alone where it takes most."""
        return stops_lost(1.0 - self.alone)


@dataclass(frozen=True)
class Light:
    """The light readout of a placed train; `near` is its subject where it is known already."""

    layout: Layout
    near: ObjectConjugate | None = None

    @cached_property
    def _conjugate(self) -> ObjectConjugate:
        return self.near or object_conjugate_of(self.layout)

    @cached_property
    def pupil(self) -> Pupil:
        """The pupil the sensor looks into, the lens focused as it is."""
        return self.layout.first_order.pupil_focused(self._conjugate.ring)

    @cached_property
    def corner_mm(self) -> float | None:
        """Image height of the sensor's corner from its own middle; None without a camera."""
        return None if self.layout.camera is None else self.layout.camera.diagonal_mm / 2.0

    @cached_property
    def corners(self) -> tuple[Point, ...]:
        """The sensor's corners from the axis, seen from behind; () without a camera."""
        return frame_corners(self.layout)

    @cached_property
    def placed(self) -> tuple[PlacedAperture, ...]:
        """The apertures judged; none behind the optic without a camera, for nothing says from where they are seen."""
        return self.layout.apertures if self.layout.camera is not None else ()

    @cached_property
    def imaged(self) -> tuple[ImagedAperture, ...]:
        """Each aperture as the sensor sees it."""
        imager = ApertureImager(self.layout, self.pupil, self._conjugate)
        return tuple(imager.see(placed) for placed in self.placed)

    @cached_property
    def images(self) -> list[ApertureImage]:
        """The apertures judged, each at the worse end of its place."""
        return [imaged.image for imaged in self.imaged]

    @cached_property
    def _acting(self) -> tuple[int, ...]:
        """The numbers of the apertures that take light from the frame or a little beyond."""
        return tuple(number for number, imaged in enumerate(self.imaged) if imaged.acts)

    @cached_property
    def acting(self) -> list[ApertureImage]:
        """The apertures that take light from the frame or a little beyond; the others change nothing there."""
        return [self.images[number] for number in self._acting]

    @cached_property
    def centred(self) -> bool:
        """Whether everything that acts is round about the axis, so that only the image height matters."""
        return all(image.centred for image in self.acting)

    @cached_property
    def _corner_light(self) -> Array:
        """RI at each of the four corners."""
        return self.light_at(np.array(self.corners))

    @cached_property
    def own_glass(self) -> tuple[ApertureImage, ...]:
        """The lens's own front glass where its vignetting is known: what it takes alone is not the train's doing."""
        return own_glass_seen(self.layout, self.pupil, self._conjugate)

    @cached_property
    def worst_corner(self) -> Point:
        """The darkest corner, from the axis."""
        return self.corners[int(np.argmin(np.round(self._corner_light, 9)))]

    @cached_property
    def clearances(self) -> tuple[Clearance, ...]:
        """Every aperture against the frame, in the order the light meets them."""
        if not self.corners:
            return ()
        taken = {number: share for number, (share, _) in zip(self._acting, self._alone, strict=True)}
        common = [self.layout.first_order.f_number.origin, self.layout.first_order.exit_pupil.origin]
        rows = []
        for number, imaged in enumerate(self.imaged):
            placed, image = imaged.placed, imaged.image
            rows.append(
                Clearance(
                    placed=placed,
                    distance_mm=image.distance_mm,
                    needed_mm=imaged.needed_mm,
                    needed_best_mm=imaged.needed_best_mm,
                    has_mm=imaged.has_mm,
                    alone=taken.get(number, 0.0),
                    onset_mm=self._onset_mm(imaged),
                    origin=weakest([placed.diameter.origin, placed.position_origin, *common]),
                )
            )
        return tuple(rows)

    @cached_property
    def _judged_at(self) -> Array:
        """The places where losses are shown; round about the axis the darkest corner says all.

        Else a shadow may fall on the middle of an edge.
        """
        return np.array([self.worst_corner] if self.centred else [*self.corners, *self._edge_places])

    @cached_property
    def _alone(self) -> list[tuple[float, int]]:
        """What each acting aperture takes alone where it takes most, and where that is."""
        return loss_alone(self.pupil, self.acting, self._judged_at)

    @cached_property
    def last(self) -> tuple[float, ...]:
        """For each aperture the light it takes after all others, where it takes most alone; fractions."""
        lost = loss_last(self.pupil, self.acting, self._judged_at, self._alone)
        taken = dict(zip(self._acting, lost, strict=True))
        return tuple(taken.get(number, 0.0) for number in range(len(self.imaged)))

    def _onset_mm(self, imaged: ImagedAperture) -> float:
        """Return the least image height, on the way to any corner, at which an aperture begins to clip."""
        if imaged.image.centred:
            return onset_height_mm(self.pupil, imaged.image)
        if imaged.has_mm >= imaged.needed_mm:
            return float("inf")
        shares = np.linspace(0.0, 1.0, ONSET_STEPS)
        ways = np.array([[(x * s, y * s) for s in shares] for x, y in self.corners])
        light = relative_to_axis(self.pupil, [imaged.image], ways.reshape(-1, 2)).reshape(len(self.corners), -1)
        clipped = light < 1.0 - 1e-6
        heights = np.hypot(ways[..., 0], ways[..., 1])
        return float(heights[clipped].min()) if clipped.any() else float("inf")

    @cached_property
    def taking(self) -> Taking | None:
        """What limits the darkest corner or edge, among the apertures that act; None where nothing does."""
        if not self.corners:
            return None
        owners = [_owner(self.imaged[number].placed) for number in self._acting]
        return takes_most(self.pupil, self.acting, owners, self._judged_at, self.own_glass)

    @cached_property
    def limiting(self) -> Clearance | None:
        """The aperture of the part whose change would help most, if anything darkens the frame."""
        return None if self.taking is None else self.clearances[self._acting[self.taking.number]]

    @cached_property
    def tightest(self) -> Clearance | None:
        """The aperture with the least margin."""
        return min(self.clearances, key=lambda c: c.margin_mm, default=None)

    @cached_property
    def corner_ri(self) -> float | None:
        """RI at the darkest corner, without natural falloff."""
        return float(self._corner_light.min()) if self.corners else None

    @property
    def _edge_places(self) -> list[Point]:
        """The middles of the sensor's edges, in the order of PICTURE_EDGES.

        The picture's top is the sensor's bottom, its left the sensor's right.
        """
        camera = self.layout.camera
        if camera is None:
            return []
        right, up = sensor_offset(self.layout)
        a, b = camera.sensor_width_mm.value / 2.0, camera.sensor_height_mm.value / 2.0
        return [(right, up - b), (right, up + b), (right + a, up), (right - a, up)]

    @cached_property
    def edges(self) -> dict[str, float]:
        """RI in the middle of each edge of the picture as the camera displays it."""
        if not self.corners:
            return {}
        light = self.light_at(np.array(self._edge_places))
        return {name: float(value) for name, value in zip(PICTURE_EDGES, light, strict=True)}

    @cached_property
    def profile(self) -> tuple[Array, Array]:
        """Image heights from the axis past the darkest corner, and RI at each on that way."""
        corner = self.worst_corner if self.corners else (0.0, 0.0)
        reach = float(np.hypot(*corner)) or 1.0
        heights = np.linspace(0.0, reach * 1.15, PROFILE_SAMPLES)
        if self.centred:
            return heights, self.light_at(np.stack([heights, np.zeros_like(heights)], axis=1))
        coarse = heights[::7]
        points = coarse[:, None] / reach * np.array([corner])
        return heights, np.interp(heights, coarse, self.light_at(points))

    def profile_of(self, number: int, heights: Array) -> Array:
        """Return RI at some image heights, on the way to the darkest corner, behind one aperture alone."""
        image = self.images[number]
        if image.centred:
            return relative_to_axis(self.pupil, [image], np.stack([heights, np.zeros_like(heights)], axis=1))
        corner = np.array([self.worst_corner]) / (float(np.hypot(*self.worst_corner)) or 1.0)
        return relative_to_axis(self.pupil, [image], heights[:, None] * corner)

    def worst_alone(self, most: int) -> list[int]:
        """Return the numbers of the apertures that take most alone, at most so many, in the order they are met."""
        clipping = [number for number, c in enumerate(self.clearances) if c.clips]
        return sorted(sorted(clipping, key=lambda number: -self.clearances[number].alone)[:most])

    def curves_alone(self, most: int) -> list[tuple[Array, Array]]:
        """Return, for the apertures that take most alone, image heights and RI behind each of them alone."""
        heights = self.profile[0][::CURVE_STEP]
        return [(heights, self.profile_of(number, heights)) for number in self.worst_alone(most)]

    @cached_property
    def natural_curve(self) -> tuple[Array, Array]:
        """Image heights and the natural falloff at each."""
        heights = self.profile[0][::CURVE_STEP]
        return heights, natural_falloff(self.pupil.exit_distance_mm, heights)

    def light_at(self, points_mm: Array, error: float = FINE_ERROR) -> Array:
        """Return RI at places on the sensor, (P,), the share of the centre's light, against the bare optic.

        Args:
            points_mm: places from the axis, (P, 2), seen from behind.
            error: how far a point may be off at which several shapes cut.
        """
        whole = relative_to_axis(self.pupil, [*self.acting, *self.own_glass], points_mm, error=error)
        if not self.own_glass:
            return whole
        bare = relative_to_axis(self.pupil, self.own_glass, points_mm, error=error)
        return np.minimum(whole / np.maximum(bare, 1e-9), 1.0)

    def takes_at(self, image: ApertureImage, point_mm: Point) -> bool:
        """Whether an opening alone takes light from a place on the sensor."""
        return float(relative_to_axis(self.pupil, [image], np.array([point_mm]))[0]) < 1.0 - 1e-6

    def map(self, columns: int, rows: int, *, natural: bool = False, quick: bool = False) -> Array:
        """Return RI over the picture as the camera displays it, shape (rows, columns); all ones without a camera.

        Args:
            columns: cells across.
            rows: cells down.
            natural: with the natural falloff, cos⁴, multiplied in.
            quick: as finely as dragging needs.
        """
        camera = self.layout.camera
        if camera is None:
            return np.ones((rows, columns))
        width, height = camera.sensor_width_mm.value, camera.sensor_height_mm.value
        right, up = sensor_offset(self.layout)
        if self.centred and right == up == 0.0:
            ri = map_of_profile(*self.profile, width, height, columns, rows)
        else:
            coarse = QUICK_GRID if quick else (GRID_COLUMNS, GRID_ROWS)
            points = frame_points_mm(width, height, *coarse) + np.array([[right, up]])
            error = DRAGGING_ERROR if quick else FINE_ERROR
            grid = self.light_at(points, error).reshape(coarse[1], coarse[0])
            # Half a turn: the picture is upside down on the sensor.
            ri = enlarged(grid[::-1, ::-1], columns, rows)
        return ri * self.natural(columns, rows) if natural else ri

    def grid_rows(self, start: int, stop: int) -> Array:
        """Return some rows, from the picture's top, of the grid a fine map is enlarged from: (stop − start, columns).

        For a map made in chunks beside the hand's path: `map_of_grid` makes the picture of all rows.
        """
        camera = self.layout.camera
        assert camera is not None
        points = frame_points_mm(camera.sensor_width_mm.value, camera.sensor_height_mm.value, GRID_COLUMNS, GRID_ROWS)
        # Half a turn: the picture is upside down on the sensor.
        turned = (points + np.array([sensor_offset(self.layout)]))[::-1].reshape(GRID_ROWS, GRID_COLUMNS, 2)
        part = turned[start:stop].reshape(-1, 2)
        return self.light_at(part).reshape(-1, GRID_COLUMNS)

    def sharp_map(self, columns: int, rows: int) -> Array:
        """Return RI over the picture at pixel centres, (rows, columns), edges of shadows as sharp as they are.

        As `map`; where a steep shadow crosses a cell of its grid, a finer grid is worked out there.
        """
        right, up = sensor_offset(self.layout)
        if self.layout.camera is None or (self.centred and right == up == 0.0):
            return self.map(columns, rows)
        grid = self.grid_rows(0, GRID_ROWS)
        fine = refined(grid, FINER_STEPS)
        places = self._steep_nodes(grid)
        if places[0].size:
            width, height = self.layout.camera.sensor_width_mm.value, self.layout.camera.sensor_height_mm.value
            x = right - (places[1] / (fine.shape[1] - 1) - 0.5) * width
            y = up - (0.5 - places[0] / (fine.shape[0] - 1)) * height
            fine[places] = self.light_at(np.stack([x, y], axis=1), PICTURE_ERROR)
        return enlarged(fine, columns, rows)

    def _steep_nodes(self, grid: Array) -> tuple[np.ndarray, np.ndarray]:
        """Return rows and columns of the finer grid in cells that a steep shadow crosses, and in those around them."""
        cells = np.stack([grid[:-1, :-1], grid[1:, :-1], grid[:-1, 1:], grid[1:, 1:]])
        steep = np.ptp(cells, axis=0) > STEEP
        down, across = steep.shape
        wide = np.zeros((down + 2, across + 2), dtype=bool)
        for step in range(9):
            j, i = divmod(step, 3)
            wide[j : j + down, i : i + across] |= steep
        near = wide[1:-1, 1:-1].repeat(FINER_STEPS, axis=0).repeat(FINER_STEPS, axis=1)
        nodes = np.zeros((near.shape[0] + 1, near.shape[1] + 1), dtype=bool)
        nodes[:-1, :-1], nodes[1:, 1:] = near, nodes[1:, 1:] | near
        found = np.nonzero(nodes)
        return found[0], found[1]

    def natural(self, columns: int, rows: int) -> Array:
        """Return the natural falloff over the picture, shape (rows, columns)."""
        camera = self.layout.camera
        assert camera is not None
        points = frame_points_mm(camera.sensor_width_mm.value, camera.sensor_height_mm.value, columns, rows)
        points = points + np.array([sensor_offset(self.layout)])
        heights = np.hypot(points[:, 0], points[:, 1])
        return natural_falloff(self.pupil.exit_distance_mm, heights).reshape(rows, columns)[::-1, ::-1]

    def clipping_map(self, columns: int, rows: int) -> np.ndarray:
        """Return, over the picture, the number of the aperture that takes most there alone; −1 where none does."""
        camera = self.layout.camera
        if camera is None or not self.images:
            return np.full((rows, columns), -1)
        points = frame_points_mm(camera.sensor_width_mm.value, camera.sensor_height_mm.value, columns, rows)
        who = self.takers_at(points + np.array([sensor_offset(self.layout)]))
        return who.reshape(rows, columns)[::-1, ::-1]

    @property
    def picture_corners(self) -> Array:
        """Places on the sensor of the picture's corners, (4, 2): top left, top right, bottom left, bottom right."""
        camera = self.layout.camera
        if camera is None:
            return np.zeros((0, 2))
        right, up = sensor_offset(self.layout)
        a, b = camera.sensor_width_mm.value / 2.0, camera.sensor_height_mm.value / 2.0
        # The picture is upside down on the sensor.
        return np.array([(right + a, up - b), (right - a, up - b), (right + a, up + b), (right - a, up + b)])

    def takers_at(self, points_mm: Array) -> np.ndarray:
        """Return the number of the aperture that alone blocks most at places on the sensor, (P,); −1: none."""
        most, who = np.full(points_mm.shape[0], 1e-3), np.full(points_mm.shape[0], -1)
        for number, (image, c) in enumerate(zip(self.images, self.clearances, strict=True)):
            if c.clips:
                taken = 1.0 - self._alone_at(image, points_mm)
                who = np.where(taken > most, number, who)
                most = np.maximum(taken, most)
        return who

    def _alone_at(self, image: ApertureImage, points: Array) -> Array:
        """Return RI behind one aperture alone at many places; about the axis only the image height matters."""
        if not image.centred:
            return relative_to_axis(self.pupil, [image], points, error=DRAGGING_ERROR)
        heights = np.hypot(points[:, 0], points[:, 1])
        few = np.linspace(0.0, float(heights.max()), HEIGHTS_ALONE)
        return np.interp(
            heights, few, relative_to_axis(self.pupil, [image], np.stack([few, np.zeros_like(few)], axis=1))
        )

    @cached_property
    def clean_mm(self) -> tuple[float, float] | None:
        """The largest rectangle of the sensor's aspect about its middle that loses at most CLEAN_STOPS anywhere."""
        camera = self.layout.camera
        if camera is None:
            return None
        width, height = camera.sensor_width_mm.value, camera.sensor_height_mm.value
        offset = np.array([sensor_offset(self.layout)])
        border = _border(width, height)
        least = 2.0**-CLEAN_STOPS

        def clean(share: float) -> bool:
            points = border * share + offset
            return bool(self.light_at(points).min() >= least - 1e-9)

        if clean(1.0):
            return width, height
        low, high = 0.0, 1.0
        for _ in range(14):
            middle = (low + high) / 2.0
            low, high = (middle, high) if clean(middle) else (low, middle)
        return width * low, height * low


def _owner(placed: PlacedAperture) -> tuple[str, Side, int]:
    """Return whose an aperture is: a filter in a housing is another part than the housing."""
    return placed.part.id, placed.side, placed.index


def _border(width_mm: float, height_mm: float, steps: int = 17) -> Array:
    """Return places along a frame's border from its middle, (P, 2)."""
    x, y = np.linspace(-width_mm / 2.0, width_mm / 2.0, steps), np.linspace(-height_mm / 2.0, height_mm / 2.0, steps)
    a, b = np.full(steps, width_mm / 2.0), np.full(steps, height_mm / 2.0)
    sides = [np.stack(side, axis=1) for side in ((x, b), (x, -b), (a, y), (-a, y))]
    return np.concatenate(sides)
