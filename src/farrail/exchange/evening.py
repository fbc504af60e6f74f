"""A folder of frames in one go: which train took each, what it shows, and the log entries it would make.

Nothing is written here: entries are proposed, and made by whoever accepts them.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path

from farrail.cancel import Stopped, never
from farrail.errors import FarRailError
from farrail.exchange.frame_entries import Values, day_of, fields_of, seen_in
from farrail.exchange.frame_files import read_frame
from farrail.exchange.frame_headers import FrameHeader, read_header
from farrail.frames.kinds import FrameKind
from farrail.frames.look import look
from farrail.frames.report import looked_words
from farrail.frames.watch import Watch
from farrail.language import begun_large, say
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.lenses import CameraLens
from farrail.readouts.read import read
from farrail.train.train import Side, Train
from farrail.units import MICROMETRES_PER_MM
from farrail.workbook.edits.log import WriteDown
from farrail.workbook.workbook import Workbook

# Sides of a sensor and a focal length may be off by these shares and still be the train's.
SIDES_OFF, FOCAL_OFF = 0.04, 0.12
Reached = Callable[[int, int], None]


@dataclass(frozen=True)
class Proposed:
    """What one frame of a folder would put into the log.

    Attributes:
        path: the file.
        train: the train that took it; None where none or several may have.
        kind: what it shows.
        lines: what it says, the verdict first; or why it was left out.
        entries: the entries it would make; () for none.
    """

    path: Path
    train: Train | None
    kind: FrameKind | None
    lines: tuple[str, ...]
    entries: tuple[WriteDown, ...] = ()


def trains_of(header: FrameHeader, workbook: Workbook) -> tuple[Train, ...]:
    """Return the trains that may have taken a frame: by sensor, pixels and focal length; with its filter, if any."""
    fitting = [train for train in workbook.trains if _fits(header, train, workbook)]
    if header.filter:
        with_it = [train for train in fitting if _slot_of(header.filter, train, workbook) is not None]
        fitting = with_it or fitting
    return tuple(fitting)


def _fits(header: FrameHeader, train: Train, workbook: Workbook) -> bool:
    camera = workbook.by_id.get(train.camera or "")
    if not isinstance(camera, Camera):
        return False
    wide, high = camera.sensor_width_mm.value, camera.sensor_height_mm.value
    if abs(header.columns / header.rows * high / wide - 1.0) > SIDES_OFF:
        return False
    # Without the size of its pixels a frame may be binned or made smaller.
    pixel = header.pixel_um
    if pixel is not None and abs(header.columns * pixel / MICROMETRES_PER_MM / wide - 1.0) > SIDES_OFF:
        return False
    if header.focal_mm is None:
        return True
    optic = workbook.by_id.get(train.optic)
    lens_low = lens_high = read(train, workbook.by_id).layout.first_order.focal_length.value
    if isinstance(optic, CameraLens) and optic.longest_focal_mm is not None:
        lens_low, lens_high = optic.focal_length_mm.value, optic.longest_focal_mm.value
    return lens_low * (1.0 - FOCAL_OFF) <= header.focal_mm <= lens_high * (1.0 + FOCAL_OFF)


def _slot_of(name: str, train: Train, workbook: Workbook) -> tuple[int, int] | None:
    """Return where a filter is in a train by its name, or by how its name begins: member and slot."""
    wanted = name.casefold().strip()
    for exact in (True, False):
        for index, mounted in enumerate(train.row(Side.REAR)):
            for slot, part in enumerate(mounted.filters):
                known = workbook.by_id[part].name.casefold() if part in workbook.by_id else ""
                if known and (known == wanted if exact else known.split(" ")[0].startswith(wanted)):
                    return index, slot
    return None


def as_used(header: FrameHeader, train: Train, workbook: Workbook) -> Train:
    """Return a train with the frame's filter turned into its beam."""
    place = _slot_of(header.filter, train, workbook) if header.filter else None
    if place is None:
        return train
    index, slot = place
    row = list(train.rear_train)
    row[index] = row[index].model_copy(update={"in_beam": slot})
    return train.model_copy(update={"rear_train": tuple(row)})


def propose(
    paths: Sequence[Path], workbook: Workbook, train: Train | None = None,
    stopped: Stopped = never, reached: Reached = lambda *_: None,
) -> tuple[Proposed, ...]:  # fmt: skip
    """Return what each frame would put into the log, in the order of the files.

    Args:
        paths: the frames.
        workbook: its trains are matched with them.
        train: the train that took them; None: found by what the files say.
        stopped: says whether the answer is no longer wanted; what was looked at until then is returned.
        reached: called with how many frames are done, and of how many.
    """
    found = []
    for number, path in enumerate(paths):
        if stopped():
            break
        found.append(_proposed(path, workbook, train, stopped))
        reached(number + 1, len(paths))
    return tuple(found)


def _proposed(path: Path, workbook: Workbook, train: Train | None, stopped: Stopped) -> Proposed:
    try:
        header = read_header(path)
        if header.left_out:
            return Proposed(path, None, None, (say("Left out: a dark or bias frame."),))
        fitting = (train,) if train is not None else trains_of(header, workbook)
        if len(fitting) != 1:
            return Proposed(path, None, header.kind, (_unmatched(fitting),))
        if header.kind is None:
            # A photo of anything else, taken for a flat, would accuse a healthy part.
            return Proposed(path, fitting[0], None, (say("The file does not say what it shows; open it by itself."),))
        taken = as_used(header, fitting[0], workbook)
        looked = look(
            header.kind, [read_frame(path, stopped)], read(taken, workbook.by_id), workbook.by_id, Watch(stopped)
        )
    except FarRailError as error:
        return Proposed(path, None, None, (str(error),))
    facts = _facts(header)
    lines = (*looked_words(looked), *facts)
    entries = tuple(
        WriteDown(of_kind, fitting[0].id, day_of((*values, ("day", header.day))), _noted(values, facts))
        for of_kind, values in seen_in(looked)
    )
    return Proposed(path, fitting[0], header.kind, lines, entries)


def _unmatched(fitting: Sequence[Train]) -> str:
    if not fitting:
        return say("No train has this sensor and focal length.")
    listed = ", ".join(one.name for one in fitting[:4])
    return say("Several trains may have taken it: {listed}. Choose one.", listed=listed)


def _noted(values: Values, facts: Sequence[str]) -> dict[str, object]:
    """Return an entry's values with what its file says of the evening at the end of its note."""
    entry = fields_of(values)
    if facts and "note" in entry:
        entry["note"] = " ".join([str(entry["note"]), *facts])[:2000]
    return entry


def _facts(header: FrameHeader) -> tuple[str, ...]:
    """Return what a file says beside what is looked at: filter, temperature, rotator and focuser."""
    facts = []
    if header.filter:
        facts.append(say("filter {name}", name=header.filter))
    if header.temperature_c is not None:
        facts.append(say("sensor {celsius:.0f} °C", celsius=header.temperature_c))
    if header.rotator_deg is not None:
        facts.append(say("rotator {degrees:.1f}°", degrees=header.rotator_deg))
    if header.focus_um is not None:
        facts.append(say("focuser {at:.0f}", at=header.focus_um))
    return (begun_large(say("{listed}.", listed=", ".join(facts))),) if facts else ()
