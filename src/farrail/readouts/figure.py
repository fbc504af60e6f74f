"""A figure: one number with the arithmetic behind it and the weakest input it rests on."""

from dataclasses import dataclass

from farrail.parts.provenance import Origin


@dataclass(frozen=True)
class Working:
    """The arithmetic behind a figure.

    Attributes:
        formula: in the field's symbols.
        numbers: the same with the numbers put in.
        source: where the formula comes from.
    """

    formula: str
    numbers: str
    source: str

    def __str__(self) -> str:
        """The whole arithmetic on one line."""
        return f"{self.formula}; {self.numbers} [{self.source}]"


@dataclass(frozen=True)
class Figure:
    """One number a readout gives.

    Attributes:
        id: stable id such as `spacing.error_mm`.
        label: what it is, in the field's words.
        value: the number, or a word; None when it cannot be said.
        unit: "mm", "stops", "" ...
        working: how it came about.
        provenance: the weakest input it rests on.
        low: lower end when an unknown input spreads it, else None.
        high: upper end, likewise.
    """

    id: str
    label: str
    value: float | str | None
    unit: str
    working: Working
    provenance: Origin
    low: float | None = None
    high: float | None = None

    @property
    def number(self) -> float:
        """The value as a number; NaN when it is a word or missing."""
        return self.value if isinstance(self.value, float) else float("nan")
