"""The stations behind one another, with their names as tabs; only the one in front is kept up to date."""

from collections.abc import Iterator, Sequence
from typing import TypeVar

from PySide6.QtCore import QEvent, QObject, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QButtonGroup, QHBoxLayout, QPushButton, QScrollArea, QStackedWidget, QVBoxLayout, QWidget

from farrail.language import say
from farrail.ui.button_tips import add_tips
from farrail.ui.session import Session
from farrail.ui.stations.registry import StationEntry
from farrail.ui.stations.station import Station, shortcut_of
from farrail.ui.theme.apply import style, style_when_shown
from farrail.ui.theme.fonts import MEDIUM, font
from farrail.ui.widgets.plain import Label

Kind = TypeVar("Kind", bound=Station)


class Room(QWidget):
    """Where the pages are: as large as the window has room for, never smaller than the page in front needs.

    It has no layout: one would ask for the height the page would like, and have it scroll long before it must.
    """

    def __init__(self, pages: QStackedWidget, parent: QWidget | None = None) -> None:
        """Hold pages behind one another."""
        super().__init__(parent)
        self._pages = pages
        pages.setParent(self)
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.timeout.connect(self.updateGeometry)
        pages.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Ask for more room, or less, when the page in front does."""
        if event.type() == QEvent.Type.LayoutRequest:
            # Once the page has taken it up itself.
            self._later.start(0)
        return False

    def minimumSizeHint(self) -> QSize:
        """Return what the page in front needs, its texts wrapped as wide as it is."""
        page = self._pages.currentWidget()
        if page is None:
            return QSize(0, 0)
        least, layout, port = page.minimumSizeHint(), page.layout(), self.parentWidget()
        if layout is not None and layout.hasHeightForWidth() and port is not None:
            high = layout.minimumHeightForWidth(max(port.width(), least.width()))
            return QSize(least.width(), max(least.height(), high))
        return least

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Give the pages all of it."""
        super().resizeEvent(event)
        self._pages.setGeometry(self.rect())


class StationStack(QWidget):
    """Tabs and the station in front."""

    # Another station came to the front: its key.
    shown = Signal(str)
    # A station was made.
    made = Signal(Station)

    def __init__(self, session: Session, entries: Sequence[StationEntry], parent: QWidget | None = None) -> None:
        """Make a tab for each station; a station is made when it is first shown."""
        super().__init__(parent)
        self._session = session
        self.entries = tuple(entries)
        self._made: dict[str, Station] = {}
        self._group = QButtonGroup(self)
        self._stack = QStackedWidget()
        self._room = Room(self._stack)
        strip = QWidget()
        tabs = QHBoxLayout(strip)
        tabs.setContentsMargins(12, 6, 12, 0)
        tabs.setSpacing(6)
        for number, entry in enumerate(self.entries):
            tab = QPushButton(str(entry.title))
            tab.setObjectName(f"tab_{entry.key}")
            tab.setProperty("tab", "true")
            tab.setCheckable(True)
            tab.setFont(font(14, MEDIUM))
            tab.setCursor(Qt.CursorShape.PointingHandCursor)
            named, key = say("{title} page", title=entry.title), shortcut_of(number + 1)
            tab.setToolTip(f"{named} ({key})" if key else named)
            self._group.addButton(tab, number)
            tabs.addWidget(tab)
            self._stack.addWidget(QWidget())
        tabs.addStretch(1)
        self._as_it_lies = Label(say("Current train, not the preview"))
        self._as_it_lies.setObjectName("as_it_lies")
        self._as_it_lies.setProperty("role", "look")
        self._as_it_lies.hide()
        tabs.addWidget(self._as_it_lies)
        line = QWidget()
        line.setObjectName("tab_line")
        line.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        line.setFixedHeight(1)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(0)
        box.addWidget(strip)
        box.addWidget(line)
        self._not_current = Label(
            say("◆  Not current: these figures are from before the last change. Undo it, or open another train.")
        )
        self._not_current.setObjectName("not_current")
        self._not_current.setProperty("role", "stop")
        # A sentence that shows for a while must not push the findings aside.
        self._not_current.setWordWrap(True)
        self._not_current.setContentsMargins(18, 6, 18, 2)
        self._not_current.hide()
        session.current_changed.connect(lambda current: self._not_current.setVisible(not current))
        box.addWidget(self._not_current)
        # A page that wants more than there is can be moved about in; nothing of it is cut.
        self.area = QScrollArea()
        self.area.setObjectName("station_scroll")
        self.area.setFrameShape(QScrollArea.Shape.NoFrame)
        self.area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.area.setWidgetResizable(True)
        self.area.setWidget(self._room)
        box.addWidget(self.area, 1)
        for part in (strip, line, self._not_current, self.area.verticalScrollBar(), self.area.horizontalScrollBar()):
            style(part)
        self._group.idClicked.connect(lambda number: self.show_station(self.entries[number].key))

    def mark_preview(self, on: bool) -> None:
        """Say, while the rail shows a preview, that all other pages still show the train as it is."""
        self._as_it_lies.setVisible(on)

    def of(self, kind: type[Kind]) -> Kind:
        """Return the station of a class, made now if it was not yet."""
        found = self.station(kind.key)
        assert isinstance(found, kind)
        return found

    def station(self, key: str) -> Station:
        """Return the station of a key, made now if it was not yet."""
        found = self._made.get(key)
        if found is None:
            number, entry = next((n, entry) for n, entry in enumerate(self.entries) if entry.key == key)
            found = self._made[key] = entry.load()(self._session)
            add_tips(found)
            found.setAccessibleName(say("{title} page", title=entry.title))
            members = list(_focus_chain(found))
            place, front = self._stack.widget(number), self._stack.currentIndex()
            if place is not None:
                self._stack.removeWidget(place)
                place.deleteLater()
            self._stack.insertWidget(number, found)
            self._stack.setCurrentIndex(front)
            style_when_shown(found)
            # Made later than the findings, it is still reached between its tab and them.
            before: QWidget = self._group.buttons()[-1]
            for member in members:
                QWidget.setTabOrder(before, member)
                before = member
            self.made.emit(found)
        return found

    @property
    def all(self) -> tuple[Station, ...]:
        """Every station, in order; those not shown yet are made now."""
        return tuple(self.station(entry.key) for entry in self.entries)

    @property
    def made_so_far(self) -> tuple[Station, ...]:
        """The stations that were shown or asked for, in order."""
        return tuple(self._made[entry.key] for entry in self.entries if entry.key in self._made)

    @property
    def entry(self) -> StationEntry:
        """The entry of the station in front."""
        return self.entries[self._stack.currentIndex()]

    @property
    def current(self) -> Station:
        """The station in front."""
        return self.station(self.entry.key)

    def show_station(self, key: str) -> None:
        """Bring a station to the front; a key that is none leaves the one in front."""
        number = next((number for number, entry in enumerate(self.entries) if entry.key == key), None)
        if number is None:
            return
        station = self.station(key)
        self._stack.setCurrentIndex(number)
        # Once its texts are in it and wrapped.
        QTimer.singleShot(0, self._room.updateGeometry)
        self._group.button(number).setChecked(True)
        self.refresh()
        for other in self.made_so_far:
            if other is not station:
                other.show_preview(False)
        station.show_preview(True)
        self.shown.emit(key)

    def refresh(self) -> None:
        """Bring the station in front up to date."""
        self.current.refresh()


def _focus_chain(page: QWidget) -> Iterator[QWidget]:
    """Yield what takes the keyboard on a page by itself, in the order in which Tab reaches it."""
    member = page.nextInFocusChain()
    while member is not None and member is not page:
        if member.focusPolicy() & Qt.FocusPolicy.TabFocus:
            yield member
        member = member.nextInFocusChain()
