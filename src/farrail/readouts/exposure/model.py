"""What a train costs in light: a ladder of stops from the scene to the sensor, and the ways to pay for it."""

import math
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property

from farrail.optics.exposure import exact_time_s, held_by_hand, longer_time_s
from farrail.parts.in_beam import LightLoss
from farrail.parts.origin import Origin
from farrail.parts.provenance import weakest
from farrail.parts.registry import Part
from farrail.readouts.close_up.model import CloseUp
from farrail.readouts.close_up.system import CloseUpSystem
from farrail.train.layout import Layout
from farrail.train.placed import Placed
from farrail.units import MM_PER_METRE

# Less than this much of a stop is not worth a rung.
LEAST_STOPS = 0.01
USUAL_ISO = 100.0


class Cost(StrEnum):
    """Why a share of light goes."""

    GLASS = "glass"
    POWER = "power"
    CLOSE = "close"
    STOP = "stop"


@dataclass(frozen=True)
class LightShare:
    """One part's share of the light a train takes.

    Attributes:
        part: the part.
        cost: why.
        stops: what it takes; negative where it gathers light; None where stops do not say it.
        dark_stops: what the dark part of a graduated filter takes, else None.
        origin: where the number came from.
        loss: of glass, what its box says.
        power: of a powered part, M.
        system: of focusing close, what it follows from, with the magnification of lens and extension.
        of_lens: that magnification.
        narrower: by how much the pupil of a coupled lens narrows the cone.
    """

    part: Part
    cost: Cost
    stops: float | None
    dark_stops: float | None
    origin: Origin
    loss: LightLoss | None = None
    power: float = 1.0
    system: CloseUpSystem | None = None
    of_lens: float = 0.0
    narrower: float = 1.0

    @property
    def told_stops(self) -> float | None:
        """What its box would say: of a graduated filter its dark part's."""
        return self.dark_stops if self.dark_stops is not None else self.stops


class Compensation(StrEnum):
    """What can be changed to pay for light lost."""

    TIME = "time"
    SENSITIVITY = "sensitivity"
    APERTURE = "aperture"
    FLASH_POWER = "flash_power"
    GUIDE_NUMBER = "guide_number"


@dataclass(frozen=True)
class Payment:
    """One way to pay for it all: what is turned, from what, and to what.

    `reached` is False where `after` is beyond what the lens has; it is then the widest there is.
    """

    way: Compensation
    before: float | None
    after: float | None
    reached: bool = True


@dataclass(frozen=True)
class Exposure:
    """The ladder and what follows from it."""

    layout: Layout

    @cached_property
    def shares(self) -> tuple[LightShare, ...]:
        """Every part that costs light, from the scene to the sensor."""
        found: list[LightShare] = []
        for placed in reversed(self.layout.front):
            found += [_share_of(part) for part in self._costing(placed)]
        found += self._extended()
        stop = self.layout.first_order.stop
        if stop is not None and isinstance(stop.aperture.part, Part) and stop.stops >= LEAST_STOPS:
            found.append(LightShare(stop.aperture.part, Cost.STOP, stop.stops, None, stop.origin))
        powers = {one.placed.index: one for one in self.layout.first_order.powers}
        for placed in self.layout.rear:
            found += [_share_of(part) for part in self._costing(placed)]
            power = powers.get(placed.index)
            if power is not None:
                m = power.power.magnification
                stops = 2.0 * math.log2(m)
                found.append(LightShare(placed.part, Cost.POWER, stops, None, power.origin, power=m))
        return tuple(found)

    def _costing(self, placed: Placed) -> list[Part]:
        """Return what costs light in a placed part, the outermost first: the glass it holds, or itself."""
        here = placed.side, placed.index
        glass = [g.part for g in self.layout.trace.glass if (g.place.side, g.place.index) == here]
        held = [part for part in glass if isinstance(part, Part)]
        return [part for part in held or [placed.part] if part.light_loss() is not None]

    @cached_property
    def close_up(self) -> CloseUp:
        """How close the train is focused: that costs light too."""
        return CloseUp(self.layout)

    def _extended(self) -> list[LightShare]:
        """Return what focusing close and extension take, against the lens at infinity; a teleconverter apart."""
        close = self.close_up
        system = close.system
        if system is None or not close.active or not close.now.focused:
            return []
        stops = 2.0 * math.log2(close.now.darker / system.converter)
        if abs(stops) < LEAST_STOPS:
            return []
        return [
            LightShare(
                self.layout.optic,
                Cost.CLOSE,
                stops,
                None,
                system.origin,
                system=system,
                of_lens=close.now.of_lens,
                narrower=close.now.narrower,
            )
        ]

    @property
    def total_stops(self) -> float:
        """Stops that all together cost, a graduated filter by its clear part."""
        return sum(share.stops for share in self.shares if share.stops is not None)

    @property
    def total_ends(self) -> tuple[float, float] | None:
        """The least and the most that all together may cost; None where nothing is unknown."""
        open_ = [share.loss.ends for share in self.shares if share.loss is not None and share.loss.ends is not None]
        if not open_:
            return None
        known = self.total_stops - sum((low + high) / 2.0 for low, high in open_)
        return known + sum(low for low, _ in open_), known + sum(high for _, high in open_)

    @property
    def sky_stops(self) -> float:
        """Stops more that the dark parts of graduated filters take."""
        return sum(share.dark_stops for share in self.shares if share.dark_stops is not None)

    @property
    def origin(self) -> Origin:
        """The weakest input."""
        return weakest([share.origin for share in self.shares] or [Origin.MEASURED])

    @property
    def base_s(self) -> float | None:
        """The metered time without them as an exact power of two, or None where no one has metered."""
        metered = self.layout.train.conditions.metered_s
        return None if metered is None else exact_time_s(metered)

    @property
    def time_s(self) -> float | None:
        """The time with everything on; None where nothing is metered.

        Raises:
            BadInput: a time beyond a day.
        """
        base = self.base_s
        return None if base is None else longer_time_s(base, self.total_stops)

    def time_after(self, stops: float) -> float | None:
        """Return the exposure time in seconds for a light loss, without rounding; None if nothing is metered."""
        return None if self.base_s is None else self.base_s * 2.0**stops

    @property
    def by_hand(self) -> bool:
        """Whether the shutter must be held open by hand."""
        time_s = self.time_s
        return time_s is not None and held_by_hand(time_s)

    def metered_from(self, time_s: float) -> float:
        """Return what the meter would say without everything, from a time metered through it all.

        Raises:
            BadInput: a time that cannot be.
        """
        return longer_time_s(time_s, -self.total_stops)

    @property
    def flash_mm(self) -> tuple[float, float] | None:
        """How far a flash of the guide number kept may be, bare and with everything; None without one.

        Distance = guide number·√(ISO/100)/(N·2^(stops/2)), as makers define the guide number.
        """
        return self.flash_at(self.total_stops)

    def flash_at(self, stops: float) -> tuple[float, float] | None:
        """Return the greatest flash distance for a light loss in stops; see `flash_mm`."""
        guide = self.layout.train.conditions.guide_number_m
        if guide is None:
            return None
        iso = self.layout.train.conditions.metered_iso or USUAL_ISO
        system = self.close_up.system
        n = self.layout.first_order.f_number.value if system is None else system.f_number
        bare = guide * MM_PER_METRE * math.sqrt(iso / USUAL_ISO) / n
        return bare, bare * 2.0 ** (-stops / 2.0)

    def payments(self, stops: float | None = None) -> tuple[Payment, ...]:
        """Return the ways to pay for the ladder, each alone.

        Args:
            stops: what the ladder comes to; None for its typical value.

        Raises:
            BadInput: a time beyond a day.
        """
        stops, base = self.total_stops if stops is None else stops, self.base_s
        time_s = None if base is None else longer_time_s(base, stops)
        n = self.layout.first_order.f_number.value
        iso = self.layout.train.conditions.metered_iso or USUAL_ISO
        ways = [] if base is None or time_s is None else [Payment(Compensation.TIME, base, time_s)]
        ways.append(Payment(Compensation.SENSITIVITY, iso, iso * 2.0**stops))
        wider, widest = n * 2.0 ** (-stops / 2.0), self.layout.first_order.own_f_number.value
        reached = wider >= 0.99 * widest
        ways.append(Payment(Compensation.APERTURE, n, wider if reached else widest, reached))
        ways.append(Payment(Compensation.FLASH_POWER, 1.0, 2.0**stops))
        flash = self.flash_at(stops)
        guide = self.layout.train.conditions.guide_number_m
        ways.append(Payment(Compensation.GUIDE_NUMBER, guide, None if flash is None else flash[1]))
        return tuple(ways)


def _share_of(part: Part) -> LightShare:
    loss = part.light_loss()
    assert loss is not None
    return LightShare(part, Cost.GLASS, loss.stops, loss.dark_stops, loss.origin, loss)
