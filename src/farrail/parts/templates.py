"""A first version of each kind, every value assumed, for a person to make their own."""

from collections.abc import Callable

from farrail.parts.connections import Bayonet, Connection, Gender, OnlyFits, Plain, thread
from farrail.parts.glass import Plate
from farrail.parts.kinds import (
    Adapter,
    AdjustableSpacer,
    Bellows,
    Camera,
    CameraLens,
    CloseUpLens,
    Corrector,
    CouplingRing,
    ExtensionTube,
    FilterDrawer,
    FilterHolder,
    FilterWheel,
    HolderRing,
    Hood,
    OffAxisGuider,
    Part,
    ReversingRing,
    Rotator,
    RoundFilter,
    SheetFilter,
    Shim,
    Spacer,
    Teleconverter,
    Telescope,
)
from farrail.parts.provenance import assumed
from farrail.parts.registers import T_MOUNT_REGISTER_MM, t_mount

_IN, _OUT = t_mount(Gender.INTERNAL), t_mount(Gender.EXTERNAL)
_M48_IN, _M48_OUT = thread(48.0, 0.75, Gender.INTERNAL), thread(48.0, 0.75, Gender.EXTERNAL)
_BAYONET = Connection(standard=Bayonet(name="44 mm SLR bayonet", throat_mm=42.0), gender=Gender.EXTERNAL)
_BODY = Connection(standard=Bayonet(name="44 mm SLR bayonet", throat_mm=42.0), gender=Gender.INTERNAL)
_HOLDER = OnlyFits(name="100 mm holder", diameter_mm=86.0)
_HOLDER_IN = Connection(standard=_HOLDER, gender=Gender.INTERNAL)
_HOLDER_OUT = Connection(standard=_HOLDER, gender=Gender.EXTERNAL)


def _plain(diameter_mm: float) -> Connection:
    return Connection(standard=Plain(diameter_mm=diameter_mm), gender=Gender.NONE, engagement_mm=0.0)


TEMPLATES: dict[str, Callable[[], Part]] = {
    "spacer": lambda: Spacer(
        id="new-spacer", name="New spacer", outer_diameter_mm=47, front=_IN, rear=_OUT, path_length_mm=assumed(10)
    ),
    "shim": lambda: Shim(
        id="new-shim", name="New shim", outer_diameter_mm=50, front=_plain(50), rear=_plain(50),
        path_length_mm=assumed(0.5),
    ),
    "adapter": lambda: Adapter(
        id="new-adapter", name="New adapter", outer_diameter_mm=54, front=_M48_IN, rear=_OUT, path_length_mm=assumed(5)
    ),
    "adjustable_spacer": lambda: AdjustableSpacer(
        id="new-adjustable", name="New adjustable spacer", outer_diameter_mm=56, front=_IN, rear=_OUT,
        shortest_mm=assumed(10), longest_mm=assumed(15),
    ),
    "rotator": lambda: Rotator(
        id="new-rotator", name="New rotator", outer_diameter_mm=66, front=_IN, rear=_OUT, path_length_mm=assumed(10)
    ),
    "off_axis_guider": lambda: OffAxisGuider(
        id="new-guider", name="New off-axis guider", outer_diameter_mm=70, front=_M48_IN, rear=_M48_OUT,
        path_length_mm=assumed(17),
    ),
    "filter_drawer": lambda: FilterDrawer(
        id="new-drawer", name="New filter drawer", outer_diameter_mm=66, front=_IN, rear=_OUT,
        path_length_mm=assumed(20), seat_mm=assumed(9),
    ),
    "filter_wheel": lambda: FilterWheel(
        id="new-wheel", name="New filter wheel", outer_diameter_mm=150, front=_IN, rear=_OUT, slots=5,
        path_length_mm=assumed(20), seat_mm=assumed(9),
    ),
    "round_filter": lambda: RoundFilter(
        id="new-filter", name="New filter", outer_diameter_mm=36, front=_plain(36), rear=_plain(36),
        path_length_mm=assumed(2), glass=Plate(thickness_mm=assumed(2), index=assumed(1.5168)),
    ),
    "holder_ring": lambda: HolderRing(
        id="new-holder-ring", name="New holder ring", outer_diameter_mm=92,
        front=_HOLDER_OUT, rear=thread(77.0, 0.75, Gender.EXTERNAL), path_length_mm=assumed(5),
        clear_aperture_mm=assumed(73),
    ),
    "filter_holder": lambda: FilterHolder(
        id="new-holder", name="New filter holder", outer_diameter_mm=112,
        front=_plain(100), rear=_HOLDER_IN,
        path_length_mm=assumed(14), slots=2, sheet_width_mm=assumed(100), slot_thickness_mm=assumed(2),
        slot_pitch_mm=assumed(5), first_slot_mm=assumed(5),
    ),
    "coupling_ring": lambda: CouplingRing(
        id="new-coupling", name="New coupling ring", outer_diameter_mm=112, front=_plain(100), rear=_plain(100),
        path_length_mm=assumed(6),
    ),
    "hood": lambda: Hood(
        id="new-hood", name="New hood", outer_diameter_mm=90, front=_plain(84),
        rear=thread(77.0, 0.75, Gender.EXTERNAL), path_length_mm=assumed(25), clear_aperture_mm=assumed(80),
    ),
    "close_up_lens": lambda: CloseUpLens(
        id="new-close-up-lens", name="New close-up lens +4", outer_diameter_mm=56, path_length_mm=assumed(5),
        front=thread(52.0, 0.75, Gender.INTERNAL), rear=thread(52.0, 0.75, Gender.EXTERNAL), dioptres=assumed(4),
        clear_aperture_mm=assumed(49),
    ),
    "extension_tube": lambda: ExtensionTube(
        id="new-tube", name="New extension tube 20", outer_diameter_mm=62, front=_BODY, rear=_BAYONET,
        path_length_mm=assumed(20),
    ),
    "bellows": lambda: Bellows(
        id="new-bellows", name="New bellows", outer_diameter_mm=80, front=_BODY, rear=_BAYONET,
        shortest_mm=assumed(35), longest_mm=assumed(140),
    ),
    "teleconverter": lambda: Teleconverter(
        id="new-teleconverter", name="New teleconverter 1.4×", outer_diameter_mm=64, front=_BODY, rear=_BAYONET,
        path_length_mm=assumed(20), factor=assumed(1.4),
    ),
    "reversing_ring": lambda: ReversingRing(
        id="new-reversing-ring", name="New reversing ring", outer_diameter_mm=62, rear=_BAYONET,
        front=thread(52.0, 0.75, Gender.EXTERNAL), path_length_mm=assumed(7),
    ),
    "sheet_filter": lambda: SheetFilter(
        id="new-sheet", name="New sheet filter", outer_diameter_mm=100, width_mm=assumed(100), height_mm=assumed(150),
        glass=Plate(thickness_mm=assumed(2), index=assumed(1.5168)),
    ),
    "corrector": lambda: Corrector(
        id="new-corrector", name="New corrector", outer_diameter_mm=64, front=_M48_OUT, rear=_M48_OUT,
        path_length_mm=assumed(40), back_focus_mm=assumed(T_MOUNT_REGISTER_MM), spacing_tolerance_mm=assumed(0.5),
    ),
    "telescope": lambda: Telescope(
        id="new-telescope", name="New telescope", outer_diameter_mm=90, rear=_M48_IN, focal_length_mm=assumed(400),
        aperture_mm=assumed(80),
    ),
    "camera_lens": lambda: CameraLens(
        id="new-lens", name="New camera lens", outer_diameter_mm=75, rear=_BAYONET, focal_length_mm=assumed(50),
        f_number=assumed(2), flange_focal_distance_mm=assumed(44), entrance_pupil_depth_mm=assumed(30),
    ),
    "camera": lambda: Camera(
        id="new-camera", name="New camera", outer_diameter_mm=80, front=_IN, flange_to_sensor_mm=assumed(17.5),
        sensor_width_mm=assumed(23.5), sensor_height_mm=assumed(15.7),
    ),
}  # fmt: skip
