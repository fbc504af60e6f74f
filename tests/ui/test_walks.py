"""Walks over every page: focus that is seen, targets that are met, names that are said, contrast as painted, room."""

from collections.abc import Callable
from functools import partial

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QAccessible, QColor, QImage
from PySide6.QtWidgets import (
    QAbstractButton,
    QAbstractSlider,
    QApplication,
    QCheckBox,
    QComboBox,
    QLabel,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QScrollBar,
    QSlider,
    QWidget,
)
from pytestqt.qtbot import QtBot
from tests.ui.test_look import contrast
from tests.ui.walking import SHORT, TRAINS, called, on_window, pages, seen, settle

from farrail.train.train import Side
from farrail.ui.theme.apply import apply_theme, current_theme
from farrail.ui.theme.fonts import REGULAR, STRONG, text_width_px
from farrail.ui.theme.tokens import PAPER, THEMES, Theme
from farrail.ui.widgets.ledger import LEAST_PX, Ledger, lines_in
from farrail.ui.widgets.marks import in_lines
from farrail.ui.window import MainWindow
from farrail.ui.window_state import fit_screen

MakeWindow = Callable[..., MainWindow]


def focusable(widget: QWidget) -> bool:
    return bool(widget.focusPolicy() & Qt.FocusPolicy.TabFocus) and widget.isEnabled()


@pytest.mark.parametrize("train", TRAINS)
def test_what_takes_the_focus_shows_it_is_large_enough_and_has_a_name(make_window: MakeWindow, train: str) -> None:
    """One walk looks at three things.

    Focus is two pixels of the accent at the middle of the upper edge, and the accent is out 3:1 from both grounds;
    targets are 24 by 24 pixels (WCAG 2.2, target size, minimum); a name is heard.
    """
    window = make_window(train=train)
    window.activateWindow()
    theme = current_theme()
    assert min(contrast(theme.accent, theme.paper), contrast(theme.accent, theme.panel)) >= 3.0
    missing, wrong, met = [], set(), 0
    for page in pages(window):
        widgets = seen(window)
        for widget in widgets:
            where = f"{page}: {called(widget)}"
            wrong |= {f"{where}: {trouble}" for trouble in (*small(widget), *nameless(widget))}
        for widget in widgets:
            if not focusable(widget) or not widget.isVisible():
                continue
            widget.setFocus(Qt.FocusReason.TabFocusReason)
            if QApplication.focusWidget() is not widget:
                continue
            image = widget.grab().toImage()
            ratio = image.devicePixelRatio()
            edge = [image.pixelColor(int(widget.width() / 2 * ratio), int(y * ratio)).name().upper() for y in (0, 1)]
            met += 1
            if edge != [theme.accent, theme.accent]:
                missing.append(f"{page}: {called(widget)} {edge}")
    assert met > 100
    assert not missing, missing
    assert not wrong, sorted(wrong)


def small(widget: QWidget) -> list[str]:
    """Return how small a target is that a hand can hardly meet."""
    if isinstance(widget, (QScrollBar, Ledger)):
        return []
    target = isinstance(widget, (QAbstractButton, QAbstractSlider, QComboBox, QLineEdit))
    return [f"{widget.width()}×{widget.height()}"] if target and min(widget.width(), widget.height()) < 24 else []


def nameless(widget: QWidget) -> list[str]:
    """Return what is not said of a widget where it is read aloud."""
    found = []
    if isinstance(widget, Ledger):
        found += [f"column {n} untitled" for n, column in enumerate(widget.ledger.columns) if not column.called]
    if not focusable(widget) and not isinstance(widget, QAbstractButton):
        return found
    if isinstance(widget, QScrollArea) and not widget.verticalScrollBar().isVisible():
        return found
    interface = QAccessible.queryAccessibleInterface(widget)
    if not interface.text(QAccessible.Text.Name).strip():
        found.append("no name")
    if isinstance(widget, QSlider) and interface.text(QAccessible.Text.Value).strip("-").isdigit():
        found.append("a number alone")
    if widget.property("tab") == "true" and interface.role() != QAccessible.Role.PageTab:
        found.append("no tab")
    return found


def painted_contrast(image: QImage, widget: QWidget, window: MainWindow) -> float:
    """Return the contrast of a text with its ground as they are painted: the ground is what most of it is."""
    box = on_window(widget, window).intersected(window.rect())
    ratio = image.devicePixelRatio()
    counts: dict[int, int] = {}
    for y in range(box.top() + 1, box.bottom()):
        for x in range(box.left() + 1, box.right()):
            value = image.pixel(int(x * ratio), int(y * ratio))
            counts[value] = counts.get(value, 0) + 1
    ground = QColor(max(counts, key=lambda value: counts[value])).name()
    return max(contrast(QColor(value).name(), ground) for value in counts)


@pytest.mark.parametrize("theme", THEMES.values(), ids=lambda t: t.name)
def test_text_stands_out_from_its_ground_as_painted(make_window: MakeWindow, theme: Theme) -> None:
    """Text of 13 px and less reaches 4.5:1 (WCAG 2.2 AA); its edges are smoothed, its stems have its own colour."""
    window = make_window(train="lantern-apsc")
    apply_theme(theme)
    try:
        faint, met = set(), 0
        done: set[str] = set()
        for page in pages(window):
            image = window.grab().toImage()
            for widget in seen(window):
                if not isinstance(widget, (QLabel, QPushButton, QCheckBox)) or not widget.isEnabled():
                    continue
                text = widget.text()
                key = f"{type(widget).__name__} {widget.property('role')} {text[:6]}"
                whole = widget.visibleRegion().boundingRect() == widget.rect()
                if len(text) < 4 or not whole or key in done:
                    continue
                done.add(key)
                met += 1
                found = painted_contrast(image, widget, window)
                if found < 4.4:
                    faint.add(f"{page}: {called(widget)} {text[:20]!r} {found:.2f}")
        assert met > 60
        assert not faint, sorted(faint)
    finally:
        apply_theme(PAPER)


@pytest.mark.parametrize("theme", THEMES.values(), ids=lambda t: t.name)
def test_what_can_be_used_is_bounded_three_to_one(make_window: MakeWindow, theme: Theme) -> None:
    window = make_window(train="sea-stacks")
    apply_theme(theme)
    try:
        window.stations.show_station("front")
        settle(window)
        image = window.grab().toImage()
        for widget in seen(window):
            plain = isinstance(widget, (QLineEdit, QComboBox)) or (
                isinstance(widget, QPushButton)
                and not any(widget.property(p) for p in ("quiet", "figure", "row", "tab"))
            )
            if not plain or widget.visibleRegion().boundingRect() != widget.rect():
                continue
            at = on_window(widget, window)
            middle = at.center().y()
            edge = image.pixelColor(at.left(), middle).name()
            beside = image.pixelColor(at.left() - 2, middle).name()
            assert contrast(edge, beside) >= 3.0, (called(widget), edge, beside)
    finally:
        apply_theme(PAPER)


def cut_cells(table: Ledger) -> list[str]:
    """Return the texts of a table's main column that are cut as they are drawn, of the rows in view."""
    found = []
    model, first = table.ledger, next((n for n, c in enumerate(table.ledger.columns) if not c.width), 0)
    for number, row in enumerate(model.rows):
        box = table.visualRect(model.index(number, first))
        if not table.viewport().rect().intersects(box) or table.isColumnHidden(first):
            continue
        cell = row.cells[first]
        room = box.width() - 12 - (17 if cell.marked else 0)
        weight = STRONG if cell.strong else REGULAR
        if text_width_px(cell.text, 13, weight) > room:
            lines = in_lines(cell.text, weight, room, lines_in(box.height()))
            if any(line.endswith("…") for line in lines):
                found.append(cell.text)
    return found


@pytest.mark.parametrize(("size", "share"), [((1280, 800), 0.0), ((1040, 680), 0.05)])
def test_no_cell_of_a_main_column_is_cut(make_window: MakeWindow, size: tuple[int, int], share: float) -> None:
    cut, count = [], 0
    for train in (*TRAINS, SHORT):
        window = make_window(train=train)
        window.resize(*size)
        settle(window)
        for page in pages(window):
            for widget in seen(window):
                if isinstance(widget, Ledger):
                    count += len(widget.ledger.rows)
                    cut += [f"{train} {page}: {widget.objectName()}: {text}" for text in cut_cells(widget)]
    assert count > 300
    assert len(cut) <= share * count, (len(cut), count, sorted(set(cut)))


def test_tables_show_six_rows_and_findings_their_width(make_window: MakeWindow) -> None:
    few, narrow = set(), set()
    for train in TRAINS:
        window = make_window(train=train)
        joint = next(place for place in window.rail.places if place.joint and place.side is Side.REAR)
        window.session.select(joint)
        for page in pages(window):
            if window.findings.width() < 240:
                narrow.add(page)
            for widget in seen(window):
                if isinstance(widget, Ledger):
                    widget.scrollToTop()
                    bottoms = [widget.visualRect(widget.ledger.index(n, 0)).bottom() for n in range(6)]
                    shown = sum(0 < bottom <= widget.viewport().height() for bottom in bottoms)
                    # Beside a photo, which is what the page is about, four.
                    least = 4 if page.startswith(("light", "front")) else 6
                    if shown < min(len(widget.ledger.rows), least):
                        few.add(f"{train} {page}: {widget.objectName()} {shown} of {len(widget.ledger.rows)}")
    assert LEAST_PX
    assert not narrow, narrow
    assert not few, sorted(few)


def high_enough(room: QWidget) -> bool:
    return room.height() >= room.minimumSizeHint().height() - 1


@pytest.mark.parametrize("size", [(1024, 600), (960, 540)])
def test_small_windows_keep_everything_within_reach(
    make_window: MakeWindow, qtbot: QtBot, size: tuple[int, int]
) -> None:
    """The rail is a strip, findings are marks, and what does not fit can be scrolled to."""
    window = make_window(train="lantern-apsc")
    window.resize(*size)
    settle(window)
    assert (window.width(), window.height()) == size
    for page in pages(window):
        assert window.rail.folded, page
        assert window.findings.marks.isVisible(), page
        room, port = window.stations.area.widget(), window.stations.area.viewport()
        assert room is not None
        assert room.width() >= room.minimumSizeHint().width() - 1
        # A page that an answer makes higher gets its room a turn later.
        qtbot.waitUntil(partial(high_enough, room), timeout=2000)
        assert port.width() > 850, page
        for widget in seen(window):
            assert on_window(widget, window).top() < window.height(), called(widget)


def test_the_window_stays_within_its_screen(make_window: MakeWindow) -> None:
    window = make_window()
    room = window.screen().availableGeometry()
    assert window.minimumWidth() <= 960
    assert window.minimumHeight() <= 540
    window.resize(room.width() * 2, room.height() * 2)
    fit_screen(window)
    assert window.width() <= max(room.width(), window.minimumWidth())
    assert window.height() <= max(room.height(), window.minimumHeight())


def test_right_to_left_leaves_the_rail_as_it_lies(make_window: MakeWindow) -> None:
    """Light runs from left to right the one that way people write."""
    window = make_window(train="lantern-apsc")
    settle(window)
    before = [window.rail.place_px(place) for place in window.rail.places]
    app = QApplication.instance()
    assert isinstance(app, QApplication)
    app.setLayoutDirection(Qt.LayoutDirection.RightToLeft)
    try:
        settle(window)
        assert [window.rail.place_px(place) for place in window.rail.places] == before
        assert window.rail.mapTo(window, QPoint(0, 0)).x() == 0
        for _ in pages(window):
            pass
    finally:
        app.setLayoutDirection(Qt.LayoutDirection.LeftToRight)
