"""The build sheet, read again by another library: text, fonts, page, scale; and the page for a phone."""

import re
from collections.abc import Callable
from html.parser import HTMLParser
from pathlib import Path

import pytest
from pypdf import PageObject, PdfReader

from farrail.assembly.ring import RingShape
from farrail.assembly.steps import steps_of
from farrail.errors import FarRailError
from farrail.text.pack import pack_rows
from farrail.text.steps import step_words
from farrail.train.train import MountedPart
from farrail.ui.build_sheet import write_build_sheet, write_sheet_of
from farrail.ui.ring_sheet import write_template
from farrail.ui.session import Session
from farrail.ui.window import MainWindow
from farrail.workbook.edits.trains import RenameTrain

MM_PER_POINT = 25.4 / 72.0


def words(text: str) -> str:
    return re.sub(r"\s+", "", text)


@pytest.fixture
def session(make_window: Callable[..., MainWindow]) -> Session:
    return make_window(train="lantern-wheel").session


def every_step(session: Session) -> list[str]:
    assert session.readout is not None
    return [step_words(step).what for step in steps_of(session.readout.layout)]


@pytest.mark.parametrize(("letter", "size_mm"), [(False, (210.0, 297.0)), (True, (215.9, 279.4))])
def test_a_pdf_has_every_step_in_selectable_text_with_its_fonts(
    session: Session, tmp_path: Path, letter: bool, size_mm: tuple[float, float]
) -> None:
    out = tmp_path / "sheet.pdf"
    write_sheet_of(session, out, "2026-11-27", letter=letter)
    made = PdfReader(out)
    box = made.pages[0].mediabox
    # ISO 216 for A4, ANSI for Letter; points are rounded to whole ones.
    assert float(box.width) * MM_PER_POINT == pytest.approx(size_mm[0], abs=0.3)
    assert float(box.height) * MM_PER_POINT == pytest.approx(size_mm[1], abs=0.3)
    text = words("".join(page.extract_text() for page in made.pages))
    for step in every_step(session):
        assert words(step) in text, step
    assert "Lantern150withitswheel" in text
    assert words("Never point the telescope near the Sun") in text
    for page in made.pages:
        for face in page["/Resources"]["/Font"].values():  # type: ignore[index]
            inner = face.get_object()["/DescendantFonts"][0].get_object()
            assert "/FontFile2" in inner["/FontDescriptor"].get_object() or "/FontFile3" in inner["/FontDescriptor"]


def strokes(page: PageObject) -> list[tuple[float, float, float]]:
    """Return the level strokes of a page as (height, left, right), in points."""
    found: list[tuple[float, float, float]] = []
    at: list[float] = []

    def visit(operator: bytes, operands: list[float], matrix: list[float], _text: object) -> None:
        if operator not in (b"m", b"l"):
            return
        x, y = float(operands[0]), float(operands[1])
        here = [x * matrix[0] + y * matrix[2] + matrix[4], x * matrix[1] + y * matrix[3] + matrix[5]]
        if operator == b"l" and at and abs(here[1] - at[1]) < 0.01:
            found.append((round(here[1], 1), min(at[0], here[0]), max(at[0], here[0])))
        at[:] = here

    page.extract_text(visitor_operand_before=visit)
    return found


def test_what_is_done_either_way_is_on_both_sheets(session: Session, tmp_path: Path) -> None:
    session.show_train("sea-stacks")
    for name in ("sheet.pdf", "sheet.html"):
        out = tmp_path / name
        write_sheet_of(session, out, "2026-11-27")
        text = out.read_text() if name.endswith("html") else " ".join(p.extract_text() for p in PdfReader(out).pages)
        assert words("Behind the square filters: free of vignetting from 24.4 mm") in words(text)
    session.show_train("witch-broom")
    write_sheet_of(session, tmp_path / "sheet.html", "2026-11-27")
    assert "Done either way" not in (tmp_path / "sheet.html").read_text()


def test_the_scale_bar_is_true_to_half_a_percent(session: Session, tmp_path: Path) -> None:
    """The bar against the dimension line of the placed length, both read from the strokes on the page."""
    out = tmp_path / "sheet.pdf"
    write_sheet_of(session, out, "2026-11-27")
    page = PdfReader(out).pages[0]
    told_text = re.search(r"([\d.]+)\s+mm\s+of\s+the\s+train;\s+drawn\s+([\d.]+)\s+:\s+([\d.]+)", page.extract_text())
    laid_text = re.search(r"actual\s+([\d.]+)", page.extract_text())
    assert told_text is not None
    assert laid_text is not None
    length, over, under = (float(word) for word in told_text.groups())
    margin = 13.0 / MM_PER_POINT
    level = strokes(page)
    (bar,) = [right - left for _, left, right in level if abs(left - margin) < 1.0 and 40.0 < right - left < 200.0]
    # A dimension line is two strokes at one height with its words between them; the upper one is the placed length.
    heights = sorted({height for height, left, right in level if right - left > 15.0})
    pairs = {h: [(left, right) for height, left, right in level if height == h] for h in heights}
    upper = max(h for h, pair in pairs.items() if len(pair) == 2 and h < 700.0)
    ends = [x for pair in pairs[upper] for x in pair]
    per_mm = (max(ends) - min(ends)) / float(laid_text[1])
    assert bar / length == pytest.approx(per_mm, rel=0.005)
    assert bar / length * MM_PER_POINT == pytest.approx(over / under, rel=0.005)


class Tags(HTMLParser):
    def __init__(self) -> None:
        super().__init__()
        self.boxes: list[str] = []
        self.links: list[str] = []

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        given = dict(attrs)
        if tag == "input":
            self.boxes.append(given.get("data-step") or "")
        if tag not in ("svg", "metadata"):
            self.links += [v for k, v in attrs if v and k in ("src", "href", "action") and not v.startswith("#")]


def test_a_page_for_a_phone_needs_nothing_beside_it(session: Session, tmp_path: Path) -> None:
    out = tmp_path / "sheet.html"
    write_sheet_of(session, out, "2026-11-27")
    text = out.read_text(encoding="utf-8")
    tags = Tags()
    tags.feed(text)
    assert session.readout is not None
    steps = [step.key for step in steps_of(session.readout.layout)]
    assert [box for box in tags.boxes if not box.startswith("pack:")] == steps
    assert [box for box in tags.boxes if box.startswith("pack:")] == [
        f"pack:{row['key']}" for row in pack_rows([session.readout])]  # fmt: skip
    assert all(link.startswith("data:") for link in tags.links), tags.links
    assert "@import" not in text
    assert "url(http" not in text
    assert "<svg" in text
    assert "localStorage" in text


@pytest.mark.parametrize("name", ["n" * 120, "\u05e8\u05db\u05d1\u05ea <b>&", "</script><script>alert(1)</script>"])
@pytest.mark.parametrize("ending", ["pdf", "html"])
def test_names_of_any_kind_are_laid_out(session: Session, tmp_path: Path, name: str, ending: str) -> None:
    train = session.train
    assert train is not None
    assert session.do(RenameTrain(train.id, name))
    out = tmp_path / f"sheet.{ending}"
    write_sheet_of(session, out, "2026-11-27", large=True)
    assert out.stat().st_size > 5000
    if ending == "html":
        assert "<script>alert" not in out.read_text(encoding="utf-8")


def test_what_cannot_be_written_is_said(session: Session, file: Path, tmp_path: Path) -> None:
    with pytest.raises(FarRailError, match="no such folder"):
        write_sheet_of(session, tmp_path / "nowhere" / "sheet.pdf", "2026-11-27")
    with pytest.raises(FarRailError, match=r"ends in \.pdf or \.html"):
        write_build_sheet(file, "sea-stacks", tmp_path / "sheet.doc")
    with pytest.raises(FarRailError, match="There is no train"):
        write_build_sheet(file, "nowhere", tmp_path / "sheet.pdf")


def test_shared_parts_are_packed_once(session: Session) -> None:
    book = session.workbook
    from farrail.readouts.read import read

    both = [read(book.train(name), book.by_id) for name in ("witch-broom", "witch-broom-short")]
    names = [row["name"] for row in pack_rows(both)]
    assert len(names) == len(set(names))
    assert "Kittiwake drawer" in names
    assert "Bulb blower" in names


def test_a_ring_template_is_true_to_size_and_its_strip_as_long_as_it_says(qapp: object, tmp_path: Path) -> None:
    out = tmp_path / "ring.pdf"
    write_template(RingShape(42.5, 50.0, 0.5, between=("Spacer", "Camera")), out)
    page = PdfReader(out).pages[0]
    long = [right - left for _, left, right in strokes(page) if right - left > 200.0]
    assert [length * MM_PER_POINT for length in long] == pytest.approx([150.0], rel=1e-3)
    # A circle is drawn in curves: the ends of their strokes reach its rim.
    reach: list[float] = []

    def visit(operator: bytes, operands: list[float], matrix: list[float], _text: object) -> None:
        if operator == b"c":
            reach.append(float(operands[4]) * matrix[0] + matrix[4])

    page.extract_text(visitor_operand_before=visit)
    assert (max(reach) - min(reach)) * MM_PER_POINT == pytest.approx(50.0, rel=1e-3)
    assert "must be 150 mm long" in " ".join(page.extract_text().split())
    with pytest.raises(FarRailError, match="wider than the page"):
        write_template(RingShape(200.0, 230.0, 0.5), out)


@pytest.mark.parametrize(
    ("train", "pages"), [("sea-stacks", 1), ("barnacles", 1), ("lichen", 1), ("witch-broom", 2), ("lantern-wheel", 2)]
)
def test_up_to_fourteen_steps_fit_on_one_page_and_nothing_is_said_twice(
    session: Session, tmp_path: Path, train: str, pages: int
) -> None:
    session.show_train(train)
    out = tmp_path / "sheet.pdf"
    write_sheet_of(session, out, "2026-11-27")
    made = PdfReader(out).pages
    assert session.readout is not None
    assert len(made) == pages or len(steps_of(session.readout.layout)) > 14
    text = words(" ".join(page.extract_text() for page in made))
    for sentence in ("Snug, then no more: rings seize in the cold", "Hold it by its edge, blow both faces"):
        assert text.count(words(sentence)) <= 1
    # A box for each step: a square stroke each, drawn and not written.
    boxes = 0
    for page in made:
        contents = page.get_contents()
        assert contents is not None
        boxes += contents.get_data().count(b" re")
    assert boxes >= len(steps_of(session.readout.layout))
    assert "☐" not in text


def test_no_step_is_split_between_columns_or_pages(session: Session, tmp_path: Path) -> None:
    """Each step's words follow one another on one page, in the order of the steps."""
    out = tmp_path / "sheet.pdf"
    write_sheet_of(session, out, "2026-11-27")
    pages = [words(page.extract_text()) for page in PdfReader(out).pages]
    at = 0
    for what in every_step(session):
        page = next(n for n, text in enumerate(pages) if words(what) in text)
        assert page >= at
        at = page


@pytest.mark.parametrize("large", [False, True])
def test_sixty_parts_are_all_on_the_sheet(session: Session, tmp_path: Path, large: bool) -> None:
    train = session.train
    assert train is not None
    row = (*train.rear_train, *(MountedPart(part="spacer-5") for _ in range(56)))
    book = session.workbook.model_copy(update={"trains": (train.model_copy(update={"rear_train": row}),)})
    sixty = Session(book, tmp_path)
    out = tmp_path / "sheet.pdf"
    write_sheet_of(sixty, out, "2026-11-27", large=large)
    text = words(" ".join(page.extract_text() for page in PdfReader(out).pages))
    assert text.count("Spacer5") >= 56
    assert words("Cautions") in text
