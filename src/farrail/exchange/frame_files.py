"""Frames from files: FITS, TIFF, PNG, JPEG and raw, read in strips and with bounds, and FITS written.

A file says how large it is before any of it is unpacked; what is larger than can be held is averaged while it is read.
"""

import io
import math
import warnings
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import numpy as np

from farrail.cancel import Cancelled, Stopped, never
from farrail.errors import BadInput, FarRailError
from farrail.exchange.photo import photo_facts
from farrail.frames.picture import Light, Picture
from farrail.workbook.store import write_bytes

# Larger frames than this no camera makes; a file that says so is damaged or means harm.
MOST_PIXELS = 400_000_000
# So many pixels are held at once, as four bytes each.
HELD_PIXELS = 64_000_000
STRIP_ROWS = 256
# What must be unpacked whole, as TIFF and PNG, may take so many bytes.
UNPACKED_BYTES = 500_000_000
FITS, TIFF, PLAIN = (".fit", ".fits", ".fts"), (".tif", ".tiff"), (".png", ".jpg", ".jpeg")
RAW = (".dng", ".cr2", ".cr3", ".nef", ".arw", ".orf", ".rw2", ".raf", ".pef", ".srw")
SUFFIXES = (*FITS, *TIFF, *PLAIN, *RAW)


def read_frame(path: Path, stopped: Stopped = never) -> Picture:
    """Return a frame of a file.

    Args:
        path: the file; it is only looked into.
        stopped: returns True once the work is cancelled; checked between strips.

    Raises:
        BadInput: it is not there, no frame, damaged, or too large.
        Cancelled: `stopped` returned True.
    """
    if not path.is_file():
        raise BadInput("There is no file {path}; choose another.", path=path)
    suffix = path.suffix.lower()
    if suffix in FITS:
        reader: Callable[[Path, Stopped], Picture] = _fits
    elif suffix in TIFF:
        reader = _tiff
    elif suffix in PLAIN:
        reader = _plain
    elif suffix in RAW:
        reader = _raw
    else:
        raise BadInput("{name} is no frame that can be read: FITS, TIFF, PNG, JPEG or raw.", name=path.name)
    with _told(path), warnings.catch_warnings():
        warnings.simplefilter("ignore")
        return reader(path, stopped)


@contextmanager
def _told(path: Path) -> Iterator[None]:
    """Say what a reader complains of in a sentence."""
    try:
        yield
    except FarRailError:
        raise
    except MemoryError:
        raise BadInput("{name} is too large to be held; make a smaller copy of it.", name=path.name) from None
    except Exception as error:
        first = str(error).splitlines()[0][:120] if str(error) else type(error).__name__
        raise BadInput(
            "{name} cannot be read, or is damaged ({first}); take another.", name=path.name, first=first
        ) from None


def _bounded(name: str, columns: int, rows: int) -> int:
    """Return over how many pixels a side a frame is averaged so that it can be held.

    Raises:
        BadInput: it says it is larger than any frame, or has no size.
    """
    if columns <= 0 or rows <= 0:
        raise BadInput(
            "{name} says it is {columns} × {rows} pixels, which is no frame; take another.",
            name=name,
            columns=columns,
            rows=rows,
        )
    if columns * rows > MOST_PIXELS:
        raise BadInput(
            "{name} says it is {columns} × {rows} pixels, more than any frame; take another.",
            name=name,
            columns=columns,
            rows=rows,
        )
    return max(math.ceil(math.sqrt(columns * rows / HELD_PIXELS)), 1)


def _gathered(
    rows: int, columns: int, times: int, full: float, strip: Callable[[int, int], np.ndarray], stopped: Stopped,
    *, mosaic: bool = False,
) -> tuple[Light, int]:  # fmt: skip
    """Return a frame read strip by strip, averaged over `times` pixels a side, and how many that came to.

    Strips may have a last axis of colours. Where one of the pixels averaged is full, so is what they come to.
    """
    times = max(times, 2) if mosaic else times
    step = STRIP_ROWS // times * times or times
    whole = np.empty((rows // times, columns // times), dtype=np.float32)
    for top in range(0, rows // times * times, step):
        if stopped():
            raise Cancelled("Cancelled.")
        bottom = min(top + step, rows // times * times)
        data = np.asarray(strip(top, bottom), dtype=np.float32)[:, : columns // times * times]
        blocks = data.reshape((bottom - top) // times, times, columns // times, times, -1)
        if blocks.shape[1] * blocks.shape[3] * blocks.shape[4] == 1:
            whole[top:bottom] = data.reshape(bottom - top, columns)
            continue
        light = blocks.mean(axis=(1, 3, 4))
        if math.isfinite(full):
            light = np.where(blocks.max(axis=(1, 3, 4)) >= full, np.float32(full), light)
        whole[top // times : bottom // times] = light
    return whole, times


def _fits(path: Path, stopped: Stopped) -> Picture:
    from astropy.io import fits

    # Opened here: where the library gives up it leaves its own file open.
    with (
        path.open("rb") as stream,
        fits.open(stream, memmap=False, lazy_load_hdus=True, ignore_missing_simple=False) as file,
    ):
        found = next((hdu for hdu in file if hdu.is_image and hdu.header.get("NAXIS", 0) in (2, 3)), None)
        if found is None:
            raise BadInput("{name} holds no picture of two axes; take another.", name=path.name)
        header, shape = found.header, found.shape
        planes = shape[0] if len(shape) == 3 else 1
        if len(shape) == 3 and planes not in (1, 3, 4):
            raise BadInput(
                "{name} holds {planes} planes, and one or three colours are read; take another.",
                name=path.name,
                planes=planes,
            )
        rows, columns = shape[-2:]
        times = _bounded(path.name, columns, rows)
        mosaic = bool(str(header.get("BAYERPAT", "")).strip())
        sectioned = hasattr(found, "section")

        def strip(top: int, bottom: int) -> np.ndarray:
            if len(shape) == 3:
                some = found.section[:3, top:bottom, :] if sectioned else found.data[:3, top:bottom, :]
                return np.moveaxis(np.asarray(some, dtype=np.float32), 0, -1)
            return np.asarray(
                found.section[top:bottom, :] if sectioned else found.data[top:bottom, :], dtype=np.float32
            )

        bits = int(header.get("BITPIX", -32))
        full = 2.0 ** abs(bits) - 1.0 if bits in (8, 16) else math.inf
        full = _number(header, "SATURATE", _number(header, "DATAMAX", full) or full) or full
        light, times = _gathered(rows, columns, times, full, strip, stopped, mosaic=mosaic)
        if str(header.get("ROWORDER", "BOTTOM-UP")).strip().upper() != "TOP-DOWN":
            light = light[::-1]
        pedestal = _number(header, "PEDESTAL", 0.0) or 0.0
        return Picture(
            np.ascontiguousarray(light) - np.float32(pedestal), full - pedestal, times, path.name,
            _number(header, "XPIXSZ", None), _number(header, "FOCALLEN", None), _number(header, "FOCRATIO", None),
            str(header.get("DATE-OBS", ""))[:10] or None, _number(header, "FOCUSPOS", None),
        )  # fmt: skip


def _number(header: Any, name: str, otherwise: float | None) -> float | None:
    try:
        value = float(header[name])
    except (KeyError, TypeError, ValueError):
        return otherwise
    return value if math.isfinite(value) else otherwise


def _tiff(path: Path, stopped: Stopped) -> Picture:
    import tifffile

    with tifffile.TiffFile(path) as file:
        if not file.pages:
            raise BadInput("{name} holds no picture; take another.", name=path.name)
        page: Any = file.pages[0]
        rows, columns = int(page.imagelength), int(page.imagewidth)
        times = _bounded(path.name, columns, rows)
        samples = int(page.samplesperpixel)
        if samples * rows * columns > MOST_PIXELS or samples > 4:
            raise BadInput(
                "{name} says it holds {samples} colours of {columns} × {rows} pixels; take another.",
                name=path.name,
                samples=samples,
                columns=columns,
                rows=rows,
            )
        if int(np.prod(page.shape)) * page.dtype.itemsize > UNPACKED_BYTES:
            raise BadInput(
                "{name} is too large to be unpacked at once; save it as FITS, or make it smaller.", name=path.name
            )
        data = page.asarray()
        if data.dtype.kind not in "uif":
            raise BadInput(
                "{name} holds no brightness but {dtype}; save it with 8, 16 or 32 bits.",
                name=path.name,
                dtype=data.dtype,
            )
        if data.ndim not in (2, 3):
            raise BadInput("{name} is a stack of {ndim} axes; save one picture of it.", name=path.name, ndim=data.ndim)
        full = float(np.iinfo(data.dtype).max) if data.dtype.kind == "u" else math.inf
        if data.ndim == 3:
            data = data[..., :3] if data.shape[-1] <= 4 else np.moveaxis(data[:3], 0, -1)

        def strip(top: int, bottom: int) -> np.ndarray:
            return np.asarray(data[top:bottom], dtype=np.float32)

        light, times = _gathered(rows, columns, times, full, strip, stopped)
        return _with_facts(Picture(light, full, times, path.name), path)


def _plain(path: Path, stopped: Stopped) -> Picture:
    from PIL import Image

    with Image.open(path) as file:
        times = _bounded(path.name, *file.size)
        if file.format == "JPEG" and times > 1:
            file.draft("RGB", (file.size[0] // times, file.size[1] // times))
        if file.size[0] * file.size[1] * 6 > UNPACKED_BYTES:
            raise BadInput(
                "{name} is too large to be unpacked at once; save it as JPEG, or make it smaller.", name=path.name
            )
        # How a viewer turns it is of no use here: the sensor is meant, as it place in the camera.
        deep = file.mode in ("I;16", "I;16B", "I", "F")
        data = np.asarray(file if deep else file if file.mode == "RGB" else file.convert("RGB"))
    rows, columns = data.shape[:2]
    times = _bounded(path.name, columns, rows)
    full = 65_535.0 if deep else 1.0

    def strip(top: int, bottom: int) -> np.ndarray:
        if deep:
            return np.asarray(data[top:bottom], dtype=np.float32)
        # Eight bits are stored along the curve of sRGB (IEC 61966-2-1): light is what it comes from.
        coded = np.asarray(data[top:bottom], dtype=np.float32) / 255.0
        linear = np.where(coded <= 0.04045, coded / 12.92, ((coded + 0.055) / 1.055) ** 2.4)
        return np.asarray(linear)

    light, times = _gathered(rows, columns, times, full * 0.995, strip, stopped)
    return _with_facts(Picture(light, full * 0.995, times, path.name), path)


def _raw(path: Path, stopped: Stopped) -> Picture:
    import rawpy

    with rawpy.imread(str(path)) as file:
        data = file.raw_image_visible
        if data.ndim != 2:
            raise BadInput("{name} holds no mosaic of one plane; save it as TIFF.", name=path.name)
        rows, columns = data.shape
        times = _bounded(path.name, columns, rows)
        black = float(np.mean(file.black_level_per_channel))
        full = float(file.white_level) - black

        def strip(top: int, bottom: int) -> np.ndarray:
            return np.asarray(data[top:bottom], dtype=np.float32) - np.float32(black)

        light, times = _gathered(rows, columns, times, full, strip, stopped, mosaic=True)
        return _with_facts(Picture(light, full, times, path.name), path)


def _with_facts(picture: Picture, path: Path) -> Picture:
    """Return a picture with what its EXIF says of how it was taken."""
    from dataclasses import replace

    try:
        facts = photo_facts(path)
    except BadInput:
        return picture
    return replace(picture, focal_mm=facts.focal_mm, f_number=facts.f_number, day=facts.day)


def write_bench_fits(path: Path, light: np.ndarray, header: dict[str, object], *, mosaic: bool = False) -> None:
    """Write a frame of the simulated bench camera as FITS, its header saying what it is.

    Raises:
        StoreError: it cannot be written, or would replace a file of another kind.
    """
    from astropy.io import fits

    from farrail.simulated.bench_camera import DARK_E, FULL_E

    data = np.clip(np.round(light), 0, 65_535).astype(np.uint16)
    made = fits.PrimaryHDU(data)
    told: dict[str, object] = {
        "INSTRUME": "Far Rail simulated bench camera", "ROWORDER": "TOP-DOWN", "PEDESTAL": DARK_E, "SATURATE": FULL_E,
        **({"BAYERPAT": "RGGB"} if mosaic else {}), **header,
    }  # fmt: skip
    for name, value in told.items():
        made.header[name] = value
    made.header["COMMENT"] = "Simulated: no camera took this frame."
    held = io.BytesIO()
    made.writeto(held, output_verify="silentfix")
    write_bytes(path, held.getvalue())
