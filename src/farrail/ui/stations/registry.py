"""The stations there are, in the order of the work: what lists them is derived from here."""

from farrail.ui.stations.build import BuildStation
from farrail.ui.stations.close_up import CloseUpStation
from farrail.ui.stations.compare import CompareStation
from farrail.ui.stations.exposure import ExposureStation
from farrail.ui.stations.front import FrontStation
from farrail.ui.stations.light import LightStation
from farrail.ui.stations.log import LogStation
from farrail.ui.stations.parts import PartsStation
from farrail.ui.stations.spacing import SpacingStation
from farrail.ui.stations.station import Station

STATIONS: tuple[type[Station], ...] = (
    PartsStation,
    SpacingStation,
    LightStation,
    FrontStation,
    CloseUpStation,
    ExposureStation,
    BuildStation,
    LogStation,
    CompareStation,
)
# The one in front when nothing else is remembered.
FIRST = SpacingStation.key
