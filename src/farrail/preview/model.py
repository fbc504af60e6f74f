"""The photo a train will take: a scene, through the train, on its sensor."""

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import cached_property
from pathlib import Path

import numpy as np

from farrail.cancel import Stopped, never
from farrail.errors import BadInput
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.telescopes import ShortStars
from farrail.preview import dusk, pool, sensor, tiles
from farrail.preview.fields import Fields, fields_of, nothing
from farrail.preview.night import NEBULAE, aimed_at, night
from farrail.preview.noise import Plane
from farrail.preview.photo import METERED, read_photo
from farrail.preview.tiles import in_memory, level_for, tile_of
from farrail.preview.view import View, view_of
from farrail.readouts.corner_stars import rule_of
from farrail.readouts.limits import CLEAN_STOPS
from farrail.readouts.read import Readout
from farrail.train.train import Sky
from farrail.units import stops_lost

WAVELENGTH_MM = 0.00055
# A disc as wide as this many wavelengths times N has the deviation of the blur that diffraction makes.
DIFFRACTION_WIDE = 1.7
# Scenes kept for the next picture: while a hand moves, and at rest.
MOST_SEEN = 2
CORNERS = ("top left", "top right", "bottom left", "bottom right")


class NotWanted(Exception):
    """The picture was stopped before it was done."""


class Scene(StrEnum):
    """What is photographed."""

    DUSK = "dusk"
    NIGHT = "night"
    POOL = "pool"
    FLAT = "flat"
    PHOTO = "photo"


@dataclass(frozen=True)
class PreviewSettings:
    """How a picture is taken.

    Attributes:
        scene: what of.
        stops: brighter than metered, in stops.
        photo: the file of one's own photo.
        photo_focal_mm: focal length it was taken at; None: as it says.
        photo_width_mm: width of the sensor it was taken with; None: as it says.
        seed: of the noise.
    """

    scene: Scene = Scene.DUSK
    stops: float = 0.0
    photo: Path | None = None
    photo_focal_mm: float | None = None
    photo_width_mm: float | None = None
    seed: int = 1


@dataclass(frozen=True)
class CornerLoss:
    """A corner of the picture: what it loses to openings, and which part blocks most; part "" for none."""

    corner: str
    stops: float
    part: str
    name: str


@dataclass(frozen=True)
class FramePreview:
    """A picture and what it was made of.

    Attributes:
        view: its geometry.
        scene: what it is of.
        light: exposure of each pixel as a share of a full one; (rows, columns, 3).
        fields: what the train does.
        sky: share of sky in each pixel.
        missing: where one's own photo has nothing.
        full_e: electrons of a full pixel, of a usual one where the pixel size is not entered.
        noise_known: whether it is entered.
        pixels: how many of the sensor's pixels are in one of the picture's.
        seed: of the noise.
    """

    view: View
    scene: Scene
    light: Plane
    fields: Fields
    sky: Plane
    missing: Plane
    full_e: float
    noise_known: bool
    pixels: float
    seed: int

    @cached_property
    def shown(self) -> Plane:
        """The picture for a screen, (rows, columns, 3), 0 to 255."""
        return sensor.developed(self.light, self.full_e, self.pixels, self.seed)

    @cached_property
    def quickly_shown(self) -> Plane:
        """The same without noise, for a picture that follows a hand."""
        return sensor.shown(np.minimum(self.light, 1.0))

    @cached_property
    def clipped(self) -> Plane:
        """Where a colour is full."""
        found: Plane = (self.light >= 1.0).any(axis=-1) & ~self.missing.astype(bool)
        return found

    @property
    def clipped_share(self) -> float:
        """How much of the picture is blown out, 0 to 1."""
        return float(self.clipped.mean())

    @property
    def lost_share(self) -> float | None:
        """How much of it is lost in noise, 0 to 1; None where the pixel size is not entered."""
        return float(self.lost.mean()) if self.noise_known else None

    @cached_property
    def lost(self) -> Plane:
        """Where nothing rises above the noise; nowhere while the pixel size is not entered."""
        if not self.noise_known:
            return np.zeros(self.light.shape[:2], dtype=bool)
        found: Plane = sensor.lost(self.light, self.full_e) & ~self.missing.astype(bool)
        return found


def usual_scene(readout: Readout) -> Scene:
    """Return the scene that suits a train: close up, by night through a telescope, else a landscape."""
    if not isinstance(readout.layout.optic, CameraLens):
        return Scene.NIGHT
    close = readout.close_up
    return Scene.POOL if close.equipped and close.active and close.now.magnification >= 0.05 else Scene.DUSK


def scenes_for(readout: Readout) -> tuple[Scene, ...]:
    """Return the scenes a train can be shown with, the usual one first; one's own photo not among them."""
    usual = usual_scene(readout)
    lens = isinstance(readout.layout.optic, CameraLens)
    close = lens and readout.close_up.active and readout.close_up.now.magnification > 0.005
    others = (Scene.DUSK, Scene.NIGHT, *((Scene.POOL,) if close else ()), Scene.FLAT)
    return (usual, *(scene for scene in others if scene is not usual))


def frame_preview(
    readout: Readout,
    settings: PreviewSettings,
    columns: int,
    rows: int | None = None,
    *,
    quick: bool = False,
    stopped: Stopped = never,
) -> FramePreview:
    """Return the picture a train takes of a scene, metered without filters and exposed longer by what they cost.

    Args:
        readout: the train's readout.
        settings: how it is taken.
        columns: pixels across.
        rows: pixels down; None: as the sensor's sides are.
        quick: as finely as dragging needs.
        stopped: says whether the picture is no longer wanted.

    Raises:
        BadInput: there is no camera, or the scene cannot be shown with this train.
        NotWanted: it was stopped.
    """
    view = view_of(readout, columns, rows)
    # The scene first: the tile it is looked up in is large, and gone before the fields are made.
    scene, sky, missing, metered = _scene(readout, view, settings, quick=quick, stopped=stopped)
    fields = fields_of(readout, view, quick=quick)
    light = np.empty((view.rows, view.columns, 3), dtype=np.float32)
    brighter = np.float32(sensor.MIDDLE / metered * 2.0**settings.stops)
    for part in view.strips():
        light[part] = scene[part] * (fields.transmission(sky, part) * brighter)[..., None]
    camera = readout.layout.camera
    assert isinstance(camera, Camera)
    pixel_um = camera.pixel_size_um.value if camera.pixel_size_um is not None else sensor.USUAL_PIXEL_UM
    iso = readout.layout.train.conditions.metered_iso or sensor.USUAL_ISO
    full_e = sensor.FULL_E_PER_UM2 * pixel_um**2 * min(sensor.USUAL_ISO / iso, 1.0)
    pixels = (view.wide_mm / view.columns * 1000.0 / pixel_um) ** 2
    return FramePreview(
        view,
        settings.scene,
        light,
        fields,
        sky,
        missing,
        full_e,
        camera.pixel_size_um is not None,
        pixels,
        settings.seed,
    )


def corner_losses(readout: Readout) -> tuple[CornerLoss, ...]:
    """Return what each corner of the picture loses, in the order of CORNERS, and which part blocks most."""
    light, layout = readout.light, readout.layout
    camera = layout.camera
    if camera is None:
        return ()
    places = light.picture_corners
    stops = [stops_lost(float(share)) for share in light.light_at(places)]
    takers = light.takers_at(places)
    found = []
    for corner, lost_stops, taker in zip(CORNERS, stops, takers, strict=True):
        part = light.placed[taker].part if taker >= 0 and lost_stops > CLEAN_STOPS else None
        found.append(CornerLoss(corner, lost_stops, "" if part is None else part.id, "" if part is None else part.name))
    return tuple(found)


def _scene(
    readout: Readout, view: View, settings: PreviewSettings, *, quick: bool, stopped: Stopped
) -> tuple[Plane, Plane, Plane, float]:
    """Return a scene's light over a view, its share of sky, where there is none, and what a meter reads of it."""
    shape = (view.rows, view.columns)
    none = nothing(shape)
    if settings.scene is Scene.DUSK:
        light, sky = _dusk(view, readout.layout.train.conditions.sky, quick=quick, stopped=stopped)
        return light, sky, none, dusk.METERED
    if settings.scene is Scene.NIGHT:
        return _night(readout, view), none, none, 1.0
    if settings.scene is Scene.POOL:
        return _pool(readout, view), none, none, pool.METERED
    if settings.scene is Scene.PHOTO:
        if settings.photo is None:
            raise BadInput("Choose a photo to see it through this train.")
        light, outside = read_photo(settings.photo, settings.photo_focal_mm, settings.photo_width_mm).over(view)
        return light, none, outside.astype(np.float32), METERED
    return np.broadcast_to(np.float32(1.0), (*shape, 3)), none, none, 1.0


@dataclass(frozen=True)
class DuskScene:
    """The coast with the Sun at a place."""

    sun_right_deg: float
    sun_high_deg: float

    def draw(self, az: Plane, el: Plane) -> tuple[Plane, Plane]:
        """Return luminance and share of sky of directions."""
        return dusk.dusk(az, el, self.sun_right_deg, self.sun_high_deg)


_seen: dict[tuple[object, ...], tuple[Plane, Plane]] = {}


def _kept(key: tuple[object, ...], draw: Callable[[], tuple[Plane, Plane]]) -> tuple[Plane, Plane]:
    """Return a scene over a view, from the last time if it was the same.

    While an aperture, a filter or the holder is changed, what is seen through them stays the same.
    """
    found = _seen.get(key)
    if found is None:
        found = draw()
        if len(_seen) >= MOST_SEEN:
            _seen.clear()
        _seen[key] = found
    return found


def release() -> None:
    """Let go of what is kept for the next picture: no photo is looked at."""
    _seen.clear()
    tiles.release()


def _sun(sky: Sky | None) -> DuskScene:
    if sky is None:
        return DuskScene(dusk.SUN_RIGHT_DEG, dusk.SUN_HIGH_DEG)
    return DuskScene(round(sky.sun_right_deg), round(sky.sun_high_deg))


def ready_at_once(readout: Readout, settings: PreviewSettings, columns: int) -> bool:
    """Whether a quick picture takes no longer than a step of a hand may: nothing must be drawn or read first."""
    if settings.scene is not Scene.DUSK:
        return settings.scene is Scene.FLAT
    view = view_of(readout, columns)
    return in_memory(_sun(readout.layout.train.conditions.sky), level_for(*view.reach_deg))


def _dusk(view: View, sky: Sky | None, *, quick: bool, stopped: Stopped) -> tuple[Plane, Plane]:
    def draw() -> tuple[Plane, Plane]:
        az, el = view.az_el_deg
        level = level_for(float(np.abs(az).max()), float(np.abs(el).max()))
        tile = tile_of(_sun(sky), level, fine=not quick, stopped=stopped)
        if tile is None:
            raise NotWanted
        return tile.at(az, el)

    return _kept((replace(view), _sun(sky), quick), draw)


def _night(readout: Readout, view: View) -> Plane:
    error = readout.spacing.error_mm or 0.0
    within = readout.spacing.within_tolerance
    radial = (error < 0.0) == (rule_of(readout) is not ShortStars.TANGENTIAL)
    target = readout.layout.train.conditions.target
    nebulae = NEBULAE if target is None else aimed_at(target)
    apart = 0.0 if within else error

    def draw() -> tuple[Plane, Plane]:
        light = night(view, view.focal_mm, apart, radial=radial, blur_mm=0.0, nebulae=nebulae)
        return light, nothing((view.rows, view.columns))

    return _kept((replace(view), apart, radial, nebulae), draw)[0]


def _pool(readout: Readout, view: View) -> Plane:
    close = readout.close_up
    if close.system is None or close.now.magnification <= 0.0 or not math.isfinite(close.now.magnification):
        raise BadInput("The lens is focused at infinity; enter a subject width or focus it closer to see it close up.")
    number = close.effective_f_number
    return pool.pool(view, close.now.magnification, number, DIFFRACTION_WIDE * WAVELENGTH_MM * number)
