"""The frame as it will be: the photo this train takes, under the lines that say where light is lost.

A coarse picture follows the hand; the whole one is made in the background once the hand rests.
"""

from dataclasses import replace
from pathlib import Path

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import (
    QColor,
    QDragEnterEvent,
    QDropEvent,
    QFocusEvent,
    QHideEvent,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QResizeEvent,
)

from farrail.cancel import Cancel
from farrail.errors import FarRailError
from farrail.language import N_, say
from farrail.preview.model import (
    CornerLoss,
    NotWanted,
    PreviewSettings,
    Scene,
    frame_preview,
    ready_at_once,
    release,
    scenes_for,
    usual_scene,
)
from farrail.readouts.read import Readout
from farrail.train.rows import Shelf
from farrail.ui.background_task import BackgroundTask, Same
from farrail.ui.session import Session
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import font
from farrail.ui.widgets.frame_map import FrameMap
from farrail.ui.widgets.photo_work import Pictures, baring, making
from farrail.ui.widgets.picture_marks import (
    cause_words,
    draw_causes,
    draw_contours,
    draw_crop,
    draw_label,
    draw_split,
    draw_trouble,
    draw_zebra,
    image_of,
)

# While a hand moves; and at most at rest.
QUICK_PX, MOST_PX = 160, 1200
RESTED_MS = 120
# A picture narrower than this has no room for words in it.
SMALL_PX = 320
PHOTOS = (".jpg", ".jpeg", ".png", ".tif", ".tiff")
CORNER_NAMES = {
    "top left": N_("top left"), "top right": N_("top right"), "bottom left": N_("bottom left"),
    "bottom right": N_("bottom right"),
}  # fmt: skip
KEYS = {
    Qt.Key.Key_1: "contours", Qt.Key.Key_2: "causes", Qt.Key.Key_3: "crop", Qt.Key.Key_4: "ends",
}  # fmt: skip


class PhotoFrame(FrameMap):
    """The photo a train takes."""

    # Which marks are drawn, or the scene, changed.
    marks_changed = Signal()
    # The picture is to fill its page, or no longer; a window of its own is wanted.
    fill_wanted = Signal()
    window_wanted = Signal()
    # The picture in the background is done, or none can be made.
    made_changed = Signal()

    def __init__(self, session: Session, name: str, shown: tuple[str, ...] = ("contours", "causes")) -> None:
        """Make an empty picture.

        Args:
            session: whose train in view takes it.
            name: object name.
            shown: the marks drawn to begin with.
        """
        super().__init__()
        self.setObjectName(name)
        self.setAccessibleName(say("The photo this train takes"))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAcceptDrops(True)
        self._session = session
        self._readout: Readout | None = None
        self._shelf: Shelf | None = None
        self.settings: PreviewSettings | None = None
        self.marks = {mark: mark in shown for mark in ("contours", "causes", "crop", "ends")}
        self.comparing = False
        self.split: float | None = None
        self._made: Pictures | None = None
        self._quick: QImage | None = None
        self._images: dict[str, QImage] = {}
        self._trouble = ""
        # The picture shown is from before the last change.
        self._stale = False
        self._work = BackgroundTask(self._question, self)
        self._work.answered.connect(self._take_pictures)
        self._work.failed.connect(self._fail)
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(RESTED_MS)
        self._later.timeout.connect(self._ask)

    # What is shown

    def show_readout(self, readout: Readout | None, shelf: Shelf | None = None) -> None:
        """Show another train, or the same one changed; its parts are those of the workbook where none are given."""
        if readout is self._readout:
            return
        self._readout, self._shelf = readout, shelf
        has_frame = readout is not None and readout.light.corner_mm is not None
        self.show_light(readout.light if has_frame and readout is not None else None)
        self._quick, self._trouble, self._stale = None, "", self._made is not None
        self.made_changed.emit()
        if readout is not None and has_frame:
            self._follow(readout)
            self._later.start()
        else:
            self._drop()

    def _follow(self, readout: Readout) -> None:
        """Follow the hand with a coarse picture, where that takes no longer than a step may."""
        settings = self.settings_for(readout)
        try:
            if self._made is not None and ready_at_once(readout, settings, QUICK_PX):
                quick = frame_preview(readout, settings, QUICK_PX, quick=True)
                self._quick, self._stale = image_of(quick.quickly_shown), False
        except FarRailError as error:
            self._trouble = str(error)

    def settings_for(self, readout: Readout) -> PreviewSettings:
        """Return how the picture is taken: as chosen, else as suits the train."""
        if self.settings is None:
            return PreviewSettings(usual_scene(readout))
        return self.settings

    def scenes(self) -> tuple[Scene, ...]:
        """Return the scenes to choose from."""
        return () if self._readout is None or self._light is None else scenes_for(self._readout)

    def choose(self, settings: PreviewSettings | None) -> None:
        """Take another scene; None: the usual one."""
        self.settings = settings
        self._drop()
        self._later.start(0)
        self.marks_changed.emit()

    def mark(self, name: str, *, shown: bool) -> None:
        """Show contours, causes, the crop, or blown and lost areas, or hide them."""
        if self.marks[name] != shown:
            self.marks[name] = shown
            self.update()
            self.marks_changed.emit()

    def compare(self, *, on: bool) -> None:
        """Show the picture without the front stack, for as long as it is held."""
        if self.comparing != on:
            self.comparing = on
            self.update()

    def set_split(self, share: float | None) -> None:
        """Put a line across the picture, left of it without the front stack; None takes it away."""
        self.split = share
        self.update()
        self.marks_changed.emit()

    @property
    def has_bare(self) -> bool:
        """Whether there is a front stack to compare with."""
        return self._readout is not None and bool(self._readout.layout.front)

    def _question(self) -> object:
        readout = self._readout
        if readout is None or self._light is None or self.isHidden():
            return None
        return Same([readout]), self.settings_for(readout), self._columns

    @property
    def _columns(self) -> int:
        return int(min(max(self._frame()[0].width() * self.devicePixelRatioF(), 64), MOST_PX))

    def _ask(self) -> None:
        """Make the picture in the background; first a coarse scene, then the fine one."""
        if self._readout is None or self._light is None or self._work.asked:
            return
        self._begin_work(fine=self._made is not None and self._made.fine)

    def _begin_work(self, *, fine: bool, over: Pictures | None = None) -> None:
        readout = self._readout
        if readout is None or self._question() is None:
            return
        train = readout.layout.train
        settings, columns = self.settings_for(readout), self._columns
        if over is None:
            self._work.begin(making(train, self._parts(), settings, columns, fine=fine))
        else:
            self._work.begin(baring(train, self._parts(), settings, columns, over))

    def _parts(self) -> Shelf:
        return self._session.workbook.by_id if self._shelf is None else self._shelf

    def _take_pictures(self, answer: object) -> None:
        if not isinstance(answer, Pictures):
            return
        self._made, self._quick, self._trouble, self._images, self._stale = answer, None, "", {}, False
        self.update()
        self.made_changed.emit()
        if not answer.fine:
            self._begin_work(fine=True)
        elif answer.bare is None and self.has_bare:
            self._begin_work(fine=True, over=answer)

    def _fail(self, error: Exception) -> None:
        if isinstance(error, NotWanted):
            return
        self._drop()
        self._trouble = str(error) if isinstance(error, FarRailError) else say("The picture could not be made.")
        if not isinstance(error, FarRailError):
            self._session.caught(error)
        self.update()

    def _drop(self) -> None:
        self._made, self._quick, self._images = None, None, {}
        self.update()
        self.made_changed.emit()

    def finish(self) -> None:
        """Make everything now, as for a picture."""
        super().finish()
        self._later.stop()
        readout = self._readout
        if readout is None or self._light is None:
            return
        work = making(readout.layout.train, self._parts(), self.settings_for(readout), self._columns, fine=True)
        self._work.forget()
        try:
            answer = work(Cancel())
            if self.has_bare:
                assert isinstance(answer, Pictures)
                bare = baring(
                    readout.layout.train, self._parts(), self.settings_for(readout), self._columns, answer
                )  # fmt: skip
                answer = bare(Cancel())
            self._take_pictures(answer)
        except FarRailError as error:
            self._fail(error)

    def wait(self) -> None:
        """Wait for what is under way."""
        self._work.wait()

    def end(self) -> None:
        """Give up what is under way: the window is closing."""
        self._later.stop()
        self._work.end()

    def hideEvent(self, event: QHideEvent) -> None:
        """Release the pictures while the page is not looked at."""
        self._work.forget()
        self._readout = None
        self._drop()
        release()
        super().hideEvent(event)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Make the picture again at another size."""
        super().resizeEvent(event)
        if self._readout is not None:
            self._later.start()

    # Drawing

    above_px, below_px, graduated_lines = 0.0, 0.0, False

    def base_image(self) -> QImage:
        """The photo; while none is there yet, the light alone."""
        if self._quick is not None:
            return self._quick
        made = self._made
        if made is None or self._trouble:
            return super().base_image()
        if self._bare_shown and made.bare is not None:
            return self._kept("bare", made.bare)
        return self._kept("whole", made.shown)

    def _kept(self, name: str, values: np.ndarray) -> QImage:
        key = f"{name} {current_theme().name}"
        if key not in self._images:
            self._images[key] = image_of(values)
        return self._images[key]

    def draw_marks(self, p: QPainter, frame: QRectF, scale: float) -> None:
        """Draw what the photo means over it."""
        made, light = self._made, self._light
        assert light is not None
        # What takes longer than a step of a hand is said once it rests.
        resting = self._quick is None and not self._session.dragging
        split = None if made is None or made.bare is None or self._bare_shown else self.split
        p.save()
        if split is not None and made is not None and made.bare is not None:
            draw_split(p, frame, split, self._kept("bare", made.bare))
            # What is drawn over the photo is about the side with filters.
            at = frame.left() + frame.width() * split
            p.setClipRect(QRectF(at, frame.top(), frame.right() - at, frame.height()))
        if made is not None and self.marks["ends"] and self._quick is None:
            draw_zebra(p, frame, made.clipped, made.lost)
        if self.marks["contours"] and not self._bare_shown:
            draw_contours(p, frame, self._lines)
        if self.marks["crop"] and resting and light.clean_mm is not None:
            draw_crop(p, frame, scale, light.clean_mm)
        if self.marks["causes"] and not self._bare_shown:
            draw_causes(p, frame, self._losses, self._ends)
        p.restore()
        if self._trouble:
            draw_trouble(p, frame, self._trouble)
        elif self._stale:
            draw_label(p, frame, light, say("from before the last change"))
        elif frame.width() >= SMALL_PX and resting:
            draw_label(p, frame, light, say("without filters") if self._bare_shown else self.clean_words())

    @property
    def _bare_shown(self) -> bool:
        """Whether what is shown is the photo without filters: asked for, and made already."""
        return self.comparing and self._quick is None and self._made is not None and self._made.bare is not None

    @property
    def _ends(self) -> tuple[float, float] | None:
        """The interval of the darkest corner's loss in stops, where something of the train in view is not entered."""
        if self._readout is None or self._readout is not self._session.readout:
            return None
        return self._session.range_report.corner_loss_stops

    @property
    def _losses(self) -> tuple[CornerLoss, ...]:
        """What each corner loses, as worked out with the picture; none while a hand drags."""
        return () if self._made is None or self._quick is not None or self._stale else self._made.losses

    def sentence(self) -> str:
        """Return what the picture shows: the scene, each corner's loss and cause, what is blown and lost."""
        if self._readout is None or self._light is None:
            return super().sentence()
        said = [super().sentence()]
        losses = self._losses
        most = max((loss.stops for loss in losses), default=0.0)
        for loss in losses:
            if loss.part:
                words = cause_words(loss, self._ends if loss.stops == most else None)
                said.append(say("{corner}: {words}", corner=CORNER_NAMES[loss.corner], words=words))
        ends = self.ends_words()
        return "; ".join([*said, ends] if ends else said)

    def ends_words(self) -> str:
        """Return how much of the photo is blown out and lost in noise; "" while there is none."""
        if self._made is None or self._stale or self._quick is not None:
            return ""
        clipped, lost = 100.0 * self._made.clipped_share, self._made.lost_share
        if lost is None:
            return say("blown out {clipped:.0f} %; enter the pixel size to see what is lost in noise", clipped=clipped)
        return say("blown out {clipped:.0f} %, lost in noise {lost:.0f} %", clipped=clipped, lost=100.0 * lost)

    def missing_words(self) -> str:
        """Return what is missing for a photo; "" where there is one."""
        readout = self._readout
        if readout is None:
            return say("No train in view.")
        return say("A photo needs a sensor: add a camera to the train.") if readout.layout.camera is None else ""

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint the photo; without one, what is missing in its place."""
        missing = self.missing_words()
        if not missing:
            super().paintEvent(event)
            return
        theme, p = current_theme(), QPainter(self)
        room = QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5)
        room.setHeight(min(room.height(), room.width() / 1.5))
        p.setPen(QPen(QColor(theme.hairline), 1.0, Qt.PenStyle.DashLine))
        p.drawRect(room)
        p.setPen(QColor(theme.steel))
        p.setFont(font(13))
        wrapped = int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap)
        p.drawText(room.adjusted(20.0, 20.0, -20.0, -20.0), wrapped, missing)
        p.end()

    # Hands

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Figures show and hide marks, Space compares while held, S splits, F fills the page, W opens a window."""
        name = KEYS.get(Qt.Key(event.key()))
        plain = not event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier
        if plain and name is not None:
            self.mark(name, shown=not self.marks[name])
        elif plain and event.key() == Qt.Key.Key_Space and self.has_bare:
            self.compare(on=True)
        elif plain and event.key() == Qt.Key.Key_S and self.has_bare:
            self.set_split(0.5 if self.split is None else None)
        elif plain and event.key() == Qt.Key.Key_F:
            self.fill_wanted.emit()
        elif plain and event.key() == Qt.Key.Key_W:
            self.window_wanted.emit()
        else:
            super().keyPressEvent(event)

    def keyReleaseEvent(self, event: QKeyEvent) -> None:
        """Letting go of Space ends comparing."""
        if event.key() == Qt.Key.Key_Space and not event.isAutoRepeat():
            self.compare(on=False)
        super().keyReleaseEvent(event)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        """What is held is let go when the focus leaves."""
        self.compare(on=False)
        super().focusOutEvent(event)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        """Fill the page, or no longer."""
        if event.button() is Qt.MouseButton.LeftButton and self.split is None:
            self.fill_wanted.emit()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Take hold of the split line."""
        if self.split is not None and event.button() is Qt.MouseButton.LeftButton and self._light is not None:
            self._drag_split(event.position())
        super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Drag the split line; else say which place is under the pointer."""
        if self.split is not None and event.buttons() & Qt.MouseButton.LeftButton and self._light is not None:
            self._drag_split(event.position())
            return
        super().mouseMoveEvent(event)

    def _drag_split(self, at: QPointF) -> None:
        frame = self._frame()[0]
        self.set_split(min(max((at.x() - frame.left()) / max(frame.width(), 1.0), 0.0), 1.0))

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        """Take a photo dropped on the picture."""
        if _photo_of(event) is not None:
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        """Use a photo as the scene."""
        path = _photo_of(event)
        if path is not None:
            self.use_photo(path)
            event.acceptProposedAction()

    def use_photo(self, path: Path) -> None:
        """Use one's own photo as the scene."""
        base = self.settings or PreviewSettings()
        self.choose(replace(base, scene=Scene.PHOTO, photo=path))


def _photo_of(event: QDropEvent) -> Path | None:
    paths = [Path(url.toLocalFile()) for url in event.mimeData().urls() if url.isLocalFile()]
    return next((path for path in paths if path.suffix.casefold() in PHOTOS), None)
