"""A finding: a judgement with its reason."""

from dataclasses import dataclass
from enum import StrEnum


class Severity(StrEnum):
    """How much a finding matters: it stops the train, deserves a look, or is worth noting."""

    STOP = "stop"
    LOOK = "look"
    NOTE = "note"


SEVERITY_ORDER = {Severity.STOP: 0, Severity.LOOK: 1, Severity.NOTE: 2}


@dataclass(frozen=True)
class Finding:
    """One judgement about a train.

    Attributes:
        id: stable id such as `spacing.short`; a suffix after a colon tells repeated ones apart.
        severity: how much it matters.
        text: one sentence with the number in it.
        reason: why, and what to do.
        part: id of the part it is about, or "".
        joint: index of the rear train's joint it is about, or None.
        figure: id of the figure whose working explains it, or "".
    """

    id: str
    severity: Severity
    text: str
    reason: str
    part: str = ""
    joint: int | None = None
    figure: str = ""
