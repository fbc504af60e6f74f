"""`far-rail order FILE OUT.pdf --train NAME`: the drawing of an adapter no one sells."""

from collections.abc import Callable
from pathlib import Path

from farrail.assembly.order import AdapterOrder, order_for
from farrail.assembly.order_words import order_words
from farrail.cli.printing import FINE
from farrail.exchange.order_files import write_order_dxf
from farrail.readouts.read import read
from farrail.workbook.store import read_file


def run(
    file: Path, out: Path, train: str, joint: int | None, length_mm: float | None, whole: bool,
    write_pdf: Callable[[AdapterOrder, Path], None],
) -> int:  # fmt: skip
    """Write the drawing and say what is ordered; returns the exit code.

    Args:
        file: the workbook.
        out: what to write; its ending says which kind.
        train: name or id of the train.
        joint: which joint behind the optic, from 1; None for the last.
        length_mm: how long, None for what the train is short of.
        whole: one piece from the datum to the camera.
        write_pdf: draws it on paper.
    """
    workbook = read_file(file).workbook
    order = order_for(
        read(workbook.train(train), workbook.by_id), None if joint is None else joint - 1, length_mm, whole=whole
    )
    if out.suffix.lower() == ".pdf":
        write_pdf(order, out)
    else:
        write_order_dxf(order, out)
    print("\n".join(order_words(order)))
    return FINE
