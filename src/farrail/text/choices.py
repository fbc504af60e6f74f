"""Answers to single questions in a sentence: which graduated filter, what fits into the frame."""

from farrail.optics.exposure import density_of_stops
from farrail.readouts.field.sky import Framing
from farrail.readouts.front.graduated import GraduatedChoice


def framing_words(framing: Framing) -> str:
    """Return whether a target fits into the frame."""
    if framing.fits:
        return f"{framing.target.name} fits into one frame."
    return f"{framing.target.name} needs {framing.columns} × {framing.rows} panels."


def choice_words(choice: GraduatedChoice) -> str:
    """Return a choice in a sentence."""
    if choice.brighter_stops <= 0.0:
        return f"The sky is {-choice.brighter_stops:.1f} stops darker than the ground: no graduated filter is needed."
    told = f"The sky is {choice.brighter_stops:.1f} stops brighter"
    density = density_of_stops(choice.strength_stops)
    edge = {"soft": "soft-edge", "hard": "hard-edge", "medium": "medium-edge"}.get(choice.gradation.value, "")
    take = f"a {choice.strength_stops:g}-stop {edge} graduated ND ({density:.1f})"
    if not choice.strength_stops:
        return f"{told}, as the eye expects it: no graduated filter is needed."
    return (
        f"{told}: use {take}; it runs over "
        f"{100.0 * choice.share:.0f} % of the picture's height and leaves the sky "
        f"{left_words(choice.brighter_stops, choice.strength_stops)}."
    )


def left_words(brighter_stops: float, strength_stops: float) -> str:
    """Return how much brighter the sky stays behind a graduated filter, in words."""
    left = brighter_stops - strength_stops
    word = "stop" if abs(left - 1.0) < 0.05 else "stops"
    return f"{left:.1f}".removesuffix(".0") + f" {word} brighter"
