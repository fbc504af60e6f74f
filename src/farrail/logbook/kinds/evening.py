"""What else an evening shows: where each filter focuses, dust, stray light, the cold, and what someone moved."""

from collections.abc import Iterator
from enum import StrEnum
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from farrail.language import N_
from farrail.logbook.observation import Compared, Corner, Measure, Observation, Off, numbers
from farrail.parts.field_info import FieldInfo
from farrail.parts.inventory_item import PartId
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.origin import Origin
from farrail.readouts.read import Readout
from farrail.readouts.spacing.parfocal import offset_um_of

# A focuser found by the smallest star is off by about so much at f/5; common practice, no source.
FOCUS_OFF_UM = 15.0
Celsius = Annotated[float, Field(ge=-60.0, le=60.0)]


class FilterFocus(Observation):
    """Where the focuser is with a filter, and with another one the same evening: the difference is the offset."""

    kind_name = N_("focus with a filter")
    calibrates = N_("the parfocal table")
    rank = 76

    kind: Literal["filter_focus"] = "filter_focus"
    part: Annotated[PartId, FieldInfo("Filter", "", "")]
    position_um: Annotated[
        Annotated[float, Field(ge=-1e6, le=1e6)],
        FieldInfo("Focuser with it", "As its scale says; larger is farther out", "µm"),
    ]
    beside: Annotated[PartId, FieldInfo("Beside filter", "The one it is compared with", "")]
    beside_um: Annotated[Annotated[float, Field(ge=-1e6, le=1e6)], FieldInfo("Focuser with that one", "", "µm")]
    temperature_c: Annotated[Celsius | None, FieldInfo("Temperature", "", "°C")] = None
    off_um: Annotated[Off, FieldInfo("± offset", "", "µm")] = FOCUS_OFF_UM

    @property
    def offset_um(self) -> float:
        """How far out the focuser goes from the other filter to this one."""
        return self.position_um - self.beside_um

    @classmethod
    def suits(cls, readout: Readout) -> bool:
        """Whether the train has more than one filter."""
        return sum(isinstance(part, RoundFilter) for part in readout.layout.parts.values()) > 1

    def compared(self, readout: Readout) -> Compared | None:
        """Return the offset beside the one that follows from both filters' glass."""
        expected = offset_um_of(readout.spacing, self.part, self.beside)
        return numbers(self.offset_um, expected, "µm", self.off_um, Origin.ASSUMED)

    def parts_named(self) -> Iterator[PartId]:
        """Yield both filters."""
        yield self.part
        yield self.beside


class DustSeen(Observation):
    """Dust or a smear found on a surface; flats taken before it are no longer valid."""

    kind_name = N_("dust seen")
    rank = 82
    only_words: ClassVar[bool] = True

    kind: Literal["dust_seen"] = "dust_seen"
    part: Annotated[PartId | None, FieldInfo("Part", "Whose glass it is on", "")] = None
    corners: Annotated[
        tuple[Corner, ...], Field(max_length=4), FieldInfo("Corners", "Where in the picture; none: middle")
    ] = ()


class Stray(StrEnum):
    """Light that should not be in the picture."""

    LEAK = "leak"
    REFLECTION = "reflection"
    HALO = "halo"
    FLARE = "flare"


class StrayLight(Observation):
    """Light that should not be in the picture, and where it seems to come from."""

    kind_name = N_("stray light")
    rank = 83
    only_words: ClassVar[bool] = True

    kind: Literal["stray_light"] = "stray_light"
    what: Annotated[Stray, FieldInfo("Event", "", "")] = Stray.REFLECTION
    part: Annotated[PartId | None, FieldInfo("Part", "Where it comes from, as far as one can say", "")] = None
    corners: Annotated[
        tuple[Corner, ...], Field(max_length=4), FieldInfo("Corners", "Where in the picture; none: middle")
    ] = ()


class Temperature(Observation):
    """How cold it was, for focus that drifts with it."""

    kind_name = N_("temperature")
    rank = 84

    kind: Literal["temperature"] = "temperature"
    celsius: Annotated[Celsius, FieldInfo("Temperature", "", "°C")]
    position_um: Annotated[
        Annotated[float, Field(ge=-1e6, le=1e6)] | None, FieldInfo("Focuser", "Where it was in focus", "µm")
    ] = None

    def measures(self) -> Iterator[Measure]:
        """Yield the temperature, and where focus was in it."""
        yield Measure(N_("temperature"), self.celsius, 0.0, "°C")
        if self.position_um is not None:
            yield Measure(N_("best focus"), self.position_um, 0.0, "µm", common=True)


class Change(StrEnum):
    """What someone did to a train."""

    CAMERA_OFF = "camera_off"
    ROTATED = "rotated"
    SPACING = "spacing"
    CLEANED = "cleaned"
    FILTERS = "filters"
    OTHER = "other"


class Moved(Observation):
    """Something was moved, taken off or cleaned; flats taken before it are no longer valid."""

    kind_name = N_("something moved")
    rank = 85
    only_words: ClassVar[bool] = True

    kind: Literal["moved"] = "moved"
    what: Annotated[Change, FieldInfo("Event", "", "")] = Change.CAMERA_OFF
    part: Annotated[PartId | None, FieldInfo("Part", "", "")] = None
