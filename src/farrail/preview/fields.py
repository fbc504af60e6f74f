"""What a train does to the light over its picture, each effect by itself."""

from dataclasses import dataclass

import numpy as np

from farrail.optics.illumination import enlarged, natural_falloff
from farrail.parts.kinds.lenses import CameraLens
from farrail.preview.noise import Plane
from farrail.preview.view import View
from farrail.readouts.front.graduated_light import graduated_fields
from farrail.readouts.front.polarised_sky import polarised_sky_of
from farrail.readouts.read import Readout

# A polariser halves light that is not polarised: only what differs from that shows in the picture.
UNPOLARISED_STOPS = 1.0
# The sky's polarisation is smooth: it is worked out at so many places across and down, and drawn between.
SKY_GRID, QUICK_SKY_GRID = (65, 43), (17, 12)
# Stops that the smooth grid of the polarised sky spans at most; a grid is kept between 0 and 1.
MOST_SKY_STOPS = 24.0


@dataclass(frozen=True)
class Fields:
    """Effects over the picture, its upper left corner first, (rows, columns) each.

    Attributes:
        vignetting: light left by openings, against the centre.
        natural: natural falloff, against the centre.
        graduated_stops: stops lost to graduated filters.
        polarised_stops: stops a clear sky loses to a polariser beyond what everything loses.
    """

    vignetting: Plane
    natural: Plane
    graduated_stops: Plane
    polarised_stops: Plane

    def transmission(self, sky: Plane, rows: slice = slice(None)) -> Plane:
        """Return the light left of a scene that shows so much sky, against the centre without graduated filters."""
        left: Plane = self.vignetting[rows] * self.natural[rows]
        if self.graduated_stops[rows].any() or self.polarised_stops[rows].any():
            left *= np.exp2(-(self.graduated_stops[rows] + self.polarised_stops[rows] * sky[rows]))
        return left


def nothing(shape: tuple[int, int]) -> Plane:
    """Return a field of zeros that takes no memory: one value, seen in every pixel."""
    return np.broadcast_to(np.float32(0.0), shape)


def fields_of(readout: Readout, view: View, *, quick: bool = False) -> Fields:
    """Return what a train does to the light over a view.

    Args:
        readout: the train's readout; it has a camera.
        view: its geometry.
        quick: as finely as dragging needs.
    """
    light, shape = readout.light, (view.rows, view.columns)
    shared = light.map(view.columns, view.rows, quick=True) if quick else light.sharp_map(view.columns, view.rows)
    vignetting = shared.astype(np.float32, copy=False)
    heights = view.heights_mm
    natural: Plane = nothing(shape) + np.float32(1.0)
    if np.isfinite(light.pupil.exit_distance_mm):
        natural = natural_falloff(light.pupil.exit_distance_mm, heights)
    optic = readout.layout.optic
    circle = optic.image_circle_mm
    if isinstance(optic, CameraLens) and optic.projection != "rectilinear" and circle is not None:
        # Beyond the circle of a fisheye there is no picture.
        natural = np.where(heights <= circle.value / 2.0, natural, np.float32(0.0))
    graduated = polarised = nothing(shape)
    if readout.front.judged:
        graduated = graduated_fields(readout.front, view.seen_mm)
        sky = polarised_sky_of(readout.front)
        if sky is not None:
            coarse = sky.picture(*(QUICK_SKY_GRID if quick else SKY_GRID)) - UNPOLARISED_STOPS
            spread = enlarged((coarse + 2.0) / MOST_SKY_STOPS, view.columns, view.rows)
            spread *= MOST_SKY_STOPS
            spread -= 2.0
            polarised = spread.astype(np.float32)
    return Fields(vignetting, natural, graduated, polarised)
