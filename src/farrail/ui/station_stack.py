"""The stations behind one another, with their names as tabs; only the one in front is kept up to date."""

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QButtonGroup, QHBoxLayout, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from farrail.ui.session import Session
from farrail.ui.stations.station import Station
from farrail.ui.theme.fonts import MEDIUM, font


class StationStack(QWidget):
    """Tabs and the station in front."""

    # Another station came to the front: its number.
    shown = Signal(int)

    def __init__(self, session: Session, stations: tuple[Station, ...], parent: QWidget | None = None) -> None:
        """Put the stations behind one another."""
        super().__init__(parent)
        self._stations = stations
        self._group = QButtonGroup(self)
        self._stack = QStackedWidget()
        tabs = QHBoxLayout()
        tabs.setContentsMargins(12, 6, 12, 0)
        tabs.setSpacing(6)
        for number, station in enumerate(stations):
            tab = QPushButton(station.title)
            tab.setObjectName(f"tab_{station.title.lower()}")
            tab.setProperty("tab", "true")
            tab.setCheckable(True)
            tab.setFont(font(14, MEDIUM))
            tab.setCursor(Qt.CursorShape.PointingHandCursor)
            tab.setToolTip(f"{station.title} station (Alt+{number + 1})")
            self._group.addButton(tab, number)
            tabs.addWidget(tab)
            self._stack.addWidget(station)
        tabs.addStretch(1)
        line = QWidget()
        line.setObjectName("tab_line")
        line.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        line.setFixedHeight(1)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(0)
        box.addLayout(tabs)
        box.addWidget(line)
        box.addWidget(self._stack, 1)
        self._group.idClicked.connect(self.show_station)

    @property
    def current_index(self) -> int:
        """Number of the station in front."""
        return self._stack.currentIndex()

    def show_station(self, number: int) -> None:
        """Bring a station to the front."""
        if 0 <= number < len(self._stations):
            self._stack.setCurrentIndex(number)
            self._group.button(number).setChecked(True)
            self.refresh()
            self.shown.emit(number)

    def refresh(self) -> None:
        """Bring the station in front up to date."""
        self._stations[self.current_index].refresh()
