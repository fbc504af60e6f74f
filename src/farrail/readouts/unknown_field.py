"""A value that no one entered, and the interval it leaves a loss of light, as findings name them."""

from dataclasses import dataclass

from farrail.language import begun_small, say
from farrail.parts.base import PartBase
from farrail.parts.fields import PartField, field_at
from farrail.quantities import in_words


@dataclass(frozen=True)
class UnknownField:
    """A field whose value is not known.

    Attributes:
        part: name of the part it belongs to.
        kind: that part's kind.
        path: the field, from the part.
    """

    part: str
    kind: type[PartBase]
    path: tuple[str | int, ...]

    def __str__(self) -> str:
        """What it is called, with whose it is."""
        return f"{self.part}: {field_label(self.kind, self.path)}"

    def at(self, value: float) -> str:
        """Return a value of it with its unit."""
        name, field = _field(self.kind, self.path)
        # An entry of a table gives its unit in its name, as every field does.
        unit = (field.unit if field is not None else "") or ("mm" if name.endswith("_mm") else "")
        return " ".join(in_words(value, unit)).strip()


@dataclass(frozen=True)
class LossRange:
    """The interval of a loss of light over what is not known.

    Attributes:
        low_stops: its lower end.
        high_stops: its upper end; infinity where no light is left.
        needed_mm: the interval of the clear aperture needed; None where it does not change.
        unknown: what it rests on most; None where that is not known.
    """

    low_stops: float
    high_stops: float
    needed_mm: tuple[float, float] | None
    unknown: UnknownField | None

    @property
    def first(self) -> str:
        """What to enter or measure first, in a sentence; "" where nothing settles it."""
        return "" if self.unknown is None else say("Enter or measure first: {unknown}.", unknown=self.unknown)


def field_label(kind: type[PartBase], path: tuple[str | int, ...]) -> str:
    """Return what a field of a kind is called inside a sentence."""
    name, field = _field(kind, path)
    label = name.replace("_", " ") if field is None else field.label
    label = label.removeprefix("… ")
    return label if label[1:2].isupper() else begun_small(label)


def _field(kind: type[PartBase], path: tuple[str | int, ...]) -> tuple[str, PartField | None]:
    """Return a field's own name, and what it is of a kind; of an entry of a table the table."""
    names = [step for step in path if isinstance(step, str)]
    return names[-1], field_at(kind, ".".join(names)) or field_at(kind, names[0])
