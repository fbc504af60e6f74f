"""Which usual filter sizes would do at a filter's place."""

from dataclasses import dataclass

from farrail.language import say
from farrail.parts.kinds.filters import ROUND_FILTERS
from farrail.readouts.light.findings import MARGINAL_MM
from farrail.readouts.light.model import Clearance
from farrail.readouts.ranges import Spread


@dataclass(frozen=True)
class SizeVerdict:
    """One usual size at a place: its name, clear diameter, what it leaves, and a word."""

    name: str
    clear_mm: float
    margin_mm: float

    @property
    def word(self) -> str:
        """Ample, marginal or too small."""
        return say("too small") if self.margin_mm < 0.0 else "marginal" if self.margin_mm < MARGINAL_MM else "ample"


def sizes_at(needed_mm: float) -> tuple[SizeVerdict, ...]:
    """Return the usual sizes (clear apertures are common practice, no source) against what a place needs at most."""
    return tuple(
        SizeVerdict(str(name), clear, clear - needed_mm)
        for name, _, clear, *_ in sorted(ROUND_FILTERS, key=lambda size: size[2])
    )


def smallest_filter(clearance: Clearance, spread: Spread | None = None) -> str:
    """Return one sentence: how large a filter must be at this place, and which usual size is the smallest that does.

    Args:
        clearance: the place.
        spread: the interval of what it needs; the size is then judged at its upper end.
    """
    most = clearance.needed_mm if spread is None else max(spread.high, clearance.needed_mm)
    sizes = sizes_at(most)
    ample = next((s for s in sizes if s.word == "ample"), None)
    marginal = next((s for s in sizes if s.word == "marginal"), None)
    if spread is None or spread.high - spread.low < 0.05:
        need = say("A filter here needs {needed_mm:.1f mm} clear", needed_mm=clearance.needed_mm)
    else:
        need = say("A filter here needs {low:.1f length} to {high:.1f mm} clear", low=spread.low, high=spread.high)
    if ample is None and marginal is None:
        return say("{need}: no standard round filter is that large.", need=need)
    if marginal is not None:
        rest = say("; {name} is ample", name=ample.name) if ample is not None else ""
        return say(
            "{need}: {name} is marginal ({margin_mm:.1f mm} to spare){rest}.",
            need=need,
            name=marginal.name,
            margin_mm=marginal.margin_mm,
            rest=rest,
        )
    assert ample is not None
    return say(
        "{need}: {name} is the smallest usual size, with {margin_mm:.1f mm} to spare.",
        need=need,
        name=ample.name,
        margin_mm=ample.margin_mm,
    )
