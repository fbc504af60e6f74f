"""Which page of each station was turned to: found again at the next start, when the station is first shown."""

import json

from PySide6.QtCore import QObject, QSettings
from PySide6.QtWidgets import QAbstractButton

from farrail.ui.station_stack import StationStack
from farrail.ui.stations.station import Station

KEY = "window/pages"


class Pages(QObject):
    """Remembers pages by the names of their buttons."""

    def __init__(self, stations: StationStack, settings: QSettings) -> None:
        """Serve one window."""
        super().__init__(stations)
        self._stations, self._settings = stations, settings
        self._wanted = _read(settings.value(KEY, ""))
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
            for station in self._stations.all
            for one in _buttons(station) if one.isChecked()
        }  # fmt: skip
        self._settings.setValue(KEY, json.dumps({**chosen, **self._wanted}))


def _buttons(station: Station) -> list[QAbstractButton]:
    found = station.findChildren(QAbstractButton)
    return [one for one in found if one.property("tab") == "true" and one.isCheckable() and one.objectName()]


def _read(stored: object) -> dict[str, str]:
    """Return the pages kept; what is none in the settings counts as not set."""
    try:
        found = json.loads(str(stored))
    except ValueError:
        return {}
    return {k: v for k, v in found.items() if isinstance(v, str)} if isinstance(found, dict) else {}
