"""Any table the program shows, as text, CSV or one HTML page."""

import csv
import io
import re
from dataclasses import dataclass
from html import escape
from pathlib import Path

from farrail.errors import BadInput
from farrail.exchange.csv_shelf import guarded
from farrail.workbook.store import write_text

ENDINGS = (".csv", ".tsv", ".html", ".txt")
NUMBER = re.compile(r"[+\-−]?\d+(?:[.,]\d+)?")
STYLE = (
    "body{font:15px sans-serif;margin:2em;color:#1f2b33}table{border-collapse:collapse}"
    "th,td{padding:.3em .8em;border-bottom:1px solid #cfc8b8;text-align:left}td.n,th.n{text-align:right}"
)


@dataclass(frozen=True)
class Table:
    """A table as it is shown.

    Attributes:
        title: what it is called.
        columns: the titles of its columns.
        rows: its cells, a row at a time, as many as there are columns.
    """

    title: str
    columns: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]


def as_csv(table: Table, delimiter: str = ",") -> str:
    """Return a table as delimited text, whose numbers a spreadsheet takes for numbers and nothing for a formula.

    Args:
        table: what to write.
        delimiter: what parts the cells.
    """
    sheet = io.StringIO()
    writer = csv.writer(sheet, delimiter=delimiter)
    writer.writerow(table.columns)
    writer.writerows([_cell(text) for text in row] for row in table.rows)
    return sheet.getvalue()


def as_text(table: Table) -> str:
    """Return a table as lines of text, its columns under one another."""
    lines = (table.columns, *table.rows)
    widths = [max(len(line[number]) for line in lines) for number in range(len(table.columns))]
    right = [_numeric(table, number) for number in range(len(table.columns))]
    return "".join(
        "  ".join(
            text.rjust(width) if flush else text.ljust(width)
            for text, width, flush in zip(line, widths, right, strict=True)
        ).rstrip()
        + "\n"
        for line in lines
    )


def as_html(table: Table) -> str:
    """Return a table as one page that needs nothing beside it."""
    classes = [" class=n" if _numeric(table, number) else "" for number in range(len(table.columns))]

    def cells(tag: str, texts: tuple[str, ...]) -> str:
        return "".join(f"<{tag}{kind}>{escape(text)}</{tag}>" for text, kind in zip(texts, classes, strict=True))

    rows = "\n".join(f"<tr>{cells('td', row)}</tr>" for row in table.rows)
    title = escape(table.title)
    return (
        f"<!doctype html>\n<html><head><meta charset=utf-8><title>{title}</title><style>{STYLE}</style></head>\n"
        f"<body><h1>{title}</h1>\n<table>\n<tr>{cells('th', table.columns)}</tr>\n{rows}\n</table></body></html>\n"
    )


def write_table(path: Path, table: Table) -> None:
    """Write a table; the name's ending says how.

    Raises:
        BadInput: the name has another ending.
        StoreError: it cannot be written.
    """
    kind = path.suffix.casefold()
    if kind not in ENDINGS:
        raise BadInput(
            "“{name}” says not which kind of table it is; give a name in {listed}.",
            name=path.name,
            listed=", ".join(ENDINGS),
        )
    if kind == ".html":
        text = as_html(table)
    elif kind == ".txt":
        text = as_text(table)
    else:
        # The byte-order mark marks for spreadsheets that the text is UTF-8.
        text = "\ufeff" + as_csv(table, "\t" if kind == ".tsv" else ",")
    write_text(path, text)


def _cell(text: str) -> str:
    """Return a cell no spreadsheet takes for a formula; a number with its sign is one, with a hyphen for its minus."""
    return text.replace("−", "-") if NUMBER.fullmatch(text) else guarded(text)


def _numeric(table: Table, number: int) -> bool:
    filled = [row[number] for row in table.rows if row[number].strip("–")]
    return bool(filled) and all(NUMBER.match(text) for text in filled)
