"""Restoring an earlier version of the workbook: the versions kept, and what each would change."""

from datetime import datetime

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QHBoxLayout, QListWidget, QPushButton, QVBoxLayout, QWidget

from farrail.errors import FarRailError
from farrail.language import N_, Message, say
from farrail.ui.session import Session
from farrail.ui.theme.apply import style
from farrail.ui.widgets.plain import Label
from farrail.workbook.store import read_file
from farrail.workbook.versions import Change, Records, RestoreVersion, Version, changes_between, versions_of
from farrail.workbook.workbook import Workbook

WIDE_PX, HIGH_PX = 640, 360
# So many names are listed; of the others the number is given.
MOST_NAMES = 6

NAMES: dict[Records, Message] = {
    Records.PARTS: N_("Parts"),
    Records.TRAINS: N_("Trains"),
    Records.LOG: N_("Log entries"),
}


class VersionSheet(QDialog):
    """Shows the earlier versions of a session's file and restores one as a step of undo."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        """Show the newest version; the session must have a file."""
        super().__init__(parent)
        self._session = session
        self._version: Workbook | None = None
        self._versions: tuple[Version, ...] = () if session.path is None else versions_of(session.path)
        self.setObjectName("version_sheet")
        style(self)
        self.setWindowTitle(say("Restore an earlier version"))
        self.resize(WIDE_PX, HIGH_PX)
        self.list = QListWidget()
        self.list.setObjectName("versions")
        self.list.setAccessibleName(say("Earlier versions"))
        self.list.addItems([_when(version) for version in self._versions])
        self.list.setFixedWidth(190)
        self.list.currentRowChanged.connect(self._show)
        self._told = Label()
        self._told.setObjectName("version_changes")
        self._told.setWordWrap(True)
        self._told.setAlignment(Qt.AlignmentFlag.AlignTop)
        self._restore = QPushButton(say("Restore"))
        self._restore.setObjectName("version_restore")
        self._restore.setDefault(True)
        self._restore.setEnabled(False)
        self._restore.clicked.connect(self._take)
        cancel = QPushButton(say("Cancel"))
        cancel.clicked.connect(self.reject)
        buttons = QHBoxLayout()
        buttons.addWidget(Label(say("The file changes only when you save. Undo brings this version back.")), 1)
        buttons.addWidget(cancel)
        buttons.addWidget(self._restore)
        row = QHBoxLayout()
        row.setSpacing(16)
        row.addWidget(self.list)
        row.addWidget(self._told, 1)
        box = QVBoxLayout(self)
        box.setContentsMargins(18, 16, 18, 14)
        box.setSpacing(12)
        box.addLayout(row, 1)
        box.addLayout(buttons)
        if self._versions:
            self.list.setCurrentRow(0)
        else:
            self._told.setText(say("No earlier version is kept beside this file yet; the next save keeps one."))

    def _show(self, number: int) -> None:
        """Show what a version would change."""
        self._version = None
        self._restore.setEnabled(False)
        if not 0 <= number < len(self._versions):
            return
        try:
            self._version = read_file(self._versions[number].path).workbook
        except FarRailError as error:
            self._told.setText(str(error))
            return
        changes = changes_between(self._session.workbook, self._version)
        self._restore.setEnabled(self._version != self._session.workbook)
        self._told.setText(say("Restoring it changes:") + "\n\n" + "\n\n".join(_lines(changes)))

    def _take(self) -> None:
        if self._version is None:
            return
        when = _when(self._versions[self.list.currentRow()])
        if self._session.do(RestoreVersion(self._version, say("Restore the version of {when}", when=when))):
            self.accept()


def _when(version: Version) -> str:
    return datetime.fromtimestamp(version.saved_at).strftime("%Y-%m-%d %H:%M")


def _lines(changes: tuple[Change, ...]) -> list[str]:
    """Return what restoring a version changes, one line for each kind of record and of change."""
    lines = []
    for change in changes:
        named = NAMES[change.records]
        if change.back:
            lines.append(say("{records} that come back: {names}", records=named, names=_listed(change.back)))
        if change.gone:
            lines.append(say("{records} that go: {names}", records=named, names=_listed(change.gone)))
        if change.other:
            lines.append(say("{records} with other values: {names}", records=named, names=_listed(change.other)))
    return lines or [say("Nothing: it is the same as the workbook now.")]


def _listed(names: tuple[str, ...]) -> str:
    told = ", ".join(names[:MOST_NAMES])
    more = len(names) - MOST_NAMES
    return told if more <= 0 else say("{names} and {more} more", names=told, more=more)
