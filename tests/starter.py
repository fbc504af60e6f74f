"""A small workbook of common sizes, all examples, with one train: what many tests begin with.

Values are the usual sizes of the trade, common practice without a source; each waits to be measured.
"""

from farrail.parts.connections import Connection, Gender, Plain, Thread, thread
from farrail.parts.glass import Plate
from farrail.parts.inventory_item import Status
from farrail.parts.kinds.cameras import Camera, Window
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.kinds.seats import FilterDrawer
from farrail.parts.kinds.telescopes import Corrector, Telescope
from farrail.parts.kinds.tubes import Adapter, Shim, Spacer
from farrail.parts.provenance import assumed
from farrail.parts.registers import C_MOUNT_REGISTER_MM, T_MOUNT_REGISTER_MM, t_mount
from farrail.parts.registry import Part
from farrail.train.train import MountedPart, Train
from farrail.units import MM_PER_INCH
from farrail.workbook.workbook import Workbook, check_references

INTERNAL, EXTERNAL = Gender.INTERNAL, Gender.EXTERNAL


def _plate(thickness_mm: float) -> Plate:
    return Plate(thickness_mm=assumed(thickness_mm), index=assumed(1.5168))


def _shelf() -> tuple[Part, ...]:
    m48_in, m48_out = thread(48.0, 0.75, INTERNAL), thread(48.0, 0.75, EXTERNAL)
    c_thread = Thread(diameter_mm=MM_PER_INCH, pitch_mm=round(MM_PER_INCH / 32.0, 5))
    rim = Connection(standard=Plain(diameter_mm=36.0), gender=Gender.NONE, engagement_mm=0.0)
    face = Connection(standard=Plain(diameter_mm=50.0), gender=Gender.NONE, engagement_mm=0.0)
    spacers = tuple(
        Spacer(
            id=f"spacer-{length}", name=f"Spacer {length}", outer_diameter_mm=47.0, front=t_mount(INTERNAL),
            rear=t_mount(EXTERNAL), path_length_mm=assumed(float(length)),
        )
        for length in (5, 7, 10, 15, 20)
    )  # fmt: skip
    return (
        Telescope(
            id="my-telescope", name="My telescope", outer_diameter_mm=90.0, tube_length_mm=300.0, rear=m48_in,
            focal_length_mm=assumed(400.0), aperture_mm=assumed(80.0),
        ),
        Corrector(
            id="my-flattener", name="My flattener", outer_diameter_mm=64.0, front=m48_out, rear=m48_out,
            path_length_mm=assumed(40.0), back_focus_mm=assumed(T_MOUNT_REGISTER_MM, note="the usual T-mount distance"),
            spacing_tolerance_mm=assumed(0.5),
        ),
        Adapter(
            id="ring-48-42", name="Ring 48/42", outer_diameter_mm=54.0, front=m48_in, rear=t_mount(EXTERNAL),
            path_length_mm=assumed(5.0),
        ),
        FilterDrawer(
            id="my-drawer", name="My filter drawer", outer_diameter_mm=66.0, front=t_mount(INTERNAL),
            rear=t_mount(EXTERNAL), path_length_mm=assumed(21.0), seat_mm=assumed(9.0),
        ),
        *spacers,
        Shim(
            id="shim-0-5", name="Shim 0.5", outer_diameter_mm=50.0, front=face, rear=face, owned=2,
            path_length_mm=assumed(0.5),
        ),
        RoundFilter(
            id="my-filter", name="My filter 36", outer_diameter_mm=36.0, front=rim, rear=rim,
            path_length_mm=assumed(2.0), glass=_plate(2.0),
        ),
        Camera(
            id="my-camera", name="My camera", outer_diameter_mm=80.0, front=t_mount(INTERNAL),
            flange_to_sensor_mm=assumed(17.5), sensor_width_mm=assumed(23.5), sensor_height_mm=assumed(15.7),
            window=Window(glass=_plate(1.5), sensor_gap_mm=assumed(6.0)),
        ),
        Camera(
            id="my-small-camera", name="My C-mount camera", outer_diameter_mm=50.0,
            front=Connection(standard=c_thread, gender=INTERNAL), flange_to_sensor_mm=assumed(C_MOUNT_REGISTER_MM),
            sensor_width_mm=assumed(8.8), sensor_height_mm=assumed(6.6),
        ),
    )  # fmt: skip


def starter_workbook() -> Workbook:
    """Return a workbook to begin with: common sizes and one train placed from them."""
    row = ("my-flattener", "ring-48-42", "my-drawer", "spacer-7", "spacer-5")
    laid = tuple(MountedPart(part=p, filters=("my-filter",) if p == "my-drawer" else ()) for p in row)
    train = Train(id="first-train", name="First train", optic="my-telescope", rear_train=laid, camera="my-camera")
    # No one owns an example: typing what was measured on it, or saying so, makes it one's own.
    shelf = tuple(part.model_copy(update={"status": Status.EXAMPLE}) for part in _shelf())
    workbook = Workbook(name="Untitled", shelf=shelf, trains=(train,))
    check_references(workbook)
    return workbook
