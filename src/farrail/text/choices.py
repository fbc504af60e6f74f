"""Answers to single questions: the words of a choice, which graduated filter, what fits into the frame."""

from farrail.language import N_, say, say_n, word
from farrail.optics.exposure import density_of_stops
from farrail.parts.shelved import Status
from farrail.readouts.field.sky import Framing
from farrail.readouts.front.graduated import GraduatedChoice

# What the values of a part's fields of few choices are called, where a file's own word will not do.
CHOICES = {
    "rectilinear": N_("rectilinear"), "equidistant": N_("equidistant"), "equisolid": N_("equisolid"),
    "stereographic": N_("stereographic"), "orthographic": N_("orthographic"),
    "radial": N_("radial"), "tangential": N_("tangential"),
    "none": N_("none"), "hard": N_("hard"), "medium": N_("medium"), "soft": N_("soft"), "reverse": N_("reverse"),
    "sheets": N_("square filters"), "round_filters": N_("round filters"), "anything": N_("anything"),
}  # fmt: skip
EDGES = {"soft": N_("soft-edge"), "hard": N_("hard-edge"), "medium": N_("medium-edge")}


def choice_name(value: str) -> str:
    """Return what one choice of a part's field is called, such as `owned` or `soft`."""
    if value in list(Status):
        return word(Status(value))
    return str(CHOICES.get(value, value))


def framing_words(framing: Framing) -> str:
    """Return whether a target fits into the frame."""
    if framing.fits:
        return say("{name} fits into one frame.", name=framing.target.name)
    return say(
        "{name} needs {columns} × {rows} panels.", name=framing.target.name, columns=framing.columns, rows=framing.rows
    )


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
