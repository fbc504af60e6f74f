"""A finding: a judgement as a value. `text` makes sentences of it."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any

from farrail.train.placed import Place


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
        kind: which judgement, from the table in `catalogue.py`.
        severity: how much it matters.
        values: the quantities and names its sentences need.
        place: where in the train the thing it speaks of stands; None for the train as a whole.
        part: id of the part it is about, or "".
        at_joint: whether `place` is the joint before that member, not the member.
        figure: id of the figure whose working explains it, or "".
        which: tells repeated ones apart; "" where there can be only one.
    """

    kind: str
    severity: Severity
    values: Mapping[str, Any] = field(default_factory=dict, hash=False)
    place: Place | None = None
    part: str = ""
    at_joint: bool = False
    figure: str = ""
    which: str = ""

    @property
    def id(self) -> str:
        """A stable id, different for each finding of a train."""
        return f"{self.kind}:{self.which}" if self.which else self.kind
