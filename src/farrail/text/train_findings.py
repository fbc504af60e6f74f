"""Sentences about a train that cannot be judged in some respect."""

from collections.abc import Callable

from farrail.errors import FarRailError
from farrail.language import N_, say
from farrail.text.values import Values

Told = tuple[str, str]
SUBJECTS = {
    "spacing": N_("The spacing cannot be judged"),
    "joints": N_("The joints cannot be judged"),
    "light": N_("The light over the frame cannot be judged"),
    "field": N_("The field cannot be judged"),
    "front": N_("The front stack cannot be judged"),
    "close_up": N_("The close-up cannot be judged"),
    "shelf": N_("Parts that cannot be judged"),
}


def _not_judged(v: Values) -> Told:
    if isinstance(v.error, FarRailError):
        return f"{SUBJECTS[v.subject]}.", str(v.error)
    return (
        say("{subjects}: the program itself failed there.", subjects=SUBJECTS[v.subject]),
        say(
            "The details are in the log of troubles. Change or take out the part edited last; the other findings hold."
        ),
    )


SENTENCES: dict[str, Callable[[Values], Told]] = {"train.not_judged": _not_judged}
