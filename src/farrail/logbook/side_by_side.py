"""Two to four trains, or states of one, side by side: figures with the better one, parts, prices, what fits."""

import math
import operator
from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from functools import cached_property

from farrail.logbook.better import RULES, Ends, best_by_rule, best_of, ends_of, same
from farrail.logbook.kinds.stars import infinity_reached
from farrail.parts.connections import why_not
from farrail.parts.inventory_item import AT_HAND, PartId
from farrail.parts.kinds.ahead import FilterHolder
from farrail.parts.kinds.filters import RoundFilter, SheetFilter
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.registry import Part
from farrail.readouts.figure import Figure
from farrail.readouts.range_findings import NO_RANGES, RangeReport
from farrail.readouts.read import Readout, read
from farrail.train.rows import Shelf
from farrail.train.train import Train

LEAST, MOST = 2, 4


# Facts of a set-up beyond its figures, in reading order.
FACTS = ("parts", "joints", "not_mating", "behind_mm", "ahead_mm", "mass_g", "price", "to_buy", "to_pay")
# What a set-up lets one do, and whether more of it is better: shown where one column alone is ahead.
ABILITIES = {"clean_from_mm": False, "field_deg": True, "magnification": True, "slots": True, "infinity": True}
# Figures of single apertures: there are as many as parts, and no two trains have the same.
OF_PARTS = ("light.needed.*_mm", "light.loss.*_stops", "light.tilt_plate.*_um", "light.passband.*", "front.step_back")
# Facts and abilities that are also figures, which have the interval.
SAME_AS = {"ahead_mm": "front.depth_mm", "clean_from_mm": "front.first_clean_mm"}
# Ahead by less than this share is not ahead.
AHEAD = 0.02


@dataclass(frozen=True)
class Column:
    """One of the trains compared.

    Attributes:
        train: the train.
        shelf: its parts.
        name: what it is called here.
        kit_prices: what kits cost, by name.
        ranges: the intervals of its figures, as far as they are worked out.
    """

    train: Train
    shelf: Shelf
    name: str
    kit_prices: Mapping[str, float] = field(default_factory=dict, hash=False)
    ranges: RangeReport = field(default=NO_RANGES, hash=False)

    @cached_property
    def readout(self) -> Readout:
        """The train, read."""
        return read(self.train, self.shelf)

    @cached_property
    def figures(self) -> Mapping[str, Figure]:
        """Its figures by id, with their intervals."""
        return self.ranges.figures(self.readout.figures)

    def figure_of(self, key: str) -> Figure | None:
        """Return the figure that a fact or an ability is; None where it is none."""
        return self.figures.get(SAME_AS.get(key, ""))

    @cached_property
    def parts(self) -> Counter[PartId]:
        """Every part it uses and how many of each."""
        return Counter(self.train.part_ids())

    @cached_property
    def facts(self) -> dict[str, float | None]:
        """What it is beyond its figures; None where that is not known."""
        layout = self.readout.layout
        mine = [(layout.parts[part_id], count) for part_id, count in self.parts.items() if part_id in layout.parts]
        weighed = [part.mass_g for part, _ in mine]
        priced = [(part.price, count) for part, count in mine]
        masses = [mass * count for mass, (_, count) in zip(weighed, mine, strict=True) if mass is not None]
        prices = [price * count for price, count in priced if price is not None]
        return {
            "parts": float(sum(self.parts.values())),
            "joints": float(len(layout.joints)),
            "not_mating": float(sum(joint.mismatch is not None for joint in layout.joints)),
            "behind_mm": None if layout.sensor_mm is None else layout.sensor_mm - layout.optic_rear_mm,
            "ahead_mm": self.readout.front.depth_mm if layout.front else None,
            "mass_g": float(sum(masses)) if masses and len(masses) == len(mine) else None,
            "price": float(sum(prices)) if prices and len(prices) == len(mine) else None,
            "to_buy": float(sum(missing for _, missing in self.missing)),
            "to_pay": price_of(self.missing, self.kit_prices) if self.missing else 0.0,
        }

    @cached_property
    def abilities(self) -> dict[str, float | None]:
        """What it lets one do; None where it does not at all, or no one can say."""
        readout = self.readout
        front, close = readout.front, readout.close_up
        fields = [figure.number for key, figure in readout.figures.items() if key.startswith("light.field_width")]
        holders = [placed.part for placed in readout.layout.front if isinstance(placed.part, FilterHolder)]
        near = close.near.magnification if close.active and close.near.focused else None
        infinity = infinity_reached(readout)
        return {
            "clean_from_mm": front.now.first_clean_mm if front.judged else None,
            "field_deg": next((value for value in fields if not math.isnan(value)), None),
            "magnification": near,
            "slots": float(sum(holder.slots for holder in holders)) if holders else None,
            "infinity": 1.0 if infinity else None,
        }

    @cached_property
    def missing(self) -> tuple[tuple[Part, int], ...]:
        """Parts it uses that are not available, and how many of each."""
        found = []
        for part_id, count in self.parts.items():
            part = self.shelf.get(part_id)
            if part is None:
                continue
            have = part.owned if part.status in AT_HAND else 0
            if count > have:
                found.append((part, count - have))
        return tuple(found)


@dataclass(frozen=True)
class Line:
    """One row of the table.

    Attributes:
        key: id of the figure, or of a fact.
        is_fact: whether it is a fact of the set-up and no figure.
        values: one a column; None where it has none.
        figures: the figures themselves; None for a fact that is none.
        best: the numbers of the columns that are better than the others; () where none is, or where their intervals
            overlap.
    """

    key: str
    is_fact: bool
    values: tuple[float | None, ...]
    figures: tuple[Figure | None, ...]
    best: tuple[int, ...]

    @property
    def ends(self) -> tuple[Ends, ...]:
        """The interval of each value."""
        return tuple(ends_of(figure) for figure in self.figures)

    @property
    def differs(self) -> bool:
        """Whether the columns differ in it."""
        first = self.values[0]
        return any(not same(first, value) for value in self.values[1:])


@dataclass(frozen=True)
class Ability:
    """Something that one column alone lets one do, or does best.

    Attributes:
        key: which.
        value: how far it goes.
        best_other: the best of the other columns; None where none of them does it.
        figure: the figure it is, with its interval; None where it is none.
    """

    key: str
    value: float
    best_other: float | None
    figure: Figure | None


@dataclass(frozen=True)
class SideBySide:
    """Trains compared."""

    columns: tuple[Column, ...]

    @cached_property
    def lines(self) -> tuple[Line, ...]:
        """Every fact and figure that any of them has as a number, in reading order."""
        lines = [self._fact(key) for key in FACTS]
        every = [column.figures for column in self.columns]
        keys = dict.fromkeys(key for figures in every for key in figures)
        for key in keys:
            figures = tuple(one.get(key) for one in every)
            if next(figure.kind for figure in figures if figure is not None) in OF_PARTS:
                continue
            values = tuple(_number(figure) for figure in figures)
            if any(value is not None for value in values):
                kind = next(figure.kind for figure in figures if figure is not None)
                if key in SAME_AS.values() and any(line.key in SAME_AS and SAME_AS[line.key] == key for line in lines):
                    # The fact above has its interval.
                    continue
                best = best_by_rule(kind, values, self._readouts, figures)
                lines.append(Line(key, False, values, figures, best))
        return tuple(line for line in lines if any(value is not None for value in line.values))

    @property
    def _readouts(self) -> tuple[Readout, ...]:
        return tuple(column.readout for column in self.columns)

    def _fact(self, key: str) -> Line:
        values = tuple(column.facts[key] for column in self.columns)
        figures = tuple(column.figure_of(key) for column in self.columns)
        return Line(key, True, values, figures, best_by_rule(key, values, self._readouts, figures))

    @property
    def deciding(self) -> Line | None:
        """The row that decides between them: the first in the order of what matters; None where nothing does."""
        ranked = {line.key if line.is_fact else _kind(line): line for line in self.lines if line.best}
        return next((ranked[kind] for kind in RULES if kind in ranked), None)

    @cached_property
    def wishes(self) -> tuple[tuple[Part, int], ...]:
        """What is missing for all of them together, each part as often as the neediest needs it."""
        counts: Counter[PartId] = Counter()
        parts: dict[PartId, Part] = {}
        for column in self.columns:
            for part, count in column.missing:
                counts[part.id] = max(counts[part.id], count)
                parts[part.id] = part
        return tuple((parts[part_id], count) for part_id, count in counts.items())

    def still_fits(self, number: int) -> tuple[Part, ...]:
        """Return the available filters that a front stack of one column can hold, by width or by thread."""
        column = self.columns[number]
        return tuple(
            part for part in column.shelf.values()
            if part.status in AT_HAND and isinstance(part, SheetFilter | RoundFilter) and _held(column, part)
        )  # fmt: skip

    def lets_alone(self, number: int) -> tuple[Ability, ...]:
        """Return what one column alone lets one do, or certainly does best."""
        found = []
        for key, more in ABILITIES.items():
            values = [column.abilities[key] for column in self.columns]
            mine = values[number]
            if mine is None:
                continue
            figures = [column.figure_of(key) for column in self.columns]
            others = [value for n, value in enumerate(values) if n != number and value is not None]
            best = (max if more else min)(others, default=None)
            gain = None if best is None else (mine - best if more else best - mine)
            ahead = gain is None or gain > AHEAD * max(abs(mine), 1e-9)
            cost = operator.neg if more else operator.pos
            if ahead and (best is None or number in best_of(values, [cost] * len(values), figures)):
                found.append(Ability(key, mine, best, figures[number]))
        return tuple(found)


def _kind(line: Line) -> str:
    return next(figure.kind for figure in line.figures if figure is not None)


def _held(column: Column, part: Part) -> bool:
    layout = column.readout.layout
    holders = [placed.part for placed in layout.front if isinstance(placed.part, FilterHolder)]
    if isinstance(part, SheetFilter):
        return any(holder.accepts(part, slot) for holder in holders for slot in range(holder.slots))
    if not isinstance(part, RoundFilter) or not isinstance(layout.optic, CameraLens):
        return False
    end = layout.front[-1].front if layout.front else layout.optic.front
    return end is not None and end.known and part.rear.known and why_not(end, part.rear) is None


def price_of(parts: Iterable[tuple[Part, int]], kit_prices: Mapping[str, float]) -> float | None:
    """Return what parts cost; a kit is bought once; None where a price is not known."""
    parts = list(parts)
    alone = [None if part.price is None else part.price * count for part, count in parts if not part.kit]
    kits = [kit_prices.get(kit) for kit in {part.kit for part, _ in parts if part.kit}]
    prices = [*alone, *kits]
    return (
        None if any(price is None for price in prices) else float(sum(price for price in prices if price is not None))
    )


def _number(figure: Figure | None) -> float | None:
    if figure is None or not isinstance(figure.value, float) or math.isnan(figure.value):
        return None
    return figure.value
