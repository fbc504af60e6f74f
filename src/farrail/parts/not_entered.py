"""Defaults for empty fields: an interval, and a typical value inside it.

A kind yields these beside its fields (`PartBase.not_entered`). The typical value is drawn and sorted by; every answer
that rests on the field carries the interval. The intervals are common practice, from memory.
"""

from dataclasses import dataclass

from farrail.parts.provenance import Span


@dataclass(frozen=True)
class Use:
    """How a part is used in a train, as far as its defaults depend on it.

    Attributes:
        focal_mm: focal length the optic is set to.
        diagonal_mm: diagonal of the frame; 0 without a camera.
        f_number: of the optic wide open at that focal length.
        pupil_depth_mm: the entrance pupil of a lens behind its thread seat.
        close_up: whether the train is used for close-up, so that a lens's own focusing matters.
        reversed: whether the optic is a reversed lens.
        optic: whether the part is the train's optic, not a part before or behind it.
    """

    focal_mm: float = 0.0
    diagonal_mm: float = 0.0
    f_number: float = 4.0
    pupil_depth_mm: float = 0.0
    close_up: bool = False
    reversed: bool = False
    optic: bool = False


@dataclass(frozen=True)
class Default:
    """The interval of one field that was left empty.

    Attributes:
        path: the field.
        low: lower end.
        high: upper end.
        typical: the value used where one number is needed.
        inverse: whether values in between are spread evenly in 1/value, as a distance that may be infinite.
    """

    path: str
    low: float
    high: float
    typical: float
    inverse: bool = False

    def __post_init__(self) -> None:
        """Keep the typical value inside."""
        object.__setattr__(self, "typical", min(max(self.typical, self.low), self.high))

    @classmethod
    def of_span(cls, path: str, span: Span) -> "Default":
        """Return a default with the middle of a span as its typical value."""
        return cls(path, span.low, span.high, span.value)
