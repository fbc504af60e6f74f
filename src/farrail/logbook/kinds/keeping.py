"""What is kept without a prediction: flat frames with the span in which they hold, and free notes."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from farrail.language import N_
from farrail.logbook.observation import Observation
from farrail.parts.field_info import FieldInfo
from farrail.train.train import Day


class Flats(Observation):
    """A set of flat frames, good as long as nothing in the light has moved."""

    kind_name = N_("flat frames taken")
    rank = 95
    only_words: ClassVar[bool] = True

    kind: Literal["flats"] = "flats"
    frames: Annotated[Annotated[int, Field(ge=1, le=10_000)] | None, FieldInfo("Number of frames", "", "")] = None
    # Set by the edit that moved something: from then on they say nothing of the train.
    void_since: Day | None = None
    void_by: Annotated[str, Field(max_length=300)] = ""


class FreeNote(Observation):
    """Anything worth keeping that no other kind says."""

    kind_name = N_("note")
    rank = 99
    only_words: ClassVar[bool] = True

    kind: Literal["note"] = "note"
