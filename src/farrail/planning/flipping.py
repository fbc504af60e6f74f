"""Turn it round: a wheel or drawer both ways, with what each asks of its filter and what changing costs."""

from dataclasses import dataclass

from farrail.language import N_, joined, say
from farrail.parts.kinds.seats import FilterSeat
from farrail.parts.registry import Part
from farrail.readouts.light.findings import MARGINAL_MM
from farrail.readouts.light.model import Clearance, Light
from farrail.readouts.read import Readout, read
from farrail.train.placed import Placed
from farrail.train.rows import Shelf
from farrail.train.train import Side, Train
from farrail.units import stops_lost

# A gain in the corner below this is not seen in a picture; common practice, no source.
SEEN_STOPS = 0.05
COST = N_("flats must be taken again, and focus offsets checked")


@dataclass(frozen=True)
class Orientation:
    """A housing one way round.

    Attributes:
        needed_mm: clear diameter its filter needs.
        has_mm: clear diameter its filter has.
        corner_stops: light lost in the darkest corner, all apertures together.
        from_sensor_mm: the filter's reduced distance before the sensor, at its worse end.
        mates: whether its connections fit so.
    """

    needed_mm: float
    has_mm: float
    corner_stops: float
    from_sensor_mm: float
    mates: bool

    @property
    def margin_mm(self) -> float:
        """Clear diameter to spare."""
        return self.has_mm - self.needed_mm


@dataclass(frozen=True)
class BothWays:
    """A housing as it is and flipped.

    Attributes:
        part: the housing.
        index: its place in the rear train.
        now: as it is.
        turned: the other way round.
        better: whether turning gains anything that shows.
        text: a plain recommendation, with what changing costs.
    """

    part: Part
    index: int
    now: Orientation
    turned: Orientation
    better: bool
    text: str


def both_ways(train: Train, shelf: Shelf) -> tuple[BothWays, ...]:
    """Return each filter housing of a train both ways round.

    Which way is better follows from where its seat is, not from a rule.
    """
    now, found = read(train, shelf), []
    for placed in now.layout.behind_datum:
        if not isinstance(placed.part, FilterSeat) or placed.laid.filter_in_beam is None:
            continue
        row = list(train.rear_train)
        row[placed.index] = placed.laid.model_copy(update={"flipped": not placed.laid.flipped})
        then = read(train.model_copy(update={"rear_train": tuple(row)}), shelf)
        one, other = _way(now, placed), _way(then, placed)
        if one is None or other is None:
            continue
        gain = one.corner_stops - other.corner_stops
        better = gain > SEEN_STOPS or (one.margin_mm < MARGINAL_MM <= other.margin_mm)
        found.append(BothWays(placed.part, placed.index, one, other, better, _recommend(one, other, better)))
    return tuple(found)


def _way(readout: Readout, placed: Placed) -> Orientation | None:
    light = readout.light
    c = filter_clearance(light, placed.laid.filter_in_beam or "")
    if c is None:
        return None
    touched = {placed.index, placed.index + 1}
    wrong = any(j.mismatch for j in readout.layout.joints if j.side is Side.REAR and j.index in touched)
    lost = stops_lost(light.corner_ri if light.corner_ri is not None else 1.0)
    return Orientation(c.needed_mm, c.has_mm, lost, c.distance_mm, not wrong)


def filter_clearance(light: Light, filter_id: str) -> Clearance | None:
    """Return the clearance of a filter in the beam."""
    return next((c for c in light.clearances if c.placed.part.id == filter_id), None)


def _recommend(now: Orientation, turned: Orientation, better: bool) -> str:
    sides = say(
        "Clear aperture needed: {needed_mm:.1f mm} now, {needed_mm_2:.1f mm} reversed.",
        needed_mm=now.needed_mm,
        needed_mm_2=turned.needed_mm,
    )
    if now.margin_mm >= MARGINAL_MM and not better:
        return say(
            "No need to reverse it: {margin_mm:.1f mm} margin is ample. {sides}", margin_mm=now.margin_mm, sides=sides
        )
    if not better:
        return say("No need to reverse it: there is no visible gain. {sides}", sides=sides)
    adapters = "" if turned.mates else say("Other adapters are needed at its ends.")
    gain = now.corner_stops - turned.corner_stops
    words = (
        say("Turning it gains {gain:.2f} stops in the corner", gain=gain)
        if gain > SEEN_STOPS
        else say("Turning it makes the filter ample")
    )
    return joined(f"{words}; {COST}.", adapters, sides)
