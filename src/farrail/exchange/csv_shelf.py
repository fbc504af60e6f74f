"""The shelf as a table: CSV out and in, one part a row (docs/format.md describes the columns).

Cells are written by `cells.py`. A cell that a spreadsheet would take for a formula is guarded with an apostrophe on
the way out; nothing is ever evaluated on the way in.
"""

import csv
import io
import re
from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from typing import Any

from pydantic import TypeAdapter, ValidationError

from farrail.complaints import complaint
from farrail.errors import BadInput
from farrail.exchange.cells import read_cell, written
from farrail.language import say
from farrail.parts.connections import Connection, Plain
from farrail.parts.fields import Shape, field_at, fields_of, value_at
from farrail.parts.inventory_item import PartId
from farrail.parts.origin import Origin
from farrail.parts.registry import KIND_NAMES, KINDS, AnyPart, Part
from farrail.workbook.edits.trains import free_id, id_stem

LEADING = ("kind", "id", "name", "maker", "status", "owned", "price", "front", "rear", "path_length_mm")
MOST_ROWS = 5000
# Many times what all kinds together have.
MOST_COLUMNS = 1000
_TIMES = re.compile(r"^(\+?[\d.,]+)\s*[x×](?=\s|$)", re.IGNORECASE)
NUMBER = re.compile(r"[+-]?\d+(?:\.\d+)?(?:[eE][+-]?\d+)?")
FORMULA_MARKS = ("=", "+", "-", "@", "\t", "'")


@cache
def _any_part() -> TypeAdapter[Part]:
    """Return what validates a row; made when the first table is read, for it is slow to make."""
    return TypeAdapter(AnyPart)


@dataclass(frozen=True)
class PreviewRow:
    """One row of a table: the part it makes, or why it makes none.

    Attributes:
        line: its line in the file, the header being 1.
        name: what it calls itself.
        part: the part, None for a bad row.
        reason: why it is bad, or what will happen to it ("" for a plain new part).
        same: whether the very part is there already: nothing is lost by leaving the row out.
    """

    line: int
    name: str
    part: Part | None
    reason: str
    same: bool = False


@dataclass(frozen=True)
class Preview:
    """What an import would do; nothing has been imported yet."""

    rows: tuple[PreviewRow, ...]

    @property
    def good(self) -> tuple[Part, ...]:
        """The parts that can be imported."""
        return tuple(row.part for row in self.rows if row.part is not None)

    @property
    def bad(self) -> int:
        """How many rows cannot."""
        return sum(row.part is None for row in self.rows)


# Out


def shelf_to_csv(parts: Sequence[Part], *, delimiter: str = ",") -> str:
    """Return parts as CSV with just the columns they use, the common ones first."""
    tables = [_cells(part) for part in parts]
    used = {name for table in tables for name in table}
    columns = [name for name in LEADING if name in used or name in ("kind", "name")]
    columns += sorted(used - set(columns))
    sheet = io.StringIO()
    writer = csv.DictWriter(sheet, columns, restval="", delimiter=delimiter)
    writer.writeheader()
    for table in tables:
        writer.writerow({name: guarded(text) for name, text in table.items()})
    return sheet.getvalue()


def guarded(text: str) -> str:
    """Return a cell that no spreadsheet takes for a formula: marked with an apostrophe where one might, numbers not."""
    return f"'{text}" if text.startswith(FORMULA_MARKS) and not NUMBER.fullmatch(text) else text


def _cells(part: Part) -> dict[str, str]:
    found: dict[str, str] = {"kind": part.kind, "id": part.id}
    for field in fields_of(type(part)):
        there, value = value_at(part, field.path)
        if there and value is not None and (field.shape is Shape.QUANTITY or value != _default(part, field.path)):
            text = written(field, value)
            if text:
                found[field.path] = text
    return found


def _default(part: Part, path: str) -> object:
    info = type(part).model_fields.get(path)
    return None if info is None else info.default


# In


def preview_csv(text: str, shelf: Mapping[PartId, Part], bare: Origin = Origin.PUBLISHED) -> Preview:
    """Read a table and say of each row what it would make; nothing is imported.

    Args:
        text: the table; comma, semicolon or tab between cells, a byte-order mark is passed over.
        shelf: the parts that are there already.
        bare: where its numbers come from that no word is said of.

    Raises:
        BadInput: it is no table of parts at all.
    """
    text = text.removeprefix("\ufeff")
    if not text.strip():
        raise BadInput("The table is empty; its first line names the columns, such as kind,name,path_length_mm.")
    header = text.lstrip().splitlines()[0]
    delimiter = max(("\t", ";", ","), key=header.count)
    try:
        lines = list(csv.reader(io.StringIO(text, newline=""), delimiter=delimiter))
    except csv.Error as error:
        raise BadInput("The table cannot be read: {error}; save it as CSV again.", error=error) from None
    columns = [name.strip().lower() for name in lines[0]]
    if len(columns) > MOST_COLUMNS:
        raise BadInput(
            "The table has {count} columns, so it is no table of parts; choose another one.", count=len(columns)
        )
    missing = [name for name in ("kind", "name") if name not in columns]
    if missing:
        raise BadInput(
            "The table has no column “{missing}”; its first line must name kind and name.", missing=missing[0]
        )
    twice = [name for name, count in Counter(columns).items() if name and count > 1]
    if twice:
        raise BadInput("The column “{twice}” appears twice; keep one.", twice=twice[0])
    body = [(number, row) for number, row in enumerate(lines[1:], start=2) if any(cell.strip() for cell in row)]
    if len(body) > MOST_ROWS:
        raise BadInput(
            "The table has {count} rows; at most {most_rows} are taken at a time. Split it.",
            count=len(body),
            most_rows=MOST_ROWS,
        )
    taken, rows = _Taken(shelf), []
    for number, cells in body:
        row = _row(number, dict(zip(columns, cells, strict=False)), shelf, taken, bare)
        if row.part is not None:
            taken.add(row.part.id)
        rows.append(row)
    return Preview(tuple(rows))


class _Taken(set[PartId]):
    """The ids given already; of equal names the next number is known without trying all before it."""

    def __init__(self, ids: Iterable[PartId]) -> None:
        super().__init__(ids)
        self._next: dict[str, int] = {}

    def free(self, name: str) -> PartId:
        """Return an id that is not given yet, from a name."""
        stem = id_stem(name)
        begin = self._next.get(stem, 2)
        found = free_id(name, self, begin)
        self._next[stem] = begin + 1
        return found


def _row(
    line: int, cells: dict[str, str], shelf: Mapping[PartId, Part], taken: _Taken, bare: Origin
) -> PreviewRow:  # fmt: skip
    values = {name: _unguarded(text) for name, text in cells.items() if name and text.strip()}
    name = values.get("name", "")
    try:
        part = _part(values, taken, bare)
    except BadInput as error:
        return PreviewRow(line, name, None, str(error))
    old = shelf.get(part.id)
    if old == part:
        return PreviewRow(line, name, None, say("is on the shelf already, with the same values"), same=True)
    if part.id in taken:
        return PreviewRow(line, name, None, f"the id “{part.id}” is taken; leave it empty for a new one")
    return PreviewRow(line, name, part, "")


def _unguarded(text: str) -> str:
    text = text.strip()
    return text[1:] if text.startswith("'") and text[1:].startswith(FORMULA_MARKS) else text


def _part(values: dict[str, str], taken: _Taken, bare: Origin) -> Part:
    kind = values.get("kind", "").strip().lower().replace(" ", "_").replace("-", "_")
    if kind not in KIND_NAMES:
        raise BadInput(
            "the kind “{values}” is not known; known are {listed}",
            values=values.get("kind", ""),
            listed=", ".join(KIND_NAMES),
        )
    data: dict[str, Any] = {"kind": kind}
    for path, text in values.items():
        if path != "kind":
            _put(data, KINDS[kind], path, text, bare)
    if "name" not in data:
        raise BadInput("it has no name")
    if "id" not in data:
        data["id"] = taken.free(data["name"])
    if KINDS[kind].model_fields["outer_diameter_mm"].is_required():
        data.setdefault("outer_diameter_mm", _drawn_diameter(data))
    _tag_glass(data)
    try:
        return _any_part().validate_python(data)
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(str(step) for step in first["loc"] if step not in (kind, "plate", "printed_shift"))
        message = complaint(first)
        if first["type"] == "extra_forbidden":
            message = f"is not a column of a {KIND_NAMES[kind]}"
        raise BadInput(f"{place or 'the row'}: {message}") from None


def _put(data: dict[str, Any], kind: type[Part], path: str, text: str, bare: Origin) -> None:
    field = field_at(kind, path)
    steps = path.split(".")
    for step in steps[:-1]:
        data = data.setdefault(step, {})
        if not isinstance(data, dict):
            raise BadInput("{path}: there is no such column", path=path)
    if field is not None and field.path == "dioptres":
        # A close-up lens labelled 10x has +10 dioptres.
        text = _TIMES.sub(r"\1", text).removeprefix("+")
    try:
        data[steps[-1]] = text if field is None else read_cell(field, text, bare)
    except (BadInput, ValidationError) as error:
        reason = complaint(error.errors()[0]) if isinstance(error, ValidationError) else str(error)
        raise BadInput(f"{path}: {reason}") from None


def _drawn_diameter(data: dict[str, Any]) -> float:
    """Return a diameter to draw a part at when the table gives none: a wall around its larger end.

    A part of which both ends are plain faces is as wide as these.
    """
    ends = [data[end].standard for end in ("front", "rear") if isinstance(data.get(end), Connection)]
    widest = float(max((end.size_mm for end in ends), default=45.0))
    return widest if ends and all(isinstance(end, Plain) for end in ends) else widest + 5.0


def _tag_glass(data: dict[str, Any]) -> None:
    """Say of each piece of glass in the table whether it is a plate or a printed shift."""
    for name, value in data.items():
        if not isinstance(value, dict):
            continue
        if "focus_shift_mm" in value and ("thickness_mm" in value or "index" in value):
            raise BadInput(
                "{name}: a thickness and a printed focus shift are both given; keep the one its box or a caliper says",
                name=name,
            )
        if "focus_shift_mm" in value or "thickness_mm" in value or "index" in value:
            value["kind"] = "printed_shift" if "focus_shift_mm" in value else "plate"
        else:
            _tag_glass(value)
