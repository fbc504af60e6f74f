"""The header: which workbook, which train, and the conditions it is read under."""

from PySide6.QtCore import QPoint, QSize, Qt, Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QSizePolicy, QToolButton, QWidget

from farrail.language import say
from farrail.parts.in_beam import GlassRole
from farrail.parts.kinds.seats import FilterSeat
from farrail.readouts.finding import Severity
from farrail.readouts.front.sheets import filters_ahead
from farrail.readouts.headlines import train_headline
from farrail.readouts.spacing.verdict import landing
from farrail.ui.actions.laying import fill_slots_menu
from farrail.ui.conditions import Conditions
from farrail.ui.session import Session
from farrail.ui.theme.fonts import MEDIUM, STRONG, font
from farrail.ui.widgets.glyphs import icon
from farrail.ui.widgets.plain import Label, plain_tip, plain_title
from farrail.workbook.edits.laying import SetInBeam

# So many letters of the names of workbook, train and filter have room in a window at least so wide; the rest is in the
# tip. No window is narrower than the third: what is, has no size yet.
NAMES = ((1200, (26, 38, 18)), (1000, (20, 22, 16)), (780, (10, 11, 6)), (0, (20, 22, 16)))
# In a window so wide the icons have their names beside them.
NAMED_TOOLS_PX = 1500
# Beside the verdict's words; fewer letters of it say nothing.
VERDICT_PAD_PX, LEAST_VERDICT = 22, 8


class HeaderReading(QWidget):
    """A value in the header's sentence, behind the word that leads to it; the value is a button."""

    def __init__(self, caption: str, name: str, word: str = "", parent: QWidget | None = None) -> None:
        """Make an empty reading.

        Args:
            caption: what the value is.
            name: object name of its button.
            word: what the sentence has before it.
            parent: the owner.
        """
        super().__init__(parent)
        self._caption = caption
        self.button = QPushButton("–")
        self.button.setObjectName(name)
        self.button.setAccessibleName(caption)
        self.button.setProperty("quiet", "true")
        self.button.setFont(font(14, MEDIUM))
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        if word:
            leads = Label(word)
            leads.setProperty("role", "steel")
            leads.setContentsMargins(0, 0, 3, 0)
            row.addWidget(leads)
        row.addWidget(self.button)

    def say(self, text: str, limit: int = 18) -> None:
        """Show a value, cut to a length that keeps the header whole."""
        self.button.setText(plain_title(_cut(text, limit)))
        self.button.setAccessibleName(f"{self._caption}: {text}")
        self.button.setToolTip(plain_tip(f"{self._caption}: {text}"))


class HeaderVerdict(QPushButton):
    """What the train will do, at the end of the header's sentence, in the colour of its worst finding."""

    def __init__(self, parent: QWidget | None = None) -> None:
        """Make an empty verdict."""
        super().__init__(parent)
        self.setObjectName("header_verdict")
        self.setProperty("quiet", "true")
        self.setFont(font(14, MEDIUM))
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self._said, self._role = "", ""

    def say(self, text: str, role: str, why: str) -> None:
        """Show a sentence; `role` is stop, look or good, `why` the whole of it."""
        self._said = text
        self.setAccessibleName(say("Verdict: {text}", text=text))
        self.setToolTip(plain_tip(why))
        if role != self._role:
            self._role = role
            self.setProperty("verdict", role)
            self.style().unpolish(self)
            self.style().polish(self)
        self._cut()

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Cut the sentence to the room there is."""
        super().resizeEvent(event)
        self._cut()

    def _cut(self) -> None:
        room = self.width() - VERDICT_PAD_PX
        shown = self.fontMetrics().elidedText(self._said, Qt.TextElideMode.ElideRight, room) if room > 0 else ""
        self.setText(plain_title(shown if len(shown) > LEAST_VERDICT else ""))


class Header(QWidget):
    """The top line of the window."""

    # The f-number is to be changed; the place to ask at.
    aperture_wanted = Signal(QPoint)
    # The verdict was clicked: what it rests on is to be shown.
    verdict_wanted = Signal()

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the header."""
        super().__init__(parent)
        self.setObjectName("header")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session = session
        self.workbook_menu, self.train_menu, self._beam_menu = QMenu(self), QMenu(self), QMenu(self)
        self.workbook = self._title("workbook_title", 17, STRONG, self.workbook_menu, say("Workbook menu"))
        self.train = self._title("train_title", 16, font().weight(), self.train_menu, say("Train menu"))
        self.focal = HeaderReading(say("Focal length"), "reading_focal", say("at"))
        self.focal.button.setEnabled(False)
        self.aperture = HeaderReading(say("Aperture"), "reading_aperture")
        self.aperture.button.clicked.connect(self._ask_aperture)
        self.beam = HeaderReading(say("In the beam"), "reading_beam", say("through"))
        self.beam.button.setMenu(self._beam_menu)
        self._beam_menu.aboutToShow.connect(self._fill_beam)
        self.verdict = HeaderVerdict()
        self.verdict.clicked.connect(self.verdict_wanted)
        self.conditions = QPushButton(say("Settings"))
        self.conditions.setObjectName("conditions")
        self.conditions.setProperty("quiet", "true")
        self.conditions.setToolTip(say("Use of this train: focal length, aperture, focus, angles, parts taken off"))
        self.conditions.clicked.connect(self.show_conditions)
        self._last: QWidget = self.conditions
        self.tools = QHBoxLayout()
        self.tools.setSpacing(2)
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 0, 12, 0)
        row.setSpacing(4)
        for one in (self.workbook, self.train, self.focal, self.aperture, self.beam):
            row.addWidget(one)
        row.addWidget(self.verdict, 1)
        row.addWidget(self.conditions)
        row.addLayout(self.tools)
        self.setFixedHeight(56)
        session.changed.connect(self.refresh)
        session.train_changed.connect(self.refresh)
        session.rested.connect(self.refresh)
        session.file_changed.connect(self.refresh)

    def _title(self, name: str, size: int, weight: object, menu: QMenu, title: str) -> QPushButton:
        button = QPushButton()
        button.setObjectName(name)
        button.setAccessibleName(title)
        button.setProperty("quiet", "true")
        button.setFont(font(size, weight))
        button.setMenu(menu)
        return button

    def add_tool(self, name: str, glyph: str, text: str) -> QToolButton:
        """Add a button with one of the program's icons, and its name beside it where there is room."""
        button = QToolButton()
        button.setObjectName(name)
        button.setIcon(icon(glyph))
        button.setIconSize(QSize(18, 18))
        button.setText(text)
        button.setToolButtonStyle(self._tool_style())
        button.setProperty("glyph", glyph)
        button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.tools.addWidget(button)
        # Made later than all else, it is still reached before the rail.
        QWidget.setTabOrder(self._last, button)
        self._last = button
        return button

    def recolour(self) -> None:
        """Take the icons in the ink of the theme now in force."""
        for button in self.findChildren(QToolButton):
            button.setIcon(icon(str(button.property("glyph"))))

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Cut the train's name to the room there is."""
        super().resizeEvent(event)
        if _names_at(event.oldSize().width()) != _names_at(event.size().width()):
            self.refresh()
        for button in self.findChildren(QToolButton):
            button.setToolButtonStyle(self._tool_style())

    def _tool_style(self) -> Qt.ToolButtonStyle:
        styles = Qt.ToolButtonStyle
        return styles.ToolButtonTextBesideIcon if self.width() >= NAMED_TOOLS_PX else styles.ToolButtonIconOnly

    def refresh(self) -> None:
        """Show workbook, train and conditions; while a value is dragged they wait."""
        if not self._session.dragging:
            self._session.after_paint.ask(self._refresh)

    def _refresh(self) -> None:
        session, readout = self._session, self._session.readout
        book, train, beam = _names_at(self.width())
        dirty = "" if session.history.clean else " •"
        locked = say("read-only") if session.read_only else ""
        self.workbook.setText(f"{plain_title(_cut(session.title, book))}{dirty}{f' ({locked})' if locked else ''} ▾")
        self.workbook.setAccessibleName(
            ", ".join(
                filter(
                    None,
                    (say("Workbook menu: {title}", title=session.title), say("not saved") if dirty else "", locked),
                )
            )
        )
        self.workbook.setToolTip(plain_tip(str(session.path)) if session.path is not None else say("Not saved yet"))
        name = say("No train") if readout is None else plain_title(_cut(readout.layout.train.name, train))
        self.train.setText(f"{name} ▾")
        whole = say("no train") if readout is None else readout.layout.train.name
        self.train.setAccessibleName(say("Train menu: {whole}", whole=whole))
        self.train.setToolTip("" if readout is None else plain_tip(readout.layout.train.name))
        self.conditions.setEnabled(readout is not None)
        if readout is None:
            for reading in (self.focal, self.aperture, self.beam):
                reading.say("–")
                reading.hide()
            self.verdict.say("", "", "")
            return
        for reading in (self.focal, self.aperture, self.beam):
            reading.show()
        first, why = train_headline(readout)
        verdict = readout.verdict
        stops = any(one.severity is Severity.STOP for one in readout.findings)
        apart = sum(joint.mismatch is not None for joint in readout.layout.joints)
        # Short where the drawing has a short word for it; the whole sentence is in the tip.
        short = "" if stops else landing(verdict, apart)[0] if verdict.met else verdict.mark
        self.verdict.say(short or first, "stop" if stops else "good" if verdict.met else "look", f"{first} {why}")
        self.focal.say(say("{value:g} mm", value=round(readout.layout.first_order.focal_length.value, 1)))
        self.aperture.say(say("f/{value:.1f}", value=readout.layout.first_order.f_number.value))
        filters = [g.part.name for g in readout.layout.glass if g.role is GlassRole.FILTER]
        filters += filters_ahead(readout.layout)
        text = ", ".join(filters) if filters else say("no filter")
        self.beam.say(text, beam)

    def show_conditions(self) -> None:
        """Show every condition of the train in one place, to be typed and switched."""
        Conditions(self._session, self).show_at(self.conditions.mapToGlobal(QPoint(0, self.conditions.height())))

    def _ask_aperture(self) -> None:
        self.aperture_wanted.emit(self.aperture.mapToGlobal(QPoint(0, self.aperture.height())))

    def _fill_beam(self) -> None:
        """List every filter that can be turned into the beam."""
        self._beam_menu.clear()
        train, readout = self._session.train, self._session.readout
        if train is None or readout is None:
            return
        for placed in readout.layout.rear:
            if not isinstance(placed.part, FilterSeat):
                continue
            for slot, filter_id in enumerate(placed.laid.filters):
                name = self._session.workbook.by_id[filter_id].name if filter_id is not None else "empty"
                action = self._beam_menu.addAction(f"{slot + 1}  {name}")
                action.setCheckable(True)
                action.setChecked(slot == placed.laid.in_beam)
                edit = SetInBeam(train.id, placed.index, slot, label=say("Turn {name} into the beam", name=name))
                action.triggered.connect(lambda _=False, edit=edit: self._session.do(edit))
            self._beam_menu.addSeparator()
            fill_slots_menu(
                self._beam_menu.addMenu(say("Filters of {name}", name=placed.part.name)), self._session, placed.index
            )
        if self._beam_menu.isEmpty():
            self._beam_menu.addAction(say("No drawer or wheel on this train")).setEnabled(False)


def _names_at(width: int) -> tuple[int, int, int]:
    return next((names for least, names in NAMES if width >= least), NAMES[-1][1])


def _cut(text: str, limit: int) -> str:
    return text if len(text) <= limit else text[: limit - 1] + "…"
