"""The stations behind one another, with their names as tabs; only the one in front is kept up to date."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QButtonGroup, QHBoxLayout, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from farrail.ui.session import Session
from farrail.ui.stations.station import Station
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import MEDIUM, font


class StationStack(QWidget):
    """Tabs and the station in front."""

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
            tab.setCheckable(True)
            tab.setFont(font(14, MEDIUM))
            tab.setCursor(Qt.CursorShape.PointingHandCursor)
            tab.setToolTip(f"{station.title} station (Alt+{number + 1})")
            self._group.addButton(tab, number)
            tabs.addWidget(tab)
            self._stack.addWidget(station)
        tabs.addStretch(1)
        self._line = QWidget()
        self._line.setFixedHeight(1)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(0)
        box.addLayout(tabs)
        box.addWidget(self._line)
        box.addWidget(self._stack, 1)
        self._group.idClicked.connect(self.show_station)
        self.restyle()

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

    def refresh(self) -> None:
        """Bring the station in front up to date."""
        self._stations[self.current_index].refresh()

    def restyle(self) -> None:
        """Take the colours of the theme in force."""
        theme = current_theme()
        self._line.setStyleSheet(f"background: {theme.hairline};")
        for button in self._group.buttons():
            button.setStyleSheet(
                f"QPushButton {{ background: transparent; border: 0; border-bottom: 3px solid transparent; "
                f"border-radius: 0; color: {theme.steel}; padding: 7px 10px 6px 10px; }}"
                f"QPushButton:checked {{ color: {theme.ink}; border-bottom: 3px solid {theme.axis_light}; }}"
                f"QPushButton:hover {{ color: {theme.ink}; }}"
                f"QPushButton:focus {{ background: {theme.accent_wash}; }}"
            )
