"""Stars of a frame: how sharp and how round they are where, and what that says of tilt, curvature and spacing.

Detection and widths are SEP's (the Source Extractor's algorithms: Bertin and Arnouts 1996). A star out of focus by dz
is wider by dz/N: ``w² = w0² + (dz/N)²`` in the plane's ``dz = z0 + tx·x + ty·y + c·r²``, x and y from the axis. A wrong
spacing widens corner stars wherever the focuser is: w0² grows by ``b·r² + d·r⁴``.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from farrail.errors import BadInput
from farrail.frames.estimate import Estimate, estimate_of
from farrail.frames.field_rotation import FieldRotation, rotation_of
from farrail.frames.picture import Picture
from farrail.language import say
from farrail.optics.clipping import Array

# So bright above the background, in its deviations, and so large a star must be.
THRESHOLD, LEAST_PIXELS = 5.0, 5
LEAST_STARS, LEAST_IN_CORNER = 25, 3
MOST_STARS = 4000
# Stars as drawn out as this everywhere, all the same way, are trailed.
TRAILED_LENGTH, TRAILED_ALIKE = 0.08, 0.6
# Corner stars are drawn out when longer than the middle's by so much, and their direction is known by more than chance.
DRAWN_OUT, SURE_WAY = 0.06, 0.35
# Rounder stars than this show no rotation; nor do trails in the corner of less than this share of a star's width.
LEAST_DRAWN, LEAST_TRAIL = 0.03, 0.5
# More full stars than this share cannot be measured.
MOST_FULL = 0.3
# Outer part of the frame, as a share of the half diagonal.
OUTER = 0.7
# The width at half maximum of a normal distribution, in deviations.
FWHM = 2.0 * math.sqrt(2.0 * math.log(2.0))


class StarTrouble(StrEnum):
    """Why a frame of stars says nothing."""

    TOO_FEW = "too_few"
    TRAILED = "trailed"
    SATURATED = "saturated"


class Drawn(StrEnum):
    """How corner stars look."""

    ROUND = "round"
    RADIAL = "radial"
    TANGENTIAL = "tangential"
    ROTATED = "rotated"


@dataclass(frozen=True)
class Stars:
    """Stars found in a frame.

    Attributes:
        places_mm: on the sensor, (S, 2), seen from behind the camera.
        width_um: full width at half maximum, (S,).
        length: one less the short over the long axis, (S,): 0 is round.
        angle_rad: of the long axis from the sensor's right, anticlockwise, (S,).
        full: how many were left out because they are full.
        sigma_mm: geometric mean of the two deviations of its light, (S,); of trails it grows less than their width.
    """

    places_mm: Array
    width_um: Array
    length: Array
    angle_rad: Array
    full: int
    sigma_mm: Array

    @property
    def count(self) -> int:
        """How many there are."""
        return int(self.width_um.size)


@dataclass(frozen=True)
class Zone:
    """A ninth of the frame, as the picture shows it.

    Attributes:
        column: −1 left, 0 middle, 1 right.
        row: 1 top, 0 middle, −1 bottom.
        count: stars in it.
        width_um: median width.
        length: median of one less short over long.
    """

    column: int
    row: int
    count: int
    width_um: float
    length: float


@dataclass(frozen=True)
class StarReading:
    """What the stars of one frame say.

    Attributes:
        stars: the stars.
        zones: nine zones, the picture's top left first.
        drawn: how corner stars look; None where they say nothing.
        way: mean of cos 2(angle − direction from the middle) in the outer part: 1 radial, −1 tangential.
        longer: by how much corner stars are longer than the middle's.
        softer: the picture's side that is softer: right and up of it, each −1, 0 or 1.
        trouble: why it says nothing.
        rotation: how the field turned while the frame was taken; None where it did not.
    """

    stars: Stars
    zones: tuple[Zone, ...]
    drawn: Drawn | None
    way: float
    longer: float
    softer: tuple[int, int]
    trouble: StarTrouble | None
    rotation: FieldRotation | None = None


def find_stars(picture: Picture, width_mm: float) -> Stars:
    """Return the stars of a frame, the brightest at most `MOST_STARS`.

    Args:
        picture: the frame.
        width_mm: how wide the sensor is.
    """
    import sep

    # One copy, from which the background is taken off in place: a frame of 24 megapixels takes 96 MB.
    flat = np.array(picture.light, dtype=np.float32, order="C")
    if not picture.finite:
        np.nan_to_num(flat, copy=False)
    try:
        background = sep.Background(flat)
        background.subfrom(flat)
        found = sep.extract(flat, THRESHOLD, err=float(background.globalrms) or 1e-6, minarea=LEAST_PIXELS)
        keep = (found["flag"] & (sep.OBJ_TRUNC | sep.OBJ_MERGED)) == 0
        found = found[keep]
        radius, _ = sep.flux_radius(flat, found["x"], found["y"], 6.0 * found["a"], 0.5, normflux=None, subpix=5)
    except Exception as error:
        raise BadInput(
            "The stars of {value} cannot be found ({error}); take another.",
            value=picture.name or say("that frame"),
            error=error,
        ) from None
    rows, columns = flat.shape
    peak = picture.light[np.clip(found["ypeak"], 0, rows - 1), np.clip(found["xpeak"], 0, columns - 1)]
    full = peak >= 0.95 * picture.saturated
    good = ~full & np.isfinite(radius) & (radius > 0.4) & (found["b"] > 0.3) & (found["npix"] < 4000)
    order = np.argsort(-found["flux"][good])[:MOST_STARS]
    chosen = np.flatnonzero(good)[order]
    step_um = width_mm / picture.size[0] * 1000.0
    places = picture.places_mm(found["x"][chosen] + 0.5, found["y"][chosen] + 0.5, width_mm)
    # Half the light of a normal distribution is within 1.1774 deviations.
    widths = np.asarray(radius[chosen] / 1.17741 * FWHM * step_um, dtype=float)
    a, b = found["a"][chosen].astype(float), found["b"][chosen].astype(float)
    # Rows run down: an angle counted toward them is turned over; upside down on the sensor it stays what it is.
    angle = -found["theta"][chosen].astype(float)
    return Stars(places, widths, 1.0 - b / a, angle, int(full.sum()), np.sqrt(a * b) * step_um / 1000.0)


def read_stars(picture: Picture, width_mm: float, height_mm: float) -> StarReading:
    """Return what the stars of one frame say."""
    return judge_stars(find_stars(picture, width_mm), width_mm, height_mm)


def sharpest_of(found: Sequence[Stars]) -> int:
    """Return which of several frames has the narrowest stars: the one nearest to focus shows their shape."""
    return min(range(len(found)), key=lambda n: float(np.median(found[n].width_um)) if found[n].count else math.inf)


def judge_stars(stars: Stars, width_mm: float, height_mm: float) -> StarReading:
    """Return what stars that were found in one frame say."""
    zones = _zones(stars, width_mm, height_mm)
    reading = StarReading(stars, zones, None, 0.0, 0.0, (0, 0), None)
    whole = stars.count + stars.full
    if whole and stars.full > MOST_FULL * whole:
        return _with(reading, StarTrouble.SATURATED)
    if stars.count < LEAST_STARS or min(zone.count for zone in zones if zone.column and zone.row) < LEAST_IN_CORNER:
        return _with(reading, StarTrouble.TOO_FEW)
    rotation = None
    if float(np.median(stars.length)) > LEAST_DRAWN:
        sides = np.array([width_mm, height_mm]) / 2.0
        rotation = rotation_of(stars.places_mm, stars.sigma_mm, stars.length, stars.angle_rad, sides)
    # About a guide star far outside the frame a field's rotation draws nearly all stars out the same way.
    if _trailed(stars) and (rotation is None or rotation.about_middle):
        return _with(reading, StarTrouble.TRAILED)
    half = math.hypot(width_mm, height_mm) / 2.0
    heights = np.hypot(*stars.places_mm.T)
    outer, inner = heights > OUTER * half, heights < 0.4 * half
    direction = np.arctan2(stars.places_mm[:, 1], stars.places_mm[:, 0])
    turn = np.cos(2.0 * (stars.angle_rad - direction))
    weight = stars.length[outer]
    way = float((turn[outer] * weight).sum() / max(weight.sum(), 1e-9))
    longer = float(np.median(stars.length[outer]) - (np.median(stars.length[inner]) if inner.any() else 0.0))
    drawn = Drawn.ROUND
    if longer > DRAWN_OUT and abs(way) > SURE_WAY:
        drawn = Drawn.RADIAL if way > 0.0 else Drawn.TANGENTIAL
    if rotation is not None and rotation.corner_um > LEAST_TRAIL * float(np.median(stars.width_um)):
        # About the frame's middle a wrong spacing looks alike, and neither is certain.
        drawn = Drawn.TANGENTIAL if rotation.about_middle else Drawn.ROTATED
    else:
        rotation = None
    return StarReading(stars, zones, drawn, way, longer, _softer(zones), None, rotation)


def _with(reading: StarReading, trouble: StarTrouble) -> StarReading:
    return StarReading(reading.stars, reading.zones, None, 0.0, 0.0, (0, 0), trouble)


def _trailed(stars: Stars) -> bool:
    """Whether all stars are drawn out the same way: the mount, not the train."""
    if float(np.median(stars.length)) < TRAILED_LENGTH:
        return False
    alike = np.abs(np.mean(np.exp(2j * stars.angle_rad)))
    return bool(alike > TRAILED_ALIKE)


def _zones(stars: Stars, width_mm: float, height_mm: float) -> tuple[Zone, ...]:
    # The picture is upside down on the sensor.
    right, up = -stars.places_mm[:, 0], -stars.places_mm[:, 1]
    column = np.clip(np.round(right / (width_mm / 3.0)), -1, 1)
    row = np.clip(np.round(up / (height_mm / 3.0)), -1, 1)
    zones = []
    for y in (1, 0, -1):
        for x in (-1, 0, 1):
            mine = (column == x) & (row == y)
            count = int(mine.sum())
            width = float(np.median(stars.width_um[mine])) if count else math.nan
            length = float(np.median(stars.length[mine])) if count else math.nan
            zones.append(Zone(x, y, count, width, length))
    return tuple(zones)


def _softer(zones: Sequence[Zone]) -> tuple[int, int]:
    """Return the side on which stars are clearly wider."""
    told = []
    for side in ("column", "row"):
        ends = [float(np.nanmean([zone.width_um for zone in zones if getattr(zone, side) == end])) for end in (-1, 1)]
        told.append(0 if max(ends) < 1.08 * min(ends) else 1 if ends[1] > ends[0] else -1)
    return told[0], told[1]


@dataclass(frozen=True)
class TiltReading:
    """Where focus is over the frame, from several frames at known places of the focuser.

    Attributes:
        middle_um: best focus in the middle.
        across_um: how much farther from the optic focus is at the picture's right edge than at its left.
        upright_um: the same, top against bottom.
        curvature_um: how much farther it is in the corner than in the middle, by curvature alone.
        tilt_deg: the sensor's tilt.
        frames: how many frames it rests on.
    """

    middle_um: Estimate
    across_um: Estimate
    upright_um: Estimate
    curvature_um: Estimate
    tilt_deg: Estimate
    frames: int

    def slopes(self, width_mm: float, height_mm: float) -> tuple[float, float]:
        """Return how focus moves out toward the picture's right and toward its top, as tangents; 0 where not sure."""
        return tuple(  # type: ignore[return-value] # two of them
            one.value / (1000.0 * side) if one.low > 0.0 or one.high < 0.0 else 0.0
            for one, side in ((self.across_um, width_mm), (self.upright_um, height_mm))
        )

    def farthest(self, width_mm: float, height_mm: float) -> tuple[int, int]:
        """Return where focus is farthest out: right (+1) or left, up (+1) or down, 0 where the other outweighs it."""
        right, up = self.slopes(width_mm, height_mm)
        most = max(abs(right), abs(up))
        return tuple(  # type: ignore[return-value] # two of them
            0 if abs(one) < SIDEWAYS * most or not most else round(math.copysign(1.0, one)) for one in (right, up)
        )

    def hour(self, width_mm: float, height_mm: float) -> float:
        """Return where focus is farthest out on the face of a clock over the picture, 0 to 12."""
        right, up = self.slopes(width_mm, height_mm)
        return math.degrees(math.atan2(right, up)) / 30.0 % 12.0

    def screws_mm(self, width_mm: float, height_mm: float, circle_mm: float) -> tuple[float, float, float]:
        """Return how far to move the camera out at screws at 12, 4 and 8 o'clock, seen from behind it; the least is 0.

        The sensor is upside down against the picture: what is farthest out at the picture's right is so at its left.
        """
        right, up = self.slopes(width_mm, height_mm)
        heights = [
            -circle_mm / 2.0 * (right * math.sin(math.radians(turn)) + up * math.cos(math.radians(turn)))
            for turn in (0.0, 120.0, 240.0)
        ]
        least = min(heights)
        return tuple(one - least for one in heights)  # type: ignore[return-value] # three screws


LEAST_FRAMES = 4
# An axis of less than this share of the other, the tangent of half of 45°, is not named beside it.
SIDEWAYS = math.tan(math.radians(22.5))


def read_through_focus(frames: Sequence[tuple[float, Stars]], width_mm: float, height_mm: float) -> TiltReading | None:
    """Return where focus is over the frame; None with too few frames or stars.

    Every star of every frame is one equation: ``w² = w0² + b·r² + d·r⁴ + k²(s − z0 − tx·x − ty·y − c·r²)²``, s the
    focuser's place.
    That is linear in the unknowns once multiplied out against s, and is then refined by Gauss and Newton.

    Args:
        frames: place of the focuser in µm, larger farther from the optic, with the stars there.
        width_mm: how wide the sensor is.
        height_mm: how high it is.
    """
    useful = [(place, stars) for place, stars in frames if stars.count >= LEAST_STARS]
    if len({place for place, _ in useful}) < LEAST_FRAMES:
        return None
    place = np.concatenate([np.full(stars.count, at) for at, stars in useful])
    x, y = np.concatenate([stars.places_mm for _, stars in useful]).T
    squared = np.concatenate([stars.width_um for _, stars in useful]) ** 2
    half = math.hypot(width_mm, height_mm) / 2.0
    u, v, r = x / (width_mm / 2.0), y / (height_mm / 2.0), (x * x + y * y) / half**2
    # A parabola in s for the frame as a whole begins the search.
    coarse = np.polyfit(place, squared, 2)
    if coarse[0] <= 0.0:
        return None
    start = np.array([-coarse[1] / (2.0 * coarse[0]), 0.0, 0.0, 0.0, math.sqrt(coarse[0]), 0.0, 0.0, 0.0])
    start[5] = math.sqrt(max(coarse[2] - coarse[1] ** 2 / (4.0 * coarse[0]), 1.0))
    values = _solve(start, place, u, v, r, squared)
    if values is None:
        return None
    found, deviations = values
    if not (deviations[:4] > 0.0).all():
        return None
    middle, across, upright, curved = (estimate_of(float(found[n]), float(deviations[n])) for n in range(4))
    # Shown from the picture, which is upside down on the sensor, over its whole width.
    across, upright = (Estimate(-2.0 * e.value, -2.0 * e.high, -2.0 * e.low) for e in (across, upright))
    tx, ty = across.value / width_mm, upright.value / height_mm
    slope = math.hypot(tx, ty)
    off = math.hypot(across.off / width_mm, upright.off / height_mm)
    degrees = [math.degrees(math.atan(one / 1000.0)) for one in (slope, max(slope - off, 0.0), slope + off)]
    return TiltReading(middle, across, upright, curved, Estimate(*degrees), len(useful))


def _solve(start: Array, place: Array, u: Array, v: Array, r: Array, squared: Array) -> tuple[Array, Array] | None:
    """Refine z0, tx, ty, c, k, w0, b and d; stars that do not fit count less (Tukey's biweight)."""
    values, weight = start.copy(), np.ones_like(squared)
    deviations = np.zeros(start.size)
    for _ in range(25):
        out = place - values[0] - values[1] * u - values[2] * v - values[3] * r
        model = np.maximum(values[5] ** 2 + values[6] * r + values[7] * r * r, 0.0) + (values[4] * out) ** 2
        slope = -2.0 * values[4] ** 2 * out
        jacobian = np.stack(
            [
                slope,
                slope * u,
                slope * v,
                slope * r,
                2.0 * values[4] * out**2,
                np.full_like(out, 2.0 * values[5]),
                r,
                r * r,
            ]
        )
        left = squared - model
        # A width is off by about a share of itself: wide stars count less.
        scale = np.maximum(model, 1.0)
        spread = 1.4826 * float(np.median(np.abs(left / scale))) or 1e-6
        far = np.minimum(np.abs(left / scale) / (4.685 * spread), 1.0)
        weight = (1.0 - far**2) ** 2
        a = jacobian.T * (np.sqrt(weight) / scale)[:, None]
        b = left * np.sqrt(weight) / scale
        step = np.linalg.lstsq(a, b, rcond=None)[0]
        values = values + step
        normal = a.T @ a
        deviations = np.sqrt(np.maximum(np.diag(np.linalg.pinv(normal)), 0.0)) * spread
        if float(np.abs(step[:4]).max()) < 1e-3:
            break
    return (values, deviations) if np.isfinite(values).all() else None
