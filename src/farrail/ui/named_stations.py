"""The stations of a window by name, each made when it is first asked for."""

from typing import TYPE_CHECKING, cast

from farrail.ui.station_stack import StationStack

if TYPE_CHECKING:
    from farrail.ui.stations.build import BuildStation
    from farrail.ui.stations.close_up import CloseUpStation
    from farrail.ui.stations.exposure import ExposureStation
    from farrail.ui.stations.front import FrontStation
    from farrail.ui.stations.light import LightStation
    from farrail.ui.stations.log import LogStation
    from farrail.ui.stations.parts import PartsStation
    from farrail.ui.stations.spacing import SpacingStation


class NamedStations:
    """What a window with stations is asked for them by."""

    stations: StationStack

    @property
    def parts(self) -> "PartsStation":
        """The Parts station."""
        return cast("PartsStation", self.stations.station("parts"))

    @property
    def spacing(self) -> "SpacingStation":
        """The Spacing station."""
        return cast("SpacingStation", self.stations.station("spacing"))

    @property
    def light(self) -> "LightStation":
        """The Vignetting station."""
        return cast("LightStation", self.stations.station("light"))

    @property
    def front(self) -> "FrontStation":
        """The Filters station."""
        return cast("FrontStation", self.stations.station("front"))

    @property
    def close_up(self) -> "CloseUpStation":
        """The Close-up station."""
        return cast("CloseUpStation", self.stations.station("close_up"))

    @property
    def exposure(self) -> "ExposureStation":
        """The Exposure station."""
        return cast("ExposureStation", self.stations.station("exposure"))

    @property
    def build(self) -> "BuildStation":
        """The Assembly station."""
        return cast("BuildStation", self.stations.station("build"))

    @property
    def log(self) -> "LogStation":
        """The Log station."""
        return cast("LogStation", self.stations.station("log"))
