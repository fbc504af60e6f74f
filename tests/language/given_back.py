"""Gives every figure of the demo's window back as it stands there, in one language, and tells which are refused.

A figure that the window shows for typing over is one it must read again: `python -m tests.language.given_back de in`.
The language and the unit are chosen before a module of the window loads, as at the start.
"""

import sys
import tempfile
from pathlib import Path
from typing import TYPE_CHECKING

from farrail import language, lengths

if TYPE_CHECKING:
    from farrail.workbook.workbook import Workbook


def refused() -> list[str]:
    """Return a line for every editable cell whose own text is refused."""
    from PySide6.QtCore import QSettings
    from PySide6.QtWidgets import QApplication, QPushButton
    from tests.small_photos import small_photos

    from farrail.demo.hallan_skerry import demo_workbook
    from farrail.parts.fields import offered_fields, value_at
    from farrail.parts.provenance import Quantity
    from farrail.ui.application import prepare_application
    from farrail.ui.session import Session
    from farrail.ui.widgets.ledger import Ledger
    from farrail.ui.window import MainWindow

    small_photos()
    app = QApplication.instance() or QApplication(["farrail"])
    assert isinstance(app, QApplication)
    prepare_application(app)
    folder = Path(tempfile.mkdtemp())
    settings = QSettings(str(folder / "settings.ini"), QSettings.Format.IniFormat)
    window = MainWindow(Session(demo_workbook(), folder / "recovery"), settings, folder / "recovery")
    window.show()
    said: list[str] = []
    window.session.message.connect(lambda text, bad: said.append(text) if bad else None)
    found: list[str] = []

    def give_back(where: str, ledger: Ledger) -> None:
        for row in list(ledger.ledger.rows):
            for column, cell in enumerate(row.cells):
                if not cell.edit:
                    continue
                before = window.session.workbook
                said.clear()
                ledger.edited.emit(row.key, column, cell.edit)
                found.extend(f"{where}, {ledger.objectName()}: {cell.edit}: {text}" for text in said)
                if window.session.workbook is not before:
                    found.extend(f"{where}, {ledger.objectName()}: {cell.edit}: {told}" for told in moved(before))
                    window.session.undo()

    def moved(before: "Workbook") -> list[str]:
        """Return which lengths are others than they were."""
        after = {part.id: part for part in window.session.workbook.shelf}
        return [
            f"{part.id}, {field.field.path}: {field.value.value} became {now.value}"
            for part in before.shelf if part.id in after and after[part.id] is not part
            for field in offered_fields(part)
            if isinstance(field.value, Quantity)
            and isinstance(now := value_at(after[part.id], field.field.path)[1], Quantity)
            and abs(now.value - field.value.value) > 1e-9 * max(abs(field.value.value), 1.0)
        ]  # fmt: skip

    for train in window.session.workbook.trains:
        window.session.show_train(train.id)
        for station in window.stations.all:
            window.stations.show_station(station.key)
            for tab in station.findChildren(QPushButton):
                if tab.property("tab") == "true":
                    tab.click()
            for ledger in station.findChildren(Ledger):
                if station.key != "parts":
                    give_back(f"{train.id}, {station.key}", ledger)
    window.stations.show_station("parts")
    for part in window.session.workbook.shelf:
        window.parts.show_part(part.id)
        app.processEvents()
        for ledger in window.parts.findChildren(Ledger):
            if ledger.objectName() == "part_values":
                give_back(part.id, ledger)
    return found


if __name__ == "__main__":
    language.choose(sys.argv[1])
    lengths.choose(lengths.LengthUnit(sys.argv[2] if len(sys.argv) > 2 else "mm"))
    lines = refused()
    print(*lines, sep="\n")
    raise SystemExit(bool(lines))
