"""`far-rail ring FILE OUT.stl --train NAME`: a plain ring for a missing spacer or shim."""

from collections.abc import Callable
from pathlib import Path

from farrail.assembly.ring import RingShape, ring_for
from farrail.assembly.ring_words import ring_words
from farrail.cli.printing import FINE
from farrail.exchange.ring_files import write_ring
from farrail.readouts.read import read
from farrail.workbook.store import read_file


def run(
    file: Path, out: Path, train: str, joint: int | None, thickness_mm: float | None, chamfer_mm: float,
    write_template: Callable[[RingShape, Path], None],
) -> int:  # fmt: skip
    """Write the ring and say what it is; returns the exit code.

    Args:
        file: the workbook.
        out: what to write; its ending says which kind.
        train: name or id of the train.
        joint: which joint behind the optic, from 1; None for the last.
        thickness_mm: how thick, None for what the train is short of.
        chamfer_mm: how far its edges are broken.
        write_template: writes a paper template, where the ending says so.

    Raises:
        FarRailError: the file or train cannot be read, there is no such joint, or the ring cannot be made or written.
    """
    workbook = read_file(file).workbook
    readout = read(workbook.train(train), workbook.by_id)
    shape = ring_for(readout, None if joint is None else joint - 1, thickness_mm, chamfer_mm)
    if out.suffix.lower() == ".pdf":
        write_template(shape, out)
    else:
        write_ring(shape, out)
    print("\n".join(ring_words(shape)))
    return FINE
