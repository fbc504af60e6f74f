"""What leaves the program for a phone and for paper: what is on it, and in which order."""

import json
import re
from pathlib import Path

import pypdf
import pytest
from tests.ui.test_sheet_in_browser import BROWSER, browse

from farrail.demo.hallan_skerry import demo_workbook
from farrail.readouts.read import read
from farrail.text.sheet import sheet_data, slot_rows, used_words, worst_of
from farrail.ui.build_sheet import write_build_sheet
from farrail.workbook.store import write_file

BOOK = demo_workbook()
MEASURE = """<script>addEventListener('load', () => {
  const targets = [...document.querySelectorAll('button, label')];
  const small = targets.filter(one => one.getBoundingClientRect().height < 44).length;
  document.title = JSON.stringify({
    over: document.documentElement.scrollWidth - document.documentElement.clientWidth, small: small,
    first: document.querySelector('input[type=checkbox]').getBoundingClientRect().top});
});</script>"""


@pytest.fixture
def page(tmp_path: Path) -> Path:
    book, page = tmp_path / "demo.farrail.json", tmp_path / "sheet.html"
    train = BOOK.train("sea-stacks")
    long = train.model_copy(update={"name": "A train whose name goes on and on" * 3})
    trains = tuple(long if one.id == train.id else one for one in BOOK.trains)
    write_file(book, BOOK.model_copy(update={"trains": trains}))
    write_build_sheet(book, "sea-stacks", page)
    return page


@pytest.mark.skipif(BROWSER is None, reason="there is no Chromium here; continuous integration installs one")
def test_nothing_scrolls_sideways_and_hands_find_their_targets(page: Path, tmp_path: Path) -> None:
    text = page.read_text("utf-8")
    page.write_text(text.replace("</body>", f"{MEASURE}</body>"), encoding="utf-8")
    document, console = browse(page, tmp_path / "profile")
    assert console == ""
    title = re.search(r"<title>(.*?)</title>", document)
    assert title is not None
    found = json.loads(title[1].replace("&quot;", '"'))
    assert found["over"] == 0
    assert found["small"] == 0
    assert found["first"] < 844


def test_steps_come_before_the_drawing_and_ticks_belong_to_workbook_and_train(page: Path) -> None:
    text = page.read_text("utf-8")
    assert text.index('data-step="') < text.index('class="drawing"') < text.index("From the datum to the sensor")
    assert f'"farrail:{BOOK.name}:sea-stacks"' in text
    assert "window.confirm(" in text


def test_the_sheet_says_how_the_train_is_used_and_what_is_in_its_slots() -> None:
    """1/15 s metered and 11.47 stops: 2^11.47 / 16 s are 177 s."""
    readout = read(BOOK.train("sea-stacks"), BOOK.by_id)
    assert used_words(readout) == "Used at 20 mm, f/8; metered 1/15 s, with everything on 2 min 57 s."
    slots = {row["where"]: row for row in slot_rows(readout)}
    assert slots["Skerry holder 100, slot 1"]["name"] == "Solid 3.0"
    assert slots["Skerry holder 100, slot 2"]["slid"] == "slid +6 mm"
    assert worst_of(readout) == "stop"
    assert worst_of(read(BOOK.train("barnacles"), BOOK.by_id)) == "good"
    marks = {one["mark"] for one in sheet_data(readout, "x", "2026-12-01")["findings"]}  # type: ignore[attr-defined]
    assert marks == {"◆", "▲", "○"}


def test_paper_is_read_in_order(tmp_path: Path) -> None:
    """The text of the PDF by another library: verdict, use, ledger, notes, steps, cautions, pack list."""
    book, out = tmp_path / "demo.farrail.json", tmp_path / "sheet.pdf"
    write_file(book, BOOK)
    write_build_sheet(book, "sea-stacks", out)
    text = re.sub(r"\s+", " ", " ".join(page.extract_text() for page in pypdf.PdfReader(out).pages))
    order = ["makes the corners black", "Used at 20 mm", "Required", "Notes", "Steps, about", "Meter without",
             "Cautions", "Pack list"]  # fmt: skip
    places = [text.index(words) for words in order]
    assert places == sorted(places), dict(zip(order, places, strict=True))
    # Tick boxes are drawn, not written.
    assert "☐" not in text.split("Steps, about")[1]
