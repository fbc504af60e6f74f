"""Hallan Skerry's close-up gear: a normal lens, a macro lens, tubes, close-up lenses, rings; all invented."""

from farrail.parts.connections import Bayonet, Connection, Gender, thread
from farrail.parts.inventory_item import Status
from farrail.parts.kinds.ahead import Hood
from farrail.parts.kinds.closer import Bellows, CloseUpLens, ExtensionTube, ReversingRing, Teleconverter
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.tubes import Adapter
from farrail.parts.provenance import assumed, measured, published
from farrail.parts.registry import Part
from farrail.train.train import Conditions, MountedPart, Train

INTERNAL, EXTERNAL = Gender.INTERNAL, Gender.EXTERNAL
SLR44 = Bayonet(name="44 mm SLR bayonet", throat_mm=42.0)
_BODY = Connection(standard=SLR44, gender=INTERNAL)
_LENS = Connection(standard=SLR44, gender=EXTERNAL)


def _lenses() -> list[Part]:
    return [
        CameraLens(
            id="brae-50",
            name="Brae 50 mm f/2",
            maker="Brae Works",
            outer_diameter_mm=66.0,
            barrel_length_mm=44.0,
            front=thread(52.0, 0.75, INTERNAL, 3.0),
            rear=_LENS,
            focal_length_mm=published(50.0),
            f_number=published(2.0),
            flange_focal_distance_mm=published(44.0, 0.02),
            entrance_pupil_depth_mm=assumed(20.0, note="looked at from the front"),
            exit_pupil_distance_mm=assumed(62.0),
            image_circle_mm=published(43.3),
            nearest_mm=published(450.0),
            nearest_magnification=published(0.14),
            pupil_ratio=assumed(1.1),
        ),
        CameraLens(
            id="kittiwake-90",
            name="Kittiwake 90 mm macro f/2.8",
            maker="Kittiwake",
            outer_diameter_mm=74.0,
            barrel_length_mm=112.0,
            front=thread(62.0, 0.75, INTERNAL, 3.0),
            rear=_LENS,
            focal_length_mm=published(90.0),
            f_number=published(2.8),
            flange_focal_distance_mm=published(44.0, 0.02),
            entrance_pupil_depth_mm=assumed(32.0, note="looked at from the front"),
            exit_pupil_distance_mm=assumed(80.0),
            image_circle_mm=published(43.3),
            nearest_mm=published(290.0),
            nearest_magnification=published(1.0),
            pupil_ratio=measured(1.0),
            hiatus_mm=measured(0.0),
        ),
        CameraLens(
            id="tern-200",
            name="Tern 200 mm f/4",
            maker="Tern Optics",
            outer_diameter_mm=76.0,
            barrel_length_mm=160.0,
            front=thread(62.0, 0.75, INTERNAL, 3.0),
            rear=_LENS,
            focal_length_mm=published(200.0),
            f_number=published(4.0),
            flange_focal_distance_mm=published(44.0, 0.02),
            entrance_pupil_depth_mm=assumed(70.0, note="looked at from the front"),
            exit_pupil_distance_mm=assumed(110.0),
            image_circle_mm=published(43.3),
            nearest_mm=published(1600.0),
            nearest_magnification=published(0.15),
        ),
    ]


def _behind() -> list[Part]:
    def tube(length: float, **more: object) -> Part:
        return ExtensionTube(
            id=f"tube-{length:g}",
            name=f"Skerry tube {length:g}",
            maker="Lantern Room",
            outer_diameter_mm=64.0,
            front=_BODY,
            rear=_LENS,
            path_length_mm=measured(length, 0.05),
            clear_aperture_mm=measured(40.0, 0.2),
            **more,
        )

    return [
        tube(13.0),
        tube(21.0),
        tube(35.0),
        Bellows(
            id="lantern-bellows",
            name="Lantern bellows",
            maker="Lantern Room",
            outer_diameter_mm=96.0,
            front=_BODY,
            rear=_LENS,
            shortest_mm=published(36.0, 0.2),
            longest_mm=published(150.0, 0.5),
            clear_aperture_mm=published(40.0),
            status=Status.WANTED,
            owned=0,
            price=140.0,
        ),
        Teleconverter(
            id="brae-converter",
            name="Brae converter 1.4×",
            maker="Brae Works",
            outer_diameter_mm=64.0,
            front=_BODY,
            rear=_LENS,
            path_length_mm=published(20.0, 0.1),
            factor=published(1.4),
            clear_aperture_mm=published(36.0),
            status=Status.WANTED,
            owned=0,
            price=120.0,
        ),
        ReversingRing(
            id="reverse-52",
            name="Reversing ring 52",
            maker="Skua",
            outer_diameter_mm=62.0,
            front=thread(52.0, 0.75, EXTERNAL, 3.0),
            rear=_LENS,
            path_length_mm=measured(6.5, 0.1),
        ),
    ]


def _ahead() -> list[Part]:
    def close_up(key: str, name: str, size: float, dioptres: float, **more: object) -> Part:
        return CloseUpLens(
            id=key,
            name=name,
            maker="Tern Optics",
            outer_diameter_mm=size + 3.0,
            front=thread(size, 0.75, INTERNAL, 3.0),
            rear=thread(size, 0.75, EXTERNAL, 3.0),
            path_length_mm=measured(5.0, 0.1),
            clear_aperture_mm=measured(size - 3.0, 0.2),
            dioptres=published(dioptres),
            **more,
        )

    return [
        close_up("close-up-1", "Close-up lens +1", 52.0, 1.0),
        close_up("close-up-2", "Close-up lens +2", 52.0, 2.0),
        close_up("close-up-4", "Close-up lens +4", 52.0, 4.0),
        close_up("close-up-10x", "Close-up lens 10x", 52.0, 10.0),
        close_up("achromat-5", "Achromat +5", 62.0, 5.0, achromat=True),
        ReversingRing(
            id="couple-62-52",
            name="Coupling ring 62/52",
            maker="Skua",
            outer_diameter_mm=66.0,
            front=thread(52.0, 0.75, EXTERNAL, 3.0),
            rear=thread(62.0, 0.75, EXTERNAL, 3.0),
            path_length_mm=measured(3.0, 0.1),
        ),
        Adapter(
            id="step-62-52",
            name="Step ring 62 to 52",
            maker="Brae Works",
            outer_diameter_mm=65.0,
            front=thread(52.0, 0.75, INTERNAL, 3.0),
            rear=thread(62.0, 0.75, EXTERNAL, 3.0),
            path_length_mm=measured(3.0, 0.1),
            clear_aperture_mm=measured(49.0, 0.2),
        ),
        Hood(
            id="hood-62",
            name="Hood 62",
            maker="Kittiwake",
            outer_diameter_mm=78.0,
            front=thread(72.0, 0.75, INTERNAL, 3.0),
            rear=thread(62.0, 0.75, EXTERNAL, 3.0),
            path_length_mm=measured(30.0, 0.2),
            clear_aperture_mm=measured(66.0, 0.2),
        ),
    ]


def close_up_gear() -> tuple[Part, ...]:
    """Return the close-up parts of the shelf."""
    return (*_lenses(), *_behind(), *_ahead())


def close_up_trains() -> tuple[Train, ...]:
    """Return the close-up trains: lichen through a normal lens, barnacles through a macro lens."""
    return (
        Train(
            id="lichen",
            name="50 mm lens on lichen",
            optic="brae-50",
            front_stack=(MountedPart(part="close-up-4"), MountedPart(part="close-up-2")),
            rear_train=(MountedPart(part="tube-13"),),
            camera="skua-full",
            conditions=Conditions(f_number=8.0, metered_s=1.0 / 125.0, subject_width_mm=60.0, subject_depth_mm=3.0),
        ),
        Train(
            id="barnacles",
            name="90 mm macro lens on barnacles",
            optic="kittiwake-90",
            front_stack=(MountedPart(part="achromat-5"),),
            rear_train=(MountedPart(part="tube-35"), MountedPart(part="tube-21"), MountedPart(part="tube-13")),
            camera="skua-full",
            conditions=Conditions(f_number=5.6, metered_s=1.0 / 60.0, subject_width_mm=14.0, subject_depth_mm=4.0),
        ),
    )
