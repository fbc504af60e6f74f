"""`far-rail rings`: one filter size for all lenses, and the step rings to buy for it."""

import math
from pathlib import Path

from farrail.cli.printing import FINE, print_json
from farrail.language import say
from farrail.planning.ring_cost import RingCost, ring_costs
from farrail.planning.ring_words import best_words, cost_words, price_words, purchases, sizes_name
from farrail.planning.rings import RingPlan, every_plan
from farrail.workbook.store import read_file

NONE_DOES = 1


def run(file: Path, *, swapped: bool, as_json: bool) -> int:
    """Print the ring plans of a workbook's lenses, the best first; returns 1 where no size serves all lenses.

    Raises:
        FarRailError: the file cannot be read.
    """
    workbook = read_file(file).workbook
    shelf = workbook.by_id
    plans = every_plan(shelf, workbook.kit_prices, swapped=swapped)
    found = [(plan, ring_costs(plan, shelf)) for plan in plans]
    if as_json:
        print_json({"plans": [_data(plan, costs) for plan, costs in found]})
    elif not found:
        print(say("No lens you own has a filter thread, or no standard size is large enough."))
    else:
        print(best_words(found[0][0]))
        for plan, costs in found:
            buy = ", ".join(purchases(plan)) or say("nothing to buy")
            words = {"sizes": sizes_name(plan), "buy": buy, "price": price_words(plan), "costs": cost_words(costs)}
            print(say("{sizes}: {buy}; price {price}. {costs}", **words))
    return FINE if found else NONE_DOES


def _data(plan: RingPlan, costs: tuple[RingCost, ...]) -> dict[str, object]:
    return {
        "sizes_mm": plan.sizes, "buy": dict(plan.buy), "kits": plan.kits, "price": plan.price,
        "without_price": plan.unpriced, "rings": plan.rings, "filters": plan.filters,
        "chains": {lens: [ring.name for ring in rings] for lens, rings in plan.chains},
        "corner_stops": {cost.lens: None if math.isinf(cost.stops) else cost.stops for cost in costs},
        "first_clean_mm": {cost.lens: cost.first_clean_mm for cost in costs},
    }  # fmt: skip
