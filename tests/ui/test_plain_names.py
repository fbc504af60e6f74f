"""Names are text wherever they appear: markup, ampersands, lines, right-to-left, three hundred characters."""

from collections.abc import Callable

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QAction
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QApplication, QLabel, QMenu, QWidget

from farrail.demo.hallan_skerry import demo_workbook
from farrail.ui.widgets.ledger_rows import Cell, Row
from farrail.ui.widgets.plain import LONGEST_TITLE, plain_tip, plain_title
from farrail.ui.window import MainWindow
from farrail.workbook.workbook import Workbook

ODD = (
    "<img src='/dev/zero'> R&D", "א‮ב <b>right</b> to left", "x" * 119,
)  # fmt: skip


def renamed(odd: str) -> Workbook:
    """Return the demo with every name, maker, kit and note odd."""
    book = demo_workbook()
    shelf = tuple(
        p.model_copy(update={"name": f"{n} {odd}"[:120], "maker": odd, "kit": odd, "note": odd})
        for n, p in enumerate(book.shelf)
    )
    trains = tuple(t.model_copy(update={"name": f"{n} {odd}"[:120]}) for n, t in enumerate(book.trains))
    return book.model_copy(update={"name": odd, "shelf": shelf, "trains": trains})


def assert_plain(root: QWidget, odd: str) -> int:
    """Check everything below a widget that Qt might take for markup; returns how often the name was seen."""
    seen = 0
    for label in [w for w in (root, *root.findChildren(QLabel)) if isinstance(w, QLabel)]:
        assert label.textFormat() == Qt.TextFormat.PlainText or not label.text(), label.objectName()
        seen += odd in label.text()
    for widget in (root, *root.findChildren(QWidget)):
        tip = widget.toolTip()
        if "<" in odd and odd in tip:
            assert tip.startswith("<qt>"), tip
    for button in root.findChildren(QAbstractButton):
        assert "&" not in button.text().replace("&&", ""), button.text()
    return seen


@pytest.mark.parametrize("odd", ODD)
def test_names_are_shown_as_they_stand(make_window: Callable[..., MainWindow], odd: str) -> None:
    window = make_window(renamed(odd))
    seen = 0
    for train in window.session.workbook.trains[::3]:
        window.session.show_train(train.id)
        for station in window.stations.all:
            window.stations.show_station(station.key)
            QApplication.processEvents()
            seen += assert_plain(window, odd[:20])
    assert seen > 5
    window.session.message.emit(f"{odd} was taken.", False)
    assert window.bar.text.text().endswith("was taken.")
    assert_plain(window, odd)
    for menu in (window.header.train_menu, window.header.workbook_menu):
        menu.aboutToShow.emit()
        titles = [action.text() for action in every_action(menu)]
        # Commands have one letter each; a name never makes one.
        assert all(title.replace("&&", "").count("&") <= 1 for title in titles)
        named = [title for title in titles if odd[:8] in title.replace("&&", "&")]
        assert all("&" not in title.replace("&&", "") for title in named)
        assert all(len(title.replace("&&", "&").replace("&", "")) <= LONGEST_TITLE for title in titles)
    QTest.qWait(1)


def every_action(menu: QMenu) -> list[QAction]:
    return [*menu.actions(), *(a for sub in menu.findChildren(QMenu) for a in sub.actions())]


def test_tips_and_titles() -> None:
    assert plain_tip("a & b") == "a & b"
    assert plain_tip("<img src=x>\ntwo") == "<qt>&lt;img src=x&gt;<br>two</qt>"
    assert plain_title("R&D\n two") == "R&&D two"
    assert len(plain_title("y" * 300)) == LONGEST_TITLE


def test_copied_tables_hold_no_formula(make_window: Callable[..., MainWindow]) -> None:
    window = make_window(renamed("x"))
    table = window.spacing.running
    rows = table.ledger.rows
    evil = [Row((Cell(text), *rows[0].cells[1:])) for text in ("=1+1", "@x", "+cmd|' /c'!A0", "-0.68", "+0.7")]
    table.set_rows(evil)
    for separator in ("\t", ","):
        lines = table.ledger.as_text(separator).splitlines()[1:]
        assert [line[:2] for line in lines] == ["'=", "'@", "'+", "-0", "+0"]
