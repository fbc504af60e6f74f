"""What the values of a part's fields of few choices are called."""

from farrail.language import N_, word
from farrail.parts.inventory_item import Status

# What the values of a part's fields of few choices are called, where a file's own word will not do.
CHOICES = {
    "rectilinear": N_("rectilinear"), "equidistant": N_("equidistant"), "equisolid": N_("equisolid"),
    "stereographic": N_("stereographic"), "orthographic": N_("orthographic"),
    "radial": N_("radial"), "tangential": N_("tangential"),
    "none": N_("none"), "hard": N_("hard"), "medium": N_("medium"), "soft": N_("soft"), "reverse": N_("reverse"),
    "hood_unknown": N_("not entered"), "no_hood": N_("none"), "hood_fixed": N_("fixed"),
    "hood_comes_off": N_("comes off"),
    "sheets": N_("square filters"), "round_filters": N_("round filters"), "anything": N_("anything"),
}  # fmt: skip


def choice_name(value: str) -> str:
    """Return what one choice of a part's field is called, such as `owned` or `soft`."""
    if value in list(Status):
        return word(Status(value))
    return str(CHOICES.get(value, value))
