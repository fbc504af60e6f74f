"""A scene by angle, drawn once into tiles and then looked up: the finer the tile, the narrower the field it covers."""

import ctypes
import hashlib
import os
from dataclasses import dataclass
from pathlib import Path
from typing import Protocol

import numpy as np

from farrail.cancel import Stopped, never
from farrail.preview.noise import Plane

# Half the field of each tile across and up, degrees; the first is the whole sphere.
FIELDS_DEG = ((180.0, 90.0), (66.0, 44.0), (24.0, 16.0), (8.0, 5.4), (2.5, 1.7))
# Columns and rows of a tile: while a hand moves, and at rest.
QUICK, FINE = (384, 256), (1536, 1024)
# So many tiles are kept in memory, and so many rows are drawn at a time.
KEPT, STRIP_ROWS = 2, 32
# Changes whenever a scene is drawn differently: older files are then not read.
VERSION = 3


class Drawn(Protocol):
    """A scene by angle: frozen, so that equal scenes share their tiles; its text says all it depends on."""

    def draw(self, az: Plane, el: Plane) -> tuple[Plane, Plane]:
        """Return luminance, (…, 3), and share of sky, (…), of directions in degrees."""


@dataclass(frozen=True)
class Tile:
    """Luminance and share of sky over a field, rows from the lowest elevation up.

    Attributes:
        light: (rows, columns, 3).
        sky: (rows, columns).
        half_deg: half its field, across and up.
    """

    light: Plane
    sky: Plane
    half_deg: tuple[float, float]

    def at(self, az: Plane, el: Plane) -> tuple[Plane, Plane]:
        """Return luminance and sky at directions, degrees; what is outside its field gets its edge."""
        rows, columns = self.sky.shape
        across, up = self.half_deg
        light, sky = np.empty((*az.shape, 3), dtype=np.float32), np.empty(az.shape, dtype=np.float32)
        pixels, share = self.light.reshape(-1, 3), self.sky.ravel()
        for top in range(0, len(az), STRIP_ROWS):
            part = slice(top, top + STRIP_ROWS)
            x = np.clip((az[part] + across) * (columns / (2.0 * across)), 0, columns - 1).astype(np.int32)
            y = np.clip((el[part] + up) * (rows / (2.0 * up)), 0, rows - 1).astype(np.int32)
            place = y * columns + x
            light[part], sky[part] = pixels.take(place, axis=0), share.take(place)
        return light, sky


_kept: dict[tuple[Drawn, int, tuple[int, int]], Tile] = {}


def level_for(across_deg: float, up_deg: float) -> int:
    """Return the number of the finest tile that covers directions up to so far from the middle."""
    covers = [n for n, (x, y) in enumerate(FIELDS_DEG) if across_deg <= x and up_deg <= y]
    return covers[-1] if covers else 0


def tile_of(scene: Drawn, level: int, *, fine: bool, stopped: Stopped = never) -> Tile | None:
    """Return a tile of a scene: a quick one from memory, a fine one from this account's cache, else drawn.

    A fine one takes 13 MB and is needed only when a picture shows something else: it is not kept in memory.

    Args:
        scene: what is drawn.
        level: which field.
        fine: as at rest, else as while a hand moves.
        stopped: says whether the tile is no longer wanted; None is returned then.
    """
    key = scene, level, FINE if fine else QUICK
    if key not in _kept:
        tile = _drawn(*key, stopped)
        if tile is None or fine:
            return tile
        _kept[key] = tile
        while len(_kept) > KEPT:
            _kept.pop(next(iter(_kept)))
    return _kept[key]


def release() -> None:
    """Give what a picture took back to the system: no photo is looked at."""
    # The C library keeps what large arrays leave until it is asked for it; 50 MB of a picture come back only then.
    trim = getattr(ctypes.CDLL(None), "malloc_trim", None)
    if trim is not None:
        trim(0)


def in_memory(scene: Drawn, level: int) -> bool:
    """Whether the quick tile of a scene is there at once."""
    return (scene, level, QUICK) in _kept


def _drawn(scene: Drawn, level: int, size: tuple[int, int], stopped: Stopped) -> Tile | None:
    half = FIELDS_DEG[level]
    path = cache_folder() / f"{hashlib.sha256(f'{VERSION} {scene} {level} {size}'.encode()).hexdigest()[:24]}.npz"
    if size == FINE:
        kept = _read(path)
        if kept is not None:
            return Tile(*kept, half)
    columns, rows = size
    az = ((np.arange(columns, dtype=np.float32) + 0.5) / columns * 2.0 - 1.0) * np.float32(half[0])
    el = ((np.arange(rows, dtype=np.float32) + 0.5) / rows * 2.0 - 1.0) * np.float32(half[1])
    light = np.empty((rows, columns, 3), dtype=np.float16)
    sky = np.empty((rows, columns), dtype=np.float16)
    # In strips, so that what is needed for drawing stays small.
    for top in range(0, rows, STRIP_ROWS):
        if stopped():
            return None
        part = slice(top, top + STRIP_ROWS)
        across, up = np.meshgrid(az, el[part])
        drawn, above = scene.draw(across, up)
        light[part], sky[part] = np.minimum(drawn, 60_000.0), above
    if size == FINE:
        _write(path, light, sky)
    return Tile(light, sky, half)


def cache_folder() -> Path:
    """Return where tiles are cached."""
    return Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache") / "far-rail" / "scenes"


def _read(path: Path) -> tuple[Plane, Plane] | None:
    try:
        with np.load(path, allow_pickle=False) as file:
            light, sky = file["light"], file["sky"]
    except (OSError, ValueError, KeyError, EOFError):
        return None
    good = light.shape == (FINE[1], FINE[0], 3) and sky.shape == (FINE[1], FINE[0])
    return (light, sky) if good and all(np.isfinite(row).all() for row in light) else None


def _write(path: Path, light: Plane, sky: Plane) -> None:
    """Cache a tile; a full disk or a folder that cannot be written costs nothing but the time to draw it again."""
    part = path.with_suffix(f".{os.getpid()}.part")
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        with part.open("wb") as file:
            np.savez(file, light=light, sky=sky)
        part.replace(path)
    except OSError:
        part.unlink(missing_ok=True)
