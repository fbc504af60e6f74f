"""Cautions of a train: what can hurt someone or something, with reason and limit, deferring to local rules."""

from collections.abc import Callable
from dataclasses import dataclass

from farrail.assembly.finds import has_glass_in_hand, has_neutral_or_polariser, is_focused_far, is_telescope
from farrail.assembly.overhang import Overhang, overhang_of
from farrail.train.layout import Layout

# So far ahead of the mount a train begins to tip a tripod or sag; common practice, no source.
LONG_MM = 200.0
# A torque from which a small tripod's head sinks or the tripod tips; our own choice, no source.
HEAVY_NM = 1.0


@dataclass(frozen=True)
class Caution:
    """One caution by its key; that of a long train with what hangs out, where it has been weighed."""

    key: str
    overhang: Overhang | None = None


def _long_train(layout: Layout) -> bool:
    ends = [p.z_rear_mm for p in layout.rear] + [-p.z_front_mm for p in layout.front]
    hanging = overhang_of(layout)
    return max(ends, default=0.0) > LONG_MM or (hanging is not None and hanging.torque_nm > HEAVY_NM)


# Each caution, and when it is shown.
CAUTIONS: tuple[tuple[str, Callable[[Layout], bool]], ...] = (
    ("sun_filters", has_neutral_or_polariser),
    ("sun_telescope", is_telescope),
    ("broken_glass", has_glass_in_hand),
    ("overhang", _long_train),
    ("night_outdoors", is_telescope),
    ("shore", is_focused_far),
    ("mains", is_telescope),
)


def cautions_of(layout: Layout) -> tuple[Caution, ...]:
    """Return the cautions a train calls for."""
    return tuple(
        Caution(key, overhang_of(layout) if key == "overhang" else None) for key, test in CAUTIONS if test(layout)
    )
