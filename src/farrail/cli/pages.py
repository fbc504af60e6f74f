"""`far-rail pages`: the tables of docs/format.md, docs/figures.md and docs/edits.md, made from the program itself."""

from collections.abc import Iterable, Iterator
from pathlib import Path

from farrail.errors import StoreError
from farrail.exchange.edit_lines import edit_names

# Loaded for their kinds of findings, which are listed here.
from farrail.logbook import next_best  # noqa: F401
from farrail.logbook.observation import Observation
from farrail.logbook.registry import OBSERVATIONS
from farrail.parts.base import PartBase
from farrail.parts.field_info import FieldInfo
from farrail.parts.fields import PartField, Shape, fields_of
from farrail.parts.registry import KINDS
from farrail.readouts import range_findings  # noqa: F401
from farrail.readouts.figure import kinds_of_figures, meaning_of
from farrail.readouts.finding import kinds_of_findings
from farrail.workbook.store import read_text, write_text

BEGIN, END = "<!-- made by far-rail pages: begin -->", "<!-- made by far-rail pages: end -->"


def run(folder: Path) -> None:
    """Write the tables into the pages of a folder, between their marks.

    Raises:
        StoreError: a page is not there, has no marks, or cannot be written.
    """
    pages = (("format.md", format_tables()), ("figures.md", figures_tables()), ("edits.md", edits_table()))
    for name, lines in pages:
        path = folder / name
        write_text(path, with_table(read_text(path), lines, name))
        print(f"wrote {name}")


def with_table(page: str, lines: Iterable[str], name: str) -> str:
    """Return a page with what is between its marks replaced.

    Raises:
        StoreError: it has no marks.
    """
    before, begin, rest = page.partition(BEGIN)
    _, end, after = rest.partition(END)
    if not begin or not end:
        raise StoreError(f"{name} has no marks “{BEGIN}” and “{END}”; put them where the table belongs.")
    body = "\n".join(lines)
    return f"{before}{BEGIN}\n{body}\n{END}{after}"


def edits_table() -> Iterator[str]:
    """Yield the table of edits with the values of each."""
    yield "| edit | what it does | its values |"
    yield "|---|---|---|"
    for name, (told, values) in edit_names().items():
        listed = "; ".join(f"`{value}`: {what}" for value, what in values.items())
        yield f"| `{name}` | {told} | {listed} |"


def format_tables() -> Iterator[str]:
    """Yield the tables of kinds of part and kinds of observation."""
    yield from kinds_table()
    yield from observations_table()


def kinds_table() -> Iterator[str]:
    """Yield the table of kinds with the fields each has beyond what every part has."""
    common = {field.path for field in fields_of(PartBase)}
    yield "| kind | field | what it is |"
    yield "|---|---|---|"
    for tag, kind in KINDS.items():
        for field in fields_of(kind):
            if field.path not in common:
                yield f"| `{tag}` | `{field.path}`{'' if field.optional else ' (needed)'} | {_about(field)} |"


def observations_table() -> Iterator[str]:
    """Yield the table of kinds of observation with the fields each has beyond what every one has."""
    yield ""
    yield "An observation has `kind`, `id`, `train`, `state`, `day`, and may have `time`, `place`, `weather`,"
    yield "`focal_mm`, `f_number`, `photo` (a path) and `note`. Its kinds:"
    yield ""
    yield "| kind | field | what it is |"
    yield "|---|---|---|"
    for tag, kind in OBSERVATIONS.items():
        for name, info in kind.model_fields.items():
            if name in Observation.model_fields and not (name == "focal_mm" and info.is_required()):
                continue
            told = next((item for item in info.metadata if isinstance(item, FieldInfo)), None)
            words = "" if told is None else f"{told.label}: {told.help}" if told.help else told.label
            unit = f" [{told.unit}]" if told is not None and told.unit else ""
            yield f"| `{tag}` | `{name}`{' (needed)' if info.is_required() else ''} | {words}{unit} |"


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
    yield "| id | unit | what it means |"
    yield "|---|---|---|"
    yield from (f"| `{kind}` | {text.unit} | {meaning_of(kind)} |" for kind, text in kinds_of_figures().items())
    yield ""
    yield "## Findings"
    yield ""
    yield "| id | about |"
    yield "|---|---|"
    yield from (f"| `{kind}` | {about} |" for kind, about in kinds_of_findings().items())
