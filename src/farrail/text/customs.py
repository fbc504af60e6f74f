"""The words of what practitioners do in two ways."""

import math

from farrail.planning.customs import Custom, Way

THINGS = {
    "polariser": "{part}: outermost, or behind the sheets",
    "left_on": "{part}: left on the lens under the stack, or taken off first",
}
# What each way is, and what it is liked and disliked for; common practice, no source.
WAYS = {
    "outermost": (
        "Outermost",
        "turned and seen at once, taken off alone; the widest glass, whose rim meets the corner first",
    ),
    "behind": ("Behind the sheets", "a smaller glass out of the spray; the stack comes off to clean it"),
    "left_on": ("Left on", "the lens stays closed against salt and sand; one more pair of faces and its depth"),
    "taken_off": ("Taken off", "nothing more than is needed before the lens; bare glass while changing"),
}

# Beyond this a corner is called dark and not measured any more.
DARK_STOPS = 10.0


def way_cost(way: Way, custom: Custom) -> str:
    """Return what a way costs this train."""
    dark = not math.isfinite(way.corner_stops) or way.corner_stops > DARK_STOPS
    loss = "the corner dark" if dark else f"{way.corner_stops:.2f} stops added in the corner"
    if not custom.zoom:
        return loss
    if way.first_clean_mm is None:
        return f"clean nowhere in the range, {loss}"
    if way.first_clean_mm <= custom.from_mm + 0.05:
        return f"clean over the whole range, {loss}"
    return f"clean from {way.first_clean_mm:.1f} mm on, {loss}"


def custom_words(custom: Custom) -> tuple[str, list[str]]:
    """Return what is done in two ways, and a line for each."""
    lines = []
    for way in custom.ways:
        name, why = WAYS[way.key]
        here = " (as it lies)" if way.here else ""
        lines.append(f"{name}{here}: {way_cost(way, custom)}; {why}.")
    return THINGS[custom.key].format(part=custom.part), lines
