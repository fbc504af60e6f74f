"""Which graduated filter a contrast asks for, in words."""

from farrail.language import N_, say, say_n
from farrail.optics.exposure import density_of_stops
from farrail.readouts.front.graduated import GraduatedChoice

EDGES = {"soft": N_("soft-edge"), "hard": N_("hard-edge"), "medium": N_("medium-edge")}


def choice_words(choice: GraduatedChoice) -> str:
    """Return a choice in a sentence."""
    if choice.brighter_stops <= 0.0:
        return say(
            "The sky is {brighter_stops:.1f} stops darker than the ground: no graduated filter is needed.",
            brighter_stops=-choice.brighter_stops,
        )
    sky = say("The sky is {brighter_stops:.1f} stops brighter", brighter_stops=choice.brighter_stops)
    density = density_of_stops(choice.strength_stops)
    edge = EDGES.get(choice.gradation.value, "")
    graduated = say(
        "a {strength_stops:g}-stop {edge} graduated ND ({density:.1f})",
        strength_stops=choice.strength_stops,
        edge=edge,
        density=density,
    )
    if not choice.strength_stops:
        return say("{sky}, as the eye expects it: no graduated filter is needed.", sky=sky)
    return say(
        "{sky}: use {filter}. Its transition covers {share:.0f} % of the picture's height "
        "and leaves the sky {left_words}.",
        sky=sky,
        filter=graduated,
        share=100.0 * choice.share,
        left_words=left_words(choice.brighter_stops, choice.strength_stops),
    )


def left_words(brighter_stops: float, strength_stops: float) -> str:
    """Return how much brighter the sky stays behind a graduated filter, in words."""
    left = brighter_stops - strength_stops
    stops = say("{left:g}", left=round(left, 1))
    return say_n("{stops} stop brighter", "{stops} stops brighter", 1 if abs(left - 1.0) < 0.05 else 2, stops=stops)
