"""How a long train goes together: steps and findings of sixty parts, and its sheet on paper."""

import tempfile
from pathlib import Path
from typing import Any

from benchmarks.window import demo_window
from benchmarks.yardstick import measured

# 20 ms and 1.5 s where y is about 100 ms.
STEPS_WISH, SHEET_WISH = 0.2, 15.0
RUNS = 15


def steps_and_sheet() -> list[dict[str, Any]]:
    """Time the steps, the findings and the sheet of a train of sixty parts, each from nothing."""
    from farrail.assembly.steps import steps_of
    from farrail.demo.hallan_skerry import demo_workbook
    from farrail.readouts.read import read
    from farrail.train.layout import build_layout
    from farrail.train.train import MountedPart
    from farrail.ui.build_sheet import write_sheet_of

    book = demo_workbook()
    short = book.train("witch-broom")
    more = tuple(MountedPart(part="spacer-5") for _ in range(60 - len(short.rear_train)))
    train = short.model_copy(update={"rear_train": (*short.rear_train, *more)})

    def steps(_: int) -> None:
        assert len(steps_of(build_layout(train, book.by_id))) > 60

    def findings(_: int) -> None:
        assert read(train, book.by_id).findings

    rows = [
        measured("steps of 60 parts", RUNS, steps, STEPS_WISH),
        measured("findings of 60 parts", RUNS, findings, STEPS_WISH),
    ]
    trains = tuple(train if one.id == train.id else one for one in book.trains)
    with demo_window(book.model_copy(update={"trains": trains})) as (_, session, _window), \
            tempfile.TemporaryDirectory() as folder:  # fmt: skip
        session.show_train(train.id)
        for ending in ("pdf", "html"):
            out = Path(folder) / f"sheet.{ending}"

            def sheet(_: int, out: Path = out) -> None:
                write_sheet_of(session, out, "2026-11-27")

            rows.append(measured(f"sheet of 60 parts as {ending}", 3, sheet, SHEET_WISH))
    return rows
