"""Plain tubes: adapters, spacers, shims, adjustable spacers, rotators, tilt plates."""

from collections.abc import Iterator
from itertools import combinations
from typing import Annotated, Literal

from farrail.language import N_, say
from farrail.parts.base import Adjustable, FixedLength, Housing, PartBase
from farrail.parts.connections import Bayonet, Connection, Gender, thread
from farrail.parts.field_info import FieldInfo, Group
from farrail.parts.in_beam import Aperture, Installation, Outline
from farrail.parts.provenance import TiltAngle, assumed
from farrail.parts.registers import BAYONET_REGISTERS_MM, T_MOUNT_REGISTER_MM, t_mount
from farrail.parts.usual import COMMON, FILTER_THREADS_MM, HOUSING_THREADS, IN, OUT, Usual, key, machined, rim, size

TRAIN_THREADS = ((28.5, 0.6), (42.0, 0.75), (48.0, 0.75), (54.0, 0.75), (63.0, 1.0), (68.0, 1.0))
SPACER_LENGTHS_MM = (3.0, 5.0, 7.5, 10.0, 12.0, 15.0, 20.0, 25.0, 30.0, 40.0)
SHIM_THICKNESSES_MM = (0.1, 0.2, 0.3, 0.5, 0.8, 1.0)
SHIM_JOINTS_MM = (42.0, 48.0, 54.0)


class Adapter(Housing):
    """Joins two different connections."""

    kind_name = N_("adapter")
    rank = 40
    fills = True

    kind: Literal["adapter"] = "adapter"

    @classmethod
    def template(cls) -> "Adapter":
        """Return one from M48 to M42."""
        return cls(
            id="new-adapter", name=say("New adapter"), outer_diameter_mm=54, front=thread(48.0, 0.75, Gender.INTERNAL),
            rear=t_mount(OUT), path_length_mm=assumed(5),
        )  # fmt: skip

    @classmethod
    def usual_sizes(cls) -> Iterator[Usual[PartBase]]:
        """Yield the rings that make a T mount's 55 mm of a bayonet's flange focal distance."""
        for name, (register, throat) in BAYONET_REGISTERS_MM.items():
            room = T_MOUNT_REGISTER_MM - register
            if room > 0:
                rear = Connection(standard=Bayonet(name=name, throat_mm=throat), gender=OUT)
                ring = cls(
                    id=key("adapter", name),
                    name=say("M42 T mount to {name}", name=name),
                    outer_diameter_mm=62.0, front=t_mount(IN),
                    rear=rear, path_length_mm=size(room, say("55 mm − flange focal distance")),
                )  # fmt: skip
                yield Usual(
                    say("flange focal distances"),
                    ring,
                    say("{room:g} mm long: 55 mm − flange focal distance", room=room),
                )
        for low, high in combinations(TRAIN_THREADS, 2):
            for one, other in ((low, high), (high, low)):
                ring = cls(
                    id=key("ring", one[0], other[0]),
                    name=say("Ring M{large:g} to M{small:g}", large=one[0], small=other[0]),
                    outer_diameter_mm=high[0] + 5.0, front=thread(*one, IN), rear=thread(*other, OUT),
                    path_length_mm=size(5.0),
                )  # fmt: skip
                yield Usual(say("thread adapters"), ring, COMMON)
        for small, large in combinations(FILTER_THREADS_MM, 2):
            step = cls(
                id=key("step", small, large),
                name=say("Step ring {small} to {large} mm", small=small, large=large),
                outer_diameter_mm=large + 3.0,
                front=thread(large, 0.75, IN), rear=thread(small, 0.75, OUT), path_length_mm=size(3.0),
                clear_aperture_mm=size(small - 3.0),
            )  # fmt: skip
            yield Usual(say("step rings"), step, COMMON)


class Spacer(FixedLength):
    """Adds length between two connections of the same standard."""

    kind_name = N_("spacer")
    rank = 50
    fills = True
    only_length = True

    kind: Literal["spacer"] = "spacer"

    @classmethod
    def template(cls) -> "Spacer":
        """Return a spacer of M42."""
        return cls(
            id="new-spacer", name=say("New spacer"), outer_diameter_mm=47, front=t_mount(IN), rear=t_mount(OUT),
            path_length_mm=assumed(10),
        )  # fmt: skip

    @classmethod
    def usual_sizes(cls) -> Iterator[Usual[PartBase]]:
        """Yield the usual lengths of the usual threads."""
        source = say("thread profile ISO 68-1, from memory; sizes {common}", common=COMMON)
        for diameter, pitch in TRAIN_THREADS:
            for length in SPACER_LENGTHS_MM:
                part = cls(
                    id=key("spacer", diameter, length),
                    name=say(
                        "Spacer M{diameter:g}×{pitch:g}, {length:g} mm", diameter=diameter, pitch=pitch, length=length
                    ),
                    outer_diameter_mm=diameter + 5.0, front=thread(diameter, pitch, IN),
                    rear=thread(diameter, pitch, OUT), path_length_mm=machined(length),
                )  # fmt: skip
                yield Usual(say("spacers"), part, source)


class Shim(FixedLength):
    """A thin washer between two shoulders; the thread passes through it."""

    kind_name = N_("shim")
    rank = 60
    fills = True
    only_length = True
    passes_thread = True

    kind: Literal["shim"] = "shim"

    def end_aperture(self, filled: Installation, *, front: bool) -> Iterator[Aperture]:
        """Yield none: its ends are outside the thread. A measured inner step still counts."""
        yield from ()

    def outline(self, span_mm: float, bore_mm: float) -> Outline:
        """Return a narrow washer."""
        return Outline(wall_mm=5.0)

    @classmethod
    def template(cls) -> "Shim":
        """Return half a millimetre."""
        return cls(
            id="new-shim", name=say("New shim"), outer_diameter_mm=50, front=rim(50), rear=rim(50),
            path_length_mm=assumed(0.5),
        )  # fmt: skip

    @classmethod
    def usual_sizes(cls) -> Iterator[Usual[PartBase]]:
        """Yield the usual thicknesses."""
        for diameter in SHIM_JOINTS_MM:
            for thickness in SHIM_THICKNESSES_MM:
                part = cls(
                    id=key("shim", diameter, thickness),
                    name=say("Shim for M{diameter:g}, {thickness:g} mm", diameter=diameter, thickness=thickness),
                    outer_diameter_mm=diameter + 8.0, front=rim(diameter), rear=rim(diameter),
                    path_length_mm=size(thickness),
                )  # fmt: skip
                yield Usual(say("shims"), part, say("{common}; plastic gaskets serve too", common=COMMON))


class Rotator(Housing):
    """Turns the camera about the axis."""

    kind_name = N_("rotator")
    rank = 70
    module = True
    turns_freely = True

    kind: Literal["rotator"] = "rotator"

    @classmethod
    def template(cls) -> "Rotator":
        """Return one of M42."""
        return cls(
            id="new-rotator", name=say("New rotator"), outer_diameter_mm=66, front=t_mount(IN), rear=t_mount(OUT),
            path_length_mm=assumed(10),
        )  # fmt: skip

    @classmethod
    def usual_sizes(cls) -> Iterator[Usual[PartBase]]:
        """Yield one of each usual thread."""
        for diameter, pitch in HOUSING_THREADS:
            part = cls(
                id=key("rotator", diameter),
                name=say("Rotator M{diameter:g}×{pitch:g}", diameter=diameter, pitch=pitch),
                outer_diameter_mm=diameter + 24.0, front=thread(diameter, pitch, IN), rear=thread(diameter, pitch, OUT),
                path_length_mm=size(10.0),
            )  # fmt: skip
            yield Usual(say("rotators"), part, COMMON)


class TiltPlate(Housing):
    """Squares the camera to the light by screws around its rim; its length is shown with both plates parallel."""

    kind_name = N_("tilt plate")
    rank = 75

    kind: Literal["tilt_plate"] = "tilt_plate"
    most_tilt_deg: Annotated[
        TiltAngle | None, FieldInfo("Tilt, at most", "From parallel, to either side", "°", Group.LENGTH)
    ] = None

    @classmethod
    def template(cls) -> "TiltPlate":
        """Return one of M54."""
        return cls(
            id="new-tilt-plate", name=say("New tilt plate"), outer_diameter_mm=74, front=thread(54.0, 0.75, IN),
            rear=thread(54.0, 0.75, OUT), path_length_mm=assumed(10),
        )  # fmt: skip

    @classmethod
    def usual_sizes(cls) -> Iterator[Usual[PartBase]]:
        """Yield one of each usual thread."""
        for diameter, pitch in HOUSING_THREADS:
            part = cls(
                id=key("tilt plate", diameter),
                name=say("Tilt plate M{diameter:g}×{pitch:g}", diameter=diameter, pitch=pitch),
                outer_diameter_mm=diameter + 24.0, front=thread(diameter, pitch, IN), rear=thread(diameter, pitch, OUT),
                path_length_mm=size(10.0), most_tilt_deg=size(0.5),
            )  # fmt: skip
            yield Usual(say("tilt plates"), part, COMMON)


class AdjustableSpacer(Adjustable):
    """A spacer of variable length; the setting belongs to the train it is placed in."""

    kind_name = N_("adjustable spacer")
    rank = 90
    fills = True

    kind: Literal["adjustable_spacer"] = "adjustable_spacer"

    @classmethod
    def template(cls) -> "AdjustableSpacer":
        """Return one of M42, 10 to 15 mm."""
        return cls(
            id="new-adjustable", name=say("New adjustable spacer"), outer_diameter_mm=56, front=t_mount(IN),
            rear=t_mount(OUT), shortest_mm=assumed(10), longest_mm=assumed(15),
        )  # fmt: skip

    @classmethod
    def usual_sizes(cls) -> Iterator[Usual[PartBase]]:
        """Yield the usual ranges of each usual thread."""
        for diameter, pitch in HOUSING_THREADS:
            for short, long in ((8.0, 11.0), (10.0, 15.0), (15.0, 25.0)):
                part = cls(
                    id=key("adjustable", diameter, short),
                    name=say(
                        "Adjustable spacer M{diameter:g}, {short:g} to {long:g} mm",
                        diameter=diameter,
                        short=short,
                        long=long,
                    ),
                    outer_diameter_mm=diameter + 14.0,
                    front=thread(diameter, pitch, IN),
                    rear=thread(diameter, pitch, OUT),
                    shortest_mm=size(short),
                    longest_mm=size(long),
                )
                yield Usual(say("adjustable spacers"), part, COMMON)
