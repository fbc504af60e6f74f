"""Commands about files: new, open, save, recent, the guard of unsaved work, and recovery."""

import json
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtCore import QObject, QSettings, QUrl, Signal
from PySide6.QtGui import QDesktopServices
from PySide6.QtWidgets import QFileDialog, QMenu, QWidget

from farrail.errors import ChangedOutside, FarRailError, ReadOnlyFile
from farrail.language import joined, say, say_n
from farrail.readouts.headlines import train_headline
from farrail.ui.actions.leaving import Leaving, ask_about_unsaved
from farrail.ui.session import Session
from farrail.ui.widgets.message_bar import MessageBar
from farrail.ui.widgets.save_name import ask_where
from farrail.ui.widgets.typed_in import enter_typed
from farrail.workbook.backups import KEPT, MOST_KEPT, original_of
from farrail.workbook.history import History
from farrail.workbook.recovery import Left, Since, left_behind
from farrail.workbook.store import SUFFIX, read_file
from farrail.workbook.workbook import empty_workbook

RECENT_MOST = 8
VERSIONS_OFFERED = (0, 1, 3, 6, MOST_KEPT)
FILTER = say("Far Rail workbook (*{suffix});;All files (*)", suffix=SUFFIX)


class FileCommands(QObject):
    """What the workbook menu does."""

    # A workbook has come in: whether one is to begin on the first page.
    arrived = Signal(bool)

    def __init__(
        self, session: Session, bar: MessageBar, settings: QSettings, recovery_folder: Path, window: QWidget
    ) -> None:
        """Serve one window."""
        super().__init__(window)
        self._session, self._bar, self._settings = session, bar, settings
        self._recovery_folder, self._window = recovery_folder, window
        # Of an opened backup: its history, and the file that it is an earlier version of.
        self._copy: tuple[History, Path] | None = None
        # What was offered and put off: it stays on disk, and is offered again at the next start.
        self._later: set[Path] = set()
        # Brings up another window that has a file open; returns whether there is one.
        self.shown_already: Callable[[Path], bool] = lambda _: False
        session.versions_kept = _versions(settings.value("versions_kept", KEPT))

    # Guard

    def may_leave(self) -> bool:
        """Ask about unsaved work, including an open field; returns False to stay with it."""
        if not self._typed_is_entered():
            return False
        # Another window keeps it.
        if self._session.history.clean or self._session.shared:
            return True
        answer = ask_about_unsaved(self._window, [self._session.title])
        return self.save() if answer is Leaving.SAVE else answer is Leaving.LEAVE

    def _typed_is_entered(self) -> bool:
        """Enter the open field; show a message if its text is not valid."""
        entered = enter_typed(self._window)
        if not entered:
            self._bar.say(say("What is being typed cannot be taken: correct it, or press Escape."), True)
        return entered

    # Commands

    def new(self) -> None:
        """Begin an empty workbook, on the first page."""
        if self.may_leave():
            self._session.replace(empty_workbook(), None, None, None)
            self.arrived.emit(True)

    def empty(self) -> None:
        """Begin an empty workbook, in the stations as they are."""
        if self.may_leave():
            self._session.replace(empty_workbook(), None, None, None)
            self.arrived.emit(False)

    def demo(self) -> None:
        """Open the demo workbook."""
        from farrail.demo.hallan_skerry import demo_workbook

        if self.may_leave():
            self._session.replace(demo_workbook(), None, None, None)
            self.arrived.emit(False)

    def open(self) -> None:
        """Ask for a file and open it."""
        if self.may_leave():
            path = self.ask_file()
            if path is not None:
                self.open_path(path)

    def ask_file(self) -> Path | None:
        """Ask for a workbook file; None when none was chosen."""
        start = str(self._session.path.parent) if self._session.path is not None else ""
        name, _ = QFileDialog.getOpenFileName(self._window, say("Open a workbook"), start, FILTER)
        return Path(name) if name else None

    def open_path(self, path: Path) -> bool:
        """Open a file; an error is shown and the present workbook stays. A window that has the file comes up."""
        if self.shown_already(path):
            return False
        original = original_of(path)
        try:
            if original is not None:
                self._open_copy(path, original)
                return True
            self._session.open(path)
        except FarRailError as error:
            self._bar.say(str(error), True)
            return False
        self.remember(path)
        self.arrived.emit(False)
        return True

    def _open_copy(self, backup: Path, original: Path) -> None:
        """Open a backup as a copy that is not saved: saving must not write into the backup."""
        self._session.replace(read_file(backup).workbook, None, None, None)
        self._copy = self._session.history, original
        self._session.history.mark_unsaved()
        self._session.file_changed.emit()
        self.arrived.emit(False)
        told = say(
            "This is an earlier version of {original}, opened as a copy that is not saved.", original=original.name
        )
        self._bar.say(told, False)

    def restore_version(self) -> None:
        """Show the earlier versions of the file, and restore one."""
        if self._session.path is None:
            self._bar.say(say("This workbook has no file yet, so no earlier version of it is kept."), False)
        elif self._typed_is_entered():
            from farrail.ui.version_sheet import VersionSheet

            VersionSheet(self._session, self._window).open()

    def save(self) -> bool:
        """Save to the workbook's file; asks for one when it has none. Returns whether it is saved."""
        if not self._typed_is_entered():
            return False
        if self._session.path is None:
            return self.save_as()
        return self._save(None)

    def save_as(self) -> bool:
        """Ask for a name and save there. Returns whether it is saved."""
        if not self._typed_is_entered():
            return False
        folder = self._session.path.parent if self._session.path is not None else Path.home()
        start = folder / f"{self._session.title}{SUFFIX}"
        if self._copy is not None and self._copy[0] is self._session.history:
            start = self._copy[1]
        chosen = ask_where(self._window, say("Save the workbook"), str(start), FILTER, (SUFFIX, ".json"))
        return chosen is not None and self._save(chosen[0])

    def _save(self, path: Path | None, *, overwrite: bool = False, read_only_too: bool = False) -> bool:
        try:
            self._session.save(path, overwrite=overwrite, read_only_too=read_only_too)
        except ChangedOutside as error:
            self._bar.say(
                str(error), True,
                (
                    (say("Save as…"), "conflict_save_as", self.save_as),
                    (say("Overwrite"), "conflict_overwrite",
                     lambda: self._save(path, overwrite=True, read_only_too=read_only_too)),
                ),
            )  # fmt: skip
            return False
        except ReadOnlyFile as error:
            self._bar.say(
                str(error), True,
                (
                    (say("Save as…"), "read_only_save_as", self.save_as),
                    (say("Write it all the same"), "read_only_write",
                     lambda: self._save(path, overwrite=overwrite, read_only_too=True)),
                ),
            )  # fmt: skip
            return False
        except FarRailError as error:
            self._bar.say(str(error), True, ((say("Save as…"), "trouble_save_as", self.save_as),))
            return False
        if self._session.path is not None:
            self.remember(self._session.path)
            self.keep_verdict()
        return True

    # Recent files

    def show_log(self) -> None:
        """Say where troubles are written down, and open that folder where the desktop can."""
        log = self._session.log.path
        if not log.exists():
            self._bar.say(say("No errors so far; the error log would be {log}.", log=log), False)
            return
        QDesktopServices.openUrl(QUrl.fromLocalFile(str(log.parent)))
        self._bar.say(say("The error log is {log}.", log=log), False)

    def offer_versions(self, menu: QMenu) -> None:
        """Fill a menu with how many earlier versions of a file may be kept."""
        menu.clear()
        for count in VERSIONS_OFFERED:
            action = menu.addAction(say("None") if count == 0 else f"{count}")
            action.setCheckable(True)
            action.setChecked(count == self._session.versions_kept)
            action.triggered.connect(partial(self.keep_versions, count))

    def keep_versions(self, count: int, _checked: bool = True) -> None:
        """Keep so many earlier versions of a file beside it from now on."""
        self._session.versions_kept = count
        self._settings.setValue("versions_kept", count)

    def recent(self) -> list[Path]:
        """Return the files opened lately that still exist, newest first."""
        stored = self._settings.value("recent", [])
        names = [stored] if isinstance(stored, str) else stored if isinstance(stored, list) else []
        return [Path(name) for name in names if isinstance(name, str) and _is_file(name)]

    def remember(self, path: Path) -> None:
        """Put a file first among the recent ones."""
        path = path.absolute()
        names = [str(path), *(str(p) for p in self.recent() if p != path)][:RECENT_MOST]
        self._settings.setValue("recent", names)

    def clear_recent(self) -> None:
        """Forget the files opened lately; the files stay."""
        for name in ("recent", "recent_verdicts"):
            self._settings.remove(name)

    def opener(self, path: Path) -> Callable[[], None]:
        """Return a command that opens one recent file."""

        def run() -> None:
            if self.may_leave():
                self.open_path(path)

        return run

    def recent_verdicts(self) -> list[tuple[Path, str]]:
        """Return the recent files, each with the verdict it was left at, "" where none was kept."""
        kept = _verdicts(self._settings.value("recent_verdicts", ""))
        return [(path, kept.get(str(path), "")) for path in self.recent()]

    def keep_verdict(self) -> None:
        """Keep what is said of the train in view beside its file's name, for the first page."""
        path, readout = self._session.path, self._session.readout
        if path is None or readout is None:
            return
        kept = _verdicts(self._settings.value("recent_verdicts", ""))
        kept[str(path)] = f"{readout.layout.train.name}: {train_headline(readout)[0]}"
        recent = {str(one) for one in self.recent()}
        self._settings.setValue("recent_verdicts", json.dumps({k: v for k, v in kept.items() if k in recent}))

    # Recovery

    def offer_recovery(self) -> None:
        """Offer what killed windows left, one after another, newest first."""
        left = [one for one in left_behind(self._recovery_folder) if one.path not in self._later]
        if left:
            first = left[0]
            self._bar.offer(
                _offered(first, time.time()),
                (
                    (say("Recover it"), "recover_take", lambda: self._recover(first)),
                    (say("Discard it"), "recover_drop", lambda: self._discard(first)),
                    (say("Later"), "recover_later", lambda: self._put_off(first)),
                ),
            )  # fmt: skip

    def _recover(self, left: Left) -> None:
        """Go on with what was left; it goes only when it is kept again under this window's name."""
        if not self.may_leave():
            self.offer_recovery()
            return
        self.arrived.emit(False)
        if self._session.recover(left):
            left.path.unlink(missing_ok=True)
        else:
            self._later.add(left.path)
        again = say("The file was written since; saving asks before it is overwritten.") if _clashes(left) else ""
        self._bar.say(joined(say("Recovered. It is not saved yet."), again), False)
        self._go_on()

    def _discard(self, left: Left) -> None:
        left.path.unlink(missing_ok=True)
        self._go_on()

    def _put_off(self, left: Left) -> None:
        self._later.add(left.path)
        self._go_on()

    def _go_on(self) -> None:
        """Offer what else was left, after what is being said."""
        if self._bar.isHidden():
            self.offer_recovery()
        else:
            self._bar.afterwards(self.offer_recovery)


def _is_file(name: str) -> bool:
    """Whether a stored name leads to a file; one that cannot even be asked about does not."""
    try:
        return Path(name).is_file()
    except (OSError, ValueError):
        return False


def _clashes(left: Left) -> bool:
    return left.since is Since.WRITTEN_SINCE


def _offered(left: Left, now: float) -> str:
    """Return what was left, how old it is, and what became of its file, in two sentences."""
    whose = (
        left.belongs_to.name if left.belongs_to is not None else say("“{name}”, never saved", name=left.workbook.name)
    )
    file = {
        Since.NEVER_SAVED: say("It has no file yet."),
        Since.AS_IT_WAS: say("The file is as it was when that work began."),
        Since.WRITTEN_SINCE: say("The file was written since by another window or program."),
        Since.GONE: say("The file is no longer there."),
    }[left.since]
    return say(
        "Far Rail ended without saving {whose}. Work of {ago} was kept. {file}",
        whose=whose,
        ago=_ago(now - left.kept_at),
        file=file,
    )


def _ago(seconds: float) -> str:
    days, hours, minutes = (int(seconds // length) for length in (86_400, 3600, 60))
    if days:
        return say_n("a day ago", "{count} days ago", days, count=days)
    if hours:
        return say_n("an hour ago", "{count} hours ago", hours, count=hours)
    if minutes:
        return say_n("a minute ago", "{count} minutes ago", minutes, count=minutes)
    return say("a moment ago")


def _verdicts(stored: object) -> dict[str, str]:
    """Return the verdicts kept; what is no such record in the settings counts as none."""
    try:
        found = json.loads(str(stored))
    except ValueError:
        return {}
    return {k: v for k, v in found.items() if isinstance(v, str)} if isinstance(found, dict) else {}


def _versions(stored: object) -> int:
    """Return how many earlier versions to keep; what is no such number in the settings counts as not set."""
    try:
        return min(max(int(str(stored)), 0), MOST_KEPT)
    except ValueError:
        return KEPT
