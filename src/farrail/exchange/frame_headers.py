"""What the file of a frame says of how it was taken, without reading its pixels."""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from farrail.errors import BadInput
from farrail.exchange.frame_files import FITS, PLAIN, SUFFIXES, TIFF
from farrail.exchange.photo import photo_facts
from farrail.frames.kinds import FrameKind

# Words of a file's own for what it shows, and those of frames that say nothing here.
SHOWS = {"flat": FrameKind.FLAT, "light": FrameKind.STARS, "object": FrameKind.STARS, "science": FrameKind.STARS}
LEFT_OUT = ("dark", "bias", "zero", "offset")


@dataclass(frozen=True)
class FrameHeader:
    """What a file says.

    Attributes:
        path: the file.
        columns: pixels across.
        rows: pixels down.
        pixel_um: size of one of them; None where it is not known.
        focal_mm: focal length.
        f_number: aperture.
        filter: name of the filter; "" for none.
        kind: what it shows; None where it does not say.
        left_out: whether it is a dark or a bias frame.
        day: when it was taken.
        temperature_c: of the sensor.
        rotator_deg: angle of the rotator.
        focus_um: place of the focuser.
    """

    path: Path
    columns: int
    rows: int
    pixel_um: float | None = None
    focal_mm: float | None = None
    f_number: float | None = None
    filter: str = ""
    kind: FrameKind | None = None
    left_out: bool = False
    day: str | None = None
    temperature_c: float | None = None
    rotator_deg: float | None = None
    focus_um: float | None = None


def frames_in(folder: Path) -> list[Path]:
    """Return the frames of a folder and of those in it, by name."""
    return sorted(path for path in folder.rglob("*") if path.suffix.lower() in SUFFIXES and path.is_file())


def read_header(path: Path) -> FrameHeader:
    """Return what a frame's file says of how it was taken.

    Raises:
        BadInput: it cannot be read, or is of a kind whose header is not read.
    """
    suffix = path.suffix.lower()
    try:
        if suffix in FITS:
            return _fits(path)
        if suffix in (*TIFF, *PLAIN):
            return _photo(path)
    except Exception as error:
        reason = str(error).splitlines()[0][:120] if str(error) else type(error).__name__
        raise BadInput("{name} cannot be read: {reason}.", name=path.name, reason=reason.rstrip(".")) from None
    raise BadInput("{name}: of this kind of file the header is not read; open it by itself.", name=path.name)


def _fits(path: Path) -> FrameHeader:
    from astropy.io import fits

    with path.open("rb") as stream, fits.open(stream, memmap=False, lazy_load_hdus=True) as file:
        found = next(hdu for hdu in file if hdu.is_image and hdu.header.get("NAXIS", 0) in (2, 3))
        header: Mapping[str, Any] = dict(found.header)
    shows = " ".join(str(header.get(name, "")) for name in ("IMAGETYP", "FRAME", "OBSTYPE")).lower()
    return FrameHeader(
        path, int(header["NAXIS1"]), int(header["NAXIS2"]),
        _number(header, "XPIXSZ"), _number(header, "FOCALLEN"), _number(header, "FOCRATIO"),
        str(header.get("FILTER", "")).strip(),
        next((kind for word, kind in SHOWS.items() if word in shows), _by_name(path)),
        any(word in shows for word in LEFT_OUT),
        str(header.get("DATE-OBS", ""))[:10] or None,
        _number(header, "CCD-TEMP", "TEMPERAT"), _number(header, "ROTATANG", "ROTATOR"),
        _number(header, "FOCUSPOS", "FOCPOS"),
    )  # fmt: skip


def _photo(path: Path) -> FrameHeader:
    from PIL import Image

    with Image.open(path) as photo:
        columns, rows = photo.size
    try:
        facts = photo_facts(path)
    except BadInput:
        # It says nothing of how it was taken.
        return FrameHeader(path, columns, rows, kind=_by_name(path))
    return FrameHeader(
        path, columns, rows, focal_mm=facts.focal_mm, f_number=facts.f_number, day=facts.day, kind=_by_name(path)
    )


def _by_name(path: Path) -> FrameKind | None:
    """Return that a file shows a flat where it, or its folder, is called so."""
    return FrameKind.FLAT if "flat" in f"{path.parent.name} {path.stem}".lower() else None


def _number(header: Mapping[str, Any], *names: str) -> float | None:
    return next((value for name in names if (value := _float(header.get(name))) is not None), None)


def _float(value: Any) -> float | None:
    try:
        number = float(value)
    except (TypeError, ValueError):
        return None
    return number if math.isfinite(number) else None
