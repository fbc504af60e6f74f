"""Commands about tables: import, export, copy and paste rows of the shelf."""

from collections.abc import Callable
from pathlib import Path
from typing import Protocol

from PySide6.QtCore import QObject
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QFileDialog, QWidget

from farrail.errors import FarRailError
from farrail.exchange.csv_shelf import shelf_to_csv
from farrail.language import N_, say
from farrail.parts.inventory_item import Status
from farrail.ui.session import Session
from farrail.ui.widgets.save_name import ask_where
from farrail.ui.widgets.typed_in import enter_typed
from farrail.workbook.edits.shelf import SetField
from farrail.workbook.store import read_text, write_text

FILTER = N_("Tables (*.csv *.tsv *.txt);;All files (*)")


class ShowsTables(Protocol):
    """What these commands need of the station they serve."""

    @property
    def shown(self) -> str | None:
        """Id of the part shown."""

    def show_import(self, text: str, where: str) -> None:
        """Show what a table would bring."""


class TableCommands(QObject):
    """What the Parts station's table menu does."""

    def __init__(self, session: Session, station: Callable[[], ShowsTables], window: QWidget) -> None:
        """Serve one window."""
        super().__init__(window)
        self._session, self._station, self._window = session, station, window

    def import_file(self) -> None:
        """Ask for a table and show what it would bring."""
        name, _ = QFileDialog.getOpenFileName(self._window, say("Import a table of parts"), "", str(FILTER))
        if name:
            self.preview_path(Path(name))

    def preview_path(self, path: Path) -> None:
        """Show what a table would bring."""
        try:
            self._preview(read_text(path), path.name)
        except FarRailError as error:
            self._session.message.emit(str(error), True)

    def paste(self) -> None:
        """Show what rows copied from a spreadsheet would bring."""
        try:
            self._preview(QGuiApplication.clipboard().text(), say("the clipboard"))
        except FarRailError as error:
            self._session.message.emit(str(error), True)

    def _preview(self, text: str, where: str) -> None:
        self._station().show_import(text, where)

    def export(self) -> None:
        """Ask for a name and write the whole shelf there."""
        if not enter_typed(self._window):
            return
        start = say("{title} shelf.csv", title=self._session.title)
        chosen = ask_where(self._window, say("Export the shelf"), start, str(FILTER), (".csv", ".txt"))
        if chosen is None:
            return
        path, _ = chosen
        try:
            # The byte-order mark marks for spreadsheets that the text is UTF-8.
            write_text(path, "\ufeff" + shelf_to_csv(self._session.workbook.shelf))
        except FarRailError as error:
            self._session.message.emit(str(error), True)
            return
        self._session.message.emit(
            say("{count} parts written to {path}.", count=len(self._session.workbook.shelf), path=path), False
        )

    def have_it(self) -> None:
        """Count the part shown among those available."""
        part = self._session.workbook.by_id.get(self._station().shown or "")
        if part is None:
            self._session.message.emit(say("Choose a part on the shelf first."), False)
        elif self._session.do(SetField(part.id, "status", Status.OWNED, label=say("Have {name}", name=part.name))):
            self._session.message.emit(say("{name} is marked as owned.", name=part.name), False)

    def copy_part(self) -> None:
        """Put the part shown on the clipboard as a row a spreadsheet takes."""
        part = self._session.workbook.by_id.get(self._station().shown or "")
        if part is not None:
            QGuiApplication.clipboard().setText(shelf_to_csv((part,), delimiter="\t"))
            self._session.message.emit(
                say("{name} is on the clipboard as a row with its header.", name=part.name), False
            )
