"""`far-rail log FILE --frames FOLDER`: what the frames of an evening say, and the log entries they would make."""

from pathlib import Path
from typing import Any

from farrail.cli.edit import locked
from farrail.cli.printing import FINE, print_json
from farrail.errors import BadInput
from farrail.exchange.evening import Proposed, propose
from farrail.exchange.frame_headers import frames_in
from farrail.language import say, say_n
from farrail.workbook.edits.log import ImportObservations
from farrail.workbook.store import read_file, write_file

SOME_LEFT_OUT = 1


def run(file: Path, folder: Path, train_name: str | None, *, apply: bool, as_json: bool) -> int:
    """Print one line for each frame of a folder, and add the entries where that is asked for.

    Returns:
        1 where a frame belongs to no train, or to several.

    Raises:
        FarRailError: the workbook or the train cannot be read, or the folder holds no frames.
    """
    paths = frames_in(folder) if folder.is_dir() else []
    if not paths:
        raise BadInput("{folder} holds no frames; choose a folder with FITS, TIFF or JPEG files.", folder=folder)
    lock = locked(file) if apply else None
    try:
        opened = read_file(file)
        workbook = opened.workbook
        train = None if train_name is None else workbook.train(train_name)
        found = propose(paths, workbook, train)
        entries = tuple(entry for one in found for entry in one.entries)
        if apply and entries:
            write_file(file, ImportObservations(entries).apply(workbook), opened.digest)
    finally:
        if lock is not None:
            lock.release()
    if as_json:
        print_json({"frames": [_data(one, folder) for one in found], "applied": apply and bool(entries)})
    else:
        for one in found:
            whose = "?" if one.train is None else one.train.name
            print(say("{file}  {train}: {words}", file=one.path.relative_to(folder), train=whose, words=one.lines[0]))
        print(_count_words(len(entries), applied=apply))
    return SOME_LEFT_OUT if any(one.train is None for one in found) else FINE


def _count_words(count: int, *, applied: bool) -> str:
    if applied:
        return say_n("{count} entry added to the log.", "{count} entries added to the log.", count, count=count)
    return say_n(
        "{count} entry is possible; --apply adds it to the log.",
        "{count} entries are possible; --apply adds them to the log.",
        count,
        count=count,
    )


def _data(one: Proposed, folder: Path) -> dict[str, Any]:
    return {
        "file": str(one.path.relative_to(folder)),
        "files": [str(path.relative_to(folder)) for path in one.paths],
        "train": None if one.train is None else one.train.id,
        "shows": one.kind,
        "says": list(one.lines),
        "entries": [
            {"kind": entry.kind.model_fields["kind"].default, "day": entry.day, **entry.values} for entry in one.entries
        ],
    }
