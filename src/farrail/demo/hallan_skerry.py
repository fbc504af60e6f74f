"""Hallan Skerry: the invented island club's trains, built the same every time.

Everything here is invented: makers, parts and numbers. It shows a train that lands, the same with a spacer
missing, a reflector with a full wheel, and a still lens on the cooled camera.
"""

from functools import cache

from farrail.demo.close_up_gear import close_up_gear, close_up_trains
from farrail.demo.front_gear import front_gear, front_trains
from farrail.demo.season import with_season
from farrail.parts.connections import Bayonet, Connection, Gender, Nosepiece, Plain, Thread, thread
from farrail.parts.glass import Plate
from farrail.parts.inventory_item import Status
from farrail.parts.kinds.cameras import Camera, FrontRing, Window
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.kinds.guiders import OffAxisGuider
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.seats import FilterDrawer, FilterWheel
from farrail.parts.kinds.telescopes import Corrector, Telescope
from farrail.parts.kinds.tubes import Adapter, AdjustableSpacer, Rotator, Shim, Spacer
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, Reading, assumed, measured, published, unknown
from farrail.parts.registers import T_MOUNT_REGISTER_MM, t_mount
from farrail.parts.registry import Part
from farrail.train.train import Conditions, MountedPart, Target, Train
from farrail.workbook.workbook import Kit, Workbook, check_references

INTERNAL, EXTERNAL = Gender.INTERNAL, Gender.EXTERNAL
M48 = Thread(diameter_mm=48.0, pitch_mm=0.75)
M54 = Thread(diameter_mm=54.0, pitch_mm=0.75)
SLR44 = Bayonet(name="44 mm SLR bayonet", throat_mm=42.0)

# Common optical glasses by type (models.md): borosilicate crown 1.5168, fused silica 1.4585.
CROWN_INDEX = 1.5168
SKERRY_KIT = "Skerry ring set"


def _end(standard: Thread | Bayonet | Nosepiece, gender: Gender, depth_mm: float = 4.0) -> Connection:
    return Connection(standard=standard, gender=gender, engagement_mm=depth_mm)


def _crown(thickness_mm: float) -> Plate:
    return Plate(thickness_mm=published(thickness_mm, 0.05), index=assumed(CROWN_INDEX, note="crown glass taken"))


def _optics() -> list[Part]:
    return [
        Telescope(
            id="tern-72", name="Tern 72", maker="Tern Optics", outer_diameter_mm=90.0, tube_length_mm=300.0,
            rear=_end(M54, INTERNAL, 6.0), focal_length_mm=published(430.0), aperture_mm=published(72.0),
            drawtube_length_mm=measured(90.0, 1.0), drawtube_clear_mm=measured(56.0, 0.5),
            focal_plane_mm=measured(140.0, 1.0), focuser_travel_mm=published(80.0),
            note="72 mm f/6 doublet on the gallery rail.",
        ),
        Corrector(
            id="tern-flattener", name="Tern flattener", maker="Tern Optics", outer_diameter_mm=64.0,
            front=_end(M54, EXTERNAL, 6.0), rear=_end(M48, EXTERNAL), path_length_mm=measured(46.0, 0.05),
            clear_aperture_mm=published(44.0), datum="rear shoulder",
            back_focus_mm=Quantity(
                readings=(
                    Reading(value=T_MOUNT_REGISTER_MM, origin=Origin.PUBLISHED, note="manual, page 4"),
                    Reading(value=55.25, origin=Origin.PUBLISHED, note="maker's drawing"),
                )
            ),
            spacing_tolerance_mm=published(0.5, note="manual, page 5"),
            exit_pupil_distance_mm=published(330.0), image_circle_mm=published(40.0, note="manual, page 5"),
        ),
        Telescope(
            id="lantern-150", name="Lantern 150 reflector", maker="Lantern Room", outer_diameter_mm=182.0,
            tube_length_mm=520.0, rear=_end(Nosepiece(diameter_mm=50.8), INTERNAL, 30.0),
            focal_length_mm=published(600.0), aperture_mm=published(150.0), obstruction_mm=measured(52.0, 0.5),
            focal_plane_mm=measured(105.0, 1.0), focuser_travel_mm=published(35.0),
        ),
        Corrector(
            id="coma-corrector", name="Lantern coma corrector", maker="Lantern Room", outer_diameter_mm=58.0,
            front=_end(Nosepiece(diameter_mm=50.8), EXTERNAL, 30.0), rear=_end(M48, EXTERNAL),
            path_length_mm=published(32.0, 0.1), clear_aperture_mm=published(46.0), datum="rear shoulder",
            back_focus_mm=published(55.0, note="leaflet"), spacing_tolerance_mm=published(0.4, note="leaflet"),
            exit_pupil_distance_mm=published(520.0), image_circle_mm=published(26.0, note="leaflet"),
        ),
        CameraLens(
            id="brae-85", name="Brae 85 mm f/1.8", maker="Brae Works", outer_diameter_mm=80.0, barrel_length_mm=78.0,
            front=Connection(standard=Thread(diameter_mm=67.0, pitch_mm=0.75), gender=INTERNAL, engagement_mm=3.0),
            rear=_end(SLR44, EXTERNAL, 5.0), focal_length_mm=published(85.0), f_number=published(1.8),
            flange_focal_distance_mm=published(44.0, 0.02, "register of the 44 mm SLR bayonet"),
            entrance_pupil_depth_mm=assumed(34.0, note="looked at from the front"),
            exit_pupil_distance_mm=assumed(72.0), image_circle_mm=published(43.3),
        ),
    ]  # fmt: skip


def _cameras() -> list[Part]:
    window = Window(glass=_crown(1.5), sensor_gap_mm=published(6.0), allowed_for=True)
    silent = Window(glass=_crown(1.0), sensor_gap_mm=published(5.0), allowed_for=None)
    return [
        Camera(
            id="skua-apsc", name="Skua APS-C cooled", maker="Skua", outer_diameter_mm=80.0,
            front=t_mount(INTERNAL), flange_to_sensor_mm=published(12.5, 0.1), sensor_width_mm=published(23.5),
            sensor_height_mm=published(15.7), pixel_size_um=published(3.76), window=window,
            front_ring=FrontRing(length_mm=published(5.0, 0.05), behind=t_mount(INTERNAL)),
        ),
        Camera(
            id="skua-four-thirds", name="Skua 4/3 cooled", maker="Skua", outer_diameter_mm=78.0,
            front=t_mount(INTERNAL), flange_to_sensor_mm=published(17.5, 0.1), sensor_width_mm=published(17.3),
            sensor_height_mm=published(13.0), pixel_size_um=published(4.63), window=silent,
        ),
    ]  # fmt: skip


def _filters() -> list[Part]:
    def unmounted(
        key: str, name: str, size: float, clear: float, thickness: float, line: float | None = None, owned: int = 1
    ) -> RoundFilter:  # fmt: skip
        rim = Connection(standard=Plain(diameter_mm=size), gender=Gender.NONE, engagement_mm=0.0)
        return RoundFilter(
            id=key, name=name, maker="Kittiwake", outer_diameter_mm=size, front=rim, rear=rim, owned=owned,
            path_length_mm=published(thickness), clear_aperture_mm=published(clear), glass=_crown(thickness),
            line_nm=None if line is None else published(line), passband_nm=None if line is None else published(7.0),
            effective_index=None if line is None else assumed(2.0, note="usual for such coatings"),
        )  # fmt: skip

    return [
        unmounted("dual-band-36", "Dual band 36", 36.0, 34.0, 2.0),
        unmounted("clear-36", "Clear 36", 36.0, 34.0, 1.0),
        unmounted("luminance-31", "Luminance 31", 31.0, 29.0, 2.0),
        unmounted("red-31", "Red 31", 31.0, 29.0, 2.0),
        unmounted("green-31", "Green 31", 31.0, 29.0, 2.0),
        unmounted("blue-31", "Blue 31", 31.0, 29.0, 2.0),
        unmounted("hydrogen-31", "Hydrogen 31", 31.0, 29.0, 3.0, 656.3),
        unmounted("oxygen-31", "Oxygen 31", 31.0, 29.0, 3.0, 500.7),
        unmounted("sulphur-31", "Sulphur 31", 31.0, 29.0, 3.0, 672.4),
        unmounted("dual-band-26", "Dual band 26", 28.0, 26.0, 2.0),
    ]


def _tubes() -> list[Part]:
    m42 = Thread(diameter_mm=42.0, pitch_mm=0.75)

    def ring(key: str, name: str, length: Quantity, outer: float = 47.0, maker: str = "Brae Works") -> Spacer:
        return Spacer(
            id=key, name=name, maker=maker, outer_diameter_mm=outer, front=t_mount(INTERNAL),
            rear=t_mount(EXTERNAL), path_length_mm=length, clear_aperture_mm=measured(38.5, 0.1),
        )  # fmt: skip

    def shim(key: str, name: str, thickness: float, owned: int) -> Shim:
        face = Connection(standard=Plain(diameter_mm=50.0), gender=Gender.NONE, engagement_mm=0.0)
        return Shim(
            id=key, name=name, maker="Brae Works", outer_diameter_mm=50.0, front=face, rear=face, owned=owned,
            path_length_mm=measured(thickness, 0.01),
        )  # fmt: skip

    def holding(end: str, length: float, engaged: float) -> Spacer:
        """One of two rings narrow enough inside to hold bare 36 mm glass between them."""
        return Spacer(
            id=f"holding-{end}", name=f"Holding ring, {end}", maker="Kittiwake", outer_diameter_mm=48.0,
            front=thread(42.0, 0.75, INTERNAL, 4.5), rear=thread(42.0, 0.75, EXTERNAL, engaged),
            path_length_mm=measured(length, 0.02), clear_aperture_mm=measured(34.5, 0.1),
        )  # fmt: skip

    return [
        Adapter(
            id="ring-48-42", name="Ring 48/42", maker="Brae Works", outer_diameter_mm=54.0, front=_end(M48, INTERNAL),
            rear=t_mount(EXTERNAL), path_length_mm=measured(9.0, 0.02), clear_aperture_mm=measured(39.0, 0.1),
        ),
        Adapter(
            id="ring-48-48", name="Ring 48/48, thin", maker="Brae Works", outer_diameter_mm=54.0,
            front=_end(M48, INTERNAL), rear=_end(M48, EXTERNAL), path_length_mm=measured(2.5, 0.02),
            clear_aperture_mm=measured(44.0, 0.1),
        ),
        Adapter(
            id="slr44-42", name="44 mm bayonet to M42", maker="Brae Works", outer_diameter_mm=62.0,
            front=_end(SLR44, INTERNAL, 5.0), rear=t_mount(EXTERNAL), path_length_mm=published(11.0, 0.05),
            clear_aperture_mm=published(39.0),
        ),
        ring("spacer-5", "Spacer 5", measured(5.0, 0.02)),
        ring("spacer-8-7", "Spacer 8.7", measured(8.7, 0.02)),
        ring("spacer-12", "Spacer 12", published(12.0, 0.05)),
        ring("spacer-20", "Spacer 20", published(20.0, 0.05)),
        ring("spacer-2", "Spacer 2", assumed(2.0, note="no caliper at hand")),
        AdjustableSpacer(
            id="helix-13", name="Adjustable ring 10 to 15", maker="Brae Works", outer_diameter_mm=56.0,
            front=Connection(standard=m42, gender=INTERNAL), rear=Connection(standard=m42, gender=EXTERNAL),
            shortest_mm=published(10.0, 0.05), longest_mm=published(15.0, 0.05), clear_aperture_mm=published(38.0),
        ),
        *(holding(*end) for end in (("front", 3.0, 2.0), ("rear", 3.0, 4.0))),
        *(
            ring(f"skerry-{key}", f"Skerry ring {key}", published(length, 0.02)).model_copy(
                update={"maker": "Lantern Room", "owned": 1, "status": Status.WANTED, "kit": SKERRY_KIT}
            )
            for key, length in (("3", 3.0), ("4", 4.0), ("6", 6.0))
        ),
        shim("shim-0-2", "Shim 0.2", 0.2, 4),
        shim("shim-0-5", "Shim 0.5", 0.5, 2),
        shim("shim-1-0", "Shim 1.0", 1.0, 2),
        Rotator(
            id="kittiwake-rotator", name="Rotator 9.5", maker="Kittiwake", outer_diameter_mm=68.0,
            front=t_mount(INTERNAL), rear=t_mount(EXTERNAL), path_length_mm=published(9.5, 0.1),
            clear_aperture_mm=published(38.0),
        ),
        FilterDrawer(
            id="kittiwake-drawer", name="Kittiwake drawer", maker="Kittiwake", outer_diameter_mm=66.0,
            front=t_mount(INTERNAL), rear=t_mount(EXTERNAL), path_length_mm=published(20.5, 0.1),
            clear_aperture_mm=published(38.0), seat_mm=measured(9.0, 0.2), seat_aperture_mm=published(34.5),
            seat_diameter_mm=published(36.2), seat_thickness_mm=published(3.0), handle_reach_mm=measured(41.0, 0.5),
        ),
        OffAxisGuider(
            id="kittiwake-guider", name="Off-axis guider", maker="Kittiwake", outer_diameter_mm=72.0,
            front=_end(M48, INTERNAL), rear=_end(M48, EXTERNAL), path_length_mm=published(17.0, 0.1),
            clear_aperture_mm=published(44.0), prism_edge_mm=measured(12.0, 0.2), prism_width_mm=published(8.0),
            prism_height_mm=published(8.0), prism_at_mm=published(8.5), guide_port_mm=published(22.0),
        ),
        FilterWheel(
            id="kittiwake-wheel-5", name="Five-slot wheel", maker="Kittiwake", outer_diameter_mm=130.0, slots=5,
            front=_end(M48, INTERNAL), rear=_end(M48, INTERNAL), path_length_mm=published(20.0, 0.1),
            clear_aperture_mm=published(42.0), seat_mm=measured(4.5, 0.2), seat_aperture_mm=measured(29.5, 0.1),
            seat_diameter_mm=published(31.2),
        ),
        Adapter(
            id="ring-48-42-male", name="Ring 48/42, both male", maker="Brae Works", outer_diameter_mm=54.0,
            front=_end(M48, EXTERNAL), rear=t_mount(EXTERNAL), path_length_mm=measured(1.5, 0.02),
            clear_aperture_mm=measured(39.0, 0.1),
        ),
        FilterWheel(
            id="kittiwake-wheel", name="Seven-slot wheel", maker="Kittiwake", outer_diameter_mm=150.0, slots=7,
            front=_end(M48, INTERNAL), rear=t_mount(EXTERNAL), path_length_mm=published(18.6, 0.1),
            clear_aperture_mm=published(38.0), seat_mm=unknown(6.0, 12.0, "closed; not opened yet"),
            seat_aperture_mm=assumed(29.5, note="ledge for 31 mm filters"), seat_diameter_mm=published(31.2),
            overhang_front_mm=measured(1.5, 0.1), overhang_clear_mm=measured(76.0, 0.5),
        ),
    ]  # fmt: skip


def _trains() -> tuple[Train, ...]:
    drawer = MountedPart(part="kittiwake-drawer", filters=("dual-band-36", "clear-36"), in_beam=0)
    good = (
        MountedPart(part="tern-flattener"),
        MountedPart(part="ring-48-42"),
        drawer,
        MountedPart(part="spacer-8-7"),
        MountedPart(part="spacer-5"),
    )
    wheel = MountedPart(
        part="kittiwake-wheel",
        filters=("luminance-31", "red-31", "green-31", "blue-31", "hydrogen-31", "oxygen-31", "sulphur-31"),
        in_beam=0,
    )
    reflector = (
        MountedPart(part="coma-corrector"),
        MountedPart(part="ring-48-48"),
        MountedPart(part="kittiwake-guider"),
        wheel,
    )
    held = ("slr44-42", "holding-front", "dual-band-36", "holding-rear", "spacer-12", "spacer-2")
    reversed_wheel = (
        MountedPart(part="coma-corrector"),
        MountedPart(part="kittiwake-guider"),
        MountedPart(part="kittiwake-wheel-5", filters=("luminance-31", "red-31", "green-31", "blue-31", "hydrogen-31")),
        MountedPart(part="ring-48-42-male"),
        MountedPart(part="spacer-5"),
    )
    lens = (MountedPart(part="slr44-42"), MountedPart(part="kittiwake-drawer", filters=("dual-band-36",), in_beam=0))
    return (
        Train(
            id="witch-broom",
            name="Tern 72 on the Witch Broom",
            optic="tern-72",
            rear_train=good,
            camera="skua-apsc",
            conditions=Conditions(
                target=Target(name="Witch Broom", width_arcmin=165.0, height_arcmin=70.0, turned_deg=24.0)
            ),
        ),
        Train(
            id="witch-broom-short",
            name="Tern 72, a spacer missing",
            optic="tern-72",
            rear_train=good[:-1],
            camera="skua-apsc",
        ),
        Train(
            id="lantern-wheel",
            name="Lantern 150 with its wheel",
            optic="lantern-150",
            rear_train=reflector,
            camera="skua-four-thirds",
        ),
        Train(
            id="lantern-apsc",
            name="Lantern 150, the larger sensor tried",
            optic="lantern-150",
            rear_train=(*reflector, MountedPart(part="spacer-5")),
            camera="skua-apsc",
        ),
        Train(
            id="lantern-reversed",
            name="Lantern 150, its wheel the wrong way round",
            optic="lantern-150",
            rear_train=reversed_wheel,
            camera="skua-apsc",
        ),
        Train(
            id="brae-cooled",
            name="85 mm lens on the cooled camera",
            optic="brae-85",
            rear_train=lens,
            camera="skua-apsc",
            conditions=Conditions(f_number=2.8),
        ),
        Train(
            id="brae-held",
            name="85 mm lens, its filter between two rings",
            optic="brae-85",
            rear_train=tuple(MountedPart(part=p) for p in held),
            camera="skua-apsc",
            conditions=Conditions(f_number=2.8),
        ),
    )


@cache
def demo_workbook() -> Workbook:
    """Return the demo workbook."""
    shelf = (*_optics(), *_tubes(), *_filters(), *_cameras(), *front_gear(), *close_up_gear())
    kits = (Kit(name=SKERRY_KIT, price=38.0),)
    trains = (*_trains(), *front_trains(), *close_up_trains())
    workbook = with_season(Workbook(name="Hallan Skerry", shelf=shelf, trains=trains, kits=kits))
    check_references(workbook)
    return workbook
