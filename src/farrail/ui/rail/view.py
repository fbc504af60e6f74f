"""The rail: shows the train in view and turns hands into edits."""

from dataclasses import replace

from PySide6.QtCore import QEvent, QPoint, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QContextMenuEvent,
    QDragEnterEvent,
    QDragLeaveEvent,
    QDragMoveEvent,
    QDropEvent,
    QHelpEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QResizeEvent,
    QWheelEvent,
)
from PySide6.QtWidgets import QToolTip, QWidget

from farrail.language import say
from farrail.readouts.light.bundles import Bundle
from farrail.readouts.read import Readout
from farrail.train.train import Side, Train
from farrail.ui.actions.laying import from_elsewhere, lay_at, put_in_seat
from farrail.ui.rail.annotations import Annotator, paint_not_current
from farrail.ui.rail.frame import STRIP_BELOW_PX, STRIP_PX, Frame, fitted, still_fits
from farrail.ui.rail.gestures import Gesture, MoveGesture, PanGesture
from farrail.ui.rail.joint_marks import paint_empty, paint_joints
from farrail.ui.rail.painter import SectionPainter
from farrail.ui.rail.picking import JOINT_BAND_PX, PICK_PX, body_under, place_of
from farrail.ui.rail.section import Body, Kept, Section, cut_section, drawn_alike, ghosted
from farrail.ui.rail.tiles import Tiles
from farrail.ui.rail.told import tip_of, told_of
from farrail.ui.rail.walking import BARE, by_letter, places_of, walked
from farrail.ui.selection import NOTHING, Selection
from farrail.ui.session import Session
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import STRONG, draw_text
from farrail.ui.widgets.part_drag import dragged_part, is_part
from farrail.workbook.edits.laying import FlipPart, MovePart, RemovePart

PAN_PX = 60.0
# More steps than any row has places.
FAR = 10_000


# How many shapes are kept.
MOST_SHAPES = 400


class RailView(QWidget):
    """The cut section of the train in view, never hidden."""

    # A context menu is asked for at a place of the screen.
    menu_wanted = Signal(QPoint)
    # A part is to be shown in the Parts station (double click or Enter).
    part_opened = Signal(str)
    # What fits at the picked joint is to be chosen from (Enter on a joint).
    fits_wanted = Signal()

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Show a session's train."""
        super().__init__(parent)
        self.setObjectName("rail")
        self.setAccessibleName(say("Rail: the train as a cut section"))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAcceptDrops(True)
        # It paints every pixel of its own: nothing behind it needs painting first.
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setMinimumHeight(STRIP_PX - 8)
        self._session = session
        self._tiles = Tiles()
        # Shapes of parts as they are placed; let go by hundreds when a workbook has worn many.
        self._shapes: Kept = {}
        self._section: Section | None = None
        self._drawn: Readout | None = None
        self._preview: Readout | None = None
        self._probe: Bundle | None = None
        self._frame: Frame | None = None
        self._follows_fit = True
        self._gesture: Gesture | None = None
        self._drop: tuple[Side, int] | None = None
        session.changed.connect(self._refresh)
        session.train_changed.connect(self.fit)
        session.selection_changed.connect(self.update)
        session.ranges_changed.connect(self._take_ranges)
        session.current_changed.connect(lambda _: self.update())

    # What is shown

    @property
    def session(self) -> Session:
        """The session shown."""
        return self._session

    @property
    def section(self) -> Section | None:
        """The section in view, or None when there is no train."""
        if self._section is None:
            readout = self.shown
            if len(self._shapes) > MOST_SHAPES:
                self._shapes.clear()
            self._section = cut_section(readout, self._shapes) if readout is not None else None
            if self._section is not None:
                ends = self._session.range_report.ends
                drawn = self._section
                self._section = (
                    replace(drawn, ends=ends) if self._preview is None else ghosted(drawn, self._session.train)
                )
        return self._section

    @property
    def shown(self) -> Readout | None:
        """The readout drawn: the train in view, or a proposal previewed in its place."""
        return self._preview if self._preview is not None else self._session.readout

    def _take_ranges(self) -> None:
        """Write the intervals that are now worked out beside what is drawn."""
        if self._section is not None and self._preview is None:
            self._section = replace(self._section, ends=self._session.range_report.ends)
            self.update()

    def preview(self, readout: Readout | None) -> None:
        """Draw a proposal with its new parts as ghosts, or the train itself again."""
        if readout is not self._preview:
            self._preview = readout
            self._refresh()

    @property
    def previewing(self) -> bool:
        """Whether a proposal is drawn in place of the train."""
        return self._preview is not None

    def told(self) -> str:
        """Return what the pointer would be shown over what is picked."""
        place = self.place_px(self._session.selection)
        return "" if place is None else self._tip(QPointF(place.center().x(), place.bottom() - 2.0))

    def show_probe(self, bundle: Bundle | None) -> None:
        """Draw the bundle to a place of the frame, or take it away."""
        if bundle != self._probe:
            self._probe = bundle
            self.update()

    @property
    def folded(self) -> bool:
        """Whether it is so low that it is a strip: the drawing alone, and the verdict at its right end."""
        return self.height() < STRIP_BELOW_PX

    @property
    def frame(self) -> Frame:
        """How the section is scaled now."""
        section = self.section
        if self._frame is None:
            if section is None:
                below = 40.0 if self.folded else 100.0
                self._frame = Frame(6.0, self.width() / 2.0, self.height() - below, self.width(), self.height())
            else:
                self._frame = fitted(section, self.width(), self.height())
        return self._frame

    def fit(self) -> None:
        """Show the whole train."""
        self._follows_fit = True
        self._section, self._frame = None, None
        self.update()

    def zoom(self, factor: float, at_px: float | None = None) -> None:
        """Zoom about a pixel column, the middle when none is given."""
        self._follows_fit = False
        self._frame = self.frame.zoomed(factor, self.width() / 2.0 if at_px is None else at_px)
        self.update()

    def pan(self, by_px: float) -> None:
        """Move the view sideways."""
        self._follows_fit = False
        self._frame = self.frame.panned(by_px)
        self.update()

    def show_drop(self, place: tuple[Side, int] | None) -> None:
        """Mark the joint at which something would be placed."""
        if place != self._drop:
            self._drop = place
            self.update()

    def _refresh(self) -> None:
        """Take the edit up; the scale stays while the train still sits well in the view, so that nothing jumps."""
        readout, known = self.shown, self._drawn
        self._drawn = readout
        if self._session.dragging and self._section is not None and drawn_alike(known, readout):
            return  # a holder is turned: nothing of the section changes, and the hand need not wait for it
        self._section = None
        if self._follows_fit and not still_fits(self.section, self._frame, self.height()):
            self._frame = None
        self.update()

    # Finding things under the hand

    def body_at(self, at: QPointF) -> Body | None:
        """Return the part drawn under a point, thin ones with some grace."""
        section, frame = self.section, self.frame
        if section is None or at.y() > frame.axis_px:
            return None
        return body_under(section, frame, at.x())

    def joint_at(self, at: QPointF, reach_px: float = 1e9) -> tuple[Side, int] | None:
        """Return the joint nearest to a point, if any is within reach."""
        section, frame = self.section, self.frame
        if section is None or not section.joints:
            return None
        side, index, z, _ = min(section.joints, key=lambda joint: abs(frame.x(joint[2]) - at.x()))
        return (side, index) if abs(frame.x(z) - at.x()) <= reach_px else None

    def place_px(self, place: Selection) -> QRectF | None:
        """Return where a part or joint is drawn, in pixels; None where it is not."""
        section, frame = self.section, self.frame
        if section is None or place.empty:
            return None
        return place_of(section, frame, place.side, place.index, joint=place.joint)

    # Painting

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint the drawing sheet."""
        painter = QPainter(self)
        self.paint(painter, self._tiles)
        painter.end()

    def paint(self, painter: QPainter, tiles: Tiles | None = None) -> None:
        """Paint the drawing with any painter; `tiles` keeps what is painted of single parts, on a screen."""
        theme, section, readout = current_theme(), self.section, self.shown
        painter.fillRect(QRectF(0, 0, self.width(), self.height()), QColor(theme.paper))
        if section is None or readout is None:
            paint_empty(painter, self.frame, self.width())
            return
        picked = self._session.selection
        chosen = None if picked.empty or picked.joint else (picked.side.value, picked.index)
        shown = section if self._probe is None else replace(section, corner_bundle=self._probe)
        f = self.frame
        if tiles is not None:
            tiles.begin(f.scale, f.axis_px, f.top_px, theme.name, painter.device().devicePixelRatio())
        SectionPainter(painter, f, theme, tiles).paint(shown, chosen)
        annotator = Annotator(painter, self.frame, theme)
        if self.folded:
            annotator.write_strip(section, readout, chosen)
        else:
            annotator.write(section, readout, chosen)
        paint_joints(painter, self.frame, section, picked, self._drop)
        if not self._session.current:
            paint_not_current(painter, QRectF(0, 0, self.width(), self.height()), theme)
        elif self._preview is not None:
            painter.setPen(QColor(theme.accent))
            draw_text(painter, 22.0, 24.0, say("Preview, not applied yet"), 12, STRONG)
        if self._gesture is not None:
            self._gesture.paint(painter)

    # Mouse

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Pick what is under the pointer and begin the gesture that fits."""
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        if self._preview is not None:
            # What is previewed does not be there: a hand on the drawing brings the train itself back first.
            self.preview(None)
            return
        at = event.position()
        if event.button() == Qt.MouseButton.MiddleButton:
            self._gesture = PanGesture(self, at)
            return
        if event.button() not in (Qt.MouseButton.LeftButton, Qt.MouseButton.RightButton):
            return
        near_axis = abs(at.y() - self.frame.axis_px) <= JOINT_BAND_PX
        joint = self.joint_at(at, 2.0 * PICK_PX) if near_axis else None
        body = None if joint is not None else self.body_at(at)
        if joint is not None:
            self._session.select(Selection(joint[0], joint[1], joint=True))
        elif body is not None:
            self._session.select(Selection(body.side, body.index))
        else:
            self._session.select(NOTHING)
        if event.button() == Qt.MouseButton.LeftButton:
            self._gesture = MoveGesture(self, at, body) if body is not None else PanGesture(self, at)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Go on with the gesture under way."""
        if self._gesture is not None:
            self._gesture.move(event.position())

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """End the gesture under way."""
        if self._gesture is not None:
            gesture, self._gesture = self._gesture, None
            gesture.release(event.position())
            self.update()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        """Open the part under the pointer in the Parts station."""
        part = self._session.selected_part()
        if part is not None:
            self.part_opened.emit(part)

    def wheelEvent(self, event: QWheelEvent) -> None:
        """Zoom about the pointer; sideways wheels pan."""
        delta = event.angleDelta()
        if abs(delta.x()) > abs(delta.y()):
            self.pan(delta.x() / 2.0)
        else:
            self.zoom(1.0015 ** delta.y(), event.position().x())

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        """Ask for the menu of what is picked; by key it opens at what is picked."""
        by_key = event.reason() == QContextMenuEvent.Reason.Keyboard
        place = self.place_px(self._session.selection) if by_key else None
        self.menu_wanted.emit(event.globalPos() if place is None else self.mapToGlobal(place.center().toPoint()))

    def event(self, event: QEvent) -> bool:
        """Show a tip for what is under the pointer."""
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            text = self._tip(QPointF(event.pos()))
            if text:
                QToolTip.showText(event.globalPos(), text, self)
            else:
                QToolTip.hideText()
            return True
        return super().event(event)

    def spoken(self, place: Selection) -> tuple[str, str]:
        """Return the name of a part or joint of the train in view, and what is shown of it."""
        return told_of(place, self._session.train, self._session.readout, self.section, self._session.workbook.by_id)

    def _tip(self, at: QPointF) -> str:
        near = abs(at.y() - self.frame.axis_px) <= JOINT_BAND_PX
        place = self.joint_at(at, 2.0 * PICK_PX) if near else None
        body = self.body_at(at) if place is None else None
        readout = self._session.readout
        return "" if readout is None else tip_of(place, body, readout)

    # Keys

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Walk along the rail, move, flip, remove, zoom, pan."""
        key, modifiers = Qt.Key(event.key()), event.modifiers()
        if key in BARE:
            return
        if self._preview is not None:
            self.preview(None)
            if key == Qt.Key.Key_Escape:
                return
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(key, 0)
        enter = key in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        if step and modifiers & Qt.KeyboardModifier.AltModifier:
            self.move_picked(step)
        elif step and modifiers & Qt.KeyboardModifier.ControlModifier:
            self.pan(-step * PAN_PX)
        elif step:
            self._walk(step)
        elif key == Qt.Key.Key_F and modifiers == Qt.KeyboardModifier.ShiftModifier:
            self.flip_picked()
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.remove_picked()
        elif key in (Qt.Key.Key_Home, Qt.Key.Key_End):
            self._walk(-FAR if key == Qt.Key.Key_Home else FAR)
        elif key == Qt.Key.Key_0:
            self.fit()
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.zoom(1.25)
        elif key == Qt.Key.Key_Minus:
            self.zoom(0.8)
        elif enter and self._session.selected_part() is not None:
            self.part_opened.emit(self._session.selected_part() or "")
        elif enter and self._session.selection.joint:
            self.fits_wanted.emit()
        elif key == Qt.Key.Key_Escape and self._gesture is None and not self._session.selection.empty:
            self._session.select(NOTHING)
        elif key == Qt.Key.Key_Escape and self._gesture is not None:
            self._gesture = None
            self.show_drop(None)
            self.update()
        elif event.text().isalnum() and not modifiers:
            self._jump(event.text())
        else:
            super().keyPressEvent(event)

    @property
    def places(self) -> list[Selection]:
        """Joints and parts from left to right."""
        train = self._session.train
        return [] if train is None else places_of(train, self._session.readout)

    def _walk(self, step: int) -> None:
        """Go to another part or joint, across the optic as well."""
        self._pick(walked(self.places, self._session.selection, step))

    def _pick(self, place: Selection) -> None:
        """Pick a place and bring it into view where the drawing is larger than the window."""
        self._session.select(place)
        drawn = self.place_px(place)
        if drawn is not None and not 0.0 <= drawn.center().x() <= self.width():
            self.pan(self.width() / 2.0 - drawn.center().x())

    def _jump(self, letter: str) -> None:
        """Go to the next part whose name begins with a letter."""
        train = self._session.train
        if train is not None:
            shelf = self._session.workbook.by_id
            self._pick(by_letter(self.places, self._session.selection, letter, train, shelf))

    def _picked(self) -> tuple[Train, Selection] | None:
        """Return the train and what is picked of it; None where no part is, which is said."""
        train, at = self._session.train, self._session.selection
        if train is None or at.empty or at.joint:
            self._session.message.emit(say("Select a part on the rail first."), False)
            return None
        return train, at

    def move_picked(self, step: int) -> None:
        """Move the picked part one place."""
        if (found := self._picked()) is not None:
            train, at = found
            to = at.index + (step if at.side is Side.REAR else -step)
            move = MovePart(train.id, at.index, to, at.side, label=say("Move {name}", name=self._name(at)))
            if 0 <= to < len(train.row(at.side)) and self._session.do(move):
                self._session.select(Selection(at.side, to))

    def flip_picked(self) -> None:
        """Turn the picked part end for end."""
        if (found := self._picked()) is not None:
            train, at = found
            self._session.do(FlipPart(train.id, at.index, at.side, label=say("Flip {name}", name=self._name(at))))

    def remove_picked(self) -> None:
        """Take the picked part off the rail."""
        if (found := self._picked()) is not None:
            train, at = found
            self._session.do(RemovePart(train.id, at.index, at.side, label=say("Remove {name}", name=self._name(at))))

    def _name(self, picked: Selection) -> str:
        train = self._session.train
        assert train is not None
        return self._session.workbook.by_id[train.row(picked.side)[picked.index].part].name

    # Dropping parts of the shelf

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        """Take parts; leave files to the window."""
        if is_part(event.mimeData()) and self._session.train is not None:
            self.preview(None)
            event.acceptProposedAction()
        else:
            event.ignore()

    def dragMoveEvent(self, event: QDragMoveEvent) -> None:
        """Mark the joint under the dragged part."""
        self.show_drop(self.joint_at(event.position()))
        event.acceptProposedAction()

    def dragLeaveEvent(self, event: QDragLeaveEvent) -> None:
        """Forget the mark."""
        self.show_drop(None)

    def dropEvent(self, event: QDropEvent) -> None:
        """Place the part at the marked joint."""
        part, place = dragged_part(event.mimeData()), self.joint_at(event.position())
        self.show_drop(None)
        if part is None or place is None:
            return
        event.acceptProposedAction()
        body, session = self.body_at(event.position()), self._session

        def put(part_id: str) -> None:
            if body is None or body.side is not Side.REAR or not put_in_seat(session, part_id, body.index):
                lay_at(session, part_id, *place)

        from_elsewhere(session, part, put)

    # Housekeeping

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Fit again while the whole train is in view; otherwise keep scale and place."""
        self._frame = None
        super().resizeEvent(event)
