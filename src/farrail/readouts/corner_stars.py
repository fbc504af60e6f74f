"""What stars drawn out in the corners say of a corrector's spacing."""

from enum import StrEnum

from farrail.parts.kinds.telescopes import Corrector, ShortStars
from farrail.readouts.read import Readout


class Spaced(StrEnum):
    """Which way a spacing is off by the look of corner stars."""

    RIGHT = "right"
    SHORT = "short"
    LONG = "long"
    UNKNOWN = "unknown"


def rule_of(readout: Readout) -> ShortStars | None:
    """Return how corner stars look where this train is too short, as far as its corrector says."""
    corrector = readout.layout.corrector
    if corrector is None or not isinstance(corrector.part, Corrector):
        return None
    return corrector.part.short_stars


def spaced_by_stars(readout: Readout, *, radial: bool | None) -> Spaced | None:
    """Return which way the spacing is off; None where no corrector or telescope asks for one.

    Args:
        readout: the train.
        radial: whether corner stars are drawn out from the middle, or around it; None: they are round.
    """
    need = readout.spacing.requirement
    if need is None or need.is_lens or readout.spacing.error_mm is None:
        return None
    if radial is None:
        return Spaced.RIGHT
    rule = rule_of(readout)
    if rule is None:
        return Spaced.UNKNOWN
    return Spaced.SHORT if (rule is ShortStars.RADIAL) is radial else Spaced.LONG
