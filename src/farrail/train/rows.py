"""A placed train's rows of parts at their places, before anybody asks what light meets there."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from farrail.parts.base import Optic
from farrail.parts.connections import Connection
from farrail.parts.inventory_item import PartId
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.registry import Part
from farrail.train.joints import Joint
from farrail.train.placed import Placed
from farrail.train.seating import JointGap
from farrail.train.train import Train

Shelf = Mapping[PartId, Part]


def with_parts(shelf: Shelf, parts: Iterable[Part]) -> Shelf:
    """Return a shelf with more parts on it."""
    more = {part.id: part for part in parts if part.id not in shelf}
    return {**shelf, **more} if more else shelf


@dataclass(frozen=True)
class Rows:
    """A train at absolute positions, all in mm on the rail.

    Attributes:
        train: the train built.
        optic: its optic.
        camera: its camera, if any.
        front: front stack, from the optic outward.
        rear: rear train, from the optic to the camera.
        corrector: the last corrector of the rear train, if any: its rear shoulder is z = 0.
        optic_rear_mm: where the optic's own rear shoulder is (0 without a corrector).
        front_seat_mm: where the front stack begins.
        flange_mm: where the camera's flange is.
        joints: all joints, front stack outermost first, then rear train.
        parts: the shelf's parts named by the train, by id.
        gaps: what keeps the rear train's shoulders apart.
    """

    train: Train
    optic: Optic
    camera: Camera | None
    front: tuple[Placed, ...]
    rear: tuple[Placed, ...]
    corrector: Placed | None
    optic_rear_mm: float
    front_seat_mm: float
    flange_mm: float
    joints: tuple[Joint, ...]
    parts: Shelf
    gaps: tuple[JointGap, ...] = ()

    @property
    def sensor_mm(self) -> float | None:
        """Where the sensor is, or None without a camera."""
        return None if self.camera is None else self.flange_mm + self.camera.flange_to_sensor_mm.value

    @property
    def diagonal_mm(self) -> float:
        """The diagonal of the frame; 0 without a camera."""
        return 0.0 if self.camera is None else self.camera.diagonal_mm

    @property
    def reversed(self) -> bool:
        """Whether the optic is a lens flipped, its filter thread toward the camera."""
        return is_reversed(self.optic, self.train)

    @property
    def optic_ends(self) -> tuple[Connection | None, Connection]:
        """The optic's connections as it is, toward the scene first."""
        return optic_ends_of(self.optic, self.train)

    @property
    def behind_datum(self) -> tuple[Placed, ...]:
        """The parts between the datum and the camera."""
        return self.rear if self.corrector is None else self.rear[self.corrector.index + 1 :]

    @property
    def ahead_of_corrector(self) -> tuple[Placed, ...]:
        """The parts between the telescope and the corrector."""
        return () if self.corrector is None else self.rear[: self.corrector.index]


def optic_ends_of(optic: Optic, train: Train) -> tuple[Connection | None, Connection]:
    """Return an optic's connections as it is, toward the scene first."""
    if not isinstance(optic, CameraLens):
        return None, optic.rear
    if optic.front is not None and is_reversed(optic, train):
        return optic.rear, optic.front
    return optic.front, optic.rear


def is_reversed(optic: Optic, train: Train) -> bool:
    """Whether an optic is flipped; without a front connection nothing could hold it so."""
    return train.optic_reversed and isinstance(optic, CameraLens) and optic.front is not None
