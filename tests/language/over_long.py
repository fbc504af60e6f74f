"""Shows every station and page of the window in a language, and tells what has no room there, one line each.

`python -m tests.language.over_long de 1280x800 in`: a station that must be scrolled sideways, a button, a caption or a
number cut; lengths in inches where the last word is `in`.
"""

import os
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from farrail import language, lengths

language.choose(sys.argv[1])
lengths.choose(lengths.LengthUnit(sys.argv[3] if len(sys.argv) > 3 else "mm"))

from PySide6.QtCore import QSettings
from PySide6.QtWidgets import QAbstractButton, QApplication, QLabel, QPushButton, QScrollArea, QWidget
from tests.ui.walking import fill

from farrail.demo.hallan_skerry import demo_workbook
from farrail.ui.application import prepare_application
from farrail.ui.session import Session
from farrail.ui.theme.apply import apply_theme
from farrail.ui.theme.fonts import REGULAR, STRONG, text_width_px
from farrail.ui.theme.tokens import PAPER
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.window import MainWindow

TRAINS = ("witch-broom-short", "sea-stacks", "barnacles", "lantern-apsc")


def too_wide(area: QScrollArea | None) -> int:
    return 0 if area is None else area.horizontalScrollBar().maximum()


def cut(window: QWidget) -> Iterator[str]:
    """Return what is cut among what is seen: buttons, captions in one line, titles of columns."""
    for widget in window.findChildren(QWidget):
        if not widget.isVisible() or widget.visibleRegion().isEmpty():
            continue
        if isinstance(widget, QAbstractButton) and widget.text():
            if widget.width() < widget.minimumSizeHint().width() - 1:
                yield f"button “{widget.text()}”: {widget.width()} of {widget.minimumSizeHint().width()} px"
        elif isinstance(widget, QLabel) and widget.text() and not widget.wordWrap() and "<" not in widget.text():
            wide = widget.fontMetrics().horizontalAdvance(widget.text())
            if widget.width() < wide - 2:
                yield f"caption “{widget.text()}”: {widget.width()} of {wide} px"
        elif isinstance(widget, Ledger):
            for number, column in enumerate(widget.ledger.columns):
                room = widget.columnWidth(number) - 10
                metrics = widget.horizontalHeader().fontMetrics()
                wide = max(metrics.horizontalAdvance(line) for line in column.heading.split("\n"))
                if widget.isColumnHidden(number):
                    continue
                if wide > room:
                    yield f"column “{column.title}” of {widget.objectName()}: {room} of {wide} px"
                yield from cut_numbers(widget, number)


def cut_numbers(ledger: Ledger, number: int) -> Iterator[str]:
    """Return what is cut in a column of numbers: 1.3… is another number, and nothing there takes two lines."""
    column = ledger.ledger.columns[number]
    for row in ledger.ledger.rows if column.right else ():
        cell = row.cells[number]
        room = ledger.columnWidth(number) - (29 if cell.marked else 12)
        wide = text_width_px(cell.text, 13, STRONG if cell.strong else REGULAR)
        if wide > room:
            yield f"“{cell.text}” in column “{column.called}” of {ledger.objectName()}: {room} of {wide:.0f} px"


def main() -> int:
    """Walk through everything; exit code 1 where something has no room."""
    wide, high = (int(side) for side in sys.argv[2].split("x"))
    app = QApplication(["far-rail"])
    prepare_application(app)
    folder = Path(tempfile.mkdtemp())
    settings = QSettings(str(folder / "settings.ini"), QSettings.Format.IniFormat)
    window = MainWindow(Session(demo_workbook(), folder / "recovery"), settings, folder / "recovery")
    apply_theme(PAPER)
    window.resize(wide, high)
    window.show()
    found: dict[str, str] = {}
    for train in TRAINS:
        window.session.show_train(train)
        for station in window.stations.all:
            window.stations.show_station(station.key)
            tabs: list[QPushButton | None] = [None]
            shown = [b for b in station.findChildren(QPushButton) if b.property("tab") == "true" and b.isVisible()]
            for tab in shown or tabs:
                if tab is not None:
                    tab.click()
                for _ in range(4):
                    app.processEvents()
                # Searches answer, and their best answer stands on the rail as a preview.
                fill(window)
                page = station.key if tab is None else f"{station.key}, {tab.text()}"
                over = too_wide(window.stations.findChild(QScrollArea, "station_scroll"))
                if over:
                    found.setdefault(f"{station.key}: {over} px too wide", page)
                for told in cut(window):
                    found.setdefault(told, page)
    for told, page in found.items():
        print(f"{page}: {told}")
    window.session.history.mark_saved()
    window.close()
    return 1 if found else 0


if __name__ == "__main__":
    sys.exit(main())
