"""The pages say what is there: every file and name they mention, every kind, figure and finding."""

import re
from pathlib import Path

import pytest

from farrail.cli.pages import edits_table, figures_tables, format_tables, with_table
from farrail.errors import StoreError

ROOT = Path(__file__).parents[2]
SOURCES = ROOT / "src" / "farrail"
PAGES = sorted([*(ROOT / "docs").glob("*.md"), ROOT / "CONTRIBUTING.md", ROOT / "README.md"])
FILES = {path.relative_to(SOURCES).as_posix() for path in SOURCES.rglob("*.py")}
CODE = "\n".join(path.read_text() for path in SOURCES.rglob("*.py"))
NAMES = set(re.findall(r"^ *(?:class|def) (\w+)|^ *(?:self\.)?(\w+)\s*[:=]", CODE, re.M))
NAMES = {name for pair in NAMES for name in pair if name}
# Names of other programs' and of the format, not of ours.
ELSEWHERE = {"Annotated", "Literal", "NotoSans"}


def told(page: Path) -> list[str]:
    return re.findall(r"`([^`\n]+)`", page.read_text())


@pytest.mark.parametrize("page", PAGES, ids=lambda p: p.name)
def test_every_file_a_page_names_is_there(page: Path) -> None:
    missing = []
    for text in told(page):
        for name in re.findall(r"[\w./-]+\.py\b", text):
            found = (ROOT / name).exists() or any(f == name or f.endswith(f"/{name}") for f in FILES)
            found = found or (page.parent / name).exists()
            if not found:
                missing.append(name)
        if re.fullmatch(r"(src|tests|docs|benchmarks)/[\w./-]+", text) and not (ROOT / text).exists():
            missing.append(text)
    assert not missing


@pytest.mark.parametrize("page", PAGES, ids=lambda p: p.name)
def test_every_name_a_page_mentions_is_one_of_ours(page: Path) -> None:
    missing = []
    for text in told(page):
        plain = text.removesuffix("()")
        # A class such as `PlacedAperture`, or one of its members such as `Session.do`.
        if re.fullmatch(r"[A-Z][a-z]+\w*(\.\w+)?", plain):
            missing += [word for word in plain.split(".") if word.lstrip("_") not in {n.lstrip("_") for n in NAMES}]
    assert not set(missing) - ELSEWHERE


@pytest.mark.parametrize("page", PAGES, ids=lambda p: p.name)
def test_every_link_leads_somewhere(page: Path) -> None:
    links = re.findall(r"\]\(([^)#]+)\)", page.read_text())
    assert not [link for link in links if not link.startswith("http") and not (page.parent / link).exists()]


def test_the_tables_are_those_of_the_program() -> None:
    for name, lines in (("format.md", format_tables()), ("figures.md", figures_tables()), ("edits.md", edits_table())):
        page = (ROOT / "docs" / name).read_text()
        assert with_table(page, lines, name) == page, f"docs/{name} is old; run ./far-rail pages"


def test_a_page_without_marks_is_refused() -> None:
    with pytest.raises(StoreError, match=r"x\.md has no marks"):
        with_table("no marks here", iter(()), "x.md")
