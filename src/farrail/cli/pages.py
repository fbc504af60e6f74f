"""`far-rail pages`: the tables of docs/format.md and docs/figures.md, made from the program itself."""

from collections.abc import Iterator
from pathlib import Path

from farrail.errors import StoreError
from farrail.parts.base import PartBase
from farrail.parts.fields import PartField, Shape, fields_of
from farrail.parts.registry import KINDS
from farrail.readouts.catalogue import FINDINGS, UNITS
from farrail.workbook.store import read_text, write_text

BEGIN, END = "<!-- made by far-rail pages: begin -->", "<!-- made by far-rail pages: end -->"


def run(folder: Path) -> None:
    """Write the tables into the pages of a folder, between their marks.

    Raises:
        StoreError: a page is not there, has no marks, or cannot be written.
    """
    for name, lines in (("format.md", kinds_table()), ("figures.md", figures_tables())):
        path = folder / name
        write_text(path, with_table(read_text(path), lines, name))
        print(f"wrote {name}")


def with_table(page: str, lines: Iterator[str], name: str) -> str:
    """Return a page with what stands between its marks replaced.

    Raises:
        StoreError: it has no marks.
    """
    before, begin, rest = page.partition(BEGIN)
    _, end, after = rest.partition(END)
    if not begin or not end:
        raise StoreError(f"{name} has no marks “{BEGIN}” and “{END}”; put them where the table belongs.")
    body = "\n".join(lines)
    return f"{before}{BEGIN}\n{body}\n{END}{after}"


def kinds_table() -> Iterator[str]:
    """Yield the table of kinds with the fields each has beyond what every part has."""
    common = {field.path for field in fields_of(PartBase)}
    yield "| kind | field | what it is |"
    yield "|---|---|---|"
    for tag, kind in KINDS.items():
        for field in fields_of(kind):
            if field.path not in common:
                yield f"| `{tag}` | `{field.path}`{'' if field.optional else ' (needed)'} | {_about(field)} |"


def _about(field: PartField) -> str:
    told = f"{field.label}: {field.help}" if field.help and field.label else field.label or field.help or "drawn size"
    if field.choices:
        told += f" ({', '.join(field.choices)})"
    unit = field.unit if field.shape is Shape.QUANTITY else field.shape.value
    return f"{told} [{unit}]" if unit else told


def figures_tables() -> Iterator[str]:
    """Yield the tables of figures and findings."""
    yield "## Figures"
    yield ""
    yield "| id | unit |"
    yield "|---|---|"
    yield from (f"| `{kind}` | {unit} |" for kind, unit in UNITS.items())
    yield ""
    yield "## Findings"
    yield ""
    yield "| id | about |"
    yield "|---|---|"
    yield from (f"| `{kind}` | {about} |" for kind, about in FINDINGS.items())
