"""A finding: a judgement about a train as a typed record that says itself in words when it is shown."""

from dataclasses import dataclass
from enum import StrEnum
from typing import ClassVar

from farrail.train.placed import Place


class Severity(StrEnum):
    """How much a finding matters: it stops the train, deserves a look, or is worth noting."""

    STOP = "stop"
    LOOK = "look"
    NOTE = "note"


SEVERITY_ORDER = {Severity.STOP: 0, Severity.LOOK: 1, Severity.NOTE: 2}


@dataclass(frozen=True)
class FindingText:
    """What a finding says: a frozen record of the quantities and names its sentences need.

    A kind of finding is a subclass with its `kind`; its docstring says what it is about, and becomes documentation.
    """

    kind: ClassVar[str] = ""

    def sentences(self) -> tuple[str, str]:
        """Return the judgement in one sentence with the number in it, and why or what to do."""
        raise NotImplementedError


@dataclass(frozen=True)
class Finding:
    """One judgement about a train.

    Attributes:
        text: what it says.
        severity: how much it matters.
        place: where in the train the thing it is about is; None for the train as a whole.
        part: id of the part it is about, or "".
        at_joint: whether `place` is the joint before that member, not the member.
        figure: id of the figure whose working explains it, or "".
        which: distinguishes repeated ones; "" where there can be only one.
        value: path of the field of `part` that settles it once entered, such as `back_focus_mm`; "" for none.
    """

    text: FindingText
    severity: Severity
    place: Place | None = None
    part: str = ""
    at_joint: bool = False
    figure: str = ""
    which: str = ""
    value: str = ""

    @property
    def kind(self) -> str:
        """Which judgement, such as `light.clip`."""
        return self.text.kind

    @property
    def id(self) -> str:
        """A stable id, different for each finding of a train."""
        return f"{self.kind}:{self.which}" if self.which else self.kind

    @property
    def sentences(self) -> tuple[str, str]:
        """The judgement in one sentence, and its reason, in the language in force."""
        return self.text.sentences()

    @property
    def title(self) -> str:
        """The judgement in one sentence."""
        return self.sentences[0]

    @property
    def reason(self) -> str:
        """Why, and what to do."""
        return self.sentences[1]


def kinds_of_findings() -> dict[str, str]:
    """Return every kind of finding that is loaded, with what it is about, in order of name."""
    found: dict[str, str] = {}
    waiting = list(FindingText.__subclasses__())
    while waiting:
        one = waiting.pop(0)
        waiting += one.__subclasses__()
        if one.kind:
            found[one.kind] = (one.__doc__ or "").rstrip(".")
    return dict(sorted(found.items()))
