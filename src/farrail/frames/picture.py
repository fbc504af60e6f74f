"""A picture as numbers: linear light in the camera's own pixels, and what its file says of how it was taken."""

import math
from dataclasses import dataclass
from functools import cached_property
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

from farrail.errors import BadInput
from farrail.language import say
from farrail.optics.clipping import Array

Light: TypeAlias = NDArray[np.float32]

# Fewer pixels a side than this are no frame.
LEAST_SIDE_PX = 32
# Sides of a frame may be off by so much from the sensor's: a few rows at the edge are often not stored.
SIDES_OFF = 0.04
# Cells along the longer side in which a smooth picture is looked at.
CELLS = 36
# So many pixels a side of each cell are looked at, at most.
LOOKED_AT_PX = 28
# A cell of fewer pixels a side says nothing of its own noise.
LEAST_CELL_PX = 4


@dataclass(frozen=True)
class Picture:
    """One frame, as the camera shows it: the first row on top.

    Attributes:
        light: linear light, (rows, columns); of a colour or mosaic frame the mean of its colours.
        saturated: from what value on a pixel is full; infinite where no one says.
        shrunk: how many of the file's pixels are in one of these along a side.
        name: the file's name.
        pixel_um: size of one of the file's own pixels; None where it is not known.
        focal_mm: what the zoom was set to, as the file says.
        f_number: aperture.
        day: when it was taken.
        focus_um: place of the focuser, as the file says.
    """

    light: Light
    saturated: float
    shrunk: int = 1
    name: str = ""
    pixel_um: float | None = None
    focal_mm: float | None = None
    f_number: float | None = None
    day: str | None = None
    focus_um: float | None = None

    def __post_init__(self) -> None:
        """Refuse what is no frame.

        Raises:
            BadInput: it is no plane of numbers, too small, or says nothing.
        """
        if self.light.ndim != 2 or min(self.light.shape) < LEAST_SIDE_PX:
            raise BadInput(
                "{value} is no frame: it needs at least {least_side_px} × {least_side_px} pixels.",
                value=self.name or say("That file"),
                least_side_px=LEAST_SIDE_PX,
            )
        low, high = float(self.light.min()), float(self.light.max())
        if not (math.isfinite(low) and math.isfinite(high)):
            known = self.light[np.isfinite(self.light)]
            low, high = (float(known.min()), float(known.max())) if known.size else (0.0, 0.0)
        if high <= low:
            raise BadInput(
                "{value} has the same value everywhere, so it shows nothing; choose another.",
                value=self.name or say("That frame"),
            )

    @cached_property
    def finite(self) -> bool:
        """Whether every pixel has a value."""
        return math.isfinite(float(self.light.sum(dtype=np.float64)))

    @property
    def size(self) -> tuple[int, int]:
        """Columns and rows."""
        return int(self.light.shape[1]), int(self.light.shape[0])

    @cached_property
    def full_share(self) -> float:
        """Share of the pixels that are full."""
        return float(np.mean(self.light >= self.saturated))

    def check_on(self, width_mm: float, height_mm: float) -> None:
        """Refuse a picture that cannot be all of a sensor: nothing in it would be where it seems.

        Raises:
            BadInput: its sides go otherwise than the sensor's.
        """
        wide, high = self.size
        if abs(wide / high * height_mm / width_mm - 1.0) > SIDES_OFF:
            what = "cropped" if (wide > high) == (width_mm > height_mm) else say("turned by a quarter")
            raise BadInput(
                "{value} is {shrunk} × {shrunk_2} pixels, and the sensor {width_mm:g} × "
                "{height_mm:g} mm: it is {what} or of another camera; take it as the camera stored "
                "it.",
                value=self.name or say("That frame"),
                shrunk=wide * self.shrunk,
                shrunk_2=high * self.shrunk,
                width_mm=width_mm,
                height_mm=height_mm,
                what=what,
            )

    def places_mm(self, columns: Array, rows: Array, width_mm: float) -> Array:
        """Return where pixels are on the sensor, (P, 2), seen from behind the camera.

        The picture is upside down on the sensor: what is at its top right is at the sensor's bottom left.

        Args:
            columns: from the left edge, (P,).
            rows: from the top edge, (P,).
            width_mm: how wide the sensor is.
        """
        step = width_mm / self.size[0]
        right = (columns - self.size[0] / 2.0) * step
        up = (self.size[1] / 2.0 - rows) * step
        return np.stack([-right, -up], axis=1)


@dataclass(frozen=True)
class Cells:
    """A picture in coarse cells, what is small in it left out.

    Attributes:
        light: median light of each cell, (K,).
        columns: middle of each, pixels from the left, (K,).
        rows: middle of each, pixels from the top, (K,).
        sigma: how far each median may be off, (K,).
        shape: rows and columns of cells.
    """

    light: Array
    columns: Array
    rows: Array
    sigma: Array
    shape: tuple[int, int]


def cells_of(picture: Picture, cells: int = CELLS) -> Cells:
    """Return a picture in cells; a median neither sees stars nor dust smaller than half of one."""
    wide, high = picture.size
    step = max(max(wide, high) // cells, LEAST_CELL_PX)
    columns, rows = wide // step, high // step
    cut = picture.light[: rows * step, : columns * step].reshape(rows, step, columns, step)
    # Of large cells every so many-th pixel is enough for a median.
    every = max(step // LOOKED_AT_PX, 1)
    cut = cut[:, ::every, :, ::every]
    count = cut.shape[1] * cut.shape[3]
    blocks = np.ascontiguousarray(cut.transpose(0, 2, 1, 3)).reshape(rows * columns, count)
    # A cell of which nothing is known stays unknown.
    empty = np.isnan(blocks).all(axis=1)
    blocks[empty] = 0.0
    if picture.finite:
        # One pass over the pixels for all three, several times as fast as one that looks for what is no number.
        thirds = [round(share * (count - 1)) for share in (0.25, 0.5, 0.75)]
        low, light, high_ = np.partition(blocks, thirds, axis=1)[:, thirds].T.astype(float)
    else:
        low, light, high_ = np.nanpercentile(blocks, [25.0, 50.0, 75.0], axis=1).astype(float)
    # Half the width of the middle half of the pixels, as a deviation: 1.349 of them for a normal distribution.
    spread = (high_ - low) / 1.349
    # Light is counted: its noise goes as its root. The share is taken from all cells, for one alone says it badly; a
    # cell in which the light falls steeply is spread by that as well, and may be off by it. The median of n pixels is
    # off by 1.2533 deviations over √n.
    root = np.sqrt(np.maximum(light, max(1e-6 * float(light.max()), 1e-12)))
    noise = float(np.median(spread / root)) * root
    sigma = 1.2533 * np.maximum(noise, np.where(spread > 2.0 * noise, spread, 0.0)) / math.sqrt(count)
    sigma = np.maximum(sigma, max(1e-6 * float(light.max()), 1e-12))
    light[empty] = math.nan
    y, x = np.divmod(np.arange(rows * columns), columns)
    return Cells(light, (x + 0.5) * step, (y + 0.5) * step, sigma.astype(float), (rows, columns))
