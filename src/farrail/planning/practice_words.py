"""The words of what practitioners do in two ways."""

import math

from farrail.language import N_, say
from farrail.planning.practices import Alternative, Practice

THINGS = {
    "polariser": N_("{part}: outermost, or behind the square filters"),
    "left_on": N_("{part}: left on the lens under the stack, or taken off first"),
}
# What each way is, and what it is liked and disliked for; common practice, no source.
WAYS = {
    "outermost": (
        N_("Outermost"),
        N_("turned and seen at once, taken off alone; the widest glass, whose rim meets the corner first"),
    ),
    "behind": (
        N_("Behind the square filters"),
        N_("a smaller glass out of the spray; the stack comes off to clean it"),
    ),
    "left_on": (
        N_("Left on"),
        N_("the lens stays closed against salt and sand; one more pair of faces and its depth"),
    ),
    "taken_off": (N_("Taken off"), N_("only what is needed in front of the lens; bare glass while changing")),
}

# Beyond this a corner is called dark and not measured any more.
DARK_STOPS = 10.0


def way_cost(way: Alternative, custom: Practice) -> str:
    """Return what a way costs this train."""
    dark = not math.isfinite(way.corner_stops) or way.corner_stops > DARK_STOPS
    loss = (
        say("the corner dark")
        if dark
        else say("{corner_stops:.2f} stops added in the corner", corner_stops=way.corner_stops)
    )
    if not custom.zoom:
        return loss
    if way.first_clean_mm is None:
        return say("vignetting at every focal length, {loss}", loss=loss)
    if way.first_clean_mm <= custom.from_mm + 0.05:
        return say("free of vignetting over the whole range, {loss}", loss=loss)
    return say("free of vignetting from {first_clean_mm:.1f} mm, {loss}", first_clean_mm=way.first_clean_mm, loss=loss)


def practice_words(custom: Practice) -> tuple[str, list[str]]:
    """Return what is done in two ways, and a line for each."""
    lines = []
    for way in custom.ways:
        name, why = WAYS[way.key]
        here = say(" (current)") if way.here else ""
        lines.append(f"{name}{here}: {way_cost(way, custom)}; {why}.")
    return say(THINGS[custom.key], part=custom.part), lines
