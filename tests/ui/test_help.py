"""Help where it is needed: F1 on what has the focus, pages that lead on, the glossary, and working cards."""

import math
import re
from collections.abc import Callable, Iterator
from itertools import pairwise

import pytest
from PySide6.QtCore import Qt, QUrl
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLabel
from pytestqt.qtbot import QtBot
from tests.ui.hands import found

from farrail.demo.hallan_skerry import demo_workbook
from farrail.readouts.cards import Card, Role, card_of
from farrail.readouts.figure import kinds_of_figures, meaning_of
from farrail.readouts.read import Readout, read
from farrail.train.train import Side
from farrail.ui import command_search
from farrail.ui.first.first_page import FirstPage
from farrail.ui.help.drawings import DRAWINGS, drawing_of
from farrail.ui.help.pages import FOLDER, WRITTEN, pages
from farrail.ui.help.window import HelpWindow
from farrail.ui.widgets.card_picture import CardPicture
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.row_keys import FigureKey
from farrail.ui.widgets.working import FigureLine, WorkingPopover
from farrail.ui.window import MainWindow
from farrail.workbook.edits.laying import RemovePart


@pytest.fixture
def help_of(window: MainWindow) -> Iterator[Callable[[], HelpWindow]]:
    """Press F1 where the focus is, and return the help."""

    def ask() -> HelpWindow:
        focus = window.focusWidget()
        assert focus is not None
        QTest.keyClick(focus, Qt.Key.Key_F1)
        QApplication.processEvents()
        return found(window, HelpWindow)

    yield ask
    shown = window.findChild(HelpWindow)
    if shown is not None:
        shown.close()


@pytest.mark.parametrize(
    ("station", "heading"),
    [
        ("parts", "Parts and their values"), ("spacing", "How back focus is counted"),
        ("light", "Vignetting and its map"), ("front", "Filters in front of a lens"), ("close_up", "Close-up"),
        ("exposure", "Exposure"), ("build", "Assembly"),
        ("log", "The log and calibration"), ("compare", "Comparing trains"),
    ],
)  # fmt: skip
def test_f1_in_a_station_shows_its_page(
    window: MainWindow, help_of: Callable[[], HelpWindow], station: str, heading: str
) -> None:
    window.stations.show_station(station)
    window.stations.current.setFocus()
    assert help_of().text.toPlainText().startswith(heading)


def test_f1_on_the_rail_and_on_the_first_page(window: MainWindow, help_of: Callable[[], HelpWindow]) -> None:
    window.rail.setFocus()
    shown = help_of()
    assert shown.text.toPlainText().startswith("The rail")
    window.show_first()
    found(window, FirstPage).welcome.setFocus()
    window._help().about_focus()
    assert shown.text.toPlainText().startswith("Getting started with your own gear")


def test_f1_on_a_figure_says_what_it_means(window: MainWindow, help_of: Callable[[], HelpWindow]) -> None:
    window.session.show_train("barnacles")
    window.stations.show_station("close_up")
    field = next(
        table for table in window.close_up.findChildren(Ledger)
        if any(isinstance(row.key, FigureKey) for row in table.ledger.rows)
    )  # fmt: skip
    key = next(row.key for row in field.ledger.rows if isinstance(row.key, FigureKey))
    field.pick(key)
    field.setFocus()
    shown = help_of()
    assert shown.text.toPlainText().startswith("Meaning of each figure")
    assert shown.text.textCursor().selectedText()


def test_pages_are_searched_followed_and_gone_back_from(
    window: MainWindow, help_of: Callable[[], HelpWindow], qtbot: QtBot
) -> None:
    window.stations.show_station("spacing")
    window.stations.current.setFocus()
    shown = help_of()
    whole = shown.list.count()
    shown.text.anchorClicked.emit(QUrl("map"))
    assert shown.text.toPlainText().startswith("Vignetting and its map")
    shown.back()
    assert shown.text.toPlainText().startswith("How back focus is counted")
    qtbot.keyClicks(shown.search, "dioptre")
    assert 0 < shown.list.count() < whole
    assert "dioptre" in shown.text.toPlainText()
    qtbot.keyClicks(shown.search, " zzz")
    assert shown.list.count() == 0
    shown.search.clear()
    assert shown.list.count() == whole
    QTest.keyClick(shown, Qt.Key.Key_Escape)
    assert not shown.isVisible()


def test_the_palette_finds_help(window: MainWindow) -> None:

    entries = list(command_search.help_pages(window._help().show))
    assert {"Help: Glossary", "Help: How to measure an entrance pupil"} <= {entry.name for entry in entries}
    next(entry for entry in entries if entry.name == "Help: Glossary").run()
    shown = found(window, HelpWindow)
    assert "No-parallax" in shown.text.toPlainText() or "no-parallax" in shown.text.toPlainText()
    shown.close()


def test_every_link_leads_to_a_page_and_every_key_named_is_one(window: MainWindow) -> None:
    made = {page.key: page for page in pages(window.session.readout)}
    assert set(WRITTEN) == {path.stem for path in (FOLDER / "en").glob("*.md")}
    keys = {action.shortcut().toString() for action in window.actions()} | {"Ctrl+Z", "Shift+F", "Ctrl+0"}
    for page in made.values():
        for link in re.findall(r"(?<!!)\[[^\]]*\]\(([^)]+)\)", page.text):
            assert link in made, (page.key, link)
        for named in re.findall(r"\b(?:Ctrl|Shift)\+(?:Shift\+|Alt\+)?\w+\b", page.text):
            assert named in keys, (page.key, named)


def test_every_figure_has_its_meaning_behind_tips_cards_and_help(window: MainWindow) -> None:
    meanings = {kind: meaning_of(kind) for kind in kinds_of_figures()}
    assert len(meanings) > 70
    (page,) = (page for page in pages(window.session.readout) if page.key == "figures")
    for meaning in meanings.values():
        assert meaning
        assert meaning in page.text
    line = FigureLine("Error", "spacing.error_mm", window)
    assert meanings["spacing.error_mm"] in line.button.toolTip()
    starred = FigureLine("Left", "light.edge.left_stops", window)
    assert meanings["light.edge.*_stops"] in starred.button.toolTip()
    line.deleteLater()
    starred.deleteLater()


# Working cards: what is drawn agrees with a person's sum, not with the code that makes it.


def of(train: str, figure: str) -> tuple[Card, Readout]:
    workbook = demo_workbook()
    readout = read(workbook.train(train), workbook.by_id)
    card = card_of(readout.figures[figure])
    assert card is not None
    return card, readout


def test_the_card_of_a_needed_diameter_by_similar_triangles() -> None:
    """The rays go straight from the pupil's rims to the corner; at the opening the outer one is d/2 off the axis."""
    card, readout = of("witch-broom", "light.needed.9.dual-band-36_mm")
    by = {measure.symbol: measure for measure in card.measures}
    pupil = readout.light.pupil
    outer = next(stroke for stroke in card.strokes if stroke.role is Role.CORNER_RAY)
    (z0, y0), (z1, y1) = outer.points
    slope = (y1 - y0) / (z1 - z0)
    at_opening = y1 - slope * by["x"].value_mm
    assert at_opening == pytest.approx(by["d"].value_mm / 2.0, rel=1e-9)
    # Drawn on to the exit pupil, it meets the pupil's rim.
    rim = y1 - slope * pupil.exit_distance_mm
    assert rim == pytest.approx(pupil.exit_distance_mm / pupil.f_number / 2.0, rel=1e-6)
    # By hand: 28.26·(1 − 36.51/330) + 36.51/5.97 = 31.25.
    assert by["d"].value_mm == pytest.approx(31.25, abs=0.01)


def test_the_card_of_the_glass_shift_obeys_refraction() -> None:
    """Inside the plate the slope is 1/n of that outside; the focus moves by t(1 − 1/n): 2 mm of crown glass, 0.681."""
    card, _ = of("witch-broom", "spacing.glass_shift_mm")
    ray = next(stroke for stroke in card.strokes if stroke.role is Role.RAY).points
    slopes = [(b[1] - a[1]) / (b[0] - a[0]) for a, b in pairwise(ray)]
    assert slopes[1] * 1.5168 == pytest.approx(slopes[0])
    assert slopes[2] == pytest.approx(slopes[0])
    without = next(stroke for stroke in card.strokes if stroke.role is Role.WITHOUT).points
    assert ray[-1][0] - without[-1][0] == pytest.approx(0.681, abs=0.001)
    assert {m.symbol: m.value_mm for m in card.measures}["t(1 − 1/n)"] == pytest.approx(0.681, abs=0.001)


def test_the_card_of_the_front_corner_leans_as_the_corner_does() -> None:
    """At 20 mm the corner of 36 × 24 mm, 21.63 mm off, leans by 21.63/20; the holder is 69.9 mm ahead."""
    card, readout = of("sea-stacks", "front.corner_loss_stops")
    ray = next(stroke for stroke in card.strokes if stroke.role is Role.CORNER_RAY).points
    assert abs((ray[0][1] - ray[1][1]) / (ray[0][0] - ray[1][0])) == pytest.approx(
        math.hypot(18.0, 12.0) / 20.0, rel=0.01
    )
    by = {measure.symbol: measure.value_mm for measure in card.measures}
    # Bundle and lean: 20/8 + 2·69.93·1.0817 = 153.8.
    assert by["d"] == pytest.approx(by["f/N"] + 2.0 * by["x"] * math.hypot(18.0, 12.0) / 20.0, rel=0.01)
    assert readout.front.limiting is not None


def test_the_card_of_close_up_agrees_with_the_thin_lens(window: MainWindow) -> None:
    """1/u + 1/v = 1/f with the focal length at its nearest, 48.476 mm; behind close-up lenses none is drawn."""
    assert card_of(read(window.session.workbook.train("lichen"), window.session.workbook.by_id)
                   .figures["closeup.working_distance_mm"]) is None  # fmt: skip
    window.session.show_train("lichen")
    while window.session.train is not None and window.session.train.front_stack:
        window.session.do(RemovePart("lichen", 0, Side.FRONT))
    figure = window.session.figure("closeup.working_distance_mm")
    assert figure is not None
    card = card_of(figure)
    assert card is not None
    by = {measure.symbol: measure.value_mm for measure in card.measures}
    assert 1.0 / by["u"] + 1.0 / by["v"] == pytest.approx(1.0 / 48.4765, rel=0.002)
    assert by["h/m"] / by["h"] == pytest.approx(by["u"] / by["v"], rel=0.01)
    sheet = WorkingPopover(figure, window)
    drawn = sheet.findChild(CardPicture)
    assert drawn is not None
    assert "u = " in drawn.accessibleDescription()
    sheet.deleteLater()


def test_a_length_is_told_in_inches_beside_its_working(window: MainWindow) -> None:
    figure = window.session.figure("spacing.laid_mm")
    assert figure is not None
    sheet = WorkingPopover(figure, window)
    told = next(one.text() for one in sheet.findChildren(QLabel) if one.text().startswith("In inches: "))
    assert isinstance(figure.value, float)
    assert float(told.split()[2]) * 25.4 == pytest.approx(figure.value, abs=25.4 / 20_000)
    sheet.deleteLater()
    shelf = window.session.workbook
    figures = read(shelf.train("witch-broom"), shelf.by_id).figures.values()
    stops = next(one for one in figures if one.unit == "stops")
    other = WorkingPopover(stops, window)
    assert not [one for one in other.findChildren(QLabel) if "inches" in one.text()]
    other.deleteLater()


QUESTIONS = (
    ("my camera's flange distance?", "questions", "What is my camera's flange distance?"),
    ("why are corners dark?", "questions", "Why are the corners dark?"),
    ("which filter size?", "questions", "Which filter size do I need?"),
    ("T2, M42, M48?", "questions", "What are T2, M42 and M48?"),
    ("critical focus zone?", "questions", "What is the critical focus zone?"),
    ("guider spacing?", "questions", "Where does a guide camera's spacer go?"),
    ("what is a reducer's back focus?", "questions", "What is a reducer's back focus?"),
    ("how do I import a table?", "questions", "How do I import a table of parts?"),
    ("what is back focus?", "questions", "What is back focus?"),
    ("why a third of the glass?", "questions", "Why is a third of the glass added?"),
    ("how do I measure a pupil?", "questions", "How do I measure an entrance pupil?"),
    ("what do I enter first?", "questions", "What do I enter first?"),
    ("which end is male?", "questions", "Which end is male?"),
    ("what does a shim do?", "questions", "What does a shim do?"),
    ("tube or close-up lens?", "questions", "Tube or close-up lens?"),
    ("backfocus", "questions", "What is back focus?"),
    ("register", "questions", "What is my camera's flange distance?"),
    ("nodal point", "entrance-pupil", "How to measure an entrance pupil"),
    ("polarizer", "photo", ""),
    ("APS-C", "tables", ""),
)


def test_a_question_is_answered_in_two_steps(window: MainWindow, help_of: Callable[[], HelpWindow]) -> None:
    """F1, then the question as people type it: the page is open at its heading."""
    window.rail.setFocus()
    shown = help_of()
    for asked, page, heading in QUESTIONS:
        shown.search.setText(asked)
        assert shown.list.item(0).data(Qt.ItemDataRole.UserRole) == page, asked
        if heading:
            at = shown.text.textCursor()
            assert at.hasSelection(), asked
            assert at.block().text().casefold() == heading.casefold()


def test_every_page_has_a_drawing_that_is_drawn_in_the_theme_worn(make_window: Callable[..., MainWindow]) -> None:
    window = make_window()
    every = pages(window.session.readout)
    assert {page.key for page in every} == set(DRAWINGS)
    assert {drawing.train for drawing in DRAWINGS.values()} <= {train.id for train in demo_workbook().trains}
    help_window = HelpWindow(every, window)
    for page in every:
        help_window.show_page(page.key)
        assert "\ufffc" in help_window.text.toPlainText(), page.key
        assert str(DRAWINGS[page.key].caption) in " ".join(help_window.text.toPlainText().split()), page.key
    paper = drawing_of("front", "paper", "MM", "en")
    assert paper is not None
    # Metal, glass, light and lettering: many colours, none of them over most of the drawing but the ground.
    colours = {paper.pixel(x, y) for x in range(0, paper.width(), 3) for y in range(0, paper.height(), 3)}
    assert len(colours) > 40
    assert drawing_of("no such page", "paper", "MM", "en") is None
    help_window.close()
