"""The stations behind one another, with their names as tabs; only the one in front is kept up to date."""

from collections.abc import Sequence
from typing import TypeVar

from PySide6.QtCore import QEvent, QObject, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QButtonGroup, QHBoxLayout, QPushButton, QScrollArea, QStackedWidget, QVBoxLayout, QWidget

from farrail.language import say
from farrail.ui.session import Session
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

    def __init__(self, session: Session, kinds: Sequence[type[Station]], parent: QWidget | None = None) -> None:
        """Make the stations and put them behind one another."""
        super().__init__(parent)
        self._stations = tuple(kind(session) for kind in kinds)
        self._group = QButtonGroup(self)
        self._stack = QStackedWidget()
        self._room = Room(self._stack)
        strip = QWidget()
        tabs = QHBoxLayout(strip)
        tabs.setContentsMargins(12, 6, 12, 0)
        tabs.setSpacing(6)
        for number, station in enumerate(self._stations):
            tab = QPushButton(str(station.title))
            tab.setObjectName(f"tab_{station.key}")
            tab.setProperty("tab", "true")
            tab.setCheckable(True)
            tab.setFont(font(14, MEDIUM))
            tab.setCursor(Qt.CursorShape.PointingHandCursor)
            named, key = say("{title} page", title=station.title), shortcut_of(number + 1)
            tab.setToolTip(f"{named} ({key})" if key else named)
            self._group.addButton(tab, number)
            tabs.addWidget(tab)
            self._stack.addWidget(station)
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
        for station in self._stations:
            style_when_shown(station)
        self._group.idClicked.connect(lambda number: self.show_station(self._stations[number].key))

    def mark_preview(self, on: bool) -> None:
        """Say, while the rail shows a preview, that all other pages still show the train as it is."""
        self._as_it_lies.setVisible(on)

    def of(self, kind: type[Kind]) -> Kind:
        """Return the station of a class."""
        return next(station for station in self._stations if isinstance(station, kind))

    @property
    def all(self) -> tuple[Station, ...]:
        """Every station, in order."""
        return self._stations

    @property
    def current(self) -> Station:
        """The station in front."""
        return self._stations[self._stack.currentIndex()]

    def show_station(self, key: str) -> None:
        """Bring a station to the front; a key that is none leaves the one in front."""
        for number, station in enumerate(self._stations):
            if station.key == key:
                self._stack.setCurrentIndex(number)
                # Once its texts are in it and wrapped.
                QTimer.singleShot(0, self._room.updateGeometry)
                self._group.button(number).setChecked(True)
                self.refresh()
                for other in self._stations:
                    if other is not station:
                        other.show_preview(False)
                station.show_preview(True)
                self.shown.emit(key)

    def refresh(self) -> None:
        """Bring the station in front up to date."""
        self.current.refresh()
