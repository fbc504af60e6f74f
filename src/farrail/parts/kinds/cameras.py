"""Cameras: where the sensor is, and how large it is."""

from collections.abc import Iterator
from typing import Annotated, Literal

from farrail.language import N_, Text, say
from farrail.parts.base import PartBase
from farrail.parts.connections import Bayonet, Connection, Thread
from farrail.parts.field_info import FieldInfo, Group
from farrail.parts.frozen import Frozen
from farrail.parts.glass import Glass, Plate
from farrail.parts.in_beam import GlassPiece, GlassRole
from farrail.parts.provenance import Diameter, Length, Offset, PixelSize, Span, assumed, less
from farrail.parts.registers import (
    BAYONET_REGISTERS_MM,
    C_MOUNT_REGISTER_MM,
    CS_MOUNT_REGISTER_MM,
    T_MOUNT_REGISTER_MM,
    t_mount,
)
from farrail.parts.usual import COMMON, IN, Usual, key, size
from farrail.units import MM_PER_INCH

SENSORS_MM = (
    (44.0, 33.0, COMMON), (36.0, 24.0, N_("ISO 1007 (35 mm frame), from memory")), (23.5, 15.7, COMMON),
    (22.3, 14.9, COMMON), (17.3, 13.0, COMMON), (13.2, 8.8, COMMON), (11.3, 11.3, COMMON), (8.8, 6.6, COMMON),
    (7.4, 5.0, COMMON), (5.6, 3.2, COMMON),
)  # fmt: skip


class Window(Frozen):
    """A camera's window: its glass, how far its rear face is before the sensor, and whose job its shift is.

    `allowed_for` says whether the camera's published flange-to-sensor distance already makes up for the window;
    None: the maker is silent, and it is taken as allowed for.
    """

    glass: Annotated[Glass, FieldInfo("", group=Group.GLASS)]
    sensor_gap_mm: Annotated[Length, FieldInfo("to sensor", "Its rear face to the sensor", group=Group.GLASS)]
    allowed_for: Annotated[
        bool | None,
        FieldInfo("allowed for", "yes, no, or silent where the maker does not say", "", Group.GLASS),
    ] = None


class FrontRing(Frozen):
    """A ring on a camera's front that can be taken off: its path length, and the connection behind it."""

    length_mm: Annotated[Length, FieldInfo("that comes off", "Change of the distance without it", group=Group.SENSOR)]
    behind: Annotated[Connection, FieldInfo("off: connection", "The connection behind it", group=Group.ENDS)]


def _usual_window(_: "Camera") -> Window:
    glass = Plate(thickness_mm=assumed(1.0), index=assumed(1.5168, note=say("crown glass taken")))
    return Window(glass=glass, sensor_gap_mm=assumed(5.0))


def _flat_ring(camera: "Camera") -> FrontRing:
    return FrontRing(length_mm=assumed(0.0), behind=camera.front)


class Camera(PartBase):
    """A camera: where its sensor is behind its front connection, and how large it is."""

    kind_name = N_("camera")
    rank = 230

    kind: Literal["camera"] = "camera"
    front: Annotated[Connection, FieldInfo("Front connection", group=Group.ENDS)]
    flange_to_sensor_mm: Annotated[
        Length, FieldInfo("Flange to sensor", "The camera's own share, from its front shoulder", group=Group.SENSOR)
    ]
    sensor_width_mm: Annotated[Diameter, FieldInfo("Sensor width", group=Group.SENSOR, stays_mm=True)]
    sensor_height_mm: Annotated[Diameter, FieldInfo("Sensor height", group=Group.SENSOR, stays_mm=True)]
    pixel_size_um: Annotated[PixelSize | None, FieldInfo("Pixel", "Edge of one pixel", "µm", Group.SENSOR)] = None
    # Where the sensor's middle is off the axis, as seen from behind.
    sensor_right_mm: Annotated[
        Offset | None, FieldInfo("Sensor off the axis, right", "Seen from behind the camera", group=Group.SENSOR)
    ] = None
    sensor_up_mm: Annotated[
        Offset | None, FieldInfo("Sensor off the axis, up", "Seen from behind the camera", group=Group.SENSOR)
    ] = None
    window: Annotated[
        Window | None,
        FieldInfo("Window", "The glass before its sensor", group=Group.GLASS, begins=_usual_window,
             first="glass.thickness_mm"),
    ] = None  # fmt: skip
    # What `front` and `flange_to_sensor_mm` include and can be taken off.
    front_ring: Annotated[
        FrontRing | None,
        FieldInfo(
            "Front ring", "A ring that can be taken off", group=Group.SENSOR, begins=_flat_ring, first="length_mm"
        ),
    ] = None

    @property
    def ends(self) -> tuple[Connection | None, Connection | None]:
        """Its front."""
        return self.front, None

    @property
    def size_entered(self) -> bool:
        """Whether both sides of the sensor are numbers, not ranges."""
        return not any(isinstance(side.in_use, Span) for side in (self.sensor_width_mm, self.sensor_height_mm))

    @property
    def diagonal_mm(self) -> float:
        """The diagonal of its sensor."""
        return float((self.sensor_width_mm.value**2 + self.sensor_height_mm.value**2) ** 0.5)

    def window_glass(self) -> GlassPiece | None:
        """Return its window, with its front surface behind the front shoulder; None where it has none."""
        window = self.window
        if window is None:
            return None
        at = self.flange_to_sensor_mm.value - window.sensor_gap_mm.value - window.glass.drawn_thickness_mm
        return GlassPiece(
            self, GlassRole.WINDOW, window.glass, at, self.diagonal_mm * 1.15, included=window.allowed_for
        )

    def without_front_ring(self) -> "Camera":
        """Return the camera as it is with its front ring taken off; itself when it has none."""
        ring = self.front_ring
        if ring is None:
            return self
        left = less(self.flange_to_sensor_mm, ring.length_mm)
        return self.model_copy(update={"front": ring.behind, "flange_to_sensor_mm": left, "front_ring": None})

    @classmethod
    def template(cls) -> "Camera":
        """Return an APS-C camera on a T mount."""
        return cls(
            id="new-camera", name=say("New camera"), outer_diameter_mm=80, front=t_mount(IN),
            flange_to_sensor_mm=assumed(17.5), sensor_width_mm=assumed(23.5), sensor_height_mm=assumed(15.7),
        )  # fmt: skip

    @classmethod
    def usual_sizes(cls) -> Iterator[Usual[PartBase]]:
        """Yield the usual sensors, then bodies by what their mounts fix."""
        for width, height, source in SENSORS_MM:
            part = cls(
                id=key("sensor", width, height),
                name=say("Camera, {width:g} × {height:g} mm sensor", width=width, height=height),
                outer_diameter_mm=80.0, front=t_mount(IN), flange_to_sensor_mm=size(17.5),
                sensor_width_mm=size(width, source), sensor_height_mm=size(height, source),
            )  # fmt: skip
            yield Usual(say("sensor formats"), part, source)
        c_thread = Thread(diameter_mm=MM_PER_INCH, pitch_mm=round(MM_PER_INCH / 32.0, 5))
        threads = (
            (
                "M42×0.75 T mount",
                say("M42×0.75 T mount"),
                Thread(diameter_mm=42.0, pitch_mm=0.75),
                T_MOUNT_REGISTER_MM,
                COMMON,
            ),
            ("C mount", say("C mount"), c_thread, C_MOUNT_REGISTER_MM, N_("ISO 10935, from memory")),
            ("CS mount", say("CS mount"), c_thread, CS_MOUNT_REGISTER_MM, COMMON),
        )
        for own, name, standard, register, source in threads:
            front = Connection(standard=standard, gender=IN)
            yield Usual(
                say("flange focal distances"),
                cls._body(own, name, front, register, source),
                say("{register:.3f} mm, {source}", register=register, source=source),
            )
        for name, (register, throat) in BAYONET_REGISTERS_MM.items():
            front = Connection(standard=Bayonet(name=name, throat_mm=throat), gender=IN)
            yield Usual(
                say("flange focal distances"),
                cls._body(name, name, front, register, COMMON),
                say("{register:g} mm, {common}", register=register, common=COMMON),
            )

    @classmethod
    def _body(cls, own: str, name: str, front: Connection, register_mm: float, source: Text) -> "Camera":
        return cls(
            id=key("body", own), name=say("Camera body, {name}", name=name), outer_diameter_mm=90.0, front=front,
            flange_to_sensor_mm=size(register_mm, source), sensor_width_mm=size(36.0), sensor_height_mm=size(24.0),
        )  # fmt: skip
