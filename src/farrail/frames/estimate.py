"""A value shown by a frame, with the interval that holds it with 95 %."""

from dataclasses import dataclass

from farrail.optics.tolerances import TWO_SIDED_95


@dataclass(frozen=True)
class Estimate:
    """A value with the interval that holds it with 95 %."""

    value: float
    low: float
    high: float

    @property
    def off(self) -> float:
        """Half its width."""
        return (self.high - self.low) / 2.0


def estimate_of(value: float, deviation: float, factor: float = 1.0) -> Estimate:
    """Return a value with its interval from its standard deviation, both times a factor."""
    ends = (value - TWO_SIDED_95 * deviation) * factor, (value + TWO_SIDED_95 * deviation) * factor
    return Estimate(float(value * factor), float(min(ends)), float(max(ends)))
