"""The same train judged for every camera on the shelf, worst first; those that do not mate come last."""

from dataclasses import dataclass

from farrail.parts.inventory_item import AT_HAND, PartId
from farrail.parts.kinds.cameras import Camera
from farrail.readouts.field.coverage import circle_against
from farrail.readouts.read import read
from farrail.train.rows import Shelf
from farrail.train.train import Side, Train
from farrail.units import stops_lost


@dataclass(frozen=True)
class CameraVerdict:
    """One camera at the end of the train.

    Attributes:
        camera: the camera.
        lost_stops: light lost in its darkest corner, at the worse end of everything unknown.
        margin_mm: the least clear width to spare of any aperture.
        takes_most: name of the part that takes most, "" for none.
        covered: part of its frame inside the image circle, None where no circle is known.
        error_mm: what it leaves of the spacing, None where nothing is required.
        mates: whether it goes on the train.
    """

    camera: Camera
    lost_stops: float
    margin_mm: float
    takes_most: str
    covered: float | None
    error_mm: float | None
    mates: bool


def with_camera(train: Train, camera: PartId) -> Train:
    """Return a train that ends with a camera; bare only where it is the one that is bare now."""
    bare = train.camera_bare and camera == train.camera
    return train.model_copy(update={"camera": camera, "camera_bare": bare})


def all_my_cameras(train: Train, shelf: Shelf) -> tuple[CameraVerdict, ...]:
    """Return every camera available at the end of a train, the one that loses most light first.

    The light is judged as if the rest were placed so that the sensor lands where it does now; a camera that leaves
    another spacing says so beside it.
    """
    found = []
    for part in shelf.values():
        if not isinstance(part, Camera) or part.status not in AT_HAND:
            continue
        readout = read(with_camera(train, part.id), shelf)
        light, tightest = readout.light, readout.light.tightest
        circle = circle_against(readout.layout, part)
        last = len(readout.layout.rear)
        found.append(
            CameraVerdict(
                camera=part,
                lost_stops=stops_lost(light.corner_ri if light.corner_ri is not None else 1.0),
                margin_mm=tightest.margin_mm if tightest is not None else float("inf"),
                takes_most=light.limiting.placed.part.name if light.limiting is not None else "",
                covered=None if circle is None else circle.covered,
                error_mm=readout.spacing.error_mm,
                mates=not any(j.mismatch for j in readout.layout.joints if j.side is Side.REAR and j.index == last),
            )
        )
    return tuple(sorted(found, key=lambda c: (not c.mates, -round(c.lost_stops, 6), c.margin_mm, c.camera.name)))
