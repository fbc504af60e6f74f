"""The stations there are, in the order of the work: what lists them is derived from here."""

from dataclasses import dataclass
from importlib import import_module

from farrail.language import N_, Message
from farrail.ui.stations.station import Station


@dataclass(frozen=True)
class StationEntry:
    """A station by name; its module is loaded, and its panel made, when it is first shown.

    Attributes:
        key: its stable name.
        title: what its tab says.
        place: the module and the class of its panel.
        needs_room: while it is in front, the rail folds to a strip unless a person opens it.
        least_px: how high it is read in, its tabs with it: so much it has where the rail is open.
        good_px: how high it would be, where the rail then has its own least; 0: no more.
    """

    key: str
    title: Message
    place: str
    needs_room: bool = False
    least_px: int = 420
    good_px: int = 0

    def load(self) -> type[Station]:
        """Return the class of its panel."""
        module, _, name = self.place.partition(":")
        found: type[Station] = getattr(import_module(f"farrail.ui.stations.{module}"), name)
        return found


STATIONS = (
    StationEntry("parts", N_("Parts"), "parts:PartsStation", needs_room=True),
    StationEntry("spacing", N_("Spacing"), "spacing:SpacingStation", least_px=360),
    StationEntry("light", N_("Vignetting"), "light:LightStation", good_px=512),
    StationEntry("front", N_("Filters"), "front:FrontStation", good_px=512),
    StationEntry("close_up", N_("Close-up"), "close_up:CloseUpStation", least_px=510),
    StationEntry("exposure", N_("Exposure"), "exposure:ExposureStation", good_px=512),
    StationEntry("build", N_("Assembly"), "build:BuildStation", needs_room=True),
    StationEntry("log", N_("Log"), "log:LogStation", needs_room=True),
    StationEntry("compare", N_("Compare"), "compare:CompareStation", needs_room=True),
)
# The one in front when nothing else is remembered.
FIRST = "spacing"
