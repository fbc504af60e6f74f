"""A folder of frames in one go: which train took each, what it shows, and the log entries it would make.

Nothing is written here: entries are proposed, and made by whoever accepts them.
"""

from collections import defaultdict
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from pathlib import Path

from farrail.cancel import Stopped, never
from farrail.errors import FarRailError
from farrail.exchange.frame_entries import Values, day_of, fields_of, seen_in
from farrail.exchange.frame_files import read_frame
from farrail.exchange.frame_headers import FrameHeader, read_header
from farrail.frames.kinds import FrameKind
from farrail.frames.look import look
from farrail.frames.report import looked_words
from farrail.frames.stars import LEAST_FRAMES
from farrail.frames.watch import Watch
from farrail.language import begun_large, say
from farrail.logbook.kinds.evening import FilterFocus
from farrail.parts.inventory_item import PartId
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
        path: the file; of a run through focus the first.
        train: the train that took it; None where none or several may have.
        kind: what it shows.
        lines: what it says, the verdict first; or why it was left out.
        entries: the entries it would make; () for none.
        paths: all files of a run through focus; () for a frame by itself.
        filter: id of the filter it was taken through; None where the file does not say.
        focus_um: of a run through focus, where the focuser is best.
    """

    path: Path
    train: Train | None
    kind: FrameKind | None
    lines: tuple[str, ...]
    entries: tuple[WriteDown, ...] = ()
    paths: tuple[Path, ...] = ()
    filter: PartId | None = None
    focus_um: float | None = None


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
    """Return what each frame would put into the log, in the order of the files; a run through focus is one.

    Args:
        paths: the frames.
        workbook: its trains are matched with them.
        train: the train that took them; None: found by what the files say.
        stopped: says whether the answer is no longer wanted; what was looked at until then is returned.
        reached: called with how many frames are done, and of how many.
    """
    found: list[Proposed] = []
    todo: list[tuple[FrameHeader, ...]] = []
    for path in paths:
        try:
            todo.append((read_header(path),))
        except FarRailError as error:
            found.append(Proposed(path, None, None, (str(error),)))
    done = len(found)
    for together in _runs([header for (header,) in todo], workbook, train):
        if stopped():
            break
        found.append(_proposed(together, workbook, train, stopped))
        done += len(together)
        reached(done, len(paths))
    order = {path: number for number, path in enumerate(paths)}
    return with_offsets(tuple(sorted(found, key=lambda one: order[one.path])))


def _runs(
    headers: Sequence[FrameHeader], workbook: Workbook, train: Train | None
) -> Iterator[tuple[FrameHeader, ...]]:  # fmt: skip
    """Yield frames by themselves, and frames of stars at several places of the focuser together."""
    runs: dict[object, list[FrameHeader]] = defaultdict(list)
    for header in headers:
        fitting = (train,) if train is not None else trains_of(header, workbook)
        of_run = header.kind is FrameKind.STARS and header.focus_um is not None and len(fitting) == 1
        key = (fitting[0].id, header.filter, header.day, header.rotator_deg) if of_run else header.path
        runs[key].append(header)
    for together in runs.values():
        if len({header.focus_um for header in together}) >= LEAST_FRAMES:
            yield tuple(together)
        else:
            yield from ((header,) for header in together)


def _proposed(
    headers: tuple[FrameHeader, ...], workbook: Workbook, train: Train | None, stopped: Stopped
) -> Proposed:  # fmt: skip
    header = headers[0]
    path, paths = header.path, tuple(one.path for one in headers) if len(headers) > 1 else ()
    try:
        if header.left_out:
            return Proposed(path, None, None, (say("Left out: a dark or bias frame."),))
        fitting = (train,) if train is not None else trains_of(header, workbook)
        if len(fitting) != 1:
            return Proposed(path, None, header.kind, (_unmatched(fitting),))
        if header.kind is None:
            # A photo of anything else, taken for a flat, would accuse a healthy part.
            return Proposed(path, fitting[0], None, (say("The file does not say what it shows; open it by itself."),))
        taken = as_used(header, fitting[0], workbook)
        pictures = [read_frame(one.path, stopped) for one in headers]
        looked = look(header.kind, pictures, read(taken, workbook.by_id), workbook.by_id, Watch(stopped))
    except FarRailError as error:
        return Proposed(path, None, None, (str(error),))
    facts = _facts(header, of_run=bool(paths))
    count = (say("Run through focus, {count} frames.", count=len(paths)),) if paths else ()
    lines = (*looked_words(looked), *count, *facts)
    entries = tuple(
        WriteDown(of_kind, fitting[0].id, day_of((*values, ("day", header.day))), _noted(values, facts))
        for of_kind, values in seen_in(looked)
    )
    best = None if looked.tilt is None else looked.tilt.middle_um.value
    return Proposed(
        path, fitting[0], header.kind, lines, entries, paths, _filter_of(header, fitting[0], workbook), best
    )  # fmt: skip


def _filter_of(header: FrameHeader, train: Train, workbook: Workbook) -> PartId | None:
    place = _slot_of(header.filter, train, workbook) if header.filter else None
    return None if place is None else train.rear_train[place[0]].filters[place[1]]


def with_offsets(found: tuple[Proposed, ...]) -> tuple[Proposed, ...]:
    """Return what frames say, with the focus of each filter beside that of the evening's first run through focus."""
    firsts: dict[tuple[str, str], Proposed] = {}
    done = []
    for one in found:
        run = one.entries[0] if one.focus_um is not None and one.entries else None
        if run is not None and one.train is not None and one.filter is not None:
            first = firsts.setdefault((one.train.id, run.day), one)
            if first.filter not in (None, one.filter) and first.focus_um is not None and one.focus_um is not None:
                values = {"part": one.filter, "position_um": round(one.focus_um, 1), "beside": first.filter,
                          "beside_um": round(first.focus_um, 1)}  # fmt: skip
                offset = WriteDown(FilterFocus, one.train.id, run.day, values)
                one = replace(one, entries=(*one.entries, offset))
        done.append(one)
    return tuple(done)


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


def _facts(header: FrameHeader, *, of_run: bool = False) -> tuple[str, ...]:
    """Return what a file says beside what is looked at: filter, temperature, rotator and focuser."""
    facts = []
    if header.filter:
        facts.append(say("filter {name}", name=header.filter))
    if header.temperature_c is not None:
        facts.append(say("sensor {celsius:.0f} °C", celsius=header.temperature_c))
    if header.rotator_deg is not None:
        facts.append(say("rotator {degrees:.1f}°", degrees=header.rotator_deg))
    if header.focus_um is not None and not of_run:
        facts.append(say("focuser {at:.0f}", at=header.focus_um))
    return (begun_large(say("{listed}.", listed=", ".join(facts))),) if facts else ()
