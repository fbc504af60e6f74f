"""Frames as evidence: a flat, stars, dust or a ruler in a picture, beside what the train predicts."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QDragEnterEvent, QDropEvent
from PySide6.QtWidgets import QComboBox, QFileDialog, QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from farrail.exchange.frame_files import SUFFIXES, read_frame
from farrail.frames.picture import Picture
from farrail.readouts.read import Readout
from farrail.simulated.hidden import hidden_truth, truth_words
from farrail.train.placed import Place
from farrail.train.train import Train
from farrail.ui.session import Selection, Session
from farrail.ui.stations.frame_looks import Looked, bench_frames, look
from farrail.ui.theme.fonts import MEDIUM, font
from farrail.ui.widgets.background import Background
from farrail.ui.widgets.frame_picture import LEVELS, FramePicture
from farrail.ui.widgets.plain import Label

KINDS = (("flat", "Vignetting"), ("stars", "Stars, tilt"), ("dust", "Dust"),
         ("ruler", "A ruler"), ("sky", "Clear sky"))  # fmt: skip
FRAMES = f"Frames ({' '.join(f'*{suffix}' for suffix in SUFFIXES)});;All files (*)"
LEGEND = (
    f"Lines of {', '.join(f'{100 * level:.0f}' for level in LEVELS)} % of the middle's light. "
    "Solid: measured; dashed: predicted."
)


class FramesPage(QWidget):
    """Opens frames, has them looked at beside the hand, and writes down what they say."""

    # What frames say is to be written down: kind and values of each observation.
    wanted = Signal(object)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Lay the page out."""
        super().__init__(parent)
        self._session = session
        self._looked: Looked | None = None
        self._pictures: list[Picture] = []
        self._hidden: list[str] = []
        self._seed = 1
        # Places clicked along a rule, and the train the frames were taken with.
        self._clicked: list[tuple[float, float]] = []
        self._of = ""
        self._train: Train | None = None
        self.setAcceptDrops(True)
        self.kind = QComboBox()
        self.kind.setObjectName("frame_kind")
        self.kind.setAccessibleName("What the frame shows")
        # In a small window the list gives way, not the buttons' names.
        self.kind.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.kind.setMinimumContentsLength(10)
        for key, text in KINDS:
            self.kind.addItem(text, key)
        self.kind.activated.connect(lambda _: self._look())
        self.open = self._button("frame_open", "Open…", self._ask)
        self.bench = self._button("frame_bench", "Simulated bench camera", self.take)
        self.bench.setToolTip("A stand-in: takes a frame of this train with something wrong with it, to guess what")
        head = QHBoxLayout()
        head.setSpacing(8)
        head.addWidget(self.kind, 1)
        head.addWidget(self.open)
        head.addWidget(self.bench)
        self.picture = FramePicture()
        self.picture.picked.connect(self._click)
        self._legend = Label(LEGEND)
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
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(QScrollArea.Shape.NoFrame)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(self._text)
        self.write = self._button("frame_write", "Write it down", self._write)
        self.tell = self._button("frame_tell", "What was hidden?", self._tell)
        self.stop = self._button("frame_stop", "Cancel", self._cancel)
        row = QHBoxLayout()
        row.setSpacing(8)
        for button in (self.write, self.tell, self.stop):
            row.addWidget(button)
        row.addStretch(1)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 6, 0, 0)
        box.setSpacing(8)
        box.addLayout(head)
        box.addWidget(self.picture, 5)
        box.addWidget(self._legend)
        box.addWidget(self._verdict)
        box.addWidget(scroll, 4)
        box.addLayout(row)
        self.work = Background(self)
        self.work.done.connect(self._take_answer)
        self.work.failed.connect(self._failed)
        self._settle()

    def _button(self, name: str, text: str, run: Callable[[], object]) -> QPushButton:
        button = QPushButton(text)
        button.setObjectName(name)
        button.clicked.connect(lambda: run())
        return button

    def _say(self, told: str, verdict: str = "") -> None:
        """Show what is told, the verdict above it."""
        self._verdict.setText(verdict)
        self._verdict.setVisible(bool(verdict))
        self._text.setText(told)
        self._legend.setVisible(bool(verdict) and self._looked is not None and self._looked.flat is not None)

    def _settle(self, *, busy: bool = False) -> None:
        readout = self._session.readout
        ready = readout is not None and readout.layout.camera is not None
        for button in (self.open, self.bench, self.kind):
            button.setEnabled(ready and not busy)
        self.stop.setVisible(busy)
        self.write.setEnabled(not busy and self._looked is not None and bool(self._looked.seen))
        self.tell.setVisible(bool(self._hidden))
        if not ready:
            self._say("A frame is read beside the train that took it: lay one with a camera.")
        elif self._looked is None and not busy:
            self._say("FITS, TIFF, PNG, JPEG or raw. Files are only looked into and stay where they are.")

    def refresh(self) -> None:
        """Follow the train in view; what frames of another one said goes."""
        train = self._session.train
        if self._of != ("" if train is None else train.id):
            self._clear()
        if not self.work.busy:
            self._settle()

    def _clear(self) -> None:
        """Show nothing."""
        self.work.cancel()
        self._looked, self._pictures, self._hidden, self._clicked = None, [], [], []
        self._of = "" if self._session.train is None else self._session.train.id
        self.picture.show_picture(None)
        self._settle()

    def _click(self, column: float, row: float) -> None:
        """Take a place along a rule; the second one has it read along the line between them."""
        readout = self._session.readout
        if self.kind.currentData() != "ruler" or readout is None or not self._pictures or self.work.busy:
            return
        self._clicked = [*self._clicked, (column, row)][-2:] if len(self._clicked) < 2 else [(column, row)]
        self.picture.show_marks(self._clicked)
        if len(self._clicked) == 2:
            pictures = self._pictures
            self._begin(lambda _: pictures, readout, "ruler", (*self._clicked[0], *self._clicked[1]))

    # Frames

    def _ask(self) -> None:
        names, _ = QFileDialog.getOpenFileNames(self.window(), "Frames of this train", "", FRAMES)
        if names:
            self.show_files([Path(name) for name in names])

    def show_files(self, paths: list[Path]) -> None:
        """Have files looked at; several of stars are taken as one run through focus."""
        self._hidden = []
        readout, kind = self._session.readout, str(self.kind.currentData())
        if readout is None or readout.layout.camera is None:
            self._session.message.emit("A frame is read beside the train that took it: lay one with a camera.", True)
            return
        self._begin(lambda stopped: [read_frame(path, stopped) for path in paths], readout, kind)

    def choose_hidden(self, seed: int) -> None:
        """Have the simulated bench camera hide what a number stands for, next time."""
        self._seed = seed

    def take(self) -> None:
        """Take a frame with the simulated bench camera: something is wrong with the train."""
        readout, kind, seed = self._session.readout, str(self.kind.currentData()), self._seed
        if readout is None or readout.layout.camera is None:
            return
        self._seed += 1
        self._hidden = truth_words(hidden_truth(readout, kind, seed), readout, kind)
        self._begin(lambda _: bench_frames(readout, kind, seed), readout, kind)

    def _begin(
        self, frames: Callable[[Callable[[], bool]], list[Picture]], readout: Readout, kind: str,
        line: tuple[float, float, float, float] | None = None,
    ) -> None:  # fmt: skip
        self._of, self._train = readout.layout.train.id, readout.layout.train
        self._clicked = self._clicked if line is not None else []
        shelf = self._session.workbook.by_id

        def work(cancel: Any) -> tuple[list[Picture], Looked | None]:
            pictures = frames(cancel.is_set)
            return pictures, look(kind, pictures, readout, shelf, cancel.is_set, line)

        self._looked = None
        self.picture.show_picture(None)
        self._say("Looking …")
        self.work.start(work)
        self._settle(busy=True)

    def _look(self) -> None:
        """Look at the same frames for something else."""
        readout, kind = self._session.readout, str(self.kind.currentData())
        if self._hidden:
            self._clear()
        elif self._pictures and readout is not None:
            pictures = self._pictures
            self._begin(lambda _: pictures, readout, kind)

    def _take_answer(self, answer: object) -> None:
        assert isinstance(answer, tuple)
        self._pictures, self._looked = answer
        looked = self._looked
        if looked is not None:
            self.picture.show_picture(looked.picture)
            self._say("\n".join(looked.lines[1:]), looked.lines[0])
            if looked.flat is not None:
                shape = looked.flat.cells.shape
                columns, rows = looked.flat.cells.columns[: shape[1]], looked.flat.cells.rows[:: shape[1]]
                self.picture.show_light(
                    columns, rows, looked.flat.share.reshape(shape), looked.flat.predicted.reshape(shape)
                )
            self._point_at(looked.place)
            if self._clicked:
                self.picture.show_marks(self._clicked)
            if looked.dust and looked.kind == "dust":
                width = self._sensor_width()
                scale = looked.picture.size[0] / width
                self.picture.show_rings(
                    [
                        (one.mote.column, one.mote.row, one.mote.outer_mm * scale, f"{n}")
                        for n, one in enumerate(looked.dust, 1)
                    ]
                )
        self._settle()

    def _point_at(self, place: Place | None) -> None:
        """Have the rail point at a part; of the camera, at the joint before it."""
        train = self._session.train
        if place is not None and train is not None and 0 <= place.index <= len(train.row(place.side)):
            last = place.index == len(train.row(place.side))
            self._session.select(Selection(place.side, place.index, joint=last))

    def _sensor_width(self) -> float:
        readout = self._session.readout
        camera = None if readout is None else readout.layout.camera
        return 36.0 if camera is None else camera.sensor_width_mm.value

    def _failed(self, error: object) -> None:
        self._settle()
        if isinstance(error, BaseException):
            self._session.tell_failure(error, "Looking at a frame")
            self._say("")

    def _cancel(self) -> None:
        self.work.cancel()
        self._looked = None
        self._settle()
        self._say("Cancelled.")

    def _tell(self) -> None:
        told = "\n".join(f"Hidden: {line}" for line in self._hidden)
        shown = self._text.text()
        if told not in shown:
            self._say(f"{shown}\n\n{told}".strip(), self._verdict.text())

    def _write(self) -> None:
        looked = self._looked
        if looked is None or not looked.seen:
            return
        if self._session.train != self._train:
            # What is written down is tied to the train as it lies: it must be what the frame was held against.
            self._session.message.emit("The train was changed since; the frame is looked at again.", True)
            self._look()
            return
        self.wanted.emit(looked.seen)

    # Frames dropped on the page

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        """Take frames."""
        if frames_of(event):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        """Have the dropped frames looked at."""
        paths = frames_of(event)
        if paths:
            event.acceptProposedAction()
            self.show_files(paths)


def frames_of(event: QDropEvent) -> list[Path]:
    """Return the frames that are dropped; [] where anything else is among them."""
    paths = [Path(url.toLocalFile()) for url in event.mimeData().urls() if url.isLocalFile()]
    return paths if paths and all(path.suffix.lower() in SUFFIXES for path in paths) else []
