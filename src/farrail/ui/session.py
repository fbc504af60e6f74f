"""The session: what one window shows of a document: the train in view and what is selected.

The only holder of state above the workbook. Widgets read from it and send edits to it.
"""

from datetime import date
from pathlib import Path

from PySide6.QtCore import QObject, Signal, SignalInstance

from farrail.errors import FarRailError
from farrail.language import begun_small, joined, say
from farrail.parts.inventory_item import PartId
from farrail.parts.kinds.cameras import Camera
from farrail.parts.origin import Origin
from farrail.readouts.range_findings import RangeReport
from farrail.readouts.read import Readout, read
from farrail.train.train import MountedPart, Train
from farrail.trouble import TroubleLog
from farrail.ui.after_paint import AfterPaint
from farrail.ui.document import Document, try_lock
from farrail.ui.follow_up import follow_up
from farrail.ui.ranged import Ranged
from farrail.ui.selection import NOTHING, Selection, moved
from farrail.workbook.edits.invalid_flats import WithDate
from farrail.workbook.history import MOST_STEPS, Edit, History, Snapshot
from farrail.workbook.lock import FileLock
from farrail.workbook.recovery import Left
from farrail.workbook.safe_files import names_of, real, sweep
from farrail.workbook.store import read_file
from farrail.workbook.workbook import Workbook


class Session(Ranged, QObject):
    """One open workbook as the window sees it."""

    # The workbook changed (edit, undo, redo, open): readouts must be asked again.
    changed = Signal()
    # Another train came into view, or the same one after a change.
    train_changed = Signal()
    # What is picked on the rail changed.
    selection_changed = Signal()
    # The file's name or saved state changed.
    file_changed = Signal()
    # A drag has ended: what waited for it may be brought up to date.
    rested = Signal()
    # Something to say to the person in one sentence: text, and whether it is a trouble.
    message = Signal(str, bool)
    # Something to choose before it is done: a sentence, and (text, object name, what to do) for each choice.
    asked = Signal(str, object)
    # The ranges of the train in view are known, or no longer.
    ranges_changed = Signal()
    # Whether what is shown is the workbook as it is; False after an error of the program's own.
    current_changed = Signal(bool)
    # What is typed comes from elsewhere now.
    reading_changed = Signal()

    def __init__(
        self,
        workbook: Workbook,
        recovery_folder: Path,
        parent: QObject | None = None,
        *,
        document: Document | None = None,
    ) -> None:
        """Start on a workbook that has no file yet, or on a document another window shows already."""
        super().__init__(parent)
        self._document = document or Document(workbook, recovery_folder)
        self._recovery_folder = recovery_folder
        self._listen()
        self.selection = NOTHING
        # The row that the selection is an index of, as it was then: parts are found in it again after a change.
        self._selection_row: tuple[MountedPart, ...] = ()
        # A value is being dragged: only the drawing and the station's pictures follow the hand.
        self.dragging = False
        # Where the numbers come from that are being typed.
        self.reading_from = Origin.PUBLISHED
        self._told_unkept = False
        self.log = TroubleLog(recovery_folder.parent / "log")
        # While widgets follow a change, what breaks is gathered instead of shown.
        self.following = False
        self._broken: BaseException | None = None
        # Parts of which was asked whether they were corrected or exchanged: once each.
        self._asked_of: set[PartId] = set()
        self.current = True
        # The last edit made here: where it can be taken back to, what it made, and its label.
        self._last_edit: tuple[Snapshot, Workbook, str] | None = None
        # What follows the first painting after a change.
        self.after_paint = AfterPaint(self._broke_after_paint, self)
        trains = self.workbook.trains
        self._train_id = trains[0].id if trains else ""
        self._readout: tuple[Train, Workbook, Readout] | None = None
        self._ranges: tuple[RangeReport, object] | None = None
        # The train in view before a change of another window.
        self._shown_train: Train | None = self.train

    def beside(self) -> "Session":
        """Return a session of the same document for a further window, with the same train in view."""
        self._document.shown_in += 1
        made = Session(self.workbook, self._recovery_folder, document=self._document)
        made._train_id = self._train_id
        return made

    def _listen(self) -> None:
        self._document.changed.connect(self._follow_another)
        self._document.file_changed.connect(self.file_changed)
        self._document.kept.connect(self._tell_kept)

    def _follow_another(self, who: object) -> None:
        """Another window has changed the workbook both show."""
        if who is self:
            return
        gone = self._shown_train
        if gone is not None and all(train.id != gone.id for train in self.workbook.trains):
            shown = self.train
            self._follow_or_tell(self.changed, elsewhere=True)
            self.show_train("" if shown is None else shown.id)
            self.message.emit(
                say("“{train}” was removed in another window.", train=gone.name)
                if shown is None
                else say("“{train}” was removed in another window; this one shows “{other}” now.",
                         train=gone.name, other=shown.name),
                True,
            )  # fmt: skip
        else:
            self._follow_or_tell(self.changed, elsewhere=True)

    @property
    def history(self) -> History:
        """What led to the workbook as it is."""
        return self._document.history

    @property
    def path(self) -> Path | None:
        """The workbook's file, or None when it has none yet."""
        return self._document.path

    @property
    def read_only(self) -> bool:
        """Whether the file is only looked at."""
        return self._document.read_only

    @property
    def shared(self) -> bool:
        """Whether another window shows the same workbook."""
        return self._document.shown_in > 1

    @property
    def versions_kept(self) -> int:
        """How many earlier versions a save keeps."""
        return self._document.versions_kept

    @versions_kept.setter
    def versions_kept(self, count: int) -> None:
        self._document.versions_kept = count

    @property
    def workbook(self) -> Workbook:
        """The workbook as it is."""
        return self.history.present

    @property
    def title(self) -> str:
        """What the window calls this document."""
        return self.path.name.removesuffix(".farrail.json") if self.path is not None else self.workbook.name

    @property
    def train(self) -> Train | None:
        """The train in view, or None when the workbook has none."""
        for train in self.workbook.trains:
            if train.id == self._train_id:
                return train
        return self.workbook.trains[0] if self.workbook.trains else None

    @property
    def readout(self) -> Readout | None:
        """The readout of the train in view, made once for each state of the workbook."""
        train, workbook = self.train, self.workbook
        if train is None:
            return None
        kept = self._readout
        if kept is None or kept[0] is not train or kept[1].shelf is not workbook.shelf:
            kept = (train, workbook, read(train, workbook.by_id))
            self._readout = kept
        return kept[2]

    @property
    def camera(self) -> Camera | None:
        """The camera of the train in view, or None."""
        found = None if self.train is None else self.workbook.by_id.get(self.train.camera or "")
        return found if isinstance(found, Camera) else None

    def read_from(self, origin: Origin) -> None:
        """Say where the numbers come from that are typed from now on."""
        if origin is not self.reading_from:
            self.reading_from = origin
            self.reading_changed.emit()

    def show_train(self, train_id: str) -> None:
        """Bring another train into view."""
        if train_id != self._train_id:
            self._train_id = train_id
            self._shown_train = self.train
            self.selection = NOTHING
            self.train_changed.emit()

    def select(self, selection: Selection) -> None:
        """Pick a part or joint on the rail."""
        train = self.train
        self._selection_row = () if train is None else train.row(selection.side)
        if selection != self.selection:
            self.selection = selection
            self.selection_changed.emit()

    def selected_part(self) -> PartId | None:
        """Return the id of the part picked on the rail, if it is a part."""
        train = self.train
        if train is None or self.selection.empty or self.selection.joint:
            return None
        row = train.row(self.selection.side)
        return row[self.selection.index].part if self.selection.index < len(row) else None

    def do(self, edit: Edit) -> bool:
        """Apply an edit; a refusal is shown in one sentence and changes nothing.

        An edit that leaves a train no one can judge, or that the program cannot show, is taken back and said so.
        """
        before, workbook = self.history.standing(), self.workbook
        try:
            if not self.history.do(WithDate(edit, date.today().isoformat())):
                return False
        except FarRailError as error:
            self.message.emit(str(error), True)
            return False
        self._last_edit = before, self.workbook, str(edit.label)
        if self._follow(self.changed):
            # While a hand drags, the others wait for it to rest.
            if not self.dragging:
                self._document.changed.emit(self)
                question = follow_up(workbook, edit, self.do, self._asked_of)
                if question is not None:
                    self.asked.emit(*question)
            return True
        if self._broken is not None:
            self._take_back(self._broken)
        return False

    def _take_back(self, broken: BaseException) -> None:
        """Take the last edit back, for what it made cannot be shown, and say so."""
        assert self._last_edit is not None
        before, _, label = self._last_edit
        self._last_edit = None
        self.history.back_to(before)
        self._readout = None
        self._follow(self.changed)
        if isinstance(broken, FarRailError):
            self.message.emit(say("{label} was taken back: {broken}", label=label, broken=broken), True)
        else:
            self.tell_failure(broken, label)

    def _broke_after_paint(self, broken: BaseException) -> None:
        """Take the last edit back if it is what broke; otherwise nothing shown may look valid that is not."""
        if self._last_edit is not None and self._last_edit[1] is self.workbook:
            self._take_back(broken)
            self._document.changed.emit(self)
        else:
            self._set_current(False)
            self.tell_failure(broken, say("Showing this train"))

    def _follow(self, signal: SignalInstance, *, elsewhere: bool = False) -> bool:
        """Let the widgets follow a change, made here or in another window; returns whether all of them could."""
        self.following, self._broken = True, None
        self._keep_selection(elsewhere)
        signal.emit()
        self.following = False
        self._set_current(self._broken is None)
        return self._broken is None

    def caught(self, error: BaseException) -> None:
        """Take an error no one caught: nothing on the screen may look valid that is not."""
        if self.following:
            self._broken = self._broken or error
            return
        if self.after_paint.running:
            self._broke_after_paint(error)
            return
        told = not self.current
        self._set_current(False)
        if told:
            # Painting breaks again and again: it is written down, and was shown.
            self.log.tell(error, say("Showing this train"))
        else:
            self.tell_failure(error, say("Showing this train"))

    def _set_current(self, current: bool) -> None:
        if current != self.current:
            self.current = current
            self.current_changed.emit(current)

    def tell_failure(self, error: BaseException, doing: str) -> None:
        """Say of an error of the program's own in one sentence; the details go into the log."""
        if isinstance(error, FarRailError):
            self.message.emit(str(error), True)
        else:
            self.message.emit(self.log.tell(error, doing), True)

    def begin_drag(self) -> None:
        """A hand has taken a slider: lists and findings wait until it lets go."""
        self.dragging = True

    def end_drag(self) -> None:
        """The hand has let go."""
        if self.dragging:
            self.dragging = False
            self._follow_or_tell(self.rested)
            self._document.changed.emit(self)

    def undo(self) -> None:
        """Take the last step back."""
        label = self.history.undo()
        if label is not None:
            self._after_change()
            told = say("Undone: {label}.", label=begun_small(label))
            if self.history.at_the_end_kept:
                ends = say("This is as far back as it goes: the last {count} steps are kept.", count=MOST_STEPS)
                told = joined(told, ends)
            self.message.emit(told, False)

    def redo(self) -> None:
        """Bring the last undone step back."""
        label = self.history.redo()
        if label is not None:
            self._after_change()
            self.message.emit(say("Done again: {label}.", label=begun_small(label)), False)

    def _after_change(self) -> None:
        self._follow_or_tell(self.changed)
        self._document.changed.emit(self)

    def _follow_or_tell(self, signal: SignalInstance, *, elsewhere: bool = False) -> None:
        """Let the widgets follow; what breaks is shown, and stays marked, for there is no step to take back."""
        if not self._follow(signal, elsewhere=elsewhere) and self._broken is not None:
            self.tell_failure(self._broken, say("Showing this train"))

    def _keep_selection(self, elsewhere: bool) -> None:
        """Keep the selected part or joint selected, at no matter what place it is after a change."""
        train = self._shown_train = self.train
        before, row = self._selection_row, () if train is None else train.row(self.selection.side)
        self._selection_row = row
        kept = moved(self.selection, before, row, elsewhere=elsewhere)
        if kept != self.selection:
            self.selection = kept
            self.selection_changed.emit()

    # Files

    def replace(self, workbook: Workbook, path: Path | None, digest: str | None, lock: FileLock | None) -> None:
        """Go on with another workbook; the present one is given up."""
        following = self._document.next(workbook)
        self._document.changed.disconnect(self._follow_another)
        self._document.file_changed.disconnect(self.file_changed)
        self._document.kept.disconnect(self._tell_kept)
        self.close_file()
        self._document = following
        self._document.take_file(path, digest, lock)
        self._listen()
        self._last_edit = None
        self.selection = NOTHING
        self._train_id = workbook.trains[0].id if workbook.trains else ""
        self._shown_train = self.train
        self._readout = None
        self.changed.emit()
        self.train_changed.emit()
        self.file_changed.emit()

    def open(self, path: Path) -> None:
        """Open a workbook file in place of the present one.

        Raises:
            FarRailError: it cannot be read; the present workbook stays.
        """
        path = path.absolute()
        sweep(real(path).parent)
        opened = read_file(path)
        lock, trouble = self._document.pass_lock(path), None
        if lock is None:
            lock, trouble = try_lock(path)
        self.replace(opened.workbook, path, opened.digest, lock)
        if trouble is not None:
            self.message.emit(trouble, True)

    def save(self, path: Path | None = None, *, overwrite: bool = False, read_only_too: bool = False) -> None:
        """Save to the workbook's file, or to another one that becomes its file.

        Raises:
            FarRailError: nothing was written; ChangedOutside when another program wrote the file meanwhile,
                ReadOnlyFile when it is marked so and `read_only_too` was not given.
        """
        where = path or self.path
        linked = where is not None and names_of(real(where)) > 1
        target = self._document.save(path, overwrite=overwrite, read_only_too=read_only_too)
        message = say("Saved to {target}.", target=target)
        if linked:
            also = say("The file had another name on the disk (a hard link); that keeps the earlier version.")
            message = joined(message, also)
        self.message.emit(message, False)

    def autosave(self) -> bool:
        """Keep unsaved work where a later start finds it; returns whether it is kept, or nothing is unsaved."""
        return self._document.autosave()

    def autosave_beside(self) -> None:
        """The same beside the interface: forcing a file to disk may take a quarter of a second."""
        self._document.autosave_beside()

    def wait_for_copy(self) -> None:
        """Wait until the copy of unsaved work is written."""
        self._document.wait_for_copy()

    def _tell_kept(self, trouble: str) -> None:
        """Say once that unsaved work cannot be kept, and again only after it could be."""
        if trouble and not self._told_unkept:
            self.message.emit(
                say(
                    "Unsaved work is not safe from a crash, for it cannot be kept: {trouble} Save soon.",
                    trouble=trouble,
                ),
                True,
            )
        self._told_unkept = bool(trouble)

    def recover(self, left: Left) -> bool:
        """Go on with recovered work, counted as unsaved; returns whether it is kept again already.

        It goes on from the file as it was when the work began: if that was written since, a save says so first.
        """
        lock = None
        if left.belongs_to is not None:
            lock, _ = try_lock(left.belongs_to)
        # Without a digest nothing distinguishes the versions: one that fits no file makes the save ask.
        digest = None if left.belongs_to is None else left.digest or "unknown"
        self.replace(left.workbook, left.belongs_to, digest, lock)
        self.history.mark_unsaved()
        self.file_changed.emit()
        return self.autosave()

    def end_from_outside(self) -> None:
        """Keep unsaved work for the next start and let the file go: the program is being ended."""
        self._document.end_from_outside()

    def close_file(self) -> None:
        """Leave the document; with the last window the file's lock and the autosaved copy go."""
        self._document.leave()
