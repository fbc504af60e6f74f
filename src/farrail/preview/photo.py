"""A photo of one's own as a scene: its light by the angle it was taken at."""

from dataclasses import dataclass
from functools import lru_cache
from io import BytesIO
from pathlib import Path

import numpy as np

from farrail.errors import BadInput
from farrail.preview.noise import Plane
from farrail.preview.view import View

LEAST_SIDE_PX, MOST_MEGAPIXELS = 32, 150.0
# A photo is shown no finer than this.
KEPT_SIDE_PX = 3000
# In a photo as exposed, a grey card is here.
METERED = 0.18
# Fields of the photo's own record, by their numbers in the Exif standard (CIPA DC-008).
ORIENTATION, EXIF, FOCAL, FOCAL_35 = 0x0112, 0x8769, 0x920A, 0xA405
DIAGONAL_35_MM = 43.267


@dataclass(frozen=True, eq=False)
class Photo:
    """A photo, upright.

    Attributes:
        light: linear light, (rows, columns, 3).
        focal_px: focal length in its own pixels.
        name: the file's name.
    """

    light: Plane
    focal_px: float
    name: str

    def over(self, view: View) -> tuple[Plane, Plane]:
        """Return its light over a view, (rows, columns, 3), and where the photo has none, (rows, columns)."""
        rows, columns = self.light.shape[:2]
        right, up, ahead = view.sight_of(slice(None))
        ahead = np.maximum(ahead, np.float32(1e-6))
        x = self.focal_px * right / ahead + columns / 2.0
        y = rows / 2.0 - self.focal_px * up / ahead
        outside = (x < 0.0) | (y < 0.0) | (x >= columns) | (y >= rows)
        i = np.clip(x, 0, columns - 1).astype(np.int32)
        j = np.clip(y, 0, rows - 1).astype(np.int32)
        return np.where(outside[..., None], np.float32(0.0), self.light[j, i]), outside


def read_photo(path: Path, focal_mm: float | None = None, sensor_width_mm: float | None = None) -> Photo:
    """Read a JPEG, PNG or TIFF as a scene.

    Args:
        path: the file.
        focal_mm: focal length it was taken at; None: as the file says.
        sensor_width_mm: width of the sensor along the photo's longer side; None: from its equivalent focal length.

    Raises:
        BadInput: it is no photo, too small or too large, or nothing says at which angle it was taken.
    """
    try:
        stamp = path.stat()
    except OSError as error:
        raise BadInput("“{name}” cannot be read: {reason}.", name=path.name, reason=error.strerror or "") from None
    return _read(path, stamp.st_mtime_ns, focal_mm, sensor_width_mm)


@lru_cache(maxsize=1)
def _read(path: Path, _: int, focal_mm: float | None, sensor_width_mm: float | None) -> Photo:
    from PIL import Image, ImageOps

    Image.MAX_IMAGE_PIXELS = None
    try:
        with Image.open(path) as opened:
            _check_size(path, *opened.size)
            equivalent, taken_mm = _taken(opened)
            opened.draft("RGB", (KEPT_SIDE_PX, KEPT_SIDE_PX))
            picture = ImageOps.exif_transpose(opened)
            if max(picture.size) > KEPT_SIDE_PX:
                picture.thumbnail((KEPT_SIDE_PX, KEPT_SIDE_PX))
            light = _linear(_values(picture))
    except BadInput:
        raise
    except (OSError, ValueError, SyntaxError, EOFError, ArithmeticError, MemoryError, TypeError) as error:
        raise BadInput(
            "“{name}” is not a photo that can be read; use a JPEG, PNG or TIFF file.", name=path.name
        ) from error
    rows, columns = light.shape[:2]
    focal = taken_mm if focal_mm is None else focal_mm
    if focal_mm is None and sensor_width_mm is None and equivalent:
        focal_px = equivalent / DIAGONAL_35_MM * float(np.hypot(rows, columns))
    elif focal and sensor_width_mm:
        focal_px = focal / sensor_width_mm * max(rows, columns)
    else:
        raise BadInput(
            "“{name}” does not say at which angle it was taken; enter its focal length and the width of its sensor.",
            name=path.name,
        )
    if not (np.isfinite(focal_px) and focal_px > 0.0):
        raise BadInput("A focal length above zero is needed for “{name}”.", name=path.name)
    return Photo(light, float(focal_px), path.name)


def _check_size(path: Path, columns: int, rows: int) -> None:
    if min(columns, rows) < LEAST_SIDE_PX:
        raise BadInput(
            "“{name}” is {columns} × {rows} pixels; a photo needs at least {least} on each side.",
            name=path.name, columns=columns, rows=rows, least=LEAST_SIDE_PX,
        )  # fmt: skip
    if columns * rows > MOST_MEGAPIXELS * 1e6:
        raise BadInput(
            "“{name}” has {megapixels:.0f} megapixels; make it smaller than {most:.0f}.",
            name=path.name, megapixels=columns * rows / 1e6, most=MOST_MEGAPIXELS,
        )  # fmt: skip


def _taken(opened: object) -> tuple[float | None, float | None]:
    """Return the 35 mm equivalent focal length and the focal length that a photo's record says."""
    record = opened.getexif().get_ifd(EXIF)  # type: ignore[attr-defined]
    found = []
    for key in (FOCAL_35, FOCAL):
        try:
            value = float(record.get(key, 0.0))
        except (TypeError, ValueError, ZeroDivisionError):
            value = 0.0
        found.append(value if np.isfinite(value) and value > 0.0 else None)
    return found[0], found[1]


def _values(picture: object) -> Plane:
    """Return a picture's values, 0 to 1, (rows, columns, 3), in the standard colours of screens."""
    from PIL import Image, ImageCms

    assert isinstance(picture, Image.Image)
    profile = picture.info.get("icc_profile")
    if picture.mode.startswith("I") or picture.mode == "F":
        grey = np.asarray(picture, dtype=np.float32)
        top = 65535.0 if float(grey.max(initial=0.0)) > 255.0 else 255.0
        return np.repeat(np.clip(grey / top, 0.0, 1.0)[..., None], 3, axis=2)
    if profile and picture.mode in ("RGB", "L", "CMYK"):
        try:
            screen = ImageCms.createProfile("sRGB")
            changed = ImageCms.profileToProfile(
                picture, ImageCms.ImageCmsProfile(BytesIO(profile)), screen, outputMode="RGB"
            )
            picture = changed if changed is not None else picture
        except (ImageCms.PyCMSError, OSError, ValueError):
            pass
    return np.asarray(picture.convert("RGB"), dtype=np.float32) / np.float32(255.0)


def _linear(values: Plane) -> Plane:
    """Return linear light of screen values (IEC 61966-2-1)."""
    return np.where(values <= 0.04045, values / 12.92, ((values + 0.055) / 1.055) ** 2.4).astype(np.float32)
