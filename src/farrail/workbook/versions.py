"""Earlier versions of a workbook's file: which there are, and what restoring one would change."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from pathlib import Path

from farrail.parts.frozen import Frozen
from farrail.workbook.backups import MOST_KEPT, backup_of
from farrail.workbook.workbook import Workbook

# Records with their names, by id.
ById = Mapping[str, tuple[str, Frozen]]


class Records(StrEnum):
    """What a workbook holds."""

    PARTS = "parts"
    TRAINS = "trains"
    LOG = "log"


@dataclass(frozen=True)
class Version:
    """An earlier version of a file.

    Attributes:
        path: where it is kept.
        saved_at: when it was saved, in seconds since 1970.
    """

    path: Path
    saved_at: float


@dataclass(frozen=True)
class Change:
    """What restoring a version changes in one kind of record.

    Attributes:
        records: which kind.
        back: names of those that come back.
        gone: names of those that go.
        other: names of those that get other values.
    """

    records: Records
    back: tuple[str, ...]
    gone: tuple[str, ...]
    other: tuple[str, ...]


@dataclass(frozen=True)
class RestoreVersion:
    """Go back to an earlier version of the workbook, as one step of undo."""

    version: Workbook
    label: str
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:  # noqa: ARG002 (every edit is applied to a workbook)
        """Return the earlier version."""
        return self.version


def versions_of(path: Path) -> tuple[Version, ...]:
    """Return the earlier versions kept of a file, the newest first."""
    found = []
    for number in range(1, MOST_KEPT + 1):
        kept = backup_of(path, number)
        if kept.is_file():
            found.append(Version(kept, kept.stat().st_mtime))
    return tuple(found)


def changes_between(now: Workbook, then: Workbook) -> tuple[Change, ...]:
    """Return what restoring an earlier version changes, by kind of record; nothing for those that stay as they are.

    Args:
        now: the workbook as it is.
        then: the earlier version.
    """
    changes = (
        _change(Records.PARTS, _named(now.shelf), _named(then.shelf)),
        _change(Records.TRAINS, _named(now.trains), _named(then.trains)),
        _change(Records.LOG, _dated(now), _dated(then)),
    )
    return tuple(one for one in changes if one.back or one.gone or one.other)


def _named(records: Iterable[Frozen]) -> ById:
    return {record.id: (record.name, record) for record in records}  # type: ignore[attr-defined]


def _dated(workbook: Workbook) -> ById:
    return {seen.id: (f"{seen.kind_name}, {seen.day}", seen) for seen in workbook.log}


def _change(records: Records, now: ById, then: ById) -> Change:
    return Change(
        records,
        back=tuple(name for key, (name, _) in then.items() if key not in now),
        gone=tuple(name for key, (name, _) in now.items() if key not in then),
        other=tuple(name for key, (name, record) in then.items() if key in now and now[key][1] != record),
    )
