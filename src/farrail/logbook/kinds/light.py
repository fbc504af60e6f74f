"""What a meter says: how much light a filter takes."""

import math
from typing import Annotated, Literal

from pydantic import Field

from farrail.language import N_
from farrail.logbook.observation import Compared, Observation, Off, numbers
from farrail.parts.field_info import FieldInfo
from farrail.parts.inventory_item import PartId
from farrail.parts.kinds.filters import RoundFilter, SheetFilter
from farrail.parts.origin import Origin
from farrail.readouts.read import Readout

# Two readings of a meter in thirds of a stop are off by up to a sixth each; common practice, no source.
METER_OFF_STOPS = 1.0 / 3.0
Seconds = Annotated[float, Field(gt=0.0, le=86_400.0)]


class FilterStops(Observation):
    """Two readings of a meter, without a filter and with it, all else alike."""

    kind_name = N_("filter metered")
    calibrates = N_("the light the filter takes")
    rank = 75

    kind: Literal["filter_stops"] = "filter_stops"
    part: Annotated[PartId, FieldInfo("Filter", "", "")]
    without_s: Annotated[Seconds, FieldInfo("Time without it", "1/250 or 0.5", "s")]
    with_s: Annotated[Seconds, FieldInfo("Time with it", "At the same aperture and sensitivity", "s")]
    off_stops: Annotated[Off, FieldInfo("± stops", "", "stops")] = METER_OFF_STOPS

    @property
    def stops(self) -> float:
        """log2 of one time over the other."""
        return math.log2(self.with_s / self.without_s)

    @classmethod
    def suits(cls, readout: Readout) -> bool:
        """Whether the train has a filter."""
        return any(isinstance(part, RoundFilter | SheetFilter) for part in readout.layout.parts.values())

    def compared(self, readout: Readout) -> Compared | None:
        """Return the stops beside what the filter says of itself."""
        part = readout.layout.parts.get(self.part)
        loss = part.light_loss() if isinstance(part, RoundFilter | SheetFilter) else None
        if loss is None:
            return numbers(self.stops, None, "stops", 0.0, Origin.ASSUMED)
        # Of a graduated filter the dark part is metered.
        dark = loss.stops if loss.dark_stops is None else (loss.stops or 0.0) + loss.dark_stops
        return numbers(self.stops, dark, "stops", self.off_stops, loss.origin)
