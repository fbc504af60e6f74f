"""Ready-made starting sizes: what can be had almost anywhere, each with where its size comes from.

Sizes are from memory of the trade and marked "common practice" unless a standard is named; every value is assumed
until somebody measures it.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache

from farrail.parts.connections import Bayonet, Connection, Gender, Plain, Thread, thread
from farrail.parts.glass import Plate
from farrail.parts.kinds import (
    Adapter,
    Camera,
    CloseUpLens,
    ExtensionTube,
    Part,
    RoundFilter,
    SheetFilter,
    Shim,
    Spacer,
)
from farrail.parts.provenance import Quantity, assumed
from farrail.parts.registers import (
    BAYONET_REGISTERS_MM,
    C_MOUNT_REGISTER_MM,
    CS_MOUNT_REGISTER_MM,
    T_MOUNT_REGISTER_MM,
    t_mount,
)
from farrail.parts.standard_sizes import SHIM_THICKNESSES_MM, SPACER_LENGTHS_MM
from farrail.units import MM_PER_INCH

COMMON = "common practice"
TRAIN_THREADS = ((28.5, 0.6), (42.0, 0.75), (48.0, 0.75), (54.0, 0.75), (63.0, 1.0), (68.0, 1.0))
FILTER_THREADS_MM = (49, 52, 55, 58, 62, 67, 72, 77, 82, 86, 95, 105)
# Name, size across, clear aperture, cell thread or None for bare glass, thickness of the glass, of the cell.
ROUND_FILTERS = (
    ('1.25"', 30.0, 26.0, (28.5, 0.6), 2.0, 6.0),
    ("31 mm", 31.0, 29.0, None, 2.0, 2.0),
    ("36 mm", 36.0, 34.0, None, 2.0, 2.0),
    ('2"', 50.0, 45.0, (48.0, 0.75), 2.0, 6.0),
    ("50 mm", 50.0, 48.0, None, 3.0, 3.0),
)
SHEETS_MM = ((75, 75), (75, 100), (85, 85), (85, 110), (100, 100), (100, 150), (130, 130), (130, 170), (150, 150),
             (150, 170), (165, 165), (165, 200))  # fmt: skip
CLOSE_UP_THREADS_MM = (49, 52, 55, 58, 62, 67, 72, 77)
CLOSE_UP_DIOPTRES = (1.0, 2.0, 3.0, 4.0, 10.0)
TUBE_LENGTHS_MM = (10.0, 12.0, 16.0, 20.0, 25.0, 36.0)
SENSORS_MM = (
    (44.0, 33.0, COMMON), (36.0, 24.0, "ISO 1007 (35 mm frame), from memory"), (23.5, 15.7, COMMON),
    (22.3, 14.9, COMMON), (17.3, 13.0, COMMON), (13.2, 8.8, COMMON), (11.3, 11.3, COMMON), (8.8, 6.6, COMMON),
    (7.4, 5.0, COMMON), (5.6, 3.2, COMMON),
)  # fmt: skip
CROWN_INDEX = 1.5168
IN, OUT = Gender.INTERNAL, Gender.EXTERNAL


@dataclass(frozen=True)
class ReadyMade:
    """One size that can be put on a shelf: the group it is listed in, the part, and where its size comes from."""

    group: str
    part: Part
    source: str


@cache
def ready_made() -> tuple[ReadyMade, ...]:
    """Return every ready-made size, in reading order."""
    return (
        *_spacers(), *_shims(), *_round_filters(), *_screw_filters(), *_sheets(), *_close_up_lenses(), *_tubes(),
        *_sensors(), *_registers(),
    )  # fmt: skip


def _size(value: float, source: str) -> Quantity:
    return assumed(value, note=source)


def _key(*words: object) -> str:
    text = "-".join(f"{w:g}" if isinstance(w, float) else str(w) for w in words)
    return "ready-" + "".join(c if c.isalnum() else "-" for c in text.lower()).strip("-")


def _plate(thickness_mm: float) -> Plate:
    return Plate(thickness_mm=_size(thickness_mm, COMMON), index=_size(CROWN_INDEX, "crown glass taken"))


def _rim(diameter_mm: float) -> Connection:
    return Connection(standard=Plain(diameter_mm=diameter_mm), gender=Gender.NONE, engagement_mm=0.0)


def _spacers() -> Iterator[ReadyMade]:
    source = f"thread profile ISO 68-1, from memory; sizes {COMMON}"
    for diameter, pitch in TRAIN_THREADS:
        for length in SPACER_LENGTHS_MM:
            part = Spacer(
                id=_key("spacer", diameter, length), name=f"Spacer M{diameter:g}×{pitch:g}, {length:g} mm",
                outer_diameter_mm=diameter + 5.0, front=thread(diameter, pitch, IN), rear=thread(diameter, pitch, OUT),
                path_length_mm=_size(length, COMMON),
            )  # fmt: skip
            yield ReadyMade("spacers", part, source)


def _shims() -> Iterator[ReadyMade]:
    for diameter in (42.0, 48.0, 54.0):
        for thickness in SHIM_THICKNESSES_MM:
            part = Shim(
                id=_key("shim", diameter, thickness), name=f"Shim for M{diameter:g}, {thickness:g} mm",
                outer_diameter_mm=diameter + 8.0, front=_rim(diameter), rear=_rim(diameter),
                path_length_mm=_size(thickness, COMMON),
            )  # fmt: skip
            yield ReadyMade("shims", part, f"{COMMON}; plastic gaskets serve too")


def _round_filters() -> Iterator[ReadyMade]:
    for name, wide, clear, cell, glass, thick in ROUND_FILTERS:
        ends = (_rim(wide), _rim(wide)) if cell is None else (thread(*cell, IN), thread(*cell, OUT))
        part = RoundFilter(
            id=_key("filter", name), name=f"Filter {name}", outer_diameter_mm=wide, front=ends[0], rear=ends[1],
            path_length_mm=_size(thick, COMMON), clear_aperture_mm=_size(clear, COMMON), glass=_plate(glass),
        )  # fmt: skip
        yield ReadyMade("round filters", part, f"{COMMON}; clear {clear:g} mm")


def _screw_filters() -> Iterator[ReadyMade]:
    for size in FILTER_THREADS_MM:
        pitch = 1.0 if size >= 105 else 0.75
        part = RoundFilter(
            id=_key("screw-filter", size), name=f"Screw-in filter {size} mm", outer_diameter_mm=size + 3.0,
            front=thread(size, pitch, IN), rear=thread(size, pitch, OUT), path_length_mm=_size(5.0, COMMON),
            clear_aperture_mm=_size(size - 4.0, COMMON), glass=_plate(2.0),
        )  # fmt: skip
        yield ReadyMade("filter threads", part, f"M{size}×{pitch:g}, {COMMON}")


def _sheets() -> Iterator[ReadyMade]:
    for width, height in SHEETS_MM:
        part = SheetFilter(
            id=_key("sheet", width, height), name=f"Sheet {width} × {height} mm", outer_diameter_mm=float(width),
            width_mm=_size(width, COMMON), height_mm=_size(height, COMMON), glass=_plate(2.0),
        )  # fmt: skip
        yield ReadyMade("sheets", part, COMMON)


def _close_up_lenses() -> Iterator[ReadyMade]:
    for size in CLOSE_UP_THREADS_MM:
        for power in CLOSE_UP_DIOPTRES:
            part = CloseUpLens(
                id=_key("close-up", size, power), name=f"Close-up lens +{power:g}, {size} mm",
                outer_diameter_mm=size + 3.0, front=thread(size, 0.75, IN), rear=thread(size, 0.75, OUT),
                path_length_mm=_size(5.0, COMMON), clear_aperture_mm=_size(size - 4.0, COMMON),
                dioptres=_size(power, COMMON),
            )  # fmt: skip
            note = "; often labelled 10x" if power == 10.0 else ""
            yield ReadyMade("close-up lenses", part, f"{COMMON}{note}")


def _tubes() -> Iterator[ReadyMade]:
    for name, (_, throat) in BAYONET_REGISTERS_MM.items():
        bayonet = Bayonet(name=name, throat_mm=throat)
        for length in TUBE_LENGTHS_MM:
            part = ExtensionTube(
                id=_key("tube", name, length), name=f"Extension tube {length:g} mm, {name}",
                outer_diameter_mm=throat + 20.0, front=Connection(standard=bayonet, gender=IN),
                rear=Connection(standard=bayonet, gender=OUT), path_length_mm=_size(length, COMMON),
            )  # fmt: skip
            yield ReadyMade("extension tubes", part, COMMON)


def _sensors() -> Iterator[ReadyMade]:
    for width, height, source in SENSORS_MM:
        part = Camera(
            id=_key("sensor", width, height), name=f"Camera, {width:g} × {height:g} mm sensor", outer_diameter_mm=80.0,
            front=t_mount(IN), flange_to_sensor_mm=_size(17.5, COMMON), sensor_width_mm=_size(width, source),
            sensor_height_mm=_size(height, source),
        )  # fmt: skip
        yield ReadyMade("sensor formats", part, source)


def _registers() -> Iterator[ReadyMade]:
    c_thread = Thread(diameter_mm=MM_PER_INCH, pitch_mm=round(MM_PER_INCH / 32.0, 5))
    threads = (
        ("M42×0.75 T mount", Thread(diameter_mm=42.0, pitch_mm=0.75), T_MOUNT_REGISTER_MM, COMMON),
        ("C mount", c_thread, C_MOUNT_REGISTER_MM, "ISO 10935, from memory"),
        ("CS mount", c_thread, CS_MOUNT_REGISTER_MM, COMMON),
    )
    for name, standard, register, source in threads:
        front = Connection(standard=standard, gender=IN)
        yield ReadyMade("registers", _body(name, front, register, source), f"{register:.3f} mm, {source}")
    for name, (register, throat) in BAYONET_REGISTERS_MM.items():
        bayonet = Bayonet(name=name, throat_mm=throat)
        front = Connection(standard=bayonet, gender=IN)
        yield ReadyMade("registers", _body(name, front, register, COMMON), f"{register:g} mm, {COMMON}")
        room = register - T_MOUNT_REGISTER_MM
        if room < 0:
            ring = Adapter(
                id=_key("adapter", name), name=f"M42 T mount to {name}", outer_diameter_mm=62.0, front=t_mount(IN),
                rear=Connection(standard=bayonet, gender=OUT), path_length_mm=_size(-room, "55 less the register"),
            )  # fmt: skip
            yield ReadyMade("registers", ring, f"{-room:g} mm long, 55 less the register")


def _body(name: str, front: Connection, register_mm: float, source: str) -> Camera:
    return Camera(
        id=_key("body", name), name=f"Camera body, {name}", outer_diameter_mm=90.0, front=front,
        flange_to_sensor_mm=_size(register_mm, source), sensor_width_mm=_size(36.0, COMMON),
        sensor_height_mm=_size(24.0, COMMON),
    )  # fmt: skip
