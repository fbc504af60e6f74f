"""Cautions of a train: what can hurt someone or something, with reason and limit, deferring to local rules."""

from collections.abc import Callable
from dataclasses import dataclass

from farrail.assembly.finds import has_glass_in_hand, has_neutral_or_polariser, is_focused_far, is_telescope
from farrail.assembly.overhang import Overhang, length_of, overhang_of, unweighed_of
from farrail.train.layout import Layout

# So far ahead of the mount a train begins to tip a tripod or sag; common practice, no source.
LONG_MM = 200.0
# A torque from which a small tripod's head sinks or the tripod tips; our own choice, no source.
HEAVY_NM = 1.0
# A torque from which a focuser's tube may sag, and how long a train is looked at unweighed; our own choice, no source.
FOCUSER_NM, UNWEIGHED_MM = 0.5, 60.0


@dataclass(frozen=True)
class Caution:
    """One caution by its key; those of a long train with what hangs out, and what of it has not been weighed."""

    key: str
    overhang: Overhang | None = None
    unweighed: tuple[str, ...] = ()


def _long_train(layout: Layout) -> bool:
    ends = [p.z_rear_mm for p in layout.rear] + [-p.z_front_mm for p in layout.front]
    hanging = overhang_of(layout)
    return max(ends, default=0.0) > LONG_MM or (hanging is not None and hanging.torque_nm > HEAVY_NM)


def _bends_the_focuser(layout: Layout) -> bool:
    """Whether a telescope's focuser may sag under the train, or nothing says that it does not."""
    if not is_telescope(layout):
        return False
    hanging = overhang_of(layout)
    return length_of(layout) > UNWEIGHED_MM if hanging is None else hanging.torque_nm > FOCUSER_NM


# Each caution, and when it is shown.
CAUTIONS: tuple[tuple[str, Callable[[Layout], bool]], ...] = (
    ("sun_filters", has_neutral_or_polariser),
    ("sun_telescope", is_telescope),
    ("broken_glass", has_glass_in_hand),
    ("overhang", _long_train),
    ("flexure", _bends_the_focuser),
    ("night_outdoors", is_telescope),
    ("shore", is_focused_far),
    ("mains", is_telescope),
)

# The cautions that show mass and torque.
LEVERS = ("overhang", "flexure")


def cautions_of(layout: Layout) -> tuple[Caution, ...]:
    """Return the cautions a train calls for."""
    return tuple(
        Caution(key, overhang_of(layout), unweighed_of(layout)) if key in LEVERS else Caution(key)
        for key, test in CAUTIONS if test(layout)
    )  # fmt: skip
