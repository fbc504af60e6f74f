"""Values that say where they came from.

A quantity keeps every figure anyone has given for it, one of them chosen. A figure is a number with a tolerance,
or, when no one knows, the span in which it must be.
"""

from collections.abc import Iterable
from functools import cached_property
from typing import Annotated, Any

from pydantic import AfterValidator, Discriminator, Field, Tag, model_validator

from farrail.language import say
from farrail.parts.frozen import Frozen
from farrail.parts.origin import Origin

_WEAKNESS = {Origin.MEASURED: 0, Origin.PUBLISHED: 1, Origin.ASSUMED: 2}


def weakest(origins: Iterable[Origin]) -> Origin:
    """Return the weakest of some origins: what a result that uses them all rests on (measured when none is given)."""
    return max(origins, key=_WEAKNESS.__getitem__, default=Origin.MEASURED)


class Reading(Frozen):
    """One figure a person wrote down: a number, its half-width tolerance, and its source in words."""

    value: float
    origin: Origin
    tolerance: Annotated[float, Field(ge=0.0, le=1000.0)] = 0.0
    note: Annotated[str, Field(max_length=500)] = ""
    # The observations it was calibrated from, by id; () for what a person read or measured.
    seen: Annotated[tuple[Annotated[str, Field(max_length=40)], ...], Field(max_length=400)] = ()

    @property
    def low(self) -> float:
        """The reading's number; a tolerance is stacked up apart and does not widen it."""
        return self.value

    @property
    def high(self) -> float:
        """The reading's number."""
        return self.value


class Span(Frozen):
    """An interval; `typical` is the value used where one number is needed, its middle where none is given."""

    low: float
    high: float
    typical: float | None = None
    note: Annotated[str, Field(max_length=500)] = ""

    @model_validator(mode="after")
    def _ordered(self) -> "Span":
        if self.low > self.high:
            raise ValueError(say("the lower end {low:g} is above the upper end {high:g}", low=self.low, high=self.high))
        return self

    @property
    def origin(self) -> Origin:
        """A span is always an assumption."""
        return Origin.ASSUMED

    @property
    def value(self) -> float:
        """The typical value, else the middle: used where one number is needed."""
        return (self.low + self.high) / 2.0 if self.typical is None else min(max(self.typical, self.low), self.high)

    @property
    def tolerance(self) -> float:
        """Zero: the two ends are tried as they are."""
        return 0.0


def _shape(data: Any) -> str:
    # What is neither a record nor an object is refused as a reading would be.
    names = data if isinstance(data, dict) else getattr(data, "__dict__", ())
    return "span" if "low" in names else "reading"


Entry = Annotated[Annotated[Reading, Tag("reading")] | Annotated[Span, Tag("span")], Discriminator(_shape)]


class Quantity(Frozen):
    """A value of a part, with every figure known for it and the one in use."""

    readings: Annotated[tuple[Entry, ...], Field(min_length=1, max_length=20)]
    chosen: Annotated[int, Field(ge=0)] = 0

    @model_validator(mode="after")
    def _chosen_exists(self) -> "Quantity":
        if self.chosen >= len(self.readings):
            raise ValueError(
                say(
                    "figure {chosen} is chosen and there are only {count}",
                    chosen=self.chosen + 1,
                    count=len(self.readings),
                )
            )
        return self

    @classmethod
    def of(cls, value: float, origin: Origin, tolerance: float = 0.0, note: str = "") -> "Quantity":
        """Return a quantity with one figure: what was worked out, with the weakest origin it rests on."""
        return cls(readings=(Reading(value=value, origin=origin, tolerance=tolerance, note=note),))

    @cached_property
    def in_use(self) -> Reading | Span:
        """The chosen figure."""
        return self.readings[self.chosen]

    @cached_property
    def value(self) -> float:
        """The number in use (a span's middle)."""
        return self.in_use.value

    @cached_property
    def low(self) -> float:
        """The lower end when unknown, else the number itself."""
        return self.in_use.low

    @cached_property
    def high(self) -> float:
        """The upper end when unknown, else the number itself."""
        return self.in_use.high

    @property
    def tolerance(self) -> float:
        """Half width of the figure in use."""
        return self.in_use.tolerance

    @cached_property
    def origin(self) -> Origin:
        """Where the figure in use came from."""
        return self.in_use.origin

    @property
    def published_band(self) -> tuple[float, float] | None:
        """Lowest and highest published figure when several disagree, else None."""
        values = [r.value for r in self.readings if r.origin is Origin.PUBLISHED]
        if len(values) < 2 or max(values) == min(values):
            return None
        return min(values), max(values)

    def with_reading(self, reading: Reading | Span) -> "Quantity":
        """Return the quantity with `reading` in use.

        A measurement replaces the last measurement and an assumption the last assumption; published figures
        always stay.
        """
        if reading.origin is not Origin.PUBLISHED:
            for index, old in enumerate(self.readings):
                if old.origin is reading.origin:
                    kept = (*self.readings[:index], reading, *self.readings[index + 1 :])
                    return Quantity(readings=kept, chosen=index)
        return Quantity(readings=(*self.readings, reading), chosen=len(self.readings))

    def typed_over(self, readings: "tuple[Reading | Span, ...]") -> "Quantity":
        """Return the quantity with figures typed over the one in use: it goes where it came from the same source.

        A figure of another source stays beside them, so that what a page says outlives what a caliper says; a guess
        goes once anybody knows.
        """
        told = readings[0].origin is not Origin.ASSUMED
        kept = tuple(
            old for number, old in enumerate(self.readings)
            if (old.origin is not readings[0].origin or (number != self.chosen and old.origin is Origin.PUBLISHED))
            and not (told and old.origin is Origin.ASSUMED)
        )  # fmt: skip
        kept = tuple(old for old in kept if old not in readings)
        return Quantity(readings=(*kept, *readings), chosen=len(kept))

    def without(self, index: int) -> "Quantity | None":
        """Return the quantity without one of its figures; None where it was the last."""
        left = (*self.readings[:index], *self.readings[index + 1 :])
        if not left:
            return None
        chosen = self.chosen - (1 if index < self.chosen else 0)
        return Quantity(readings=left, chosen=min(chosen, len(left) - 1))

    def choosing(self, index: int) -> "Quantity":
        """Return the quantity with another of its figures in use."""
        return Quantity(readings=self.readings, chosen=index)


def widest(figure: "Reading | Span | Quantity") -> tuple[float, float]:
    """Return the ends of a figure, its tolerance included."""
    return figure.low - figure.tolerance, figure.high + figure.tolerance


def measured(value: float, tolerance: float = 0.0, note: str = "") -> Quantity:
    """Return a quantity with one measured figure."""
    return Quantity(readings=(Reading(value=value, origin=Origin.MEASURED, tolerance=tolerance, note=note),))


def published(value: float, tolerance: float = 0.0, note: str = "") -> Quantity:
    """Return a quantity with one published figure."""
    return Quantity(readings=(Reading(value=value, origin=Origin.PUBLISHED, tolerance=tolerance, note=note),))


def assumed(value: float, tolerance: float = 0.0, note: str = "") -> Quantity:
    """Return a quantity with one assumed figure."""
    return Quantity(readings=(Reading(value=value, origin=Origin.ASSUMED, tolerance=tolerance, note=note),))


def unknown(low: float, high: float, note: str = "", typical: float | None = None) -> Quantity:
    """Return a quantity of which only the two ends are known."""
    return Quantity(readings=(Span(low=low, high=high, note=note, typical=typical),))


def less(whole: Quantity, part: Quantity) -> Quantity:
    """Return what is left of a length when another is taken away: weaker origin, tolerances added, never below 0."""
    note = say("{value:g} less {value_2:g} mm", value=whole.value, value_2=part.value)
    tolerance = whole.tolerance + part.tolerance
    if isinstance(whole.in_use, Span) or isinstance(part.in_use, Span):
        return unknown(max(whole.low - part.high, 0.0), max(whole.high - part.low, 0.0), note)
    origin = weakest([whole.origin, part.origin])
    left = round(max(whole.value - part.value, 0.0), 6)
    return Quantity(readings=(Reading(value=left, origin=origin, tolerance=tolerance, note=note),))


def within(low: float, high: float, unit: str) -> AfterValidator:
    """Return a validator that refuses any figure of a quantity outside `low` to `high`."""

    def check(quantity: Quantity) -> Quantity:
        for reading in quantity.readings:
            if reading.low < low or reading.high > high:
                worst = reading.low if reading.low < low else reading.high
                raise ValueError(
                    say(
                        "{worst:g} {unit} is outside {low:g} to {high:g} {unit}",
                        worst=worst,
                        unit=unit,
                        low=low,
                        high=high,
                    )
                )
        return quantity

    return AfterValidator(check)


Length = Annotated[Quantity, within(0.0, 3000.0, "mm")]
Distance = Annotated[Quantity, within(0.001, 100_000.0, "mm")]
Diameter = Annotated[Quantity, within(0.1, 2000.0, "mm")]
RefractiveIndex = Annotated[Quantity, within(1.0, 5.0, "(index)")]
# Beside the axis: to the right or up as seen from behind the camera, negative to the left or down.
Offset = Annotated[Quantity, within(-500.0, 500.0, "mm")]
SignedFocal = Annotated[Quantity, within(-100_000.0, 100_000.0, "mm")]
PixelSize = Annotated[Quantity, within(0.1, 100.0, "µm")]
Wavelength = Annotated[Quantity, within(0.1, 20_000.0, "nm")]
Density = Annotated[Quantity, within(0.0, 10.0, "(density)")]
Dioptres = Annotated[Quantity, within(0.05, 100.0, "dioptres")]
Factor = Annotated[Quantity, within(1.01, 5.0, "×")]
ReductionFactor = Annotated[Quantity, within(0.2, 5.0, "×")]
Magnification = Annotated[Quantity, within(0.001, 20.0, "×")]
PupilRatio = Annotated[Quantity, within(0.05, 20.0, "×")]
FNumber = Annotated[Quantity, within(0.3, 1000.0, "(f-number)")]
TiltAngle = Annotated[Quantity, within(0.0, 10.0, "°")]
Percent = Annotated[Quantity, within(-60.0, 60.0, "%")]
Stops = Annotated[Quantity, within(0.0, 10.0, "stops")]
