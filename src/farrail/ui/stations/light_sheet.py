"""Frame map and profile side by side, for a picture of a train's light."""

from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from farrail.language import say
from farrail.ui.session import Session
from farrail.ui.stations.light_words import sentences
from farrail.ui.theme.fonts import STRONG, font
from farrail.ui.widgets.frame_map import FrameMap
from farrail.ui.widgets.plain import Label
from farrail.ui.widgets.profile_plot import ProfilePlot


class LightSheet(QWidget):
    """The light of the train in view, as a sheet without controls."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the sheet and fill it."""
        super().__init__(parent)
        readout = session.readout
        light = None if readout is None or readout.light.corner_mm is None else readout.light
        title = Label(say("No sensor to judge by.") if light is None else sentences(light)[0])
        title.setFont(font(19, STRONG))
        frame, plot = FrameMap(), ProfilePlot()
        frame.show_light(light)
        frame.finish()
        plot.show_light(light)
        pictures = QHBoxLayout()
        pictures.setSpacing(30)
        pictures.addWidget(frame, 5)
        pictures.addWidget(plot, 6)
        box = QVBoxLayout(self)
        box.setContentsMargins(24, 18, 24, 18)
        box.addWidget(title)
        box.addLayout(pictures, 1)
