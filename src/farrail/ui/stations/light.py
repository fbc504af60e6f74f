"""The Light station: what darkens the corner, and how wide each aperture would have to be."""

from collections.abc import Hashable

from PySide6.QtCore import QPoint
from PySide6.QtGui import QCursor
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from farrail.readouts.light import Clearance, Light
from farrail.train.train import Side
from farrail.ui.session import Selection, Session
from farrail.ui.stations.station import Headline, Station
from farrail.ui.widgets.frame_map import FrameMap
from farrail.ui.widgets.ledger import Cell, Column, Ledger, Row
from farrail.ui.widgets.profile_plot import ProfilePlot
from farrail.ui.widgets.working import FigureLine, figure_text, show_working


class LightStation(Station):
    """Which part clips the corner, and by how much."""

    title = "Light"

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Lay the station out."""
        super().__init__(session, parent)
        self._headline = Headline("light")
        self._map = FrameMap()
        self._plot = ProfilePlot()
        self._figures = {
            "light.corner_ri": FigureLine("Corner RI", "light_corner_ri"),
            "light.corner_stops": FigureLine("Lost", "light_corner_stops"),
            "light.f_number": FigureLine("At", "light_f_number"),
            "light.exit_pupil_mm": FigureLine("Exit pupil", "light_exit_pupil"),
        }
        lines = QHBoxLayout()
        lines.setSpacing(16)
        for line in self._figures.values():
            lines.addWidget(line)
        lines.addStretch(1)
        pictures = QHBoxLayout()
        pictures.setSpacing(20)
        pictures.addWidget(self._map, 5)
        pictures.addWidget(self._plot, 6)
        left = QVBoxLayout()
        left.setSpacing(6)
        left.addWidget(self._headline)
        left.addLayout(lines)
        left.addLayout(pictures, 1)
        self.table = Ledger(
            "clearance", "Clear diameter needed at each aperture",
            (
                Column("Aperture"), Column("needs", True, 52, 0), Column("has", True, 68, 62),
                Column("margin", True, 58), Column("stops", True, 58, 52),
            ),
        )  # fmt: skip
        self.table.row_activated.connect(self._activate)
        self.table.row_picked.connect(self._pick)
        sheet = QHBoxLayout(self)
        sheet.setContentsMargins(18, 16, 20, 10)
        sheet.setSpacing(24)
        sheet.addLayout(left, 10)
        sheet.addWidget(self.table, 10)

    def refresh(self) -> None:
        """Show the light of the train in view."""
        readout = self.session.readout
        light = None if readout is None or readout.light.corner_mm is None else readout.light
        for key, line in self._figures.items():
            figure = None if light is None else light.figures.get(key)
            line.set_figure(figure, None if figure is None else _text(key, figure_text(figure)))
        self._map.show_light(light)
        self._plot.show_light(light)
        if light is None:
            self._headline.say("No sensor to judge by.", "Lay a camera at the end of the train.")
            self.table.set_rows([])
            return
        self._headline.say(*_sentences(light))
        self.table.set_rows([_row(c, c is light.first_to_clip, n) for n, c in enumerate(light.clearances, start=1)])

    def _activate(self, key: Hashable, column: int) -> None:
        readout = self.session.readout
        at = QCursor.pos() if self.table.underMouse() else self.table.mapToGlobal(QPoint(200, 40))
        if readout is not None and isinstance(key, tuple):
            show_working(readout.figures.get(f"light.needed.{key[0]}.{key[1]}_mm"), self, at)

    def _pick(self, key: Hashable) -> None:
        """Point at the aperture's part on the rail."""
        train = self.session.train
        if train is None or not isinstance(key, tuple):
            return
        for side in Side:
            for index, laid in enumerate(train.row(side)):
                if key[1] in (laid.part, laid.filter_in_beam):
                    self.session.select(Selection(side, index))
                    return


def _text(key: str, text: str) -> str:
    if key == "light.f_number":
        return f"f/{text}".replace(".00", "")
    if key == "light.exit_pupil_mm":
        return text.replace(".00 mm", " mm")
    return text


def _sentences(light: Light) -> tuple[str, str]:
    first, tightest, ri = light.first_to_clip, light.tightest, light.corner_ri or 0.0
    behind = "Judged from the corrector's rear to the sensor." if light.layout.corrector is not None else ""
    if first is None:
        detail = ""
        if tightest is not None:
            name = f"{tightest.placed.part.name}, {tightest.placed.label}"
            detail = f"Tightest: {name}, with {tightest.margin_mm:.1f} mm to spare. "
        return "Nothing on this train darkens the corner.", detail + behind
    lost = "is dark" if ri <= 0.0 else f"keeps {100 * ri:.0f} % of its light"
    return (
        f"{first.placed.part.name} clips first: the corner {lost}.",
        f"It needs {first.needed_mm:.1f} mm clear and has {first.has_mm:.1f} mm. {behind}",
    )


def _row(c: Clearance, first: bool, number: int) -> Row:
    role = "stop" if c.clips else "look" if c.margin_mm < 1.0 else ""
    alone = "–" if not c.clips else "dark" if c.alone >= 1.0 else f"{c.alone_stops:.2f}"
    needs = f"{c.needed_mm:.1f}"
    cells = (
        Cell(f"{c.placed.part.name}, {c.placed.label}", strong=first, tip=f"{c.distance_mm:.1f} mm before the sensor"),
        Cell(needs, tip="at the worse end of its unknown place" if c.placed.place_unknown else ""),
        Cell(f"{c.has_mm:.1f}", origin=c.placed.diameter.origin, tip=c.placed.diameter.in_use.note),
        Cell(f"{c.margin_mm:+.1f}".replace("-", "−"), role, strong=c.clips),
        Cell(alone, role if c.clips else "steel", tip="lost in the corner to this aperture alone"),
    )
    return Row(cells, (number, c.placed.part.id))
