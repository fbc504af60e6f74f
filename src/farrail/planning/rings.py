"""One ring size for all lenses: which main size, which step rings to buy, cheapest and fewest.

Each lens's filter thread must reach the main size over step rings, alone or one on another. A size smaller than a
lens's own thread would cut into its light and is not offered.
"""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from farrail.cancel import Cancel
from farrail.language import say
from farrail.parts.connections import Gender, Thread
from farrail.parts.inventory_item import AT_HAND, TO_BUY
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.tubes import Adapter
from farrail.parts.registry import Part
from farrail.parts.usual import FILTER_THREADS_MM
from farrail.planning.solver import Model, Undecided

# How thick a usual step ring is where the shelf has none; common practice, no source.
USUAL_MM = 3.0
# What a purchase without a price weighs in the search: more than any plan whose prices are known.
UNPRICED = 10_000.0
SECONDS = 10.0
PRICE_STEPS = 100


@dataclass(frozen=True)
class StepRing:
    """A step ring that may be used: from a lens's thread to a larger one.

    Attributes:
        low: thread on the lens's side, mm.
        high: thread on the filter's side, mm.
        price: what it costs; None where no price was entered.
        name: what it is called.
        owned: how many are there already.
        kit: the kit it comes in, "" for none.
        length_mm: how far it sets the next out.
        usual: whether it is no ring of the shelf but one that can be had almost anywhere.
        clear_mm: its clear diameter; None: what its threads leave.
    """

    low: float
    high: float
    price: float | None
    name: str
    owned: int = 0
    kit: str = ""
    length_mm: float = USUAL_MM
    usual: bool = False
    clear_mm: float | None = None


@dataclass(frozen=True)
class RingPlan:
    """Which rings bring every lens to a main size.

    Attributes:
        sizes: the main sizes, one, or two that are both kept.
        buy: rings to buy, by name with how many.
        kits: kits to buy.
        price: what that costs, as far as prices were entered.
        unpriced: how many purchases of it have no price.
        rings: how many rings there are then in use.
        chains: for each lens, by the key it was given with, its rings from the lens outward.
        ends: for each lens, by its key, the main size it comes to.
        filters: owned filters that can be used on a main size.
    """

    sizes: tuple[float, ...]
    buy: tuple[tuple[str, int], ...]
    kits: tuple[str, ...]
    price: float
    rings: int
    chains: tuple[tuple[str, tuple[StepRing, ...]], ...]
    ends: tuple[tuple[str, float], ...]
    filters: tuple[str, ...]
    unpriced: int = 0

    @property
    def main_mm(self) -> float:
        """The main size; of two the larger."""
        return self.sizes[-1]


def thread_mm(lens: CameraLens) -> float | None:
    """Return a lens's filter thread, None where it has none."""
    end = lens.front
    return end.standard.diameter_mm if end is not None and isinstance(end.standard, Thread) else None


def lenses_of(shelf: Mapping[str, Part]) -> list[tuple[str, float]]:
    """Return the ids of the lenses available that have a filter thread, with its diameter."""
    found = []
    for part in shelf.values():
        if isinstance(part, CameraLens) and part.status in AT_HAND and (size := thread_mm(part)) is not None:
            found.append((part.id, size))
    return found


def step_rings_of(shelf: Mapping[str, Part]) -> list[StepRing]:
    """Return the step-up rings on the shelf, and a usual one for every pair of sizes."""
    found = []
    for part in shelf.values():
        if not isinstance(part, Adapter) or part.status not in (*AT_HAND, *TO_BUY):
            continue
        ends = (part.front, part.rear)
        if not all(isinstance(end.standard, Thread) for end in ends):
            continue
        male = next((e for e in ends if e.gender is Gender.EXTERNAL), None)
        female = next((e for e in ends if e.gender is Gender.INTERNAL), None)
        if male is None or female is None or male.standard.size_mm >= female.standard.size_mm:
            continue
        owned = part.owned if part.status in AT_HAND else 0
        found.append(
            StepRing(male.standard.size_mm, female.standard.size_mm, part.price, part.name, owned,
                     part.kit if not owned else "", part.path_length_mm.value,
                     clear_mm=None if part.clear_aperture_mm is None else part.clear_aperture_mm.value)
        )  # fmt: skip
    have = {(ring.low, ring.high) for ring in found}
    for low in FILTER_THREADS_MM:
        for high in FILTER_THREADS_MM:
            if low < high and (low, high) not in have:
                found.append(
                    StepRing(
                        float(low),
                        float(high),
                        None,
                        say("step ring {low} to {high} mm", low=low, high=high),
                        usual=True,
                    )
                )
    return found


def plan_rings(
    lenses: Sequence[tuple[str, float]],
    rings: Sequence[StepRing],
    kit_prices: Mapping[str, float],
    filters: Sequence[tuple[str, float]] = (),
    *,
    swapped: bool = False,
    sizes: Sequence[float] | None = None,
    cancel: Cancel | None = None,
) -> tuple[RingPlan, ...]:
    """Return the best plan for each main size that serves all lenses, the cheapest first; proven for each.

    A plan with fewer purchases of unknown price comes first, no matter what the others cost.

    Args:
        lenses: ids, or other keys that distinguish them, and filter threads.
        rings: step rings that may be used.
        kit_prices: what kits cost, by name.
        filters: names and threads of screw-in filters owned.
        swapped: rings are moved from lens to lens in the field; else each lens keeps its own.
        sizes: main sizes to try; None for the usual ones.
        cancel: set from outside to stop.
    """
    if not lenses:
        return ()
    largest = max(size for _, size in lenses)
    wanted = [float(s) for s in (FILTER_THREADS_MM if sizes is None else sizes) if s >= largest]
    found = [made for size in wanted if (made := _solve(lenses, rings, kit_prices, filters, (size,), swapped, cancel))]
    return tuple(sorted(found, key=_rank))


def plan_split(
    lenses: Sequence[tuple[str, float]],
    rings: Sequence[StepRing],
    kit_prices: Mapping[str, float],
    filters: Sequence[tuple[str, float]] = (),
    *,
    swapped: bool = False,
    sizes: Sequence[float] | None = None,
    cancel: Cancel | None = None,
) -> RingPlan | None:
    """Return the cheapest plan that keeps two main sizes, each for some of the lenses; proven. None without one.

    Rings alone are counted: two sizes want two sets of filters.

    Args:
        lenses: as `plan_rings` takes them.
        rings: likewise.
        kit_prices: likewise.
        filters: likewise.
        swapped: likewise.
        sizes: main sizes to try in pairs; None for the usual ones.
        cancel: set from outside to stop.
    """
    if len({size for _, size in lenses}) < 2:
        return None
    least, largest = min(size for _, size in lenses), max(size for _, size in lenses)
    known = sorted({float(s) for s in (FILTER_THREADS_MM if sizes is None else sizes) if s >= least})
    pairs = [(low, high) for high in known if high >= largest for low in known if low < high]
    found = [made for pair in pairs if (made := _solve(lenses, rings, kit_prices, filters, pair, swapped, cancel))]
    return min(found, key=_rank, default=None)


def every_plan(
    shelf: Mapping[str, Part], kit_prices: Mapping[str, float], *, swapped: bool, cancel: Cancel | None = None
) -> tuple[RingPlan, ...]:
    """Return the plans for the lenses of a shelf: one for each main size, and at last the best that keeps two.

    Two sizes come last no matter what they cost: they want two sets of filters.

    Args:
        shelf: the parts by id.
        kit_prices: what kits cost, by name.
        swapped: rings are moved from lens to lens in the field.
        cancel: set from outside to stop.
    """
    lenses, rings, filters = lenses_of(shelf), step_rings_of(shelf), filters_of(shelf)
    plans = plan_rings(lenses, rings, kit_prices, filters, swapped=swapped, cancel=cancel)
    split = plan_split(lenses, rings, kit_prices, filters, swapped=swapped, cancel=cancel)
    return plans if split is None else (*plans, split)


def _rank(plan: RingPlan) -> tuple[int, float, int, tuple[float, ...]]:
    return plan.unpriced, plan.price, plan.rings, plan.sizes


def _weight(price: float | None) -> int:
    return round((UNPRICED if price is None else price) * PRICE_STEPS)


def _solve(
    lenses: Sequence[tuple[str, float]], rings: Sequence[StepRing], kit_prices: Mapping[str, float],
    filters: Sequence[tuple[str, float]], mains: tuple[float, ...], swapped: bool, cancel: Cancel | None,
) -> RingPlan | None:  # fmt: skip
    model = Model()
    # A usual ring goes straight from a lens to the main size, or from the end of one that is there to it.
    starts = {size for _, size in lenses} | {ring.high for ring in rings if not ring.usual}
    usable = [r for r in rings if r.high <= mains[-1] and (not r.usual or (r.high in mains and r.low in starts))]
    # uses[l][r]: lens l carries ring r.
    uses = [[model.new_bool_var(f"u{i}.{r}") for r in range(len(usable))] for i in range(len(lenses))]
    # sinks[l][m]: lens l comes to main size m; each main size serves a lens.
    sinks = [{main: model.new_bool_var(f"s{i}.{main}") for main in mains} for i in range(len(lenses))]
    for i in range(len(lenses)):
        model.add(sum(sinks[i].values()) == 1)
    for main in mains:
        model.add(sum(sink[main] for sink in sinks) >= 1)
    nodes = {*mains, *(size for _, size in lenses), *(end for ring in usable for end in (ring.low, ring.high))}
    for i, (_, size) in enumerate(lenses):
        for node in nodes:
            out = sum(uses[i][r] for r, ring in enumerate(usable) if ring.low == node)
            into = sum(uses[i][r] for r, ring in enumerate(usable) if ring.high == node)
            model.add(out - into == (node == size) - sinks[i].get(node, 0))
    counts, buys, kits = [], [], {ring.kit: model.new_bool_var(f"k{ring.kit}") for ring in usable if ring.kit}
    for r, ring in enumerate(usable):
        count = model.new_int_var(0, len(lenses), f"c{r}")
        for i in range(len(lenses)):
            model.add(count >= uses[i][r])
        if not swapped:
            model.add(count == sum(uses[i][r] for i in range(len(lenses))))
        buy = model.new_int_var(0, len(lenses), f"b{r}")
        model.add(buy + ring.owned + (kits[ring.kit] if ring.kit else 0) >= count)
        counts.append(count)
        buys.append(buy)
    price = sum(_weight(ring.price) * buys[r] for r, ring in enumerate(usable))
    price += sum(_weight(kit_prices.get(kit)) * taken for kit, taken in kits.items())
    carried = sum(sum(row) for row in uses)
    # Cheapest, then fewest rings to own, then fewest on the lenses.
    model.minimize((price * 1000 + sum(counts)) * 1000 + carried)
    try:
        solver = model.solve(cancel, SECONDS)
    except Undecided:
        return None
    if solver is None:
        return None
    paid = [(usable[r].price, solver.value(count)) for r, count in enumerate(buys)]
    paid += [(kit_prices.get(kit), solver.value(taken)) for kit, taken in kits.items()]
    bought = Counter({usable[r].name: solver.value(b) for r, b in enumerate(buys) if solver.value(b)})
    chains = []
    for i, (name, _) in enumerate(lenses):
        on_it = sorted((ring for r, ring in enumerate(usable) if solver.value(uses[i][r])), key=lambda ring: ring.low)
        chains.append((name, tuple(on_it)))
    return RingPlan(
        sizes=mains,
        buy=tuple(sorted(bought.items())),
        kits=tuple(kit for kit, taken in kits.items() if solver.value(taken)),
        price=round(sum(count * each for each, count in paid if each is not None), 2),
        unpriced=sum(count for each, count in paid if each is None),
        rings=sum(solver.value(c) for c in counts),
        chains=tuple(chains),
        ends=tuple(
            (name, next(main for main in mains if solver.value(sinks[i][main]))) for i, (name, _) in enumerate(lenses)
        ),
        filters=tuple(name for name, size in filters if size in mains),
    )


def filters_of(shelf: Mapping[str, Part]) -> list[tuple[str, float]]:
    """Return the screw-in filters available with their threads."""
    found = []
    for part in shelf.values():
        if isinstance(part, RoundFilter) and part.status in AT_HAND and isinstance(part.rear.standard, Thread):
            size = part.rear.standard.diameter_mm
            if size >= FILTER_THREADS_MM[0]:
                found.append((part.name, size))
    return found
