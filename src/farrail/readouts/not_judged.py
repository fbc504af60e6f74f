"""What is said where a train cannot be judged in some respect."""

from dataclasses import dataclass

from farrail.errors import FarRailError
from farrail.language import N_, say
from farrail.readouts.finding import FindingText

SUBJECTS = {
    "spacing": N_("The spacing cannot be judged"),
    "joints": N_("The joints cannot be judged"),
    "light": N_("The light over the frame cannot be judged"),
    "field": N_("The field cannot be judged"),
    "front": N_("The front stack cannot be judged"),
    "close_up": N_("The close-up cannot be judged"),
    "shelf": N_("Parts that cannot be judged"),
}


@dataclass(frozen=True)
class NotJudged(FindingText):
    """What cannot be judged, and why."""

    kind = "train.not_judged"
    subject: str
    error: Exception

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        if isinstance(self.error, FarRailError):
            return f"{SUBJECTS[self.subject]}.", str(self.error)
        return (
            say("{subjects}: the program itself failed there.", subjects=SUBJECTS[self.subject]),
            say(
                "The details are in the log of troubles. Change or take out the part "
                "edited last; the other findings hold."
            ),
        )
