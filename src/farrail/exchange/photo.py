"""What a photo's EXIF says of how it was taken: focal length, aperture, day and time. The photo is only looked into."""

import warnings
from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from farrail.errors import BadInput

# Tags of EXIF 2.32 (CIPA DC-008), by number.
EXIF_IFD, EXPOSURE_TIME, F_NUMBER, TAKEN, FOCAL_LENGTH = 0x8769, 0x829A, 0x829D, 0x9003, 0x920A
CHANGED = 0x0132
MOST_BYTES = 2_000_000_000
# What the reader raises on headers that are cut off, or say what cannot be.
DAMAGED = (OSError, ValueError, SyntaxError, TypeError, KeyError, IndexError, ArithmeticError, AttributeError)


@dataclass(frozen=True)
class PhotoFacts:
    """What a photo says of itself; None for what it does not say.

    Attributes:
        focal_mm: what the zoom was set to.
        f_number: the aperture.
        exposure_s: the exposure time.
        day: the day it was taken, 2026-10-03.
        time: hour and minute.
    """

    focal_mm: float | None = None
    f_number: float | None = None
    exposure_s: float | None = None
    day: str | None = None
    time: str | None = None

    @property
    def silent(self) -> bool:
        """Whether it says nothing."""
        return all(value is None for value in (self.focal_mm, self.f_number, self.exposure_s, self.day))


def photo_facts(path: Path) -> PhotoFacts:
    """Return what a photo's EXIF says.

    Raises:
        BadInput: it is not there, or no picture that can be read.
    """
    from PIL import Image, UnidentifiedImageError

    if not path.is_file():
        raise BadInput("There is no photo {path}; choose another.", path=path)
    if path.stat().st_size > MOST_BYTES:
        raise BadInput("{name} is larger than 2 GB; choose another.", name=path.name)
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            # Only the header is read: no pixel is ever unpacked here.
            with Image.open(path) as picture:
                tags = picture.getexif()
                inner = tags.get_ifd(EXIF_IFD)
                changed = tags.get(CHANGED)
    except (
        UnidentifiedImageError,
        OSError,
        ValueError,
        SyntaxError,
        TypeError,
        KeyError,
        Image.DecompressionBombError,
    ):
        raise BadInput(
            "{name} is no photo that can be read, or it is damaged; write the values yourself.", name=path.name
        ) from None
    day, time = _when(inner.get(TAKEN) or changed)
    return PhotoFacts(
        _number(inner.get(FOCAL_LENGTH), 0.1, 100_000.0), _number(inner.get(F_NUMBER), 0.3, 1000.0),
        _number(inner.get(EXPOSURE_TIME), 1e-7, 86_400.0), day, time,
    )  # fmt: skip


def _number(value: object, low: float, high: float) -> float | None:
    with suppress(TypeError, ValueError, ZeroDivisionError, OverflowError):
        number = float(value)  # type: ignore[arg-type]
        if low <= number <= high:
            return round(number, 6)
    return None


def _when(value: object) -> tuple[str | None, str | None]:
    with suppress(ValueError):
        taken = datetime.strptime(str(value).strip("\0 "), "%Y:%m:%d %H:%M:%S")
        return taken.date().isoformat(), f"{taken:%H:%M}"
    return None, None
