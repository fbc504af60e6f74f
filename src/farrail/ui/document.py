"""The document: one open workbook with its history and its file, shown in one window or in several."""

from pathlib import Path

from PySide6.QtCore import QObject, Signal

from farrail.errors import FarRailError, InUse, StoreError
from farrail.ui.background_task import BackgroundTask
from farrail.workbook.backups import KEPT
from farrail.workbook.history import History
from farrail.workbook.lock import FileLock
from farrail.workbook.recovery import Autosave
from farrail.workbook.safe_files import real
from farrail.workbook.store import write_file
from farrail.workbook.workbook import Workbook

# The workbook to keep (None: drop the copy), its file, the digest of that file, and the number of the request.
_State = tuple[Workbook | None, Path | None, str | None, int]


class Document(QObject):
    """A workbook, what led to it, and where it is kept."""

    # One of its sessions has changed the workbook: the others follow. Carries that session.
    changed = Signal(object)
    # The file's name or saved state changed.
    file_changed = Signal()
    # Unsaved work was kept beside the file, or could not be: why not, in a sentence, or nothing.
    kept = Signal(str)

    def __init__(self, workbook: Workbook, recovery_folder: Path) -> None:
        """Start on a workbook that has no file yet."""
        super().__init__()
        self.history = History(workbook)
        self.path: Path | None = None
        self.read_only = False
        # How many earlier versions a save keeps.
        self.versions_kept = KEPT
        self._recovery_folder = recovery_folder
        self._digest: str | None = None
        self._lock: FileLock | None = None
        self._autosave = Autosave(recovery_folder)
        self._copying = BackgroundTask(lambda: "the newest copy", self)
        self._copying.answered.connect(self._tell_kept)
        # How many windows show it.
        self.shown_in = 1

    def next(self, workbook: Workbook) -> "Document":
        """Return a document for another workbook in its place."""
        made = Document(workbook, self._recovery_folder)
        made.versions_kept = self.versions_kept
        return made

    def take_file(self, path: Path | None, digest: str | None, lock: FileLock | None) -> None:
        """Belong to a file; without its lock it is only looked at."""
        self.path, self._digest, self._lock = path, digest, lock
        self.read_only = path is not None and lock is None

    def pass_lock(self, path: Path) -> FileLock | None:
        """Give the lock of a file away to who opens it again; None where it is not this one's, or others show it."""
        if self._lock is None or self.path is None or self.shown_in > 1 or real(self.path) != real(path):
            return None
        lock, self._lock = self._lock, None
        return lock

    def save(self, path: Path | None, *, overwrite: bool = False, read_only_too: bool = False) -> Path:
        """Save to the workbook's file, or to another one that becomes its file; returns where.

        A window that was only looking takes over once the other one has gone.

        Raises:
            FarRailError: nothing was written; ChangedOutside when another program wrote the file meanwhile,
                ReadOnlyFile when it is marked so and `read_only_too` was not given.
        """
        wanted = path or self.path
        if wanted is None:
            raise FarRailError("This workbook has no file yet; choose Save as.")
        target = wanted.absolute()
        same = self.path is not None and real(target) == real(self.path)
        known = self._digest if same and not overwrite else None
        lock = self._lock if same and self._lock is not None else FileLock(target)
        try:
            digest = write_file(
                target, self.history.present, known, read_only_too=read_only_too, kept=self.versions_kept
            )
        except FarRailError:
            if lock is not self._lock:
                lock.release()
            raise
        if self._lock is not None and lock is not self._lock:
            self._lock.release()
        self._lock, self.path, self.read_only, self._digest = lock, target, False, digest
        self.history.mark_saved()
        self._autosave.drop()
        self.file_changed.emit()
        return target

    def autosave(self) -> bool:
        """Keep unsaved work where a later start finds it; returns whether it is kept, or nothing is unsaved."""
        trouble = _keep(self._autosave, self._to_keep())
        self.kept.emit(trouble)
        return not trouble

    def autosave_beside(self) -> None:
        """The same beside the interface: forcing a file to disk may take a quarter of a second."""
        autosave, state = self._autosave, self._to_keep()
        # The work must not hold this document: a thread that drops the last reference would delete Qt objects.
        self._copying.begin(lambda _: _keep(autosave, state))

    def wait_for_copy(self) -> None:
        """Wait until the copy that is being written beside the interface is."""
        self._copying.wait()

    def _to_keep(self) -> _State:
        """Return what is to be kept as it is now; no workbook where everything is saved."""
        workbook = None if self.history.clean else self.history.present
        return workbook, self.path, self._digest, self._autosave.ask()

    def _tell_kept(self, trouble: object) -> None:
        self.kept.emit(str(trouble))

    def end_from_outside(self) -> None:
        """Keep unsaved work for the next start and let the file go: the program is being ended."""
        self.autosave()
        self._autosave.let_go()
        self._release()

    def leave(self) -> None:
        """One window fewer shows it; with the last one the file's lock and the autosaved copy go."""
        self.shown_in -= 1
        if self.shown_in <= 0:
            self._release()
            self._autosave.drop()

    def _release(self) -> None:
        if self._lock is not None:
            self._lock.release()
            self._lock = None


def _keep(autosave: Autosave, state: _State) -> str:
    """Write the copy of unsaved work, or drop it; returns the reason if it could not be written, else ""."""
    workbook, path, digest, number = state
    try:
        if workbook is None:
            autosave.drop(number)
        else:
            autosave.keep(workbook, path, digest, number)
    except StoreError as error:
        return str(error)
    return ""


def try_lock(path: Path) -> tuple[FileLock | None, str | None]:
    """Return the lock of a file, or None and the sentence that says who has it."""
    try:
        return FileLock(path), None
    except InUse as error:
        return None, str(error)
