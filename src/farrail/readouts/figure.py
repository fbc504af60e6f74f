"""A figure: one number with what its working needs, the weakest input it rests on, and its words when it is shown."""

import math
from collections.abc import Iterable
from dataclasses import dataclass
from inspect import cleandoc
from typing import ClassVar, TypeAlias

from farrail.language import Text, say
from farrail.parts.origin import Origin
from farrail.quantities import in_words, inches, number, unit_word

# A number; sides of a frame; a name; None where it cannot be said.
FigureValue: TypeAlias = float | tuple[float, ...] | str | None
# The subjects of figures, in reading order.
SUBJECTS = ("spacing", "light", "front", "closeup", "exposure")


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
class FigureWords:
    """A figure in words: its label, its working, and its value where that is no number."""

    label: str
    working: Working
    value: str = ""


def figure_words(label: Text, formula: Text, numbers: Text, source: Text, value: str = "") -> FigureWords:
    """Return a figure in words."""
    return FigureWords(str(label), Working(str(formula), str(numbers), str(source)), value)


@dataclass(frozen=True)
class FigureText:
    """What a figure says: a frozen record of the quantities and names its working needs.

    A kind of figure is a subclass with its `kind` (a star stands for what distinguishes repeated ones), its `unit`, and
    whether it is always given in mm. Its docstring is what it means, as tips and help say.
    """

    kind: ClassVar[str] = ""
    unit: ClassVar[str] = ""
    stays_mm: ClassVar[bool] = False

    def words(self, figure: "Figure") -> FigureWords:
        """Return its label and its working.

        Args:
            figure: the figure whose text this is.
        """
        raise NotImplementedError


@dataclass(frozen=True)
class Figure:
    """One number a readout gives.

    Attributes:
        text: which figure it is, and what it says.
        value: the number, the sides of a frame, or a name; None when it cannot be said.
        provenance: the weakest input it rests on.
        low: lower end when an unknown input spreads it, else None.
        high: upper end, likewise.
        which: distinguishes repeated ones; it is where the kind has a star.
        or_never: whether it may also never be reached, as a focal length free of vignetting.
        spans: of sides of a frame the ends of each; () where they are known.
    """

    text: FigureText
    value: FigureValue
    provenance: Origin
    low: float | None = None
    high: float | None = None
    which: str = ""
    or_never: bool = False
    spans: tuple[tuple[float, float], ...] = ()

    @property
    def kind(self) -> str:
        """Which figure, such as `light.edge.*_stops`."""
        return self.text.kind

    @property
    def id(self) -> str:
        """A stable id such as `spacing.error_mm`, different for each figure of a train."""
        return self.kind.replace("*", self.which)

    @property
    def unit(self) -> str:
        """Its unit, "" for what is no number."""
        return self.text.unit if isinstance(self.value, float) else ""

    @property
    def number(self) -> float:
        """The value as a number; NaN when it is none."""
        return self.value if isinstance(self.value, float) else float("nan")

    @property
    def words(self) -> FigureWords:
        """Its label, its working, and its value where that is no number, in the language in force."""
        return self.text.words(self)

    @property
    def label(self) -> str:
        """What it is, in the field's words."""
        return self.words.label

    @property
    def working(self) -> Working:
        """The arithmetic behind it."""
        return self.words.working

    @property
    def shown(self) -> float | str:
        """Its value: a number, or in words what is none."""
        return self.value if isinstance(self.value, float) else self.words.value or "–"

    @property
    def inches(self) -> str:
        """A length in inches as well; "" for what is no length in millimetres, or has no end."""
        value = self.shown
        return inches(value) if self.unit == "mm" and isinstance(value, float) and math.isfinite(value) else ""

    @property
    def unit_word(self) -> str:
        """The unit it is shown in."""
        return say(self.unit) if self.text.stays_mm and self.unit else unit_word(self.unit)

    def number_words(self, value: float, digits: int = 2) -> tuple[str, str]:
        """Return a value of it and its unit in words, lengths in the unit they are shown in.

        Args:
            value: its own, or an end of its range.
            digits: after the point, where lengths are shown in mm.
        """
        if self.text.stays_mm:
            return number(value, digits), self.unit_word
        return in_words(value, self.unit, digits)


def workings(figures: Iterable[Figure]) -> str:
    """Return the numbers behind some figures on one line."""
    return "; ".join(figure.working.numbers for figure in figures)


def kinds_of_figures() -> dict[str, type[FigureText]]:
    """Return every kind of figure that is loaded, by subject in reading order."""
    found: dict[str, type[FigureText]] = {}
    waiting = list(FigureText.__subclasses__())
    while waiting:
        one = waiting.pop(0)
        waiting = one.__subclasses__() + waiting
        if one.kind:
            found[one.kind] = one
    # Within a subject by module, and there as declared; the order of loading does not matter.
    return dict(sorted(found.items(), key=lambda item: (SUBJECTS.index(item[0].partition(".")[0]), item[1].__module__)))


def meaning_of(kind: str) -> str:
    """Return what a kind of figure means, in the language in force.

    Args:
        kind: such as `spacing.error_mm`.
    """
    return say(cleandoc(kinds_of_figures()[kind].__doc__ or ""))
