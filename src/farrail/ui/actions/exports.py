"""Commands that take a train along: its drawing as a picture or printed, its build sheet, its figures as data."""

import json
from collections.abc import Callable
from datetime import date

from PySide6.QtCore import QObject
from PySide6.QtGui import QPagedPaintDevice
from PySide6.QtWidgets import QWidget

from farrail.errors import FarRailError
from farrail.language import N_, say
from farrail.readouts.range_findings import range_report
from farrail.readouts.ranges import EVERY
from farrail.readouts.read import Readout
from farrail.ui.session import Session
from farrail.ui.widgets.save_name import ask_where
from farrail.ui.widgets.sharing import draw_on_page, file_name, print_preview, save_picture
from farrail.ui.widgets.typed_in import enter_typed
from farrail.workbook.store import write_text

FIGURES = N_("JSON, for scripts (*.json);;Table for a spreadsheet (*.csv)")


class ExportCommands(QObject):
    """What the menu offers to take along of the train in view."""

    def __init__(
        self, session: Session, rail: QWidget, window: QWidget,
        draw_sheet: Callable[[Session, QPagedPaintDevice, str], None],
    ) -> None:  # fmt: skip
        """Serve one window; `draw_sheet` draws the build sheet of a session on pages, with a date."""
        super().__init__(window)
        self._session, self._rail, self._window, self._draw_sheet = session, rail, window, draw_sheet

    def _with_train(self, do: Callable[[Readout], None]) -> None:
        if not enter_typed(self._window):
            return
        readout = self._session.readout
        if readout is None:
            self._session.message.emit(say("There is no train in view; start one first."), False)
            return
        do(readout)

    def save_rail(self) -> None:
        """Ask where, and write the drawing there as PNG, SVG or PDF."""
        self._with_train(lambda readout: save_picture(self._rail, readout.layout.train.name))

    def print_rail(self) -> None:
        """Show the drawing as it would be printed."""

        def show(readout: Readout) -> None:
            name = readout.layout.train.name
            print_preview(self._window, name, lambda page: draw_on_page(self._rail, page))

        self._with_train(show)

    def print_sheet(self) -> None:
        """Show the build sheet as it would be printed."""

        def show(readout: Readout) -> None:
            name, today = readout.layout.train.name, date.today().isoformat()

            def draw(page: QPagedPaintDevice) -> None:
                self._draw_sheet(self._session, page, today)

            print_preview(self._window, say("{name}, build sheet", name=name), draw)

        self._with_train(show)

    def figures(self) -> None:
        """Ask where, and write every figure of the train there with its id, working and provenance."""
        self._with_train(self._write_figures)

    def _write_figures(self, readout: Readout) -> None:
        train = readout.layout.train
        start = file_name(say("{name} figures", name=train.name), ".json")
        chosen = ask_where(self._window, say("Write every figure"), start, str(FIGURES), (".json", ".csv"))
        if chosen is None:
            return
        path, _ = chosen
        from farrail.text.report import as_data, figures_csv

        ranges = range_report(train, self._session.workbook.by_id, EVERY)
        try:
            if path.suffix.casefold() == ".csv":
                # The byte-order mark marks for spreadsheets that the text is UTF-8.
                write_text(path, "\ufeff" + figures_csv(readout, ranges))
            else:
                write_text(path, json.dumps(as_data(readout, ranges), indent=2, ensure_ascii=False) + "\n")
        except FarRailError as error:
            self._session.message.emit(str(error), True)
            return
        self._session.message.emit(
            say("{count} figures of {name} are in {path}.", count=len(readout.figures), name=train.name, path=path),
            False,
        )
