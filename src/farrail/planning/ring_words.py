"""What a ring plan is, what of it must be bought, and what it costs in money and light: in words."""

from collections.abc import Sequence

from farrail.language import say, say_n
from farrail.planning.ring_cost import RingCost
from farrail.planning.rings import RingPlan
from farrail.readouts.limits import CLEAN_STOPS


def purchases(plan: RingPlan) -> list[str]:
    """Return what a ring plan has to buy, by name with how many."""
    rings = [f"{count} × {name}" if count > 1 else name for name, count in plan.buy]
    return rings + [say("kit {kit}", kit=kit) for kit in plan.kits]


def price_words(plan: RingPlan) -> str:
    """Return what a ring plan costs; a question mark for purchases without a price."""
    if not plan.unpriced:
        return say("{price:g}", price=plan.price)
    return "?" if not plan.price else say("{price:g} + ?", price=plan.price)


def best_words(best: RingPlan) -> str:
    """Return what the first of several ring plans is, and what is proven of it."""
    filters = say("; {listed} fits it", listed=", ".join(best.filters)) if best.filters else ""
    if not best.buy and not best.kits:
        return say("{main_mm:g} mm needs nothing new{filters}.", main_mm=best.main_mm, filters=filters)
    if not best.unpriced:
        return say(
            "{main_mm:g} mm is cheapest: {price:g} for {rings} rings in all{filters}.",
            main_mm=best.main_mm, price=best.price, rings=best.rings, filters=filters,
        )  # fmt: skip
    return say_n(
        "{main_mm:g} mm needs the fewest purchases without a price: {count} ring{filters}. Enter prices to find the "
        "cheapest.",
        "{main_mm:g} mm needs the fewest purchases without a price: {count} rings{filters}. Enter prices to find the "
        "cheapest.",
        best.unpriced, main_mm=best.main_mm, count=best.unpriced, filters=filters,
    )  # fmt: skip


def split_words(split: RingPlan | None, best: RingPlan) -> str:
    """Return what keeping two main sizes would cost, "" where there are no two."""
    if split is None:
        return ""
    less = say("cheaper") if split.price < best.price else say("no cheaper")
    if split.unpriced or best.unpriced:
        less = say("prices unknown")
    rings = say("{price} for {rings} rings, {less}", price=price_words(split), rings=split.rings, less=less)
    return say(
        "Two sizes kept, {sizes_name}: {rings}, and two sets of filters.", sizes_name=sizes_name(split), rings=rings
    )


def cost_words(costs: Sequence[RingCost]) -> str:
    """Return what a plan's rings cost the lens that suffers most, "" where nothing is known."""
    if not costs:
        return ""
    worst = costs[0]
    if worst.stops <= CLEAN_STOPS:
        return say("Behind its rings and a filter every lens is free of vignetting at its widest.")
    turn = say("turn dark") if worst.stops == float("inf") else say("lose {stops:.2f} stops", stops=worst.stops)
    clean = (
        ""
        if worst.first_clean_mm is None
        else say("; free of vignetting from {first_clean_mm:.1f} mm", first_clean_mm=worst.first_clean_mm)
    )
    return say(
        "The corners of {name} {turn} at {focal_mm:g} mm{clean}.",
        name=worst.name,
        turn=turn,
        focal_mm=worst.focal_mm,
        clean=clean,
    )


def sizes_name(plan: RingPlan) -> str:
    """Return a ring plan's main sizes."""
    return say("{listed} mm", listed=" + ".join(say("{size:g}", size=size) for size in plan.sizes))
