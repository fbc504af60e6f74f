"""`far-rail readout FILE --train NAME`: every figure and finding of a train."""

from pathlib import Path

from farrail.cli.printing import FINE, STOPPED, number, own_trouble, plain, print_json
from farrail.errors import FarRailError
from farrail.readouts.figure import Figure
from farrail.readouts.read import Readout, read
from farrail.text.figures import value_of, working_of
from farrail.text.findings import reason_of, sentences, text_of
from farrail.text.verdicts import detail, headline
from farrail.workbook.store import read_file


def run(file: Path, train: str, *, as_json: bool) -> int:
    """Print a train's readout; returns the exit code.

    Raises:
        FarRailError: the file or the train cannot be read.
    """
    workbook = read_file(file).workbook
    readout = read(workbook.train(train), workbook.by_id)
    if as_json:
        print_json(as_data(readout))
    else:
        _print(readout)
    own = [error for error in readout.errors if not isinstance(error, FarRailError)]
    if own:
        own_trouble(own[0])
    return STOPPED if readout.stops else FINE


def as_data(readout: Readout) -> dict[str, object]:
    """Return a readout as JSON data with stable ids."""
    return {
        "figures": {key: _figure(figure) for key, figure in readout.figures.items()},
        "findings": [
            {"id": f.id, "severity": f.severity.value, "part": f.part, "text": text_of(f), "reason": reason_of(f)}
            for f in readout.findings
        ],
    }


def _figure(figure: Figure) -> dict[str, object]:
    data: dict[str, object] = {
        "value": plain(value_of(figure)),
        "unit": figure.unit,
        "working": str(working_of(figure)),
        "provenance": figure.provenance.value,
    }
    if figure.low is not None and figure.high is not None:
        data["range"] = [figure.low, figure.high]
    return data


def _print(readout: Readout) -> None:
    verdict = readout.verdict
    print(f"{readout.layout.train.name}: {headline(verdict)}\n  {detail(verdict)}\n")
    for figure in readout.figures.values():
        told = value_of(figure)
        value = told if isinstance(told, str) else number(told, figure.unit)
        print(f"{figure.id:<44} {value:>12} {figure.unit:<6} {figure.provenance}")
        print(f"    {working_of(figure)}")
    print()
    for finding in readout.findings:
        print(f"[{finding.severity}] {' '.join(sentences(finding))}  ({finding.id})")
    if not readout.findings:
        print("No findings.")
