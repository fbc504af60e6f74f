"""Which page of each station was turned to, and how wide the columns were drawn: found again at the next start."""

import json
from collections.abc import Callable

from PySide6.QtCore import QByteArray, QObject, QSettings
from PySide6.QtWidgets import QAbstractButton, QWidget

from farrail.ui.station_stack import StationStack
from farrail.ui.stations.registry import FIRST
from farrail.ui.stations.station import Station
from farrail.ui.widgets.ledger import Ledger

KEY = "window/pages"
WIDTHS = "window/columns"


class Remembering:
    """Finds again how the stations were left."""

    def __init__(self, stations: StationStack, settings: QSettings) -> None:
        """Serve one window."""
        self._stations, self._settings = stations, settings
        self._pages, self._widths = Pages(stations, settings), Widths(stations, settings)

    def restore(self, put_geometry: Callable[[QByteArray], object], put_split: Callable[[QByteArray], object]) -> None:
        """Put the window and its lower half as they were left, and the station that was in front there again."""
        for name, put in (("geometry", put_geometry), ("lower", put_split)):
            kept = self._settings.value(f"window/{name}")
            if isinstance(kept, QByteArray):
                put(kept)
        self._stations.show_station(FIRST)
        self._stations.show_station(str(self._settings.value("window/station", FIRST)))

    def keep(self, geometry: QByteArray, split: QByteArray) -> None:
        """Write down how they are."""
        self._settings.setValue("window/geometry", geometry)
        self._settings.setValue("window/lower", split)
        self._settings.setValue("window/station", self._stations.current.key)
        self._pages.keep()
        self._widths.keep()


def fit_screen(window: QWidget) -> None:
    """Keep a window within the screen it opens on."""
    room = window.screen().availableGeometry()
    wide, high = min(window.width(), room.width()), min(window.height(), room.height())
    if (wide, high) != (window.width(), window.height()):
        window.resize(wide, high)


class Widths:
    """Remembers columns a hand has drawn wider or narrower, by the names of their tables."""

    def __init__(self, stations: StationStack, settings: QSettings) -> None:
        """Give the tables of one window the widths that were kept."""
        self._settings = settings
        self._tables: list[Ledger] = []
        self._kept = _read(settings.value(WIDTHS, ""))
        for station in stations.made_so_far:
            self._give(station)
        stations.made.connect(self._give)

    def _give(self, station: QObject) -> None:
        """Give the tables of a station their widths."""
        for table in station.findChildren(Ledger):
            self._tables.append(table)
            widths = self._kept.get(table.objectName())
            if isinstance(widths, dict):
                table.take_widths({int(n): px for n, px in widths.items() if n.isdigit() and isinstance(px, int)})

    def keep(self) -> None:
        """Write the widths down."""
        now = {table.objectName(): table.own_px for table in self._tables}
        drawn = {name: widths for name, widths in {**self._kept, **now}.items() if widths}
        self._settings.setValue(WIDTHS, json.dumps(drawn))


class Pages(QObject):
    """Remembers pages by the names of their buttons."""

    def __init__(self, stations: StationStack, settings: QSettings) -> None:
        """Serve one window."""
        super().__init__(stations)
        self._stations, self._settings = stations, settings
        self._wanted = {k: v for k, v in _read(settings.value(KEY, "")).items() if isinstance(v, str)}
        stations.shown.connect(lambda _: self.turn())

    def turn(self) -> None:
        """Turn the station in front to the page it was left at, the first time it is shown."""
        station = self._stations.current
        name = self._wanted.pop(station.key, "")
        button = next((one for one in _buttons(station) if one.objectName() == name), None)
        if button is not None and not button.isChecked():
            button.click()

    def keep(self) -> None:
        """Write down which pages are turned to; a station never shown keeps the one it was left at."""
        chosen = {
            station.key: one.objectName()
            for station in self._stations.made_so_far
            for one in _buttons(station) if one.isChecked()
        }  # fmt: skip
        self._settings.setValue(KEY, json.dumps({**chosen, **self._wanted}))


def _buttons(station: Station) -> list[QAbstractButton]:
    found = station.findChildren(QAbstractButton)
    return [one for one in found if one.property("tab") == "true" and one.isCheckable() and one.objectName()]


def _read(stored: object) -> dict[str, object]:
    """Return what is kept; what is no record in the settings counts as not set."""
    try:
        found = json.loads(str(stored))
    except ValueError:
        return {}
    return found if isinstance(found, dict) else {}
