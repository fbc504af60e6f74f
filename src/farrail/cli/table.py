"""`far-rail csv`: the shelf, a train's figures or findings as a table, and tables of parts brought in."""

import csv
import io
import sys
from collections.abc import Sequence
from pathlib import Path

from farrail.cli.edit import locked
from farrail.cli.printing import FINE
from farrail.cli.table_choice import What
from farrail.errors import BadInput
from farrail.exchange.csv_shelf import preview_csv, shelf_to_csv
from farrail.exchange.table_files import Table, as_csv
from farrail.language import say, say_n
from farrail.logbook.parfocal import ParfocalRow, parfocal_table
from farrail.readouts.range_findings import range_report
from farrail.readouts.ranges import EVERY
from farrail.readouts.read import read
from farrail.text.report import all_findings, figures_csv
from farrail.workbook.edits.shelf import ImportParts
from farrail.workbook.history import History
from farrail.workbook.store import read_file, read_text, write_file, write_text

SOME_BAD = 1


def run(file: Path, what: What, train: str | None, out: Path | None) -> int:
    """Print or write a table; returns the exit code.

    Raises:
        FarRailError: the file or the train cannot be read, or the table not be written.
    """
    workbook = read_file(file).workbook
    if what is What.SHELF:
        text = shelf_to_csv(workbook.shelf)
    else:
        if train is None:
            raise BadInput("The table “{what}” is of one train: name it with --train.", what=what.value)
        readout = read(workbook.train(train), workbook.by_id)
        ranges = range_report(readout.layout.train, workbook.by_id, EVERY)
        if what is What.PARFOCAL:
            text = parfocal_csv(parfocal_table(readout, workbook.log))
        elif what is What.FIGURES:
            text = figures_csv(readout, ranges)
        else:
            rows = tuple(
                (f.id, f.severity.value, f.part or "", f.title, f.reason) for f in all_findings(readout, ranges)
            )
            text = as_csv(Table("Findings", ("id", "severity", "part", "text", "reason"), rows))
    if out is None:
        sys.stdout.write(text)
    else:
        write_text(out, "\ufeff" + text)
        rows_written = sum(1 for _ in csv.reader(io.StringIO(text))) - 1
        print(say_n("{count} row written to {out}.", "{count} rows written to {out}.", rows_written,
                    count=rows_written, out=out))  # fmt: skip
    return FINE


def parfocal_csv(rows: Sequence[ParfocalRow]) -> str:
    """Return a parfocal table as CSV: micrometres the focuser goes out from the filter in the beam."""
    cells = [
        (row.part, row.name, *("" if value is None else f"{value:.0f}" for value in (
            row.glass_um, row.measured_um, row.off_um)), f"{row.count}") for row in rows
    ]  # fmt: skip
    columns = ("id", "filter", "from_glass_um", "measured_um", "plus_minus_um", "readings")
    return as_csv(Table("Parfocal", columns, tuple(cells)))


def bring_in(file: Path, table: Path) -> int:
    """Put the parts of a table on a workbook's shelf; returns the exit code, 1 where a row was left out.

    Raises:
        FarRailError: a file cannot be read or written, or the table is none.
    """
    text = sys.stdin.read() if str(table) == "-" else read_text(table)
    lock = locked(file)
    try:
        opened = read_file(file)
        preview = preview_csv(text, opened.workbook.by_id)
        good = tuple(row.part for row in preview.rows if row.part is not None)
        if good:
            history = History(opened.workbook)
            history.do(ImportParts(good))
            write_file(file, history.present, opened.digest)
    finally:
        lock.release()
    bad = [row for row in preview.rows if row.part is None and not row.same]
    same = sum(row.same for row in preview.rows)
    for row in bad:
        name = row.name or say("without a name")
        print(say("Line {line}, {name}: {reason}", line=row.line, name=name, reason=row.reason), file=sys.stderr)
    clauses = [say_n("{count} part put on the shelf of {file}", "{count} parts put on the shelf of {file}", len(good),
                  count=len(good), file=file)]  # fmt: skip
    if same:
        clauses.append(say("{count} already there, unchanged", count=same))
    if bad:
        clauses.append(say_n("{count} row left out", "{count} rows left out", len(bad), count=len(bad)))
    print(f"{', '.join(clauses)}.")
    return SOME_BAD if bad else FINE
