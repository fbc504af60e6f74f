"""A small train of its own for tests of places: a telescope, what is given, a camera; every length a whole number."""

from typing import Any

from farrail.parts.base import TubePart
from farrail.parts.connections import Connection, Gender, Plain, thread
from farrail.parts.glass import Plate
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.kinds.guiders import OffAxisGuider
from farrail.parts.kinds.seats import FilterDrawer
from farrail.parts.kinds.telescopes import Corrector, Telescope
from farrail.parts.kinds.tubes import Spacer
from farrail.parts.provenance import measured, published
from farrail.parts.registry import Part
from farrail.readouts.read import Readout, read
from farrail.train.train import MountedPart, Train

IN, OUT = thread(54, 0.75, Gender.INTERNAL), thread(54, 0.75, Gender.EXTERNAL)
ENDS: dict[str, Any] = {"outer_diameter_mm": 70, "front": IN, "rear": OUT}


def bare_filter(key: str = "filter", thick: float = 3.0, **more: Any) -> RoundFilter:
    rim = Connection(standard=Plain(diameter_mm=50), gender=Gender.NONE, engagement_mm=0.0)
    return RoundFilter(
        id=key, name=key, outer_diameter_mm=50, front=rim, rear=rim, path_length_mm=measured(thick),
        glass=Plate(thickness_mm=measured(thick), index=measured(1.5)), **more,
    )  # fmt: skip


def spacer(key: str, length: float, clear: float = 50.0) -> Spacer:
    return Spacer(id=key, name=key, path_length_mm=measured(length), clear_aperture_mm=measured(clear), **ENDS)


def drawer(**more: Any) -> FilterDrawer:
    values: dict[str, Any] = {"path_length_mm": measured(20.0), "seat_mm": measured(6.0), **ENDS, **more}
    return FilterDrawer(id="drawer", name="drawer", **values)


def guider(**more: Any) -> OffAxisGuider:
    return OffAxisGuider(
        id="guider", name="guider", path_length_mm=measured(16.0), clear_aperture_mm=measured(50.0),
        prism_edge_mm=measured(12.0), prism_width_mm=measured(8.0), prism_height_mm=measured(8.0),
        prism_at_mm=measured(5.0), **ENDS, **more,
    )  # fmt: skip


def reducer(**more: Any) -> Corrector:
    values: dict[str, Any] = {"path_length_mm": measured(40.0), "principal_mm": measured(10.0), **ENDS, **more}
    return Corrector(
        id="reducer", name="reducer", back_focus_mm=published(60.0), spacing_tolerance_mm=published(1.0),
        lens_focal_mm=published(285.0), **values,
    )  # fmt: skip


def laid(*row: MountedPart, parts: tuple[Part, ...], scope: dict[str, Any] | None = None, **camera: Any) -> Readout:
    """Read a row behind a telescope of 600 mm f/4, before a 36 × 24 sensor 20 mm behind its flange."""
    optics = {"focal_length_mm": published(600.0), "aperture_mm": published(150.0), **(scope or {})}
    optic = Telescope(id="scope", name="scope", outer_diameter_mm=180, rear=IN, **optics)
    values: dict[str, Any] = {
        "flange_to_sensor_mm": measured(20.0), "sensor_width_mm": published(36.0),
        "sensor_height_mm": published(24.0), "front": IN, **camera,
    }  # fmt: skip
    last = Camera(id="camera", name="camera", outer_diameter_mm=90, **values)
    train = Train(id="t", name="t", optic="scope", rear_train=row, camera="camera")
    return read(train, {part.id: part for part in (optic, last, *parts)})


def through(readout: Readout, index: int) -> TubePart:
    return readout.layout.rear[index].part
