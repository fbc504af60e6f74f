"""A simulated bench camera: frames as a train would take them, with a hidden truth to guess. A are-in, no device.

Flats come from the light engine, dust from the pupil's shadow, stars as normal distributions widened by defocus. What
was hidden is known by `Truth`, which nothing but the maker of the frame knows.
"""

import math
from dataclasses import dataclass, replace

import numpy as np

from farrail.optics.illumination import illumination_at
from farrail.optics.pupils import ApertureImage
from farrail.optics.star_shape import FWHM, defocused_sigma, long_sigma
from farrail.parts.kinds.lenses import CameraLens
from farrail.readouts.front.polarised_sky import polarised_sky_of
from farrail.readouts.read import Readout
from farrail.train.train import Sky

FULL_E, READ_NOISE_E, DARK_E = 40_000.0, 6.0, 200.0
# Colours of a mosaic's four pixels against green: the lamp and the filters let through so much.
# The light is smooth: it is worked out at so many points across and up, and drawn between.
ACROSS, UP = 241, 161
MOSAIC = ((0.62, 1.0), (1.0, 0.55))


@dataclass(frozen=True)
class HiddenMote:
    """A mote of dust: how far before the sensor, where on it, how wide.

    Attributes:
        distance_mm: reduced.
        right_mm: on the sensor, seen from behind the camera.
        up_mm: likewise.
        wide_mm: the mote itself.
    """

    distance_mm: float
    right_mm: float
    up_mm: float
    wide_mm: float = 0.05


@dataclass(frozen=True)
class Truth:
    """What a frame hides.

    Attributes:
        apertures: number of an aperture of the light readout, with its diameter and its centre right and up, mm.
        reaches: number of a cover beside the axis, with how much nearer to the axis it is, mm.
        deeper_mm: by how much deeper the entrance pupil is than the train has it.
        falloff: exponent of the natural falloff.
        gradient: of the lamp over the frame, right and up, as a share from middle to edge.
        motes: dust.
        focus_um: where the focuser is, against best focus in the middle.
        across_um: how much farther focus is at the picture's right edge than at its left.
        upright_um: the same, top against bottom.
        curvature_um: how much farther it is in the corner.
        spacing_mm: error of the spacing: corner stars are drawn out by it.
        short_is_radial: which way they are where it is too short.
        trailed: how far the mount drifted, pixels along the rows.
        stars: how many there are.
        seeing_px: width of a star in focus, at half maximum.
        mosaic: whether the sensor has a colour mosaic.
        exposed: how full the middle is, 1 saturates it.
        seed: of the noise.
        rule_mm: how much of a rule fills the frame's width.
        sky: the Sun and the air, of a photo of clear sky.
    """

    apertures: tuple[tuple[int, float, float, float], ...] = ()
    reaches: tuple[tuple[int, float], ...] = ()
    deeper_mm: float = 0.0
    falloff: float = 4.0
    gradient: tuple[float, float] = (0.0, 0.0)
    motes: tuple[HiddenMote, ...] = ()
    focus_um: float = 0.0
    across_um: float = 0.0
    upright_um: float = 0.0
    curvature_um: float = 0.0
    spacing_mm: float = 0.0
    short_is_radial: bool = True
    trailed: float = 0.0
    stars: int = 220
    seeing_px: float = 3.0
    mosaic: bool = False
    exposed: float = 0.5
    seed: int = 1
    rule_mm: float = 60.0
    sky: Sky | None = None


def _grid(readout: Readout, columns: int) -> tuple[np.ndarray, np.ndarray, int, float]:
    """Return the sensor's place of each pixel, seen from behind, with the rows and the step in mm."""
    camera = readout.layout.camera
    assert camera is not None
    wide, high = camera.sensor_width_mm.value, camera.sensor_height_mm.value
    rows = max(round(columns * high / wide), 1)
    step = wide / columns
    # The picture is upside down on the sensor.
    right = -((np.arange(columns) + 0.5) * step - wide / 2.0)
    up = -(high / 2.0 - (np.arange(rows) + 0.5) * step)
    return right, up, rows, step


def _noisy(light: np.ndarray, truth: Truth, dice: np.random.Generator) -> np.ndarray:
    electrons = light * FULL_E * truth.exposed
    if truth.mosaic:
        pattern = np.tile(np.array(MOSAIC), (light.shape[0] // 2 + 1, light.shape[1] // 2 + 1))
        electrons = electrons * pattern[: light.shape[0], : light.shape[1]]
    noisy = dice.normal(electrons + DARK_E, np.sqrt(np.maximum(electrons, 0.0) + READ_NOISE_E**2))
    return np.clip(noisy, 0.0, FULL_E).astype(np.float32)


def bench_flat(readout: Readout, truth: Truth, columns: int = 600) -> np.ndarray:
    """Return a flat in electrons, (rows, columns), the picture's first row on top."""
    dice = np.random.default_rng(truth.seed)
    right, up, rows, _ = _grid(readout, columns)
    light = readout.light
    images = _images(readout, truth)
    coarse_x, coarse_y = np.linspace(right[0], right[-1], ACROSS), np.linspace(up[0], up[-1], UP)
    points = np.stack(np.meshgrid(coarse_x, coarse_y), axis=-1).reshape(-1, 2)
    seen = illumination_at(light.pupil, images, points) if images else np.ones(len(points))
    coarse = seen.reshape(UP, ACROSS)
    whole = _between(rows, UP) @ coarse @ _between(columns, ACROSS).T
    heights2 = right[None, :] ** 2 + up[:, None] ** 2
    lever = light.pupil.exit_distance_mm
    if isinstance(readout.layout.optic, CameraLens) and not readout.layout.reversed:
        angle = light.pupil.directions.angles(np.sqrt(heights2), light.pupil.focal_length_mm)
        whole = whole * np.cos(angle) ** truth.falloff
    elif math.isfinite(lever) and lever:
        whole = whole * (1.0 + heights2 / lever**2) ** (-truth.falloff / 2.0)
    reach = math.sqrt(float(heights2.max()))
    whole = whole * (1.0 + (right[None, :] * truth.gradient[0] + up[:, None] * truth.gradient[1]) / reach)
    for mote in truth.motes:
        whole = whole * (1.0 - _shadow(mote, readout, right, up))
    return _noisy(whole, truth, dice)


def _between(count: int, points: int) -> np.ndarray:
    """Return the weights that draw straight lines between points spread evenly over so many pixels, (count, points)."""
    places = np.arange(count) * (points - 1) / max(count - 1, 1)
    below = np.minimum(places.astype(int), points - 2)
    weights = np.zeros((count, points))
    weights[np.arange(count), below] = 1.0 - (places - below)
    weights[np.arange(count), below + 1] = places - below
    return weights


def _images(readout: Readout, truth: Truth) -> list[ApertureImage]:
    """Return what is in the way, changed as it is hidden; a filter moves with the seat it is in."""
    imaged = readout.light.imaged
    hidden = {number: (wide, x, y) for number, wide, x, y in truth.apertures}
    reaches = dict(truth.reaches)
    images = []
    for number, one in enumerate(imaged):
        image = one.image
        moved = next((n for n in hidden if abs(imaged[n].image.distance_mm - image.distance_mm) < 0.5), None)
        if number in hidden:
            wide, x, y = hidden[number]
            image = replace(image, radius_mm=wide / 2.0 * one.scale, centre_mm=(x * one.scale, y * one.scale))
        elif moved is not None and image.passes is None and image.half_height_mm is None:
            _, x, y = hidden[moved]
            image = replace(image, centre_mm=(x * one.scale, y * one.scale))
        elif number in reaches:
            far = math.hypot(*image.centre_mm)
            share = (far - reaches[number] * one.scale) / far
            image = replace(image, centre_mm=(image.centre_mm[0] * share, image.centre_mm[1] * share))
        if image.front:
            image = replace(image, distance_mm=image.distance_mm + truth.deeper_mm)
        if one.acts or image is not one.image:
            images.append(image)
    return images


def _shadow(mote: HiddenMote, readout: Readout, right: np.ndarray, up: np.ndarray) -> np.ndarray:
    """Return the share of the light a mote takes at each pixel: where its own disc is in the pupil's cone."""
    pupil = readout.light.pupil
    x, y = right[None, :] - mote.right_mm, up[:, None] - mote.up_mm
    away = np.hypot(x, y)
    cone, own = mote.distance_mm / pupil.f_number / 2.0, mote.wide_mm / 2.0
    # Over the width of the mote the shadow's edge fades.
    outer = np.clip((cone + own - away) / max(2.0 * own, 1e-6), 0.0, 1.0)
    inner = np.clip((away - (cone * pupil.obstruction - own)) / max(2.0 * own, 1e-6), 0.0, 1.0)
    depth = min((own / max(cone, 1e-6)) ** 2 / max(1.0 - pupil.obstruction**2, 1e-6), 1.0)
    return np.asarray(depth * outer * (inner if pupil.obstruction > 0.0 else 1.0))


def bench_stars(readout: Readout, truth: Truth, columns: int = 900) -> np.ndarray:
    """Return a frame of stars in electrons."""
    dice = np.random.default_rng(truth.seed)
    _, _, rows, step = _grid(readout, columns)
    n = readout.light.pupil.f_number
    frame = np.full((rows, columns), 60.0)
    column = dice.uniform(12, columns - 12, truth.stars)
    row = dice.uniform(12, rows - 12, truth.stars)
    flux = 10.0 ** dice.uniform(3.9, 5.4, truth.stars)
    half = math.hypot(columns, rows) / 2.0
    for x, y, light in zip(column, row, flux, strict=True):
        u, v = (x - columns / 2.0) / (columns / 2.0), (rows / 2.0 - y) / (rows / 2.0)
        r2 = ((x - columns / 2.0) ** 2 + (y - rows / 2.0) ** 2) / half**2
        place = truth.across_um / 2.0 * u + truth.upright_um / 2.0 * v + truth.curvature_um * r2
        blur_px = abs(truth.focus_um - place) / n / (step * 1000.0)
        in_focus = truth.seeing_px / FWHM
        sigma = float(defocused_sigma(in_focus, np.array(blur_px)))
        long = float(long_sigma(np.array(sigma), in_focus, truth.spacing_mm, np.array(math.sqrt(r2))))
        radial = (truth.spacing_mm < 0.0) == truth.short_is_radial
        angle = math.atan2(y - rows / 2.0, x - columns / 2.0) + (0.0 if radial else math.pi / 2.0)
        _star(frame, x, y, light, long, sigma, angle, truth.trailed)
    noisy = dice.normal(frame, np.sqrt(frame + READ_NOISE_E**2))
    return np.clip(noisy + DARK_E, 0.0, FULL_E).astype(np.float32)


def _star(
    frame: np.ndarray, x: float, y: float, flux: float, long: float, short: float, angle: float, trailed: float
) -> None:
    if trailed:
        long, angle = math.hypot(long, trailed / 3.4), 0.0
    reach = int(5.0 * max(long, short)) + 2
    top, left = max(int(y) - reach, 0), max(int(x) - reach, 0)
    rows, columns = np.mgrid[
        top : min(int(y) + reach + 1, frame.shape[0]), left : min(int(x) + reach + 1, frame.shape[1])
    ]
    dx, dy = columns + 0.5 - x, rows + 0.5 - y
    along, across = dx * math.cos(angle) + dy * math.sin(angle), -dx * math.sin(angle) + dy * math.cos(angle)
    shape = np.exp(-0.5 * ((along / long) ** 2 + (across / short) ** 2)) / (2.0 * math.pi * long * short)
    frame[top : top + rows.shape[0], left : left + rows.shape[1]] += flux * shape


def bench_sky(readout: Readout, truth: Truth, columns: int = 900) -> np.ndarray:
    """Return a photo of clear sky behind a train's polariser in electrons; evenly bright without one."""
    dice = np.random.default_rng(truth.seed)
    right, up, rows, _ = _grid(readout, columns)
    known = polarised_sky_of(readout.front)
    stops = np.zeros((rows, columns))
    if known is not None:
        stops = replace(known, sky=truth.sky or known.sky).picture(columns, rows)
    light = 2.0 ** (stops.min() - stops)
    lever = readout.light.pupil.exit_distance_mm
    if math.isfinite(lever) and lever:
        light = light * (1.0 + (right[None, :] ** 2 + up[:, None] ** 2) / lever**2) ** -2.0
    return _noisy(light, truth, dice)


def bench_ruler(width_mm: float, columns: int, rows: int, turned_deg: float = 0.0, seed: int = 1) -> np.ndarray:
    """Return a frame of a millimetre rule that shows so much of it across, in electrons."""
    dice = np.random.default_rng(seed)
    turn = math.radians(turned_deg)
    y, x = np.mgrid[0:rows, 0:columns]
    along = (x * math.cos(turn) - y * math.sin(turn)) / columns * width_mm + dice.uniform(0, 1)
    across = (x * math.sin(turn) + y * math.cos(turn)) / rows
    # Marks a fifth of a millimetre wide; every fifth and tenth is longer.
    number = np.floor(along)
    long = np.where(number % 10 == 0, 0.55, np.where(number % 5 == 0, 0.45, 0.35))
    ink = ((along - number) < 0.2) & (across < long)
    light = np.where(ink, 0.25, 0.85) * (1.0 - 0.15 * (y / rows))
    electrons = light * FULL_E * 0.6
    noisy = dice.normal(electrons, np.sqrt(electrons) + READ_NOISE_E)
    return np.asarray(np.clip(noisy, 0.0, FULL_E), dtype=np.float32)
