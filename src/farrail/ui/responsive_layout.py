"""The rail and what is under it: how high each is, station by station, as the person left it."""

import json

from PySide6.QtCore import QObject, QSettings
from PySide6.QtWidgets import QSplitter

from farrail.ui.rail.frame import STRIP_BELOW_PX, STRIP_PX, height_filling
from farrail.ui.rail.view import RailView
from farrail.ui.session import Session
from farrail.ui.station_stack import StationStack

# How high the rail is without a train, and at least where it is open.
OPEN_PX, LEAST_OPEN_PX = 372, 230
# The share of the height that a page has at the least, where there is more than it needs; with a picture, more.
PAGE_SHARE, PICTURE_SHARE = 0.45, 0.56


class Folding(QObject):
    """Folds the rail to a strip for stations that need room, and remembers where it was moved."""

    def __init__(
        self, split: QSplitter, rail: RailView, stations: StationStack, session: Session, settings: QSettings
    ) -> None:
        """Serve one window."""
        super().__init__(split)
        self._split, self._rail, self._stations, self._settings = split, rail, stations, settings
        # The rail's height by station.
        self._heights: dict[str, int] = _read(settings.value("window/rail_heights", ""))
        self._low = self._whole = False
        split.splitterMoved.connect(lambda *_: self._moved())
        stations.shown.connect(lambda _: self.follow())
        session.train_changed.connect(self.follow)

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
        """Return how high the rail is open: it gets what the page in front leaves, up to what the train fills."""
        whole = sum(self._split.sizes())
        entry = self._stations.entry
        if not whole:
            return OPEN_PX
        section = self._rail.section
        filled = OPEN_PX if section is None else int(height_filling(section, self._rail.width()))
        # Where there is more than the page needs, both grow.
        share = PICTURE_SHARE if entry.good_px else PAGE_SHARE
        page = max(self._stations.current.needed_px(entry.least_px), entry.good_px, int(share * whole))
        # Lower than that, figures are on one another: a strip says more.
        room = min(max(filled, LEAST_OPEN_PX), whole - entry.least_px, max(whole - page, LEAST_OPEN_PX))
        return room if room >= LEAST_OPEN_PX else LEAST_OPEN_PX if wanted else STRIP_PX

    def follow(self) -> None:
        """Give the rail the height it has for the station in front."""
        self._whole = False
        self._put(self._height_for(self._stations.entry.key))

    def again(self) -> None:
        """Share the height once more: there is more or less of it now."""
        if self._whole:
            self.open()
        else:
            self.follow()

    def open(self) -> None:
        """Show the rail whole, no matter what station is in front."""
        self._whole = True
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
