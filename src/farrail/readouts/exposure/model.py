"""What a train costs in light: a ladder of stops from the scene to the sensor, and the ways to pay for it."""

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property

from farrail.optics.exposure import (
    DENSITY_SOURCE,
    LONGEST_S,
    STOPS_PER_DENSITY,
    TIME_SOURCE,
    exact_time_s,
    held_by_hand,
    longer_time_s,
    stops_of_density,
    time_words,
)
from farrail.parts.in_beam import LightLoss, LossReason
from farrail.parts.kinds.filters import POLARISER_STOPS
from farrail.parts.provenance import Origin, weakest
from farrail.parts.registry import Part
from farrail.readouts.close_up.model import CloseUp
from farrail.readouts.figure import Figure, Working
from farrail.train.layout import Layout
from farrail.train.placed import Placed
from farrail.units import MM_PER_METRE, mm_to_metres

POLARISER_SOURCE = "a polariser takes 1 to 2 stops as it is turned (common practice)"
CLEAR_SOURCE = "coated clear glass takes less than a tenth of a stop (common practice)"
LINE_SOURCE = "a narrow passband dims each subject differently: meter through it"
CLOSE_SOURCE = "effective f-number N(1 + m/p) against the lens at infinity; a close-up lens costs no light"
# Less than this much of a stop is not worth a rung.
LEAST_STOPS = 0.01
POWER_SOURCE = "a powered part multiplies the f-number by M: 2·log2 M stops"
USUAL_ISO = 100.0
GUIDE_NUMBER = "or flash, guide number in m"


@dataclass(frozen=True)
class LightShare:
    """One part's share.

    Attributes:
        part: the part.
        stops: what it takes; negative where it gathers light; None where stops do not say it.
        dark_stops: what the dark part of a graduated filter takes, else None.
        origin: where the number came from.
        working: how it came about.
        label: what it is called where the part's name does not say it.
    """

    part: Part
    stops: float | None
    dark_stops: float | None
    origin: Origin
    working: Working
    label: str = ""

    @property
    def name(self) -> str:
        """What the rung is called."""
        return self.label or self.part.name

    @property
    def in_all_units(self) -> str:
        """Its loss as stops, density and transmission, as makers label it; of a graduated filter its dark part's."""
        stops = self.dark_stops if self.dark_stops is not None else self.stops
        if stops is None:
            return ""
        density = stops / STOPS_PER_DENSITY
        passed = 100.0 * 2.0**-stops
        return f"{stops:.2f} stops = density {density:.2f} = {passed:.3g} % passes".replace("-", "−")


@dataclass(frozen=True)
class Payment:
    """One way to pay for the ladder: what is turned, and to what."""

    what: str
    before: str
    after: str


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
        power = self.layout.first_order.power
        for placed in self.layout.rear:
            found += [_share_of(part) for part in self._costing(placed)]
            if power is not None and placed.part is power.placed.part:
                m = power.power.magnification
                stops = 2.0 * math.log2(m)
                text = f"M {m:.3f}: {stops:+.2f}".replace("-", "−")
                found.append(
                    LightShare(placed.part, stops, None, power.origin, Working("2·log2 M", text, POWER_SOURCE))
                )
        return tuple(found)

    def _costing(self, placed: Placed) -> list[Part]:
        """Return what costs light in a laid part, the outermost first: the glass it holds, or itself."""
        held = [g.part for g in self.layout.trace.glass if (g.place.side, g.place.index) == (placed.side, placed.index)]
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
        m, p = close.now.of_lens, system.near.pupil_ratio
        formula = "2·log2(1/p + m)" if system.turned else "2·log2(1 + m/p)"
        text = f"m {m:.2f}, p {p:g}: {stops:.2f}".replace("-", "−")
        if system.narrower > 1.0:
            formula, text = f"{formula}, the coupled lens narrower", f"{text}, {system.narrower:.2f}× by it"
        name = f"{self.layout.optic.name}, so close"
        return [LightShare(self.layout.optic, stops, None, system.origin, Working(formula, text, CLOSE_SOURCE), name)]

    @property
    def total_stops(self) -> float:
        """Stops that all together cost, a graduated filter by its clear part."""
        return sum(share.stops for share in self.shares if share.stops is not None)

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
        """The metered time without them as an exact power of two, or None where nobody has metered."""
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
        """How far a flash of the guide number kept may stand, bare and with everything; None without one.

        Distance = guide number·√(ISO/100)/(N·2^(stops/2)), as makers define the guide number.
        """
        guide = self.layout.train.conditions.guide_number_m
        if guide is None:
            return None
        iso = self.layout.train.conditions.metered_iso or USUAL_ISO
        system = self.close_up.system
        n = self.layout.first_order.f_number.value if system is None else system.f_number
        bare = guide * MM_PER_METRE * math.sqrt(iso / USUAL_ISO) / n
        return bare, bare * 2.0 ** (-self.total_stops / 2.0)

    def payments(self) -> tuple[Payment, ...]:
        """Return the ways to pay for the ladder, each alone.

        Raises:
            BadInput: a time beyond a day.
        """
        stops, base, time_s = self.total_stops, self.base_s, self.time_s
        n = self.layout.first_order.f_number.value
        iso = self.layout.train.conditions.metered_iso or USUAL_ISO
        ways = [] if base is None or time_s is None else [Payment("Time", time_words(base), time_words(time_s))]
        ways.append(Payment("or sensitivity, ISO", f"{iso:g}", _grouped(iso * 2.0**stops)))
        wider, widest = n * 2.0 ** (-stops / 2.0), self.layout.first_order.own_f_number.value
        reached = f"f/{wider:.2g}" if wider >= 0.99 * widest else f"beyond f/{widest:.3g}"
        ways.append(Payment("or aperture", f"f/{n:.3g}", reached))
        ways.append(Payment("or flash, its power", "1 ×", f"{_grouped(2.0**stops)} ×"))
        guide, flash = self.layout.train.conditions.guide_number_m, self.flash_mm
        reach = "" if flash is None else f"at {_away(flash[1])}"
        ways.append(Payment(GUIDE_NUMBER, "" if guide is None else f"{guide:g}", reach))
        return tuple(ways)


def _away(distance_mm: float) -> str:
    return f"{distance_mm:.0f} mm" if distance_mm < MM_PER_METRE else f"{mm_to_metres(distance_mm):.2g} m"


def _grouped(value: float) -> str:
    """Return a number as people read it: to three figures, thousands apart."""
    if value < 100.0:
        return f"{value:.3g}"
    digits = 10.0 ** (math.floor(math.log10(value)) - 2)
    return f"{round(value / digits) * digits:,.0f}".replace(",", " ")


_SOURCES = {
    LossReason.DENSITY: ("D/log10 2", DENSITY_SOURCE),
    LossReason.SKY_DENSITY: ("D/log10 2", DENSITY_SOURCE),
    LossReason.DENSITY_AND_POLARISER: ("D/log10 2 + as turned", f"{DENSITY_SOURCE}; {POLARISER_SOURCE}"),
    LossReason.POLARISER: ("as turned", POLARISER_SOURCE),
    LossReason.PASSBAND: ("none", LINE_SOURCE),
    LossReason.CLEAR: ("none", CLEAR_SOURCE),
}


def _share_of(part: Part) -> LightShare:
    loss = part.light_loss()
    assert loss is not None
    formula, source = _SOURCES[loss.reason]
    return LightShare(part, loss.stops, loss.dark_stops, loss.origin, Working(formula, _loss_numbers(loss), source))


def _loss_numbers(loss: LightLoss) -> str:
    """Return the numbers behind a loss."""
    if loss.density is None:
        return {LossReason.POLARISER: f"{POLARISER_STOPS:g} of 1 to 2", LossReason.PASSBAND: "not counted"}.get(
            loss.reason, "taken as 0"
        )
    if loss.dark_stops is not None:
        return f"D {loss.density:g}, sky only"
    stops = stops_of_density(loss.density)
    also = f" + {POLARISER_STOPS:g}" if loss.reason is LossReason.DENSITY_AND_POLARISER else ""
    return f"D {loss.density:g}: {stops:.2f}{also}"


def exposure_figures(exposure: Exposure) -> Iterator[Figure]:
    """Yield the ladder's figures; none where nothing costs light."""
    shares = exposure.shares
    if not shares:
        return
    told = [r for r in shares if r.stops is not None]
    text = " + ".join(f"{r.stops:.2f}" for r in told) + f" = {exposure.total_stops:.2f}"
    yield Figure(
        "exposure.total_stops", "light the train takes", exposure.total_stops, "stops",
        Working("Σ stops, a graduated filter by its clear part", text.replace("-", "−"), "stops of parts in line add"),
        exposure.origin,
    )  # fmt: skip
    for number, share in enumerate(shares, 1):
        counted = share.stops if share.stops is not None else "not counted"
        yield Figure(
            f"exposure.{number}.{share.part.id}_stops", f"{share.name} takes", counted,
            "stops" if share.stops is not None else "", share.working, share.origin,
        )  # fmt: skip
    if exposure.sky_stops:
        yield Figure(
            "exposure.sky_stops", "and from the sky", exposure.sky_stops, "stops",
            Working("Σ stops of graduated filters' dark parts", f"{exposure.sky_stops:.2f}", DENSITY_SOURCE),
            weakest([r.origin for r in shares if r.dark_stops is not None]),
        )  # fmt: skip
    flash, conditions = exposure.flash_mm, exposure.layout.train.conditions
    if flash is not None:
        yield Figure(
            "exposure.flash_mm", "how far a flash may stand", flash[1], "mm",
            Working("GN·√(ISO/100)/(N·2^(stops/2))", f"GN {conditions.guide_number_m:g} m, "
                    f"{exposure.total_stops:.2f} stops: {flash[0]:.0f} mm bare, {flash[1]:.0f} mm",
                    "guide number = f-number × distance at ISO 100 (definition)"), exposure.origin,
        )  # fmt: skip
    base = exposure.base_s
    if base is not None and exposure.total_stops + math.log2(base) <= math.log2(LONGEST_S):
        time_s = exposure.time_s
        assert time_s is not None
        yield Figure(
            "exposure.time_s", "time with everything on", time_s, "s",
            Working("t·2^stops", f"{base:.6g} s·2^{exposure.total_stops:.2f} = {time_words(time_s)}", TIME_SOURCE),
            exposure.origin,
        )  # fmt: skip
