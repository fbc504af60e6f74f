"""The headline of a whole train: its worst finding, or its spacing where no finding stops it."""

from collections.abc import Sequence

from farrail.readouts.finding import Finding, Severity
from farrail.readouts.read import Readout


def train_headline(readout: Readout, findings: Sequence[Finding] | None = None) -> tuple[str, str]:
    """Return a train's headline and what it rests on or what to do.

    Args:
        readout: the train.
        findings: its findings as judged with what is unknown, worst first; None for the readout's own.
    """
    stop = next((one for one in findings or readout.findings if one.severity is Severity.STOP), None)
    if stop is None:
        return readout.verdict.headline, readout.verdict.detail
    return stop.sentences
