"""Frames as evidence: a flat, stars, dust or a ruler in a picture, beside what the train predicts."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QDragEnterEvent, QDropEvent, QResizeEvent
from PySide6.QtWidgets import (
    QBoxLayout,
    QCheckBox,
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QProgressBar,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from farrail.exchange.frame_entries import seen_in
from farrail.exchange.frame_files import SUFFIXES, read_frame
from farrail.frames.kinds import FrameKind
from farrail.frames.look import NOTHING_BY_HAND, READING, ByHand, Looked, look
from farrail.frames.picture import Picture
from farrail.frames.report import looked_words
from farrail.frames.watch import Watch
from farrail.language import N_, say
from farrail.readouts.read import Readout
from farrail.simulated.bench_frames import bench_frames
from farrail.simulated.hidden import hidden_truth, truth_words
from farrail.train.placed import Place
from farrail.ui.background_task import BackgroundTask
from farrail.ui.dropping import folder_of, frames_of
from farrail.ui.evening_sheet import EveningSheet
from farrail.ui.selection import Selection
from farrail.ui.session import Session
from farrail.ui.theme.fonts import MEDIUM, font
from farrail.ui.widgets.flow_layout import FlowLayout
from farrail.ui.widgets.frame_picture import LEVELS, STEPS, FramePicture
from farrail.ui.widgets.plain import Label

KINDS = {
    FrameKind.FLAT: N_("Vignetting"), FrameKind.STARS: N_("Stars, tilt"), FrameKind.DUST: N_("Dust"),
    FrameKind.RULER: N_("A ruler"), FrameKind.SKY: N_("Clear sky"),
}  # fmt: skip
FRAMES = N_("Frames ({listed});;All files (*)")
LEGEND = N_("Lines of {listed} % of the middle's light. Solid: measured; dashed: predicted.")
DIFFERENCE_LEGEND = N_(
    "Measured against predicted, lines at {listed} stops. Hatched and solid: darker than predicted; dashed: brighter."
)
DUST_LEGEND = N_("A shadow that was missed: press on its middle, drag to its edge.")

# From this width on the result is beside the frame.
BESIDE_PX = 640


def _file_filter() -> str:
    return say(FRAMES, listed=" ".join(f"*{suffix}" for suffix in SUFFIXES))


def _legend(*, difference: bool = False) -> str:
    """Return what the lines in a frame are: its own light, or its difference from the prediction."""
    if difference:
        return say(DIFFERENCE_LEGEND, listed=", ".join(say("{step:g}", step=step) for step in STEPS))
    return say(LEGEND, listed=", ".join(say("{level:.0f}", level=100 * level) for level in LEVELS))


class _Progress:
    """Progress of the analysis: written by the thread, read by the interface."""

    def __init__(self) -> None:
        self.share = 0.0

    def reach(self, share: float) -> None:
        self.share = share


class FramesPage(QWidget):
    """Opens frames, has them looked at beside the hand, and writes down what they say."""

    # What frames say is to be written down: kind and values of each observation.
    wanted = Signal(object)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the page."""
        super().__init__(parent)
        self.setObjectName("log_frames")
        self._session = session
        self._looked: Looked | None = None
        self._pictures: list[Picture] = []
        self._hidden: list[str] = []
        self._seed = 1
        # Places clicked along a rule, and the id of the train the frames were taken with.
        self._clicked: list[tuple[float, float]] = []
        self._by_hand = NOTHING_BY_HAND
        self._of = ""
        self.setAcceptDrops(True)
        self.kind = QComboBox()
        self.kind.setObjectName("frame_kind")
        self.kind.setAccessibleName(say("Kind of frame"))
        # In a small window the list gives way, not the buttons' names.
        self.kind.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.kind.setMinimumContentsLength(10)
        for key, text in KINDS.items():
            self.kind.addItem(str(text), key)
        self.kind.activated.connect(lambda _: self._look())
        self.open = self._button("frame_open", say("Open…"), self._ask)
        self.bench = self._button("frame_bench", say("Simulated bench camera"), self.take)
        self.bench.setToolTip(say("Practice frame: simulates a fault in this train for you to find"))
        self.drawer = QPushButton(say("Entries"))
        self.drawer.setObjectName("frame_entries")
        self.drawer.setCheckable(True)
        self.drawer.setProperty("chip", "true")
        self.drawer.setToolTip(say("The log's entries beside the frame"))
        head = QHBoxLayout()
        head.setSpacing(8)
        head.addWidget(self.kind, 1)
        head.addWidget(self.open)
        head.addWidget(self.bench)
        head.addWidget(self.drawer)
        self.picture = FramePicture()
        self.picture.picked.connect(self._click)
        self.picture.drawn.connect(self._draw)
        self.difference = QCheckBox(say("Difference from the prediction"))
        self.difference.setObjectName("frame_difference")
        self.difference.toggled.connect(self._show_difference)
        self.difference.hide()
        self.places = QLineEdit()
        self.places.setObjectName("frame_focus_places")
        self.places.setAccessibleName(say("Focuser position of each frame, µm"))
        self.places.setPlaceholderText(say("Focuser at each frame, µm: −600 −360 …"))
        self.places.setToolTip(say("For frames without it in their files: one number for each, in order, then Enter"))
        self.places.returnPressed.connect(self._look_placed)
        self.places.hide()
        self._legend = Label(_legend())
        self._legend.setObjectName("frame_legend")
        self._legend.setProperty("role", "steel")
        self._legend.setWordWrap(True)
        self._legend.hide()
        self._verdict = Label()
        self._verdict.setObjectName("frame_verdict")
        self._verdict.setWordWrap(True)
        self._verdict.setFont(font(15, MEDIUM))
        self._verdict.hide()
        self._text = Label()
        self._text.setObjectName("frame_text")
        self._text.setWordWrap(True)
        self._text.setAlignment(Qt.AlignmentFlag.AlignTop)
        scroll = QScrollArea()
        scroll.setObjectName("frame_text_area")
        scroll.setAccessibleName(say("Result of the frames, scrollable"))
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(QScrollArea.Shape.NoFrame)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(self._text)
        self.write = self._button("frame_write", say("Add to the log"), self._write)
        self.again = self._button("frame_again", say("Look again"), lambda: self._again(self._by_hand))
        self.again.setToolTip(say("The same frames beside the train as it is now"))
        self.tell = self._button("frame_tell", say("Show the fault"), self._tell)
        self.evening = self._button("frame_evening", say("A whole evening…"), self._ask_folder)
        self.evening.setToolTip(say("A folder of frames: each is matched to its train, and its entries are proposed"))
        self.stop = self._button("frame_stop", say("Cancel"), self._cancel)
        row = QVBoxLayout()
        row.setSpacing(6)
        self.bar = QProgressBar()
        self.bar.setObjectName("frame_progress")
        self.bar.setAccessibleName(say("Progress of the analysis"))
        self.bar.setRange(0, 100)
        self.bar.hide()
        buttons = QWidget()
        flow = FlowLayout(buttons, 8)
        for button in (self.write, self.again, self.tell, self.evening, self.stop):
            flow.addWidget(button)
        policy = buttons.sizePolicy()
        policy.setHeightForWidth(True)
        buttons.setSizePolicy(policy)
        row.addWidget(self.bar)
        row.addWidget(buttons)
        shown, texts = QVBoxLayout(), QVBoxLayout()
        shown.setSpacing(6)
        shown.addWidget(self.picture, 1)
        shown.addWidget(self.difference)
        shown.addWidget(self._legend)
        texts.setSpacing(8)
        texts.addWidget(self._verdict)
        texts.addWidget(scroll, 1)
        texts.addWidget(self.places)
        texts.addLayout(row)
        # Beside one another where there is room, the frame two thirds of it.
        self._halves = QBoxLayout(QBoxLayout.Direction.LeftToRight)
        self._halves.setSpacing(18)
        self._halves.addLayout(shown, 2)
        self._halves.addLayout(texts, 1)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 6, 0, 0)
        box.setSpacing(8)
        box.addLayout(head)
        box.addLayout(self._halves, 1)
        # A verdict is valid only for the train and parts it was made with.
        self.work = BackgroundTask(lambda: self._session.range_question, self)
        self.work.answered.connect(self._take_answer)
        self.work.outdated.connect(self._outdated)
        self.work.failed.connect(self._failed)
        # The thread touches nothing of Qt: it leaves how far it is where this looks for it.
        self._progress = _Progress()
        self._watching = QTimer(self)
        self._watching.setInterval(100)
        self._watching.timeout.connect(lambda: self.bar.setValue(round(100.0 * self._progress.share)))
        self._settle()

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Put the result beside the frame, or under it where the page is narrow."""
        beside = self.width() >= BESIDE_PX
        way = QBoxLayout.Direction.LeftToRight if beside else QBoxLayout.Direction.TopToBottom
        if self._halves.direction() != way:
            self._halves.setDirection(way)
            self._halves.setSpacing(18 if beside else 8)
        super().resizeEvent(event)

    def _button(self, name: str, text: str, run: Callable[[], object]) -> QPushButton:
        button = QPushButton(text)
        button.setObjectName(name)
        button.clicked.connect(lambda: run())
        return button

    def _say(self, told: str, verdict: str = "") -> None:
        """Show what is shown, the verdict above it."""
        self._verdict.setText(verdict)
        self._verdict.setVisible(bool(verdict))
        self._text.setText(told)
        looked = self._looked
        flat = bool(verdict) and looked is not None and looked.flat is not None
        dust = bool(verdict) and looked is not None and looked.kind is FrameKind.DUST
        self._legend.setText(str(DUST_LEGEND) if dust else _legend(difference=self.difference.isChecked()))
        self._legend.setVisible(flat or dust)
        self.difference.setVisible(flat)
        self.places.setVisible(self._unplaced())

    def _settle(self, *, busy: bool = False) -> None:
        readout = self._session.readout
        ready = readout is not None and readout.layout.camera is not None
        for button in (self.open, self.bench, self.kind):
            button.setEnabled(ready and not busy)
        self.stop.setVisible(busy)
        self.bar.setVisible(busy)
        (self._watching.start if busy else self._watching.stop)()
        self.write.setEnabled(not busy and self._looked is not None and bool(seen_in(self._looked)))
        self.tell.setVisible(bool(self._hidden))
        self.again.setVisible(ready and not busy and self._looked is None and bool(self._pictures))
        if not ready:
            self._say(say("A frame is compared with the train that took it: add a train with a camera."))
        elif self._looked is None and not busy and not self._pictures:
            self._say(say("FITS, TIFF, PNG, JPEG or raw. Files are only looked into and stay where they are."))

    def refresh(self) -> None:
        """Follow the train in view; what frames of another one said goes."""
        train = self._session.train
        if self._of != ("" if train is None else train.id):
            self._clear()
        self.work.check()
        if not self.work.busy:
            self._settle()

    def _outdated(self) -> None:
        """Remove a verdict for an earlier state of the train; keep the frames."""
        self._looked = None
        self.picture.show_picture(None)
        self._settle()
        self._say(say("The train or its parts have changed since: look again."))

    def _clear(self) -> None:
        """Show nothing."""
        self.work.forget()
        self._looked, self._pictures, self._hidden, self._clicked = None, [], [], []
        self._by_hand = NOTHING_BY_HAND
        self._of = "" if self._session.train is None else self._session.train.id
        self.picture.show_picture(None)
        self._settle()

    def _click(self, column: float, row: float) -> None:
        """Take a place along a rule; the second one has it read along the line between them."""
        readout = self._session.readout
        if not self._waits_for(FrameKind.RULER) or readout is None:
            return
        self._clicked = [*self._clicked, (column, row)][-2:] if len(self._clicked) < 2 else [(column, row)]
        self.picture.show_marks(self._clicked)
        if len(self._clicked) == 2:
            self._again(ByHand(line=(*self._clicked[0], *self._clicked[1])))

    def _unplaced(self) -> bool:
        """Whether several frames of stars are shown that do not say where the focuser was."""
        silent = any(one.focus_um is None for one in self._pictures)
        told = self._looked is not None and self._looked.tilt is not None
        return self._kind() is FrameKind.STARS and len(self._pictures) > 1 and silent and not told

    def _waits_for(self, kind: FrameKind) -> bool:
        """Whether frames of a kind are shown, and nothing is under way."""
        return self._kind() is kind and bool(self._pictures) and not self.work.busy

    def _kind(self) -> FrameKind:
        return FrameKind(self.kind.currentData())

    def _draw(self, column: float, row: float, across: float) -> None:
        """Take the outline of a shadow drawn by hand."""
        if self._waits_for(FrameKind.DUST):
            self._again(ByHand(motes=(*self._by_hand.motes, (column, row, across))))

    def _look_placed(self) -> None:
        """Look again at frames of stars with places of the focuser given by hand."""
        try:
            told = tuple(float(word.replace("−", "-")) for word in self.places.text().replace(";", " ").split())
        except ValueError:
            self._session.message.emit(
                say("Places of the focuser are numbers in µm, one for each frame, with spaces."), True
            )
            return
        if self._waits_for(FrameKind.STARS):
            self._again(ByHand(focus_um=told))

    def _again(self, by_hand: ByHand) -> None:
        """Look at the same frames with what a person adds."""
        readout, pictures = self._session.readout, self._pictures
        if readout is not None:
            self._begin(lambda _: pictures, readout, self._kind(), by_hand)

    def _show_difference(self, shown: bool) -> None:
        looked = self._looked
        if looked is not None and looked.flat is not None:
            self.picture.show_difference(shown=shown)
            self._legend.setText(_legend(difference=shown))

    # Frames

    def _ask(self) -> None:
        names, _ = QFileDialog.getOpenFileNames(self.window(), say("Frames of this train"), "", _file_filter())
        if names:
            self.show_files([Path(name) for name in names])

    def _ask_folder(self) -> None:
        """Ask for a folder of frames."""
        name = QFileDialog.getExistingDirectory(self.window(), say("Folder of frames"), "")
        if name:
            self.show_folder(Path(name))

    def show_folder(self, folder: Path) -> None:
        """Show what the frames of a folder say, to accept what goes into the log."""
        sheet = EveningSheet(self._session, folder, self.window())
        sheet.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        sheet.open()

    def show_files(self, paths: list[Path]) -> None:
        """Have files looked at; several of stars are taken as one run through focus."""
        if len(paths) == 1 and paths[0].is_dir():
            self.show_folder(paths[0])
            return
        self._hidden = []
        readout = self._session.readout
        if readout is None or readout.layout.camera is None:
            self._session.message.emit(
                say("A frame is compared with the train that took it: add a train with a camera."), True
            )
            return

        def frames(watch: Watch) -> list[Picture]:
            pictures = []
            for number, path in enumerate(paths, 1):
                pictures.append(read_frame(path, watch.stopped))
                watch.reached(number / len(paths))
            return pictures

        self._begin(frames, readout, self._kind())

    def choose_hidden(self, seed: int) -> None:
        """Have the simulated bench camera hide what a number stands for, next time."""
        self._seed = seed

    def take(self) -> None:
        """Take a frame with the simulated bench camera: something is wrong with the train."""
        readout, kind, seed = self._session.readout, self._kind(), self._seed
        if readout is None or readout.layout.camera is None:
            return
        self._seed += 1
        self._hidden = truth_words(hidden_truth(readout, kind, seed), readout, kind)
        self._begin(lambda _: bench_frames(readout, kind, seed), readout, kind)

    def _begin(
        self, frames: Callable[[Watch], list[Picture]], readout: Readout, kind: FrameKind,
        by_hand: ByHand = NOTHING_BY_HAND,
    ) -> None:  # fmt: skip
        self._of = readout.layout.train.id
        self._clicked = self._clicked if by_hand.line is not None else []
        self._by_hand = by_hand
        shelf = self._session.workbook.by_id

        self._progress = progress = _Progress()

        def work(cancel: Any) -> tuple[list[Picture], Looked | None]:
            watch = Watch(cancel.is_set, progress.reach)
            pictures = frames(watch.part(0.0, READING))
            if cancel.is_set():
                return pictures, None
            return pictures, look(kind, pictures, readout, shelf, watch.part(READING, 1.0), by_hand)

        self._looked = None
        self.bar.setValue(0)
        self.picture.show_picture(None)
        self._say(say("Looking …"))
        self.work.begin(work)
        self._settle(busy=True)

    def _look(self) -> None:
        """Look at the same frames for something else."""
        if self._hidden:
            self._clear()
        elif self._pictures:
            self._again(NOTHING_BY_HAND)

    def _take_answer(self, answer: object) -> None:
        assert isinstance(answer, tuple)
        self._pictures, self._looked = answer
        looked = self._looked
        if looked is not None:
            self.picture.show_picture(looked.picture)
            lines = looked_words(looked)
            self._say("\n".join(lines[1:]), lines[0])
            if looked.flat is not None:
                self.picture.show_light(looked.flat)
                self.picture.show_difference(shown=self.difference.isChecked())
            self._point_at(looked.place)
            if self._clicked:
                self.picture.show_marks(self._clicked)
            if looked.motes:
                self.picture.show_rings([(*ring, f"{n}") for n, ring in enumerate(looked.rings, 1)])
        self._settle()

    def _point_at(self, place: Place | None) -> None:
        """Have the rail point at a part; of the camera, at the joint before it."""
        train = self._session.train
        if place is not None and train is not None and 0 <= place.index <= len(train.row(place.side)):
            last = place.index == len(train.row(place.side))
            self._session.select(Selection(place.side, place.index, joint=last))

    def _failed(self, error: object) -> None:
        self._settle()
        if isinstance(error, BaseException):
            self._session.tell_failure(error, say("Looking at a frame"))
            self._say("")

    def _cancel(self) -> None:
        self.work.cancel()
        self._looked = None
        self._settle()
        self._say(say("Cancelled."))

    def _tell(self) -> None:
        told = "\n".join(say("Hidden: {line}", line=line) for line in self._hidden)
        shown = self._text.text()
        if told not in shown:
            self._say(f"{shown}\n\n{told}".strip(), self._verdict.text())

    def _write(self) -> None:
        looked = self._looked
        seen = () if looked is None else seen_in(looked)
        if not seen:
            return
        self.work.check()
        if self._looked is None:
            # A log entry is saved with the current train, so it must be the one the frame was compared with.
            self._session.message.emit(say("The train or its parts have changed since: look again."), True)
            return
        self.wanted.emit(seen)

    # Frames dropped on the page

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        """Take frames."""
        if frames_of(event) or folder_of(event) is not None:
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        """Have the dropped frames looked at."""
        paths, folder = frames_of(event), folder_of(event)
        if paths:
            event.acceptProposedAction()
            self.show_files(paths)
        elif folder is not None:
            event.acceptProposedAction()
            # The other program waits until the drop is answered: the sheet comes after it.
            QTimer.singleShot(0, self, lambda: self.show_folder(folder))
