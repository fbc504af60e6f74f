"""Which usual filter sizes would do at a filter's place."""

from dataclasses import dataclass

from farrail.parts.kinds.filters import ROUND_FILTERS
from farrail.readouts.light.findings import MARGINAL_MM
from farrail.readouts.light.model import Clearance


@dataclass(frozen=True)
class SizeVerdict:
    """One usual size at a place: its name, clear diameter, what it leaves, and a word."""

    name: str
    clear_mm: float
    margin_mm: float

    @property
    def word(self) -> str:
        """Ample, marginal or too small."""
        return "too small" if self.margin_mm < 0.0 else "marginal" if self.margin_mm < MARGINAL_MM else "ample"


def sizes_at(clearance: Clearance) -> tuple[SizeVerdict, ...]:
    """Return the usual sizes (clear apertures are common practice, no source) against what a place needs."""
    return tuple(
        SizeVerdict(name, clear, clear - clearance.needed_mm)
        for name, _, clear, *_ in sorted(ROUND_FILTERS, key=lambda size: size[2])
    )


def smallest_filter(clearance: Clearance) -> str:
    """Return one sentence: how large a filter must be at this place, and which usual size is the smallest that does."""
    sizes = sizes_at(clearance)
    ample = next((s for s in sizes if s.word == "ample"), None)
    marginal = next((s for s in sizes if s.word == "marginal"), None)
    need = f"A filter here needs {clearance.needed_mm:.1f} mm clear"
    if ample is None and marginal is None:
        return f"{need}: no usual round size is that wide."
    if marginal is not None:
        rest = f"; {ample.name} is ample" if ample is not None else ""
        return f"{need}: {marginal.name} is marginal ({marginal.margin_mm:.1f} mm to spare){rest}."
    assert ample is not None
    return f"{need}: {ample.name} is the smallest usual size, with {ample.margin_mm:.1f} mm to spare."
