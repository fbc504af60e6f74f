"""A figure: one number with what its working needs and the weakest input it rests on. `text` tells it in words."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, TypeAlias

from farrail.parts.provenance import Origin
from farrail.readouts.catalogue import UNITS

# A number; sides of a frame; a name; None where it cannot be said.
FigureValue: TypeAlias = float | tuple[float, ...] | str | None


@dataclass(frozen=True)
class Figure:
    """One number a readout gives.

    Attributes:
        kind: which figure, from the table in `catalogue.py`.
        value: the number, the sides of a frame, or a name; None when it cannot be said.
        provenance: the weakest input it rests on.
        values: the quantities and names that its working needs.
        low: lower end when an unknown input spreads it, else None.
        high: upper end, likewise.
        or_never: whether it may also never be reached, as a focal length free of vignetting.
        spans: of sides of a frame the ends of each; () where they are known.
        which: tells repeated ones apart; it stands where the kind has a star.
    """

    kind: str
    value: FigureValue
    provenance: Origin
    values: Mapping[str, Any] = field(default_factory=dict, hash=False)
    low: float | None = None
    high: float | None = None
    which: str = ""
    or_never: bool = False
    spans: tuple[tuple[float, float], ...] = ()

    @property
    def id(self) -> str:
        """A stable id such as `spacing.error_mm`, different for each figure of a train."""
        return self.kind.replace("*", self.which)

    @property
    def unit(self) -> str:
        """Its unit, "" for what is no number."""
        return UNITS[self.kind] if isinstance(self.value, float) else ""

    @property
    def number(self) -> float:
        """The value as a number; NaN when it is none."""
        return self.value if isinstance(self.value, float) else float("nan")
