"""Earlier versions of a file: the last one as `.bak`, and older ones thinned by age.

`.bak` is always the version before the last save. What it pushes out becomes `.bak2` only when the one there is
older by ten minutes at least, and `.bak3` likewise by a day: three saves within a minute do not push last week's
work out.
"""

import contextlib
import os
import re
from pathlib import Path

from farrail.workbook.safe_files import short_name, sync_folder, take_mode, written_beside

KEPT = 3
# How much older than its successor each further backup is at least.
APART_S = (0.0, 600.0, 86_400.0)
MOST_KEPT = 9


def backup_of(path: Path, number: int = 1) -> Path:
    """Return where an earlier version is kept: 1 for the version before the last save, then older ones."""
    return path.with_name(short_name(path.name, 5) + (".bak" if number == 1 else f".bak{number}"))


def original_of(path: Path) -> Path | None:
    """Return the file that a backup is an earlier version of, by its name; None for a name that is no backup's."""
    found = re.fullmatch(r"(.+)\.bak[2-9]?", path.name)
    return None if found is None else path.with_name(found[1])


def keep_version(path: Path, data: bytes, kept: int = KEPT) -> None:
    """Keep the bytes a file holds as its newest backup, moving older ones on.

    Args:
        path: the file, still as it was.
        data: what it holds.
        kept: how many versions to keep; 0 keeps none.

    Raises:
        OSError: nothing was moved that is not still there under a name.
    """
    if kept <= 0:
        return
    newest = backup_of(path)
    with written_beside(newest, data) as temporary:
        take_mode(temporary, path)
        _move_on(path, 1, min(kept, MOST_KEPT))
        found = path.stat()
        temporary.replace(newest)
        _take_age(newest, found)
    sync_folder(path.parent)


def _move_on(path: Path, number: int, kept: int) -> None:
    """Copy backup `number` one further where it is old enough against the one there; the last kept one is let go."""
    here, further = backup_of(path, number), backup_of(path, number + 1)
    if number >= kept or not here.exists():
        return
    apart = APART_S[min(number, len(APART_S) - 1)]
    if further.exists() and here.stat().st_mtime - further.stat().st_mtime < apart:
        return
    _move_on(path, number + 1, kept)
    with contextlib.suppress(FileNotFoundError):
        further.unlink()
    try:
        # A second name for the same bytes: at no moment is the version without one.
        os.link(here, further)
    except OSError:
        # A disk that knows no second names, such as a memory card's.
        with written_beside(further, here.read_bytes()) as temporary:
            take_mode(temporary, here)
            temporary.replace(further)
        _take_age(further, here.stat())


def _take_age(copy: Path, of: os.stat_result) -> None:
    """Give a copy the age of the version it holds: thinning goes by that."""
    with contextlib.suppress(OSError):
        os.utime(copy, (of.st_atime, of.st_mtime))
