"""A folder of frames: what each says and which train took it, with the log entries to accept."""

from pathlib import Path
from typing import Any

from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import (
    QComboBox,
    QDialog,
    QHBoxLayout,
    QHeaderView,
    QProgressBar,
    QPushButton,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from farrail.exchange.evening import Proposed, propose
from farrail.exchange.frame_headers import frames_in
from farrail.language import joined, say, say_n
from farrail.train.train import Train
from farrail.ui.background_task import BackgroundTask, Same
from farrail.ui.session import Session
from farrail.ui.theme.apply import style
from farrail.ui.widgets.plain import Label
from farrail.workbook.edits.log import ImportObservations
from farrail.workbook.workbook import Workbook

WIDE_PX, HIGH_PX, LEAST_WIDE_PX = 920, 520, 640
FILE, TRAIN, SAYS = range(3)


class EveningSheet(QDialog):
    """Shows what the frames of a folder say; nothing is written before it is accepted."""

    def __init__(self, session: Session, folder: Path, parent: QWidget) -> None:
        """Begin to look at a folder's frames."""
        super().__init__(parent)
        self._session, self._folder = session, folder
        self._paths = frames_in(folder)
        self._found: list[Proposed] = []
        self._done = 0
        self.setObjectName("evening_sheet")
        style(self)
        self.setWindowTitle(say("Frames of an evening"))
        self.resize(min(WIDE_PX, max(parent.width() - 40, LEAST_WIDE_PX)), HIGH_PX)
        self._told = Label()
        self._told.setObjectName("evening_told")
        self._told.setWordWrap(True)
        self.table = QTreeWidget()
        self.table.setObjectName("evening_frames")
        self.table.setAccessibleName(say("Frames, the train that took each, and what it says"))
        self.table.setHeaderLabels([say("File"), say("Train"), say("Result")])
        self.table.setRootIsDecorated(False)
        header = self.table.header()
        for column in (FILE, TRAIN):
            header.setSectionResizeMode(column, QHeaderView.ResizeMode.Interactive)
            header.resizeSection(column, 190)
        header.setSectionResizeMode(SAYS, QHeaderView.ResizeMode.Stretch)
        self.table.currentItemChanged.connect(lambda *_: self._settle())
        self.table.itemChanged.connect(lambda *_: self._settle())
        self._detail = Label()
        self._detail.setObjectName("evening_detail")
        self._detail.setProperty("role", "steel")
        self._detail.setWordWrap(True)
        self.train = QComboBox()
        self.train.setObjectName("evening_train")
        self.train.setAccessibleName(say("Train that took the selected frame"))
        for one in session.workbook.trains:
            self.train.addItem(one.name, one.id)
        self.choose = QPushButton(say("Taken with this train"))
        self.choose.setObjectName("evening_choose")
        self.choose.setToolTip(say("Looks at the selected frame again, as of that train"))
        self.choose.clicked.connect(self._choose)
        self.add = QPushButton(say("Add to the log"))
        self.add.setObjectName("evening_add")
        self.add.setDefault(True)
        self.add.clicked.connect(self._add)
        self.leave = QPushButton(say("Cancel"))
        self.leave.setObjectName("evening_cancel")
        self.leave.clicked.connect(self.reject)
        self.bar = QProgressBar()
        self.bar.setAccessibleName(say("Progress of the analysis"))
        self.bar.setRange(0, max(len(self._paths), 1))
        row = QHBoxLayout()
        row.setSpacing(8)
        row.addWidget(self.train)
        row.addWidget(self.choose)
        row.addStretch(1)
        row.addWidget(self.leave)
        row.addWidget(self.add)
        box = QVBoxLayout(self)
        box.setContentsMargins(18, 16, 18, 14)
        box.setSpacing(10)
        box.addWidget(self._told)
        box.addWidget(self.bar)
        box.addWidget(self.table, 1)
        box.addWidget(self._detail)
        box.addLayout(row)
        self.work = BackgroundTask(self._question, self)
        self.work.answered.connect(self._show)
        self.work.outdated.connect(self._outdated)
        self.work.failed.connect(lambda error: session.tell_failure(error, say("The look at the folder")))
        # The thread touches nothing of Qt: it leaves how far it is where this looks for it.
        self._watching = QTimer(self)
        self._watching.setInterval(100)
        self._watching.timeout.connect(lambda: self.bar.setValue(self._done))
        self._begin(self._paths, None)

    def _question(self) -> object:
        return Same([self._session.workbook])

    def _begin(self, paths: list[Path], train: Train | None) -> None:
        workbook: Workbook = self._session.workbook
        if not paths:
            self.bar.hide()
            self._told.setText(say("{folder} holds no frames: FITS, TIFF, PNG, JPEG.", folder=self._folder.name))
            self._settle()
            return

        def reached(done: int, _: int) -> None:
            self._done = done

        self._done = 0
        self.bar.setVisible(True)
        self._told.setText(say("Looking …"))
        self._watching.start()
        self.work.begin(lambda cancel: propose(paths, workbook, train, stopped=cancel.is_set, reached=reached))
        self._settle()

    def _show(self, answer: object) -> None:
        assert isinstance(answer, tuple)
        anew = {one.path: one for one in answer}
        kept = [anew.pop(one.path, one) for one in self._found]
        self._found = [*kept, *anew.values()]
        self._watching.stop()
        self.bar.hide()
        self.table.clear()
        for one in self._found:
            whose = "–" if one.train is None else one.train.name
            item = QTreeWidgetItem([str(one.path.relative_to(self._folder)), whose, one.lines[0]])
            item.setToolTip(SAYS, "\n".join(one.lines))
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            if one.entries:
                item.setCheckState(FILE, Qt.CheckState.Checked)
            self.table.addTopLevelItem(item)
        self._settle()

    def _outdated(self) -> None:
        self._watching.stop()
        self.bar.hide()
        self._told.setText(say("The workbook has changed since: open the folder again."))
        self._settle()

    def accepted_frames(self) -> list[Proposed]:
        """Return the frames that are ticked."""
        ticked = []
        for number, one in enumerate(self._found):
            item: Any = self.table.topLevelItem(number)
            if item is not None and one.entries and item.checkState(FILE) is Qt.CheckState.Checked:
                ticked.append(one)
        return ticked

    def _settle(self) -> None:
        ticked = self.accepted_frames()
        count = sum(len(one.entries) for one in ticked)
        self.add.setEnabled(count > 0 and not self.work.busy)
        row = self.table.currentIndex().row()
        picked = 0 <= row < len(self._found)
        self.choose.setEnabled(picked and not self.work.busy)
        self._detail.setText("\n".join(self._found[row].lines) if picked else say("Select a frame to read it whole."))
        if self._found and not self.work.busy and self.work.asked:
            left = sum(one.train is None for one in self._found)
            words = say_n(
                "{count} entry to add. Nothing is written before you accept it.",
                "{count} entries to add. Nothing is written before you accept it.",
                count,
                count=count,
            )
            more = say_n(
                "{left} frame belongs to no single train: select it and choose one.",
                "{left} frames belong to no single train: select them and choose one.",
                left,
                left=left,
            )
            self._told.setText(joined(words, more if left else ""))

    def _choose(self) -> None:
        row = self.table.currentIndex().row()
        if 0 <= row < len(self._found):
            train = self._session.workbook.train(str(self.train.currentData()))
            self._begin(list(self._found[row].paths or (self._found[row].path,)), train)

    def _add(self) -> None:
        self.work.check()
        if not self.work.asked:
            return
        edits = tuple(entry for one in self.accepted_frames() for entry in one.entries)
        if edits and self._session.do(ImportObservations(edits)):
            self.accept()

    def done(self, result: int) -> None:
        """Stop what is under way: the sheet closes."""
        self.work.end()
        super().done(result)
