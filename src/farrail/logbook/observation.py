"""What every observation has, before it is of a kind; and a prediction beside it."""

from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum
from typing import Annotated, ClassVar

from pydantic import Field

from farrail.language import Message, say
from farrail.parts.field_info import FieldInfo
from farrail.parts.frozen import Tagged
from farrail.parts.inventory_item import PartId
from farrail.parts.origin import Origin
from farrail.readouts.read import Readout
from farrail.train.train import Day

ObservationId = Annotated[str, Field(min_length=1, max_length=40, pattern=r"^[a-z0-9][a-z0-9-]*$")]
Clock = Annotated[str, Field(pattern=r"^$|^([01]\d|2[0-3]):[0-5]\d$")]
FocalSet = Annotated[float, Field(gt=0.0, le=100_000.0)]
FNumberSet = Annotated[float, Field(ge=0.3, le=1000.0)]
# Half the width of what a reading may be off.
Off = Annotated[float, Field(ge=0.0, le=1000.0)]


class Corner(StrEnum):
    """A corner of the picture."""

    TOP_LEFT = "top_left"
    TOP_RIGHT = "top_right"
    BOTTOM_LEFT = "bottom_left"
    BOTTOM_RIGHT = "bottom_right"


class Agreement(StrEnum):
    """How what was seen is to what was predicted."""

    AGREES = "agrees"
    DIFFERS = "differs"
    NOT_PREDICTED = "not_predicted"


@dataclass(frozen=True)
class Measure:
    """One number of an observation, as it is followed over many evenings.

    Attributes:
        name: what is measured.
        value: what was seen.
        off: half the width of what holds it; 0 where no one says.
        unit: of both.
        stays_mm: whether it is a focal length, shown in mm wherever lengths are shown in inches.
        common: whether it is one thing for all kinds of observation that note it.
    """

    name: Message
    value: float
    off: float
    unit: str
    stays_mm: bool = False
    common: bool = False


@dataclass(frozen=True)
class Compared:
    """An observation beside its prediction.

    Attributes:
        observed: what was seen, in `unit`; a word where it is no number.
        predicted: what the train predicts of it; None where it predicts nothing.
        unit: of both; "" for words and bare numbers.
        off: by how much the two may differ and still agree.
        rests_on: the weakest input of the prediction.
        agreement: the verdict.
        stays_mm: whether they are focal lengths, shown in mm wherever lengths are shown in inches.
    """

    observed: float | str
    predicted: float | str | None
    unit: str
    off: float
    rests_on: Origin
    agreement: Agreement
    stays_mm: bool = False

    @property
    def difference(self) -> float | None:
        """Observed less predicted; None where they are no numbers."""
        if isinstance(self.observed, float) and isinstance(self.predicted, float):
            return self.observed - self.predicted
        return None


def numbers(observed: float, predicted: float | None, unit: str, off: float, rests_on: Origin) -> Compared:
    """Return two numbers side by side; they agree within `off`."""
    if predicted is None or predicted != predicted:
        return Compared(observed, None, unit, off, rests_on, Agreement.NOT_PREDICTED)
    agrees = abs(observed - predicted) <= off + 1e-9
    return Compared(observed, predicted, unit, off, rests_on, Agreement.AGREES if agrees else Agreement.DIFFERS)


def words(observed: str, predicted: str | None, rests_on: Origin) -> Compared:
    """Return two words side by side."""
    if predicted is None:
        return Compared(observed, None, "", 0.0, rests_on, Agreement.NOT_PREDICTED)
    agreement = Agreement.AGREES if observed == predicted else Agreement.DIFFERS
    return Compared(observed, predicted, "", 0.0, rests_on, agreement)


class Observation(Tagged):
    """One thing seen with a train as it was placed then.

    A kind is a subclass with a `kind` tag, a `kind_name`, fields of its own with what they are called, and `compared`.

    Attributes:
        id: by which a value that rests on it names it.
        train: the train it was made with; it may be gone since.
        state: the train as it was placed.
        day: when.
        time: hour and minute, "" for not said.
        place: where, in words.
        weather: how it was: seeing, wind, cold, as far as it matters.
        focal_mm: what a zoom was set to; None: as the train was.
        f_number: the aperture; None: as the train was.
        photo: path of a picture that shows it; only named, never copied.
        note: anything else.
    """

    kind_name: ClassVar[Message] = Message("")
    rank: ClassVar[int] = 500
    # Which values it calibrates; "" where it is only compared with the prediction.
    calibrates: ClassVar[Message] = Message("")
    # Whether an observation of it says something without a number of its own.
    only_words: ClassVar[bool] = False

    id: ObservationId
    train: PartId
    state: PartId
    day: Day
    time: Annotated[Clock, FieldInfo("Time", "Hour and minute, such as 21:15", "")] = ""
    place: Annotated[str, Field(max_length=120), FieldInfo("Place")] = ""
    weather: Annotated[str, Field(max_length=200), FieldInfo("Conditions", "Seeing, wind, cold")] = ""
    focal_mm: Annotated[FocalSet | None, FieldInfo("Focal length", "Focal length set on the zoom")] = None
    f_number: Annotated[FNumberSet | None, FieldInfo("f-number", "The aperture it was seen at", "")] = None
    photo: Annotated[str, Field(max_length=1000), FieldInfo("Photo", "Path of a picture that shows it", "")] = ""
    note: Annotated[str, Field(max_length=2000), FieldInfo("Note", "", "")] = ""
    # Kept and shown, but not calibrated from: a person found it wrong.
    aside: bool = False

    def refusal(self, readout: Readout) -> str:  # noqa: ARG002 (kinds ask it)
        """Return why it cannot have been seen with a train, in a sentence; "" where it can."""
        return ""

    @classmethod
    def suits(cls, readout: Readout) -> bool:  # noqa: ARG003 (kinds ask it)
        """Return whether it says anything of a train."""
        return True

    def compared(self, readout: Readout) -> Compared | None:  # noqa: ARG002 (kinds ask it)
        """Return it beside what a train predicts, set as it was when this was seen; None: nothing to compare.

        Args:
            readout: the train as it was placed then, at this focal length and aperture.
        """
        return None

    def measures(self) -> Iterator[Measure]:
        """Yield the numbers it is followed by over evenings, where they are others than the one that is compared."""
        yield from ()

    @property
    def series(self) -> tuple[str, ...]:
        """What distinguishes it from others of its kind that are not of the same thing: the parts it names."""
        return tuple(self.parts_named())

    def parts_named(self) -> Iterator[PartId]:
        """Yield the parts it names: its `part`, where it has one."""
        part: PartId | None = getattr(self, "part", None)
        if part:
            yield part


def serves_words(kind: type[Observation]) -> str:
    """Return what a kind of observation is for."""
    if kind.calibrates.id:
        return say("Calibrates {what}.", what=str(kind.calibrates))
    return say("Compared with the prediction where there is one; it calibrates no value.")
