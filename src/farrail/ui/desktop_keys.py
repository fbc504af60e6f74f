"""Keys that every program of the desktop has: closing, the whole screen, pages, the menu, preferences, finding."""

from collections.abc import Callable
from functools import partial

from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QLineEdit, QWidget

from farrail.language import say
from farrail.ui.actions.commands import make_action
from farrail.ui.header import Header
from farrail.ui.station_stack import StationStack
from farrail.ui.stations.station import shortcut_of

# Name, text, keys and what it does.
Row = tuple[str, str, tuple[str, ...], Callable[[], object]]


def desktop_actions(
    window: QWidget,
    stations: StationStack,
    header: Header,
    palette: Callable[[], None],
    preferences: Callable[[], None],
) -> dict[str, QAction]:  # fmt: skip
    """Return a window's actions of this kind, by name.

    Args:
        window: what the keys work in.
        stations: its pages.
        header: where its menu is.
        palette: shows the search for everything.
        preferences: shows the menu of preferences.
    """
    pages = [entry.key for entry in stations.entries]

    def turn(by: int) -> None:
        number = pages.index(stations.entry.key)
        stations.show_station(pages[(number + by) % len(pages)])

    def whole_screen() -> None:
        if window.isFullScreen():
            window.showNormal()
        else:
            window.showFullScreen()

    def find() -> None:
        """Go to the field that searches the page in front; without one, to the search for everything."""
        fields = [one for one in stations.current.findChildren(QLineEdit) if "search" in one.objectName()]
        field = next((one for one in fields if one.isVisible()), None)
        if field is None:
            palette()
            return
        field.setFocus()
        field.selectAll()

    table: tuple[Row, ...] = (
        ("close", say("Close window"), ("Ctrl+W",), window.close),
        ("full_screen", say("Full screen"), ("F11",), whole_screen),
        ("next_page", say("Next page"), ("Ctrl+PgDown", "Ctrl+Tab"), lambda: turn(1)),
        ("previous_page", say("Previous page"), ("Ctrl+PgUp", "Ctrl+Shift+Tab"), lambda: turn(-1)),
        ("menu", say("Open the menu"), ("F10",), header.workbook.showMenu),
        ("preferences", say("Preferences…"), ("Ctrl+,",), preferences),
        ("find", say("Find on this page"), ("Ctrl+F",), find),
    )
    go: tuple[Row, ...] = tuple(
        (f"go_{entry.key}", say("{title} page", title=entry.title), (shortcut_of(number),),
         partial(stations.show_station, entry.key))
        for number, entry in enumerate(stations.entries, start=1)
    )  # fmt: skip
    made = {}
    for name, text, keys, run in (*go, *table):
        action = made[name] = make_action(window, f"act_{name}", text, None, run)
        action.setShortcuts([QKeySequence(key) for key in keys])
    return made
