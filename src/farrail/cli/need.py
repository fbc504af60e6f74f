"""`far-rail need`: what a part of a train must measure."""

from pathlib import Path

from farrail.cli.printing import FINE, print_json
from farrail.errors import BadInput
from farrail.exchange.edit_lines import part_named
from farrail.planning.needs import LeastWidth, Need, missing, needs_of
from farrail.readouts.read import read
from farrail.workbook.store import read_file


def run(
    file: Path, train_name: str, part_name: str | None, *, focal_mm: float | None, magnification: float | None,
    as_json: bool,
) -> int:  # fmt: skip
    """Print what a part must measure; without a part, how long the missing one must be.

    Raises:
        FarRailError: the file, the train or the part cannot be read or found.
    """
    workbook = read_file(file).workbook
    train = workbook.train(train_name)
    if part_name is None:
        gap = missing(read(train, workbook.by_id))
        if gap is None:
            raise BadInput("Nothing is missing behind the optic; name a part of the train.")
        found: list[Need] = [gap]
    else:
        part = part_named(workbook, part_name)
        found = list(needs_of(train, workbook.by_id, part, focal_mm=focal_mm, magnification=magnification))
    if as_json:
        print_json({"needs": [_data(one) for one in found]})
    else:
        for one in found:
            print(one.sentence)
    return FINE


def _data(need: Need) -> dict[str, object]:
    data: dict[str, object] = {
        "part": need.part, "name": need.name, "kind": need.kind,
        "needed_mm": need.needed_mm, "actual_mm": need.actual_mm,
    }  # fmt: skip
    if isinstance(need, LeastWidth):
        data["filter_thread_mm"] = need.filter_thread_mm
    return data
