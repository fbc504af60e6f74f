"""What is seen is taken along: tables, pictures, figures and the build sheet, to files, the clipboard and paper."""

import csv
import io
import json
import xml.etree.ElementTree as ET
from collections.abc import Callable
from html.parser import HTMLParser
from pathlib import Path

import pytest
from pypdf import PdfReader
from PySide6.QtCore import QMimeData, QPoint, QPointF, Qt, QTimer, QUrl
from PySide6.QtGui import QAction, QContextMenuEvent, QDragEnterEvent, QDropEvent, QGuiApplication, QImage
from PySide6.QtPrintSupport import QPrintPreviewDialog, QPrintPreviewWidget
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog, QMenu, QWidget
from pytestqt.qtbot import QtBot
from tests.ui.hands import found, press

from farrail.errors import BadInput
from farrail.exchange.table_files import Table, as_csv, as_text, write_table
from farrail.ui.rail.view import RailView
from farrail.ui.widgets.frame_map import FrameMap
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.window import MainWindow

ODD = Table("Odd", ("part", "error, mm"), (("=1+1", "−0.02"), ("a <b> & “c”", "+12.50"), ("Ring, front", "–")))


class Cells(HTMLParser):
    """The cells of a page's table, read by a library and not by us."""

    def __init__(self, page: str) -> None:
        super().__init__()
        self.rows: list[list[str]] = []
        self._in = False
        self.feed(page)

    def handle_starttag(self, tag: str, attrs: object) -> None:
        if tag == "tr":
            self.rows.append([])
        elif tag in ("td", "th"):
            self.rows[-1].append("")
            self._in = True

    def handle_endtag(self, tag: str) -> None:
        self._in = self._in and tag not in ("td", "th")

    def handle_data(self, data: str) -> None:
        if self._in:
            self.rows[-1][-1] += data


def names(monkeypatch: pytest.MonkeyPatch, path: Path, kind: str = "") -> None:
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(path), kind))


def act(window: MainWindow, name: str) -> None:
    found(window, QAction, f"act_{name}").trigger()


def test_a_table_goes_out_in_every_kind_and_reads_back(tmp_path: Path) -> None:
    for ending in ("csv", "tsv", "html", "txt"):
        write_table(tmp_path / f"t.{ending}", ODD)
    rows = list(csv.reader(io.StringIO((tmp_path / "t.csv").read_text("utf-8-sig"))))
    # A spreadsheet takes no cell for a formula, and a number with a true minus for a number.
    assert rows[1] == ["'=1+1", "-0.02"]
    assert float(rows[2][1]) == 12.5
    assert Cells((tmp_path / "t.html").read_text("utf-8")).rows == [list(ODD.columns), *(list(row) for row in ODD.rows)]
    lines = (tmp_path / "t.txt").read_text("utf-8").splitlines()
    assert len({line.index(",") for line in lines[:1]}) == 1
    assert lines[1].endswith("−0.02")
    assert "\t" in as_csv(ODD, "\t")
    assert as_text(ODD).count("\n") == 4
    with pytest.raises(BadInput, match="which kind of table"):
        write_table(tmp_path / "t.doc", ODD)


def test_a_stations_table_is_copied_and_saved(
    window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window.stations.show_station("light")
    ledger = found(window, Ledger, "clearance")
    ledger.setFocus()
    QTest.keyClick(ledger, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    told = QGuiApplication.clipboard().mimeData()
    by_tabs = list(csv.reader(io.StringIO(told.text()), delimiter="\t"))
    assert len(by_tabs) == len(ledger.ledger.rows) + 1
    assert len(Cells(told.html()).rows) == len(by_tabs)
    assert "on the clipboard" in window.bar.text.text()
    names(monkeypatch, tmp_path / "light", "Page (*.html)")
    save = next(action for action in ledger.actions() if action.objectName() == "table_save")
    save.trigger()
    assert Cells((tmp_path / "light.html").read_text("utf-8")).rows[1][0] == ledger.ledger.rows[0].cells[0].text
    names(monkeypatch, tmp_path / "no" / "light.csv")
    save.trigger()
    assert "light.csv" in window.bar.text.text()


def menu_of(widget: QWidget) -> QMenu:
    at = widget.rect().center()
    QApplication.sendEvent(widget, QContextMenuEvent(QContextMenuEvent.Reason.Mouse, at, widget.mapToGlobal(at)))
    QApplication.processEvents()
    menu = QApplication.activePopupWidget()
    assert isinstance(menu, QMenu)
    return menu


def pick(menu: QMenu, name: str) -> None:
    action = found(menu, QAction, name)
    menu.close()
    action.trigger()


def test_a_picture_is_saved_in_every_kind(window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    window.stations.show_station("light")
    shown = window.findChild(FrameMap)
    assert shown is not None
    window.bar.say("As when something was said already.", False)
    for _ in range(9):
        QApplication.processEvents()
    sizes = {}
    for ending in ("png", "svg", "pdf"):
        sizes[ending] = shown.size()
        names(monkeypatch, tmp_path / f"map.{ending}")
        pick(menu_of(shown), "picture_save")
    image = QImage(str(tmp_path / "map.png"))
    assert image.size() == sizes["png"] * 2
    assert len({image.pixel(x, image.height() // 2) for x in range(0, image.width(), 3)}) > 3
    drawing = ET.parse(tmp_path / "map.svg").getroot()
    assert drawing.tag.endswith("svg")
    assert len(list(drawing.iter())) > 20
    (page,) = PdfReader(tmp_path / "map.pdf").pages
    wide = sizes["pdf"].width() > sizes["pdf"].height()
    assert (page.mediabox.width > page.mediabox.height) is wide
    names(monkeypatch, tmp_path / "map.bmp")
    pick(menu_of(shown), "picture_save")
    assert "ends in .png, .svg or .pdf" in window.bar.text.text()
    size = shown.size()
    pick(menu_of(shown), "picture_copy")
    assert QGuiApplication.clipboard().image().size() == size * 2


def test_every_picture_of_every_station_has_its_menu(window: MainWindow) -> None:
    from farrail.ui.widgets.read_out import ReadOut

    seen = 0
    window.front.show_table(4)  # the view from behind and the curve
    window.light.show_table(4)
    for station in window.stations.all:
        window.stations.show_station(station.key)
        QApplication.processEvents()
        for shown in station.findChildren(ReadOut):
            if shown.isVisible():
                menu = menu_of(shown)
                assert [action.objectName() for action in menu.actions()] == [
                    "picture_copy", "picture_save", "picture_print"
                ]  # fmt: skip
                menu.close()
                seen += 1
    assert seen >= 6


def test_the_rail_is_saved_from_its_menu_and_from_the_workbooks(
    window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    names(monkeypatch, tmp_path / "rail.svg")
    act(window, "save_rail")
    text = (tmp_path / "rail.svg").read_text("utf-8")
    ET.fromstring(text)
    window.rail.menu_wanted.emit(QPoint(10, 10))
    menu = QApplication.activePopupWidget()
    assert isinstance(menu, QMenu)
    names(monkeypatch, tmp_path / "rail.png")
    pick(menu, "picture_save")
    assert QImage(str(tmp_path / "rail.png")).width() == found(window, RailView, "rail").width() * 2


def previewing(seen: dict[str, int]) -> None:
    """Look at the preview that is about to open, and close it."""

    def look() -> None:
        dialog = QApplication.activeModalWidget()
        assert isinstance(dialog, QPrintPreviewDialog)
        view = dialog.findChild(QPrintPreviewWidget)
        assert view is not None
        seen["pages"] = view.pageCount()
        dialog.reject()

    QTimer.singleShot(200, look)


@pytest.mark.parametrize(("name", "least"), [("print_sheet", 2), ("print_rail", 1)])
def test_what_is_printed_is_shown_before(window: MainWindow, name: str, least: int) -> None:
    seen: dict[str, int] = {}
    previewing(seen)
    act(window, name)
    assert seen["pages"] >= least
    # The theme on the screen is the one that was worn.
    assert window.rail.isVisible()


def test_the_build_station_prints_its_sheet(window: MainWindow, qtbot: QtBot) -> None:
    window.stations.show_station("build")
    seen: dict[str, int] = {}
    previewing(seen)
    press(window, "build_print", qtbot)
    assert seen["pages"] >= 2


def test_figures_go_out_with_their_ids(window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    names(monkeypatch, tmp_path / "f.json")
    act(window, "figures")
    told = json.loads((tmp_path / "f.json").read_text("utf-8"))
    # By hand, from the demo's parts: 9.00 + 20.50 + 8.70 + 5.00 + 12.50.
    assert told["figures"]["spacing.laid_mm"]["value"] == pytest.approx(55.7)
    names(monkeypatch, tmp_path / "f", "Table for a spreadsheet (*.csv)")
    act(window, "figures")
    rows = {row["id"]: row for row in csv.DictReader(io.StringIO((tmp_path / "f.csv").read_text("utf-8-sig")))}
    assert float(rows["spacing.laid_mm"]["value"]) == pytest.approx(55.7)
    assert rows["spacing.laid_mm"]["provenance"]
    assert set(rows) == set(told["figures"])


def test_with_no_train_there_is_nothing_to_take_along(make_window: Callable[..., MainWindow]) -> None:
    from farrail.workbook.workbook import empty_workbook

    window = make_window(empty_workbook())
    for name in ("save_rail", "print_rail", "print_sheet", "figures"):
        act(window, name)
        assert "There is no train in view" in window.bar.text.text()


def test_a_dropped_table_of_parts_is_previewed(window: MainWindow, tmp_path: Path, qtbot: QtBot) -> None:
    table = tmp_path / "parts.csv"
    table.write_text("kind,name,path_length_mm\nspacer,Dropped,3.5\n")
    mime = QMimeData()
    mime.setUrls([QUrl.fromLocalFile(str(table))])
    how = (Qt.DropAction.CopyAction, mime, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier)
    QApplication.sendEvent(window, QDragEnterEvent(QPoint(50, 50), *how))
    event = QDropEvent(QPointF(50, 50), *how)
    QApplication.sendEvent(window, event)
    qtbot.waitUntil(lambda: window.parts.isVisible())
    preview = window.parts.findChild(Ledger, "import_rows")
    assert preview is not None
    assert any("Dropped" in cell.text for row in preview.ledger.rows for cell in row.cells)
    assert event.isAccepted()
