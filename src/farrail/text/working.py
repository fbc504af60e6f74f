"""A figure in words: its label, its value, and the arithmetic behind it."""

from collections.abc import Callable
from dataclasses import dataclass

from farrail.language import Text
from farrail.quantities import Values
from farrail.readouts.figure import Figure


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
class Told:
    """A figure told in words: its label, its working, and its value where that is no number."""

    label: str
    working: Working
    value: str = ""


# What tells one kind of figure: from the figure and its values.
Teller = Callable[[Figure, Values], Told]


def told(label: Text, formula: Text, numbers: Text, source: Text, value: str = "") -> Told:
    """Return a figure told in words."""
    return Told(str(label), Working(str(formula), str(numbers), str(source)), value)
