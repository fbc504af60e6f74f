"""When there is no room: which thinner construction saves most."""

from dataclasses import dataclass

from farrail.parts.kinds import AT_HAND, TO_BUY, FixedLength, Part
from farrail.readouts.read import read
from farrail.train.layout import Shelf
from farrail.train.train import Train


@dataclass(frozen=True)
class Saving:
    """One part put in the place of another, and the length it frees.

    Attributes:
        instead_of: the part that stands there.
        part: the thinner one.
        saves_mm: length freed.
        to_buy: whether it is only wanted.
    """

    instead_of: Part
    part: Part
    saves_mm: float
    to_buy: bool


def thinner_constructions(train: Train, shelf: Shelf) -> tuple[Saving, ...]:
    """Return the exchanges for a part of the same kind that free length, the largest saving first."""
    layout, savings = read(train, shelf).layout, []
    for placed in layout.behind_datum:
        for part in shelf.values():
            if part.kind != placed.part.kind or part.id == placed.part.id or not isinstance(part, FixedLength):
                continue
            if part.status not in (*AT_HAND, *TO_BUY):
                continue
            saves = placed.length.value - part.path_length_mm.value
            if saves > 0.0005:
                savings.append(Saving(placed.part, part, round(saves, 3), part.status in TO_BUY))
    if layout.camera is not None:
        for part in shelf.values():
            if part.kind == "camera" and part.id != layout.camera.id and part.status in AT_HAND:
                saves = layout.camera.flange_to_sensor_mm.value - part.flange_to_sensor_mm.value
                if saves > 0.0005:
                    savings.append(Saving(layout.camera, part, round(saves, 3), False))
    return tuple(sorted(savings, key=lambda s: -s.saves_mm)[:6])
