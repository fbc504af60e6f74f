"""Frames as evidence: a flat, stars, dust or a ruler in a picture, beside what the train predicts."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

import numpy as np
from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QDragEnterEvent, QDropEvent
from PySide6.QtWidgets import QComboBox, QFileDialog, QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from farrail.exchange.frame_files import SUFFIXES, read_frame
from farrail.frames.as_taken import as_taken
from farrail.frames.dust import DustReading, find_motes, looked_at_mm, read_mote, stayed
from farrail.frames.flat import FlatReading, FlatTrouble, read_flat
from farrail.frames.picture import Picture
from farrail.frames.ruler import RulerReading, read_ruler
from farrail.frames.stars import StarReading, TiltReading, find_stars, read_stars, read_through_focus
from farrail.logbook.kinds.front import CornerLoss
from farrail.logbook.kinds.keeping import FreeNote
from farrail.logbook.kinds.near import FieldWidth
from farrail.logbook.kinds.stars import CornerStars
from farrail.logbook.observation import Observation
from farrail.readouts.read import Readout
from farrail.simulated.bench_camera import DARK_E, FULL_E, bench_flat, bench_ruler, bench_stars
from farrail.simulated.hidden import hidden_truth, truth_words
from farrail.text.frames import dust_words, flat_words, ruler_words, stars_words, stayed_words, tilt_words
from farrail.train.rows import Shelf
from farrail.ui.session import Session
from farrail.ui.theme.fonts import MEDIUM, font
from farrail.ui.widgets.background import Background
from farrail.ui.widgets.frame_picture import LEVELS, FramePicture
from farrail.ui.widgets.plain import Label

KINDS = (("flat", "A flat: what vignettes"), ("stars", "Stars: spacing and tilt"), ("dust", "A flat: where dust lies"),
         ("ruler", "A ruler: how large"))  # fmt: skip
FRAMES = f"Frames ({' '.join(f'*{suffix}' for suffix in SUFFIXES)});;All files (*)"
LEGEND = (
    f"Lines of {', '.join(f'{100 * level:.0f}' for level in LEVELS)} % of the middle's light. "
    "Solid: measured; dashed: predicted."
)
FLANGE_MM, BENCH_COLUMNS = 60.0, 900
FOCUS_UM = (-600.0, -360.0, -120.0, 120.0, 360.0, 600.0)


# Fields of an observation with what goes into them.
Values = tuple[tuple[str, Any], ...]


@dataclass(frozen=True)
class Looked:
    """What was found in frames.

    Attributes:
        kind: flat, stars, dust or ruler.
        picture: the first of them.
        lines: what they say, the verdict first.
        flat: of a flat.
        dust: of dust.
        seen: the kind of observation it makes; None where it says nothing.
        values: of each such observation.
    """

    kind: str
    picture: Picture
    lines: tuple[str, ...]
    flat: FlatReading | None = None
    dust: tuple[DustReading, ...] = ()
    seen: type[Observation] | None = None
    values: tuple[Values, ...] = ()


def look(
    kind: str, pictures: list[Picture], readout: Readout, shelf: Shelf, stopped: Callable[[], bool]
) -> Looked | None:
    """Return what frames say of a train; None where nobody wants to know any more."""
    camera = readout.layout.camera
    if camera is None or stopped():
        return None
    picture, wide, high = pictures[0], camera.sensor_width_mm.value, camera.sensor_height_mm.value
    for one in pictures:
        one.check_on(wide, high)
    if kind == "flat":
        return _flats(pictures, readout, shelf, stopped)
    if kind == "dust":
        pixel = looked_at_mm(picture, wide)
        motes = tuple(read_mote(mote, readout, pixel) for mote in find_motes(picture, wide))
        told = [dust_words(one) for one in motes]
        if len(pictures) > 1:
            # Another frame, with a filter or the camera turned between them, tells the motes apart.
            same = stayed([one.mote for one in motes], find_motes(pictures[1], wide), wide, picture.size[0])
            told = [
                f"{line} {stayed_words(stays=stays)}" if one.sure else line
                for one, line, stays in zip(motes, told, same, strict=True)
            ]
        lines = tuple(told) or ("No dust is seen.",)
        return Looked(
            kind,
            picture,
            lines,
            dust=motes,
            seen=FreeNote if motes else None,
            values=((("note", " ".join(lines)[:2000]), ("photo", picture.name)),),
        )
    if kind == "ruler":
        rule: RulerReading | None = read_ruler(picture, wide)
        width = (
            ()
            if rule is None
            else (
                (
                    ("width_mm", round(rule.width_mm.value, 2)),
                    ("off_mm", round(rule.width_mm.off, 2)),
                    ("photo", picture.name),
                ),
            )
        )
        return Looked(kind, picture, tuple(ruler_words(rule)), seen=None if rule is None else FieldWidth, values=width)
    return _stars(pictures, wide, high)


def _flats(pictures: list[Picture], readout: Readout, shelf: Shelf, stopped: Callable[[], bool]) -> Looked:
    """Look at one flat, or at several over a zoom's range, each beside the train set as its file says."""
    ordered = sorted(pictures, key=lambda one: one.focal_mm or 0.0)
    flats = [(one, read_flat(one, as_taken(one, readout, shelf), stopped)) for one in ordered]
    lines: list[str] = []
    seen: list[Values] = []
    for one, flat in flats:
        told = flat_words(flat)
        if len(flats) > 1:
            told[0] = f"{one.name}{'' if one.focal_mm is None else f', {one.focal_mm:g} mm'}: {told[0]}"
            told = [*told[:2], *(told[2:] if flat is flats[0][1] else [])] if flat.depth is None else told
        lines += told
        if np.isfinite(flat.corner_stops) and flat.trouble in (None, FlatTrouble.EVEN, FlatTrouble.ONLY_FALLOFF):
            seen.append(_loss(one, flat, told))
    return Looked("flat", flats[0][0], tuple(lines), flats[0][1], seen=CornerLoss if seen else None, values=tuple(seen))


def _loss(picture: Picture, flat: FlatReading, told: list[str]) -> Values:
    """Return what a flat puts into the log: what the corner loses to what is laid."""
    values: list[tuple[str, Any]] = [
        ("stops", round(flat.laid_stops, 2)), ("off_stops", 0.05), ("note", " ".join(told)[:2000]),
        ("photo", picture.name),
    ]  # fmt: skip
    if picture.focal_mm is not None:
        values.append(("focal_mm", picture.focal_mm))
    if picture.f_number is not None:
        values.append(("f_number", picture.f_number))
    return tuple(values)


def _stars(pictures: list[Picture], wide: float, high: float) -> Looked:
    """Look at stars; of a run through focus the frame nearest to focus shows their shape."""
    found = [(one, find_stars(one, wide)) for one in pictures]
    sharpest = min(found, key=lambda pair: float(np.median(pair[1].width_um)) if pair[1].count else np.inf)[0]
    reading: StarReading = read_stars(sharpest, wide, high)
    lines = stars_words(reading)
    places = [(one.focus_um, stars) for one, stars in found if one.focus_um is not None]
    if len(places) > 1:
        tilt: TiltReading | None = read_through_focus([(float(at), stars) for at, stars in places], wide, high)
        # Tilt goes first: it is what the run was taken for.
        lines = tilt_words(tilt, FLANGE_MM, wide, high) + lines if tilt is not None else [
            *lines, "Tilt cannot be told: four places of the focuser or more, on both sides of focus.",
        ]  # fmt: skip
    values: tuple[Values, ...] = ()
    if reading.drawn is not None:
        values = ((("shape", reading.drawn.value), ("note", " ".join(lines)[:2000]), ("photo", sharpest.name)),)
    return Looked("stars", sharpest, tuple(lines), seen=CornerStars if values else None, values=values)


class FramesPage(QWidget):
    """Opens frames, has them looked at beside the hand, and writes down what they say."""

    # What frames say is to be written down: the kind of observation and the values of each.
    wanted = Signal(object, object)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Lay the page out."""
        super().__init__(parent)
        self._session = session
        self._looked: Looked | None = None
        self._pictures: list[Picture] = []
        self._hidden: list[str] = []
        self._seed = 1
        self.setAcceptDrops(True)
        self.kind = QComboBox()
        self.kind.setObjectName("frame_kind")
        self.kind.setAccessibleName("What the frame shows")
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
        self.write.setEnabled(not busy and self._looked is not None and self._looked.seen is not None)
        self.tell.setVisible(bool(self._hidden))
        if not ready:
            self._say("A frame is read beside the train that took it: lay one with a camera.")
        elif self._looked is None and not busy:
            self._say("FITS, TIFF, PNG, JPEG or raw. Files are only looked into and stay where they are.")

    def refresh(self) -> None:
        """Follow the train in view."""
        if not self.work.busy:
            self._settle()

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
        self._begin(lambda _: _bench(readout, kind, seed), readout, kind)

    def _begin(self, frames: Callable[[Callable[[], bool]], list[Picture]], readout: Readout, kind: str) -> None:
        shelf = self._session.workbook.by_id

        def work(cancel: Any) -> tuple[list[Picture], Looked | None]:
            pictures = frames(cancel.is_set)
            return pictures, look(kind, pictures, readout, shelf, cancel.is_set)

        self._looked = None
        self.picture.show_picture(None)
        self._say("Looking …")
        self.work.start(work)
        self._settle(busy=True)

    def _look(self) -> None:
        """Look at the same frames for something else."""
        readout, kind = self._session.readout, str(self.kind.currentData())
        if self._pictures and readout is not None and not self._hidden:
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
        if looked is not None and looked.seen is not None:
            self.wanted.emit(looked.seen, [dict(one) for one in looked.values])

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


def _bench(readout: Readout, kind: str, seed: int) -> list[Picture]:
    """Return what the simulated bench camera takes, of stars a run through focus."""

    def frame(light: np.ndarray, focus_um: float | None = None) -> Picture:
        return Picture(
            (light - DARK_E).astype(np.float32), FULL_E - DARK_E, name="simulated bench camera", focus_um=focus_um
        )

    truth = hidden_truth(readout, kind, seed)
    if kind == "stars":
        runs = [(at, hidden_truth(readout, kind, seed, at)) for at in (0.0, *FOCUS_UM)]
        return [frame(bench_stars(readout, one, BENCH_COLUMNS), at) for at, one in runs]
    if kind == "ruler":
        camera = readout.layout.camera
        high = (
            600
            if camera is None
            else round(BENCH_COLUMNS * camera.sensor_height_mm.value / camera.sensor_width_mm.value)
        )
        return [frame(bench_ruler(truth.rule_mm, BENCH_COLUMNS, high, seed=seed))]
    return [frame(bench_flat(readout, replace(truth, seed=seed), BENCH_COLUMNS))]
