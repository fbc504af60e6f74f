"""Undo and redo over immutable workbooks, without Qt."""

from dataclasses import dataclass
from typing import Protocol

from pydantic import ValidationError

from farrail.language import Text
from farrail.workbook.bounds import check_bounds, refusal
from farrail.workbook.workbook import Workbook

# A step shares with the next all that it does not change: a thousand of them take a few megabytes.
MOST_STEPS = 1000


class Edit(Protocol):
    """One change a person makes."""

    @property
    def label(self) -> Text:
        """What it does, as the undo menu names it."""

    @property
    def merge_key(self) -> str | None:
        """Edits in a row with the same key count as one step; None never merges."""

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the changed workbook; raises EditRefused when it does not fit."""


@dataclass(frozen=True)
class Step:
    """One undoable step: what it was called, and the workbook before it."""

    label: Text
    merge_key: str | None
    before: Workbook
    after: Workbook


class History:
    """The present workbook, what led to it, and what was undone."""

    def __init__(self, workbook: Workbook, limit: int = MOST_STEPS) -> None:
        """Start with a workbook that counts as saved; keep at most `limit` steps."""
        self._present = workbook
        self._saved = workbook
        self._done: list[Step] = []
        self._undone: list[Step] = []
        self._limit = limit
        # Whether steps were let go because there were too many.
        self._forgotten = False

    @property
    def present(self) -> Workbook:
        """The workbook as it is."""
        return self._present

    @property
    def clean(self) -> bool:
        """Whether the present workbook is the one last saved."""
        return self._present is self._saved

    @property
    def undo_label(self) -> str | None:
        """What undo would take back, or None."""
        return str(self._done[-1].label) if self._done else None

    @property
    def at_the_end_kept(self) -> bool:
        """Whether undo has reached the limit of kept steps."""
        return self._forgotten and not self._done

    @property
    def redo_label(self) -> str | None:
        """What redo would bring back, or None."""
        return str(self._undone[-1].label) if self._undone else None

    def do(self, edit: Edit) -> bool:
        """Apply an edit; returns False when it changed nothing.

        Raises:
            EditRefused: the edit does not fit; nothing has changed.
        """
        before = self._present
        try:
            after = edit.apply(before)
        except ValidationError as error:
            raise refusal(error, str(edit.label)) from None
        if after == before:
            return False
        check_bounds(before, after)
        last = self._done[-1] if self._done else None
        merges = last is not None and edit.merge_key is not None and last.merge_key == edit.merge_key
        if merges and last is not None and last.after is before and before is not self._saved:
            self._done[-1] = Step(edit.label, edit.merge_key, last.before, after)
        else:
            self._done.append(Step(edit.label, edit.merge_key, before, after))
            self._forgotten = self._forgotten or len(self._done) > self._limit
            del self._done[: -self._limit]
        self._undone.clear()
        self._present = after
        return True

    def undo(self) -> str | None:
        """Take the last step back; returns its label, or None when there is none."""
        if not self._done:
            return None
        step = self._done.pop()
        self._undone.append(step)
        self._present = step.before
        return str(step.label)

    def redo(self) -> str | None:
        """Bring the last undone step back; returns its label, or None when there is none."""
        if not self._undone:
            return None
        step = self._undone.pop()
        self._done.append(step)
        self._present = step.after
        return str(step.label)

    def mark_saved(self) -> None:
        """Count the present workbook as saved."""
        self._saved = self._present

    def mark_unsaved(self) -> None:
        """Count no workbook as saved, as after a recovery."""
        self._saved = self._present.model_copy()

    def standing(self) -> "Snapshot":
        """Return where the history is, to come back to should the next step turn out to be no good."""
        return Snapshot(self._present, tuple(self._done), tuple(self._undone))

    def back_to(self, standing: "Snapshot") -> None:
        """Go back there, as if what was done since had not been."""
        self._present = standing.present
        self._done, self._undone = list(standing.done), list(standing.undone)


@dataclass(frozen=True)
class Snapshot:
    """Where a history is: the present workbook, the steps that led to it, the steps undone."""

    present: Workbook
    done: tuple[Step, ...]
    undone: tuple[Step, ...]
