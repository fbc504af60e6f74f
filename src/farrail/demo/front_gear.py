"""Hallan Skerry's landscape gear: a wide zoom, holders, rings, sheets and polarisers; all invented."""

from farrail.parts.connections import Bayonet, Connection, Gender, OnlyFits, Plain, thread
from farrail.parts.glass import Plate
from farrail.parts.inventory_item import Status
from farrail.parts.kinds.ahead import FilterHolder, HolderRing
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.cases import Carries, Case
from farrail.parts.kinds.filters import Gradation, RoundFilter, SheetFilter
from farrail.parts.kinds.lenses import CameraLens, PupilAt
from farrail.parts.kinds.tubes import Adapter
from farrail.parts.provenance import Quantity, assumed, measured, published
from farrail.parts.registry import Part
from farrail.train.train import Conditions, MountedPart, Train

INTERNAL, EXTERNAL = Gender.INTERNAL, Gender.EXTERNAL
HOLDER_100 = OnlyFits(name="Skerry holder 100", diameter_mm=88.0)
FRONT_100 = OnlyFits(name="Skerry holder front", diameter_mm=104.0)
HOLDER_165 = OnlyFits(name="Skerry holder 165", diameter_mm=140.0)
HOOD_12 = OnlyFits(name="hood of the Lantern 12 mm", diameter_mm=96.0)
SLR44 = Bayonet(name="44 mm SLR bayonet", throat_mm=42.0)


def _end(standard: OnlyFits | Bayonet, gender: Gender) -> Connection:
    return Connection(standard=standard, gender=gender)


def _glass(thickness: float) -> Plate:
    return Plate(thickness_mm=published(thickness, 0.05), index=assumed(1.5168, note="crown glass taken"))


def _lenses() -> list[Part]:
    return [
        CameraLens(
            id="brae-17-35",
            name="Brae 17-35 mm f/2.8",
            maker="Brae Works",
            outer_diameter_mm=88.0,
            barrel_length_mm=96.0,
            front=thread(82.0, 0.75, INTERNAL),
            rear=_end(SLR44, EXTERNAL),
            focal_length_mm=published(17.0),
            longest_focal_mm=published(35.0),
            f_number=published(2.8),
            flange_focal_distance_mm=published(44.0, 0.02),
            entrance_pupil_depth_mm=assumed(27.0),
            entrance_pupils=tuple(
                PupilAt(focal_mm=f, depth_mm=assumed(e, note="looked at from the front"))
                for f, e in ((17.0, 27.0), (24.0, 31.5), (35.0, 28.0))
            ),
            exit_pupil_distance_mm=assumed(60.0),
            image_circle_mm=published(43.3),
        ),
        CameraLens(
            id="lantern-12",
            name="Lantern 12 mm f/4",
            maker="Lantern Room",
            outer_diameter_mm=98.0,
            barrel_length_mm=110.0,
            front=_end(HOOD_12, EXTERNAL),
            rear=_end(SLR44, EXTERNAL),
            focal_length_mm=published(12.0),
            f_number=published(4.0),
            flange_focal_distance_mm=published(44.0, 0.02),
            entrance_pupil_depth_mm=assumed(22.0, note="behind the rim of its hood"),
            exit_pupil_distance_mm=assumed(55.0),
            image_circle_mm=published(43.3),
            note="Bulbous front, fixed hood, no filter thread.",
        ),
        Camera(
            id="skua-full",
            name="Skua full-frame body",
            maker="Skua",
            outer_diameter_mm=96.0,
            front=_end(SLR44, INTERNAL),
            flange_to_sensor_mm=published(44.0, 0.02),
            sensor_width_mm=published(36.0),
            sensor_height_mm=published(24.0),
            pixel_size_um=published(5.9),
        ),
    ]


def _rings() -> list[Part]:
    def ring(key: str, name: str, length: Quantity, **more: object) -> HolderRing:
        return HolderRing(
            id=key,
            name=name,
            maker="Lantern Room",
            outer_diameter_mm=96.0,
            front=_end(HOLDER_100, EXTERNAL),
            rear=thread(82.0, 0.75, EXTERNAL),
            path_length_mm=length,
            clear_aperture_mm=measured(80.0, 0.1),
            **more,
        )

    return [
        ring("ring-82", "Ring 82, standard", measured(8.0, 0.1)),
        ring(
            "ring-82-recessed",
            "Ring 82, recessed",
            measured(-1.5, 0.1),
            overhang_rear_mm=measured(7.0, 0.2),
            overhang_clear_mm=measured(91.0, 0.2),
            price=32.0,
        ),
        HolderRing(
            id="slip-on-12",
            name="Slip-on for the 12 mm",
            maker="Lantern Room",
            outer_diameter_mm=132.0,
            front=_end(HOLDER_165, EXTERNAL),
            rear=_end(HOOD_12, INTERNAL),
            path_length_mm=measured(9.0, 0.2),
            clear_aperture_mm=measured(124.0, 0.2),
            overhang_rear_mm=measured(14.0, 0.5),
            overhang_clear_mm=measured(99.0, 0.2),
        ),
        Adapter(
            id="front-ring-105",
            name="Front ring 105",
            maker="Lantern Room",
            outer_diameter_mm=112.0,
            front=thread(105.0, 1.0, INTERNAL),
            rear=_end(FRONT_100, EXTERNAL),
            path_length_mm=measured(2.0, 0.1),
            clear_aperture_mm=measured(103.0, 0.1),
        ),
        Adapter(
            id="step-67-82",
            name="Step ring 67 to 82",
            maker="Brae Works",
            outer_diameter_mm=85.0,
            front=thread(82.0, 0.75, INTERNAL),
            rear=thread(67.0, 0.75, EXTERNAL),
            path_length_mm=measured(3.0, 0.1),
            clear_aperture_mm=measured(64.0, 0.1),
        ),
    ]


def _holders() -> list[Part]:
    def holder(key: str, name: str, length: float, first: float, pitch: float, slots: int = 2, **more: object) -> Part:
        return FilterHolder(
            id=key,
            name=name,
            maker="Lantern Room",
            outer_diameter_mm=118.0,
            front=_end(FRONT_100, INTERNAL),
            rear=_end(HOLDER_100, INTERNAL),
            path_length_mm=measured(length, 0.1),
            slots=slots,
            sheet_width_mm=published(100.0),
            slot_thickness_mm=published(2.1),
            slot_pitch_mm=measured(pitch, 0.1),
            first_slot_mm=measured(first, 0.1),
            window_width_mm=measured(95.0, 0.2),
            baffle=True,
            drop_in_mm=published(86.0),
            drop_in_at_mm=measured(2.0, 0.2),
            **more,
        )

    return [
        holder("skerry-100", "Skerry holder 100", 20.0, 7.0, 8.0),
        holder("skerry-100-slim", "Skerry slim holder", 12.5, 4.5, 5.5, status=Status.WANTED, owned=0, price=95.0),
        FilterHolder(
            id="skerry-165",
            name="Skerry holder 165",
            maker="Lantern Room",
            outer_diameter_mm=186.0,
            front=Connection(standard=Plain(diameter_mm=170.0), gender=Gender.NONE),
            rear=_end(HOLDER_165, INTERNAL),
            path_length_mm=measured(16.0, 0.2),
            slots=2,
            sheet_width_mm=published(165.0),
            slot_thickness_mm=published(2.1),
            slot_pitch_mm=measured(6.0, 0.1),
            first_slot_mm=measured(5.0, 0.1),
            window_width_mm=measured(159.0, 0.2),
            baffle=True,
        ),
    ]


def _filters() -> list[Part]:
    def rim(size: float) -> Connection:
        return Connection(standard=Plain(diameter_mm=size), gender=Gender.NONE, engagement_mm=0.0)

    def sheet(key: str, name: str, wide: float, high: float, density: float, **more: object) -> SheetFilter:
        return SheetFilter(
            id=key,
            name=name,
            maker="Kittiwake",
            outer_diameter_mm=wide,
            width_mm=published(wide),
            height_mm=published(high),
            glass=_glass(2.0),
            density=published(density),
            **more,
        )

    return [
        sheet("solid-3-0", "Solid 3.0", 100.0, 100.0, 3.0, gasket=True),
        sheet(
            "soft-0-9", "Soft graduated 0.9", 100.0, 150.0, 0.9, gradation=Gradation.SOFT, transition_mm=assumed(35.0)
        ),
        sheet(
            "hard-0-6", "Hard graduated 0.6", 100.0, 150.0, 0.6, gradation=Gradation.HARD, transition_mm=assumed(3.0)
        ),
        sheet("solid-165", "Solid 1.8, large", 165.0, 165.0, 1.8, gasket=True),
        RoundFilter(
            id="polariser-105",
            name="Polariser 105",
            maker="Kittiwake",
            outer_diameter_mm=108.0,
            front=thread(105.0, 1.0, INTERNAL),
            rear=thread(105.0, 1.0, EXTERNAL),
            path_length_mm=measured(6.0, 0.1),
            clear_aperture_mm=measured(103.0, 0.2),
            glass=_glass(2.0),
            polariser=True,
        ),
        RoundFilter(
            id="polariser-86",
            name="Polariser, drop-in 86",
            maker="Kittiwake",
            outer_diameter_mm=86.0,
            front=rim(86.0),
            rear=rim(86.0),
            path_length_mm=measured(3.0, 0.1),
            clear_aperture_mm=measured(83.0, 0.2),
            glass=_glass(2.0),
            polariser=True,
        ),
        RoundFilter(
            id="protection-82",
            name="Protection 82",
            maker="Kittiwake",
            outer_diameter_mm=85.0,
            front=thread(82.0, 0.75, INTERNAL),
            rear=thread(82.0, 0.75, EXTERNAL),
            path_length_mm=measured(5.0, 0.1),
            clear_aperture_mm=measured(78.5, 0.2),
            glass=_glass(2.0),
        ),
    ]


def _pouches() -> list[Part]:
    return [
        Case(
            id="brae-pouch", name="Brae pouch, ten sheets", maker="Brae Works", outer_diameter_mm=170.0,
            carries=Carries.SHEETS, holds=10, widest_mm=measured(102.0, 0.5), mass_g=240.0,
        ),
        Case(
            id="brae-wallet", name="Brae filter wallet", maker="Brae Works", outer_diameter_mm=120.0,
            carries=Carries.ROUND_FILTERS, holds=4, widest_mm=measured(112.0, 1.0), mass_g=90.0,
        ),
    ]  # fmt: skip


def front_gear() -> tuple[Part, ...]:
    """Return the landscape parts of the shelf."""
    return (*_lenses(), *_rings(), *_holders(), *_filters(), *_pouches())


def front_trains() -> tuple[Train, ...]:
    """Return the landscape trains: dusk on the sea stacks, a slimmer way, and the bulbous lens."""
    stack = (
        MountedPart(part="protection-82"),
        MountedPart(part="ring-82"),
        MountedPart(part="skerry-100", filters=("solid-3-0", "soft-0-9"), shifts_mm=(0.0, 6.0)),
        MountedPart(part="front-ring-105"),
        MountedPart(part="polariser-105"),
    )
    slim = (
        MountedPart(part="ring-82-recessed"),
        MountedPart(part="skerry-100", filters=("solid-3-0", "soft-0-9"), shifts_mm=(0.0, 6.0), drop_in="polariser-86"),
    )
    large = (MountedPart(part="slip-on-12"), MountedPart(part="skerry-165", filters=("solid-165", None)))
    dusk = Conditions(f_number=8.0, focal_mm=20.0, metered_s=1.0 / 15.0)
    return (
        Train(
            id="sea-stacks",
            name="17-35 mm zoom on the sea stacks at dusk",
            optic="brae-17-35",
            front_stack=stack,
            camera="skua-full",
            conditions=dusk,
        ),
        Train(
            id="sea-stacks-slim",
            name="The zoom with its polariser behind the sheets",
            optic="brae-17-35",
            front_stack=slim,
            camera="skua-full",
            conditions=dusk,
        ),
        Train(
            id="bulbous",
            name="12 mm with the slip-on 165 mm holder",
            optic="lantern-12",
            front_stack=large,
            camera="skua-full",
            conditions=Conditions(f_number=8.0),
        ),
    )
