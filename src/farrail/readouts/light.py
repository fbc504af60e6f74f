"""Light: which clear aperture darkens the frame's corner, by how much, and what would be wide enough.

Each aperture is taken at its reduced distance before the sensor (glass between them counts t/n). Where the place
of an aperture is unknown both ends are tried and the worse one speaks.
"""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from farrail.optics.clipping import Array
from farrail.optics.illumination import SOURCE as RI_SOURCE
from farrail.optics.illumination import attribute_loss, map_of_profile, onset_height_mm, relative_illumination
from farrail.optics.pupils import CLEAR_DIAMETER_SOURCE, Opening, Pupil, clear_diameter_needed_mm
from farrail.parts.kinds import CameraLens
from farrail.parts.provenance import Origin, Quantity, weakest
from farrail.readouts.figure import Figure, Working
from farrail.readouts.optic import diagonal_mm, exit_pupil_of, f_number_of, pupil_of
from farrail.train.layout import Layout
from farrail.train.placed import PlacedOpening
from farrail.train.train import Side
from farrail.units import stops_lost

# Fine enough that looking a frame map up in it errs by less than 1e-3 even behind a pupil of 1 mm.
PROFILE_SAMPLES = 512


@dataclass(frozen=True)
class Clearance:
    """One aperture against the frame's corner; lengths in mm.

    Attributes:
        placed: the aperture.
        distance_mm: reduced distance before the sensor (ahead of the entrance pupil for the front stack).
        needed_mm: clear diameter needed for an unclipped corner, at the worse end of its place.
        needed_best_mm: the same at the better end.
        has_mm: clear diameter it has.
        alone: corner light it takes alone, fraction.
        last: corner light it takes after all others, fraction.
        onset_mm: image height at which it begins to clip, `inf` for never.
        origin: weakest input of its margin.
    """

    placed: PlacedOpening
    distance_mm: float
    needed_mm: float
    needed_best_mm: float
    has_mm: float
    alone: float
    last: float
    onset_mm: float
    origin: Origin

    @property
    def margin_mm(self) -> float:
        """Clear diameter to spare; negative where it clips."""
        return self.has_mm - self.needed_mm

    @property
    def margin_best_mm(self) -> float:
        """Clear diameter to spare at the better end of its place."""
        return self.has_mm - self.needed_best_mm

    @property
    def clips(self) -> bool:
        """Whether it takes light from the corner."""
        return self.margin_mm < -1e-9

    @property
    def alone_stops(self) -> float:
        """Stops the corner loses to it alone."""
        return stops_lost(1.0 - self.alone)


@dataclass(frozen=True)
class _Judged:
    """An aperture at the worse end of its place, and the clear diameters needed there and at the better end."""

    opening: Opening
    needed_mm: float
    needed_best_mm: float


@dataclass(frozen=True)
class Light:
    """The light readout of a laid train."""

    layout: Layout

    @cached_property
    def pupil(self) -> Pupil:
        """The pupil the sensor looks into."""
        return pupil_of(self.layout)

    @cached_property
    def corner_mm(self) -> float | None:
        """Image height of the frame's corner; None without a camera."""
        return None if self.layout.camera is None else diagonal_mm(self.layout.camera) / 2.0

    @cached_property
    def placed(self) -> tuple[PlacedOpening, ...]:
        """The apertures judged."""
        return self.layout.openings

    @cached_property
    def openings(self) -> list[Opening]:
        """The apertures judged, each at the worse end of its place."""
        return [judged.opening for judged in self._judged]

    @cached_property
    def _plates(self) -> tuple[tuple[float, float], ...]:
        """Front surface and focus shift of each piece of glass."""
        return tuple((g.z_front_mm, g.glass.shift_mm) for g in self.layout.glass)

    def _distance_mm(self, placed: PlacedOpening, z_mm: float) -> float:
        """Return the distance at which the pupil geometry sees an aperture that lies at `z_mm`."""
        layout, sensor = self.layout, self.layout.sensor_mm
        if placed.side is Side.FRONT:
            depth = layout.optic.entrance_pupil_depth_mm.value if isinstance(layout.optic, CameraLens) else 0.0
            return depth + layout.front_seat_mm - z_mm
        assert sensor is not None
        # t/n in place of t: the same as taking each plate's focus shift off the distance.
        shifts = sum(shift for front, shift in self._plates if front >= z_mm - 1e-9)
        return max(sensor - z_mm - shifts, 0.0)

    def _needed_mm(self, placed: PlacedOpening, distance_mm: float) -> float:
        corner = self.corner_mm or 0.0
        if placed.side is Side.FRONT:
            # Parallel rays of the corner's direction through the entrance pupil.
            focal = self.pupil.focal_length_mm
            return focal / self.pupil.f_number + 2.0 * distance_mm * corner / focal
        return clear_diameter_needed_mm(self.pupil.f_number, self.pupil.exit_distance_mm, 2.0 * corner, distance_mm)

    @cached_property
    def _judged(self) -> tuple[_Judged, ...]:
        """Each aperture at the worse end of its place, with the diameters needed at both ends."""
        found = []
        for placed in self.placed:
            places = {placed.z_low_mm, placed.z_high_mm}
            ends = [(self._needed_mm(placed, x), x) for x in (self._distance_mm(placed, z) for z in places)]
            needed, distance = max(ends)
            opening = Opening(placed.diameter.value / 2.0, distance, placed.side is Side.FRONT)
            found.append(_Judged(opening, needed, min(ends)[0]))
        return tuple(found)

    @cached_property
    def clearances(self) -> tuple[Clearance, ...]:
        """Every aperture against the frame's corner, in the order the light meets them."""
        if self.corner_mm is None:
            return ()
        shares = attribute_loss(self.pupil, self.openings, self.corner_mm)
        common = [f_number_of(self.layout).origin, exit_pupil_of(self.layout).origin]
        rows = []
        for placed, share, judged in zip(self.placed, shares, self._judged, strict=True):
            rows.append(
                Clearance(
                    placed=placed,
                    distance_mm=judged.opening.distance_mm,
                    needed_mm=judged.needed_mm,
                    needed_best_mm=judged.needed_best_mm,
                    has_mm=placed.diameter.value,
                    alone=share.alone,
                    last=share.last,
                    onset_mm=onset_height_mm(self.pupil, judged.opening),
                    origin=weakest([placed.diameter.origin, placed.position_origin, *common]),
                )
            )
        return tuple(rows)

    @cached_property
    def first_to_clip(self) -> Clearance | None:
        """The aperture that begins to clip nearest the axis and inside the frame, if any does."""
        clipping = [c for c in self.clearances if c.clips]
        return min(clipping, key=lambda c: c.onset_mm, default=None)

    @cached_property
    def tightest(self) -> Clearance | None:
        """The aperture with the least margin."""
        return min(self.clearances, key=lambda c: c.margin_mm, default=None)

    @cached_property
    def corner_ri(self) -> float | None:
        """RI at the frame's corner, without natural falloff."""
        if self.corner_mm is None:
            return None
        return float(relative_illumination(self.pupil, self.openings, np.array([self.corner_mm]))[0])

    @cached_property
    def profile(self) -> tuple[Array, Array]:
        """Image heights from the axis past the corner, and RI at each."""
        heights = np.linspace(0.0, (self.corner_mm or 0.0) * 1.15, PROFILE_SAMPLES)
        return heights, relative_illumination(self.pupil, self.openings, heights)

    def map(self, columns: int, rows: int) -> Array:
        """Return RI over the frame, shape (rows, columns); all ones without a camera."""
        camera = self.layout.camera
        if camera is None:
            return np.ones((rows, columns))
        width, height = camera.sensor_width_mm.value, camera.sensor_height_mm.value
        return map_of_profile(*self.profile, width, height, columns, rows)

    @cached_property
    def figures(self) -> dict[str, Figure]:
        """All light figures by id, in reading order; none without a camera."""
        return {} if self.corner_mm is None else {f.id: f for f in _figures(self, self.corner_mm)}


def _figures(light: Light, corner_mm: float) -> list[Figure]:
    f_number: Quantity = f_number_of(light.layout)
    exit_pupil = exit_pupil_of(light.layout)
    optics = weakest([f_number.origin, exit_pupil.origin])
    origin = weakest([optics, *(c.origin for c in light.clearances)])
    ri = light.corner_ri if light.corner_ri is not None else 1.0
    count = len(light.openings)
    figures = [
        Figure(
            "light.f_number", "f-number at the sensor", f_number.value, "",
            Working("N", f"{f_number.value:.3g}", f_number.in_use.note or f_number.origin), f_number.origin,
        ),
        Figure(
            "light.exit_pupil_mm", "exit pupil before the sensor", exit_pupil.value, "mm",
            Working("L", f"{exit_pupil.value:.1f} mm", exit_pupil.in_use.note or exit_pupil.origin), exit_pupil.origin,
        ),
        Figure(
            "light.corner_ri", "relative illumination in the corner", ri, "",
            Working(
                "open area of the pupil / area of the pupil",
                f"{count} apertures at h {corner_mm:.2f} mm, N {f_number.value:.3g}: {ri:.4f}", RI_SOURCE,
            ),
            origin,
        ),
        Figure(
            "light.corner_stops", "light lost in the corner", stops_lost(ri), "stops",
            Working("−log2 RI", f"−log2 {ri:.4f} = {stops_lost(ri):.2f}", "definition of a stop"), origin,
        ),
    ]  # fmt: skip
    first = light.first_to_clip
    name = "none" if first is None else first.placed.part.name
    figures.append(
        Figure(
            "light.limiting_part", "clips first", name, "",
            Working(
                "smallest image height at which a projected aperture touches the pupil's edge",
                "no aperture clips inside the frame" if first is None
                else f"{name}, {first.placed.label}: from h {first.onset_mm:.2f} mm", RI_SOURCE,
            ),
            origin if first is None else first.origin,
        )
    )  # fmt: skip
    for number, c in enumerate(light.clearances, start=1):
        figures.append(_needed_figure(light, c, number, corner_mm))
    return figures


def _needed_figure(light: Light, c: Clearance, number: int, corner_mm: float) -> Figure:
    n, distance = light.pupil.f_number, c.distance_mm
    if c.placed.side is Side.FRONT:
        formula = "f/N + 2x·h/f"
        focal = light.pupil.focal_length_mm
        numbers = f"{focal:g}/{n:.3g} + 2·{distance:.2f}·{corner_mm:.2f}/{focal:g}"
    else:
        formula = "2h·|1 − x/L| + x/N"
        pupil = light.pupil.exit_distance_mm
        numbers = f"{2 * corner_mm:.2f}·|1 − {distance:.2f}/{pupil:.4g}| + {distance:.2f}/{n:.3g}"
    unknown = c.placed.place_unknown
    return Figure(
        f"light.needed.{number}.{c.placed.part.id}_mm",
        f"clear diameter needed: {c.placed.part.name}, {c.placed.label}", c.needed_mm, "mm",
        Working(formula, f"{numbers} = {c.needed_mm:.2f} mm", CLEAR_DIAMETER_SOURCE), c.origin,
        c.needed_best_mm if unknown else None, c.needed_mm if unknown else None,
    )  # fmt: skip
