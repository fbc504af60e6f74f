"""Walking the window: every page of every station, and the widgets that can be seen there."""

from collections.abc import Iterator

from PySide6.QtCore import QPoint, QRect
from PySide6.QtWidgets import QAbstractButton, QApplication, QWidget
from tests.small_photos import small_photos

from farrail.ui.window import MainWindow

TRAINS = ("lantern-apsc", "sea-stacks", "barnacles")
# One whose proposals have long names.
SHORT = "witch-broom-short"


def settle(window: MainWindow) -> None:
    """Have everything that is due done."""
    for _ in range(3):
        QApplication.processEvents()
    window.findings._later.timeout.emit()
    QApplication.processEvents()


def pages(window: MainWindow) -> Iterator[str]:
    """Go to every page of every station, and say its name."""
    small_photos()
    for station in window.stations.all:
        window.stations.show_station(station.key)
        settle(window)
        tabs = [b for b in station.findChildren(QAbstractButton) if b.property("tab") == "true" and b.isVisible()]
        if not tabs:
            yield station.key
        for tab in tabs:
            tab.click()
            settle(window)
            fill(window)
            yield f"{station.key}/{tab.text()}"


def fill(window: MainWindow) -> None:
    """Have the tables that answer a question answer it."""
    for name, work in (("plan_find", window.spacing.plan._work), ("ask_go", window.close_up.ask.work)):
        button = window.findChild(QAbstractButton, name)
        if button is not None and button.isVisible() and button.isEnabled():
            button.click()
            work.wait()
            settle(window)
    window.front._work.wait()
    settle(window)


def seen(window: MainWindow) -> list[QWidget]:
    """Return the widgets of which something can be seen."""
    return [w for w in window.findChildren(QWidget) if w.isVisible() and not w.visibleRegion().isEmpty()]


def on_window(widget: QWidget, window: MainWindow) -> QRect:
    """Return where a widget is in its window."""
    return QRect(widget.mapTo(window, QPoint(0, 0)), widget.size())


def called(widget: QWidget) -> str:
    """Return a widget's name for a report."""
    return f"{type(widget).__name__} {widget.objectName()}"
