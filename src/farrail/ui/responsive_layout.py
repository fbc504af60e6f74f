"""The rail and what is under it: how high each is, station by station, as the person left it."""

import json

from PySide6.QtCore import QObject, QSettings
from PySide6.QtWidgets import QSplitter

from farrail.ui.rail.frame import STRIP_BELOW_PX, STRIP_PX
from farrail.ui.rail.view import RailView
from farrail.ui.station_stack import StationStack

# How high the rail is where no one has moved it.
OPEN_PX, LEAST_OPEN_PX = 372, 230


class Folding(QObject):
    """Folds the rail to a strip for stations that need room, and remembers where it was moved."""

    def __init__(self, split: QSplitter, rail: RailView, stations: StationStack, settings: QSettings) -> None:
        """Serve one window."""
        super().__init__(split)
        self._split, self._rail, self._stations, self._settings = split, rail, stations, settings
        # The rail's height by station.
        self._heights: dict[str, int] = _read(settings.value("window/rail_heights", ""))
        self._low = False
        split.splitterMoved.connect(lambda *_: self._moved())
        stations.shown.connect(lambda _: self.follow())

    def low(self, *, low: bool) -> None:
        """In a low window the rail is a strip at every station, unless a person opens it."""
        self._low = low
        self.follow()

    @property
    def _apart(self) -> bool:
        """Whether the rail is in a window of its own."""
        return self._split.indexOf(self._rail) < 0

    def _height_for(self, key: str) -> int:
        if self._low:
            return STRIP_PX
        roomy = any(entry.key == key and entry.needs_room for entry in self._stations.entries)
        return self._heights.get(key, STRIP_PX if roomy else self._open_px())

    def _open_px(self, *, wanted: bool = False) -> int:
        """Return how high the rail is open: what is under it keeps the room it is read in, unless it is wanted."""
        whole = sum(self._split.sizes())
        least, good = self._stations.entry.least_px, self._stations.entry.good_px
        if not whole:
            return OPEN_PX
        # Lower than that, figures are on one another: a strip says more.
        room = min(OPEN_PX, whole - least, max(whole - good, LEAST_OPEN_PX))
        return room if room >= LEAST_OPEN_PX else LEAST_OPEN_PX if wanted else STRIP_PX

    def follow(self) -> None:
        """Give the rail the height it has for the station in front."""
        self._put(self._height_for(self._stations.entry.key))

    def open(self) -> None:
        """Show the rail whole, no matter what station is in front."""
        self._put(self._open_px(wanted=True))

    def toggle(self) -> None:
        """Fold the rail to a strip for the station in front, or open it again."""
        self._put(self._open_px(wanted=True) if self._rail.folded else STRIP_PX)
        self._moved()

    def _put(self, height: int) -> None:
        if self._apart:
            return
        whole = sum(self._split.sizes())
        if whole and self._split.sizes()[0] != height:
            self._split.setSizes([height, whole - height])

    def _moved(self) -> None:
        """A hand has moved the line between them: it stays so for this station."""
        height = self._split.sizes()[0]
        if self._apart:
            return
        if self._low:
            return  # how a low window was moved about in says nothing of larger ones
        self._heights[self._stations.current.key] = STRIP_PX if height < STRIP_BELOW_PX else height

    def keep(self) -> None:
        """Write down how the rail was at each station."""
        self._settings.setValue("window/rail_heights", json.dumps(self._heights))


def _read(stored: object) -> dict[str, int]:
    """Return the heights kept; what is none in the settings counts as not set."""
    try:
        found = json.loads(str(stored))
    except ValueError:
        return {}
    if not isinstance(found, dict):
        return {}
    return {k: min(max(v, STRIP_PX), 4000) for k, v in found.items() if isinstance(v, int) and not isinstance(v, bool)}
