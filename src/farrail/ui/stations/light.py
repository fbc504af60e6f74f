"""The Light station: what darkens which corner, how wide apertures must be, for every camera and both ways round."""

import numpy as np
from PySide6.QtCore import QPoint, Signal
from PySide6.QtGui import QCursor
from PySide6.QtWidgets import (
    QCheckBox,
    QHBoxLayout,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from farrail.language import say
from farrail.planning.cameras import all_my_cameras, with_camera
from farrail.planning.flipping import both_ways
from farrail.readouts.light.aperture_images import Point
from farrail.readouts.light.bundles import Bundle, bundle_to
from farrail.readouts.light.model import Light
from farrail.train.train import Train
from farrail.ui.selection import Selection
from farrail.ui.session import Session
from farrail.ui.stations.field_page import FieldPage
from farrail.ui.stations.light_words import camera_row, clearance_row, sentences, way_rows
from farrail.ui.stations.station import BESIDE_PICTURE_PX, Headline, PageStack, Station, beside_picture
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.ledger_rows import Column
from farrail.ui.widgets.need_line import NeedLine
from farrail.ui.widgets.page_tabs import PageTabs
from farrail.ui.widgets.photo_bar import PhotoBar
from farrail.ui.widgets.photo_frame import PhotoFrame
from farrail.ui.widgets.photo_window import PhotoWindow
from farrail.ui.widgets.plain import Label
from farrail.ui.widgets.profile_plot import ProfilePlot
from farrail.ui.widgets.row_keys import PartKey, RowKey, ShareKey, WayKey
from farrail.ui.widgets.thumbnails import Thumbnails
from farrail.ui.widgets.try_slider import TrySlider
from farrail.ui.widgets.working import show_working
from farrail.units import stops_lost
from farrail.workbook.edits.laying import FlipPart
from farrail.workbook.edits.trains import SetCamera

CLEARANCE, CAMERAS, ROUND, FIELD, CURVE = range(5)


class LightStation(Station):
    """Which part clips which corner, and by how much."""

    key = "light"
    # A bundle to draw on the rail, or None to take it away.
    probed = Signal(Bundle)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the station."""
        super().__init__(session, parent)
        self._headline, self._need = Headline("light", BESIDE_PICTURE_PX), NeedLine(session, "vignetting")
        self.map = PhotoFrame(session, "frame_map")
        self.bar = PhotoBar(self.map)
        self._probing = False
        self.map.probed.connect(self._probe)
        session.ranges_changed.connect(self._say_anew)
        self._plot = ProfilePlot()
        self._natural = QCheckBox(say("Include natural falloff (cos⁴)"))
        self._natural.setObjectName("light_natural")
        self._natural.setToolTip(
            say("Multiply in the optic's own cos⁴ falloff; it is no vignetting and is shown apart.")
        )
        self._natural.toggled.connect(self._show_natural)
        self.slider = TrySlider(session)
        below = QHBoxLayout()
        below.setSpacing(12)
        below.addWidget(self._natural)
        below.addWidget(self.slider, 1)
        left = QVBoxLayout()
        left.setSpacing(4)
        left.addWidget(self.map, 1)
        left.addWidget(self.bar)
        left.addLayout(below)
        right = QVBoxLayout()
        right.setSpacing(6)
        right.addWidget(self._headline)
        right.addWidget(self._need)
        right.addLayout(self._tables(), 1)
        said = beside_picture(self, left, right)
        self.map.fill_wanted.connect(lambda: said.setVisible(said.isHidden()))
        self.map.window_wanted.connect(lambda: PhotoWindow(session, self.map, self).show())

    def _tables(self) -> QVBoxLayout:
        self.table = Ledger(
            "clearance", say("Clear diameter needed at each aperture"),
            (
                Column(say("Aperture")), Column(say("needs"), True, 52, 0, lengths=True),
                Column(say("has"), True, 70, 67, lengths=True), Column(say("margin"), True, 102, 88, lengths=True),
                Column(say("stops"), True, 84, 77), Column(say("last"), True, 50, 0),
            ),
        )  # fmt: skip
        self.table.row_activated.connect(self._activate)
        self.table.row_picked.connect(self._pick)
        self.cameras = Ledger(
            "all_cameras",
            say("This train for every camera"),
            (
                Column(say("Camera")),
                Column(say("stops"), True, 66),
                Column(say("margin"), True, 60, 0, lengths=True),
                Column(say("covered"), True, 64),
                Column(say("spacing"), True, 66, lengths=True),
            ),
        )
        self.cameras.row_activated.connect(self._use_camera)
        self._thumbnails = Thumbnails(self.session, self.cameras)
        self.ways = Ledger(
            "both_ways",
            say("Both directions"),
            (
                Column(say("Wheel or drawer")),
                Column("", True, 92, said=say("as is")),
                Column("", True, 104, said=say("turned")),
            ),
        )
        self._advice = Label()
        self._advice.setObjectName("turn_advice")
        self._advice.setWordWrap(True)
        self._turn = QPushButton(say("Reverse the wheel or drawer"))
        self._turn.setObjectName("turn_round")
        self._turn.clicked.connect(self._turn_round)
        self.field = FieldPage(self.session)
        self._tabs = PageTabs(
            (
                (say("Apertures"), "show_clearance"),
                (say("All cameras"), "show_cameras"),
                (say("Reversed"), "show_ways"),
                (say("Field"), "show_field"),
                (say("Curve"), "show_curve"),
            )
        )
        self._tabs.chosen.connect(self.show_table)
        self._stack = PageStack()
        for widget in (self.table, self.cameras, self._ways_page(), self.field, self._plot):
            self._stack.addWidget(widget)
        box = QVBoxLayout()
        box.setSpacing(2)
        box.addWidget(self._tabs)
        box.addWidget(self._stack, 1)
        return box

    def _ways_page(self) -> QWidget:
        page = QWidget()
        box = QVBoxLayout(page)
        box.setContentsMargins(0, 6, 0, 0)
        box.addWidget(self._advice)
        box.addWidget(self.ways, 1)
        row = QHBoxLayout()
        row.addWidget(self._turn)
        row.addStretch(1)
        box.addLayout(row)
        return page

    def show_table(self, number: int) -> None:
        """Bring apertures (0), cameras (1), both ways (2), the field (3) or the curve (4) to the front."""
        self._stack.setCurrentIndex(number)
        self._tabs.choose(number)
        self._refresh_table()

    def _light(self) -> Light | None:
        readout = self.session.readout
        return None if readout is None or readout.light.corner_mm is None else readout.light

    def refresh(self) -> None:
        """Show the light of the train in view."""
        light = self._light()
        self.map.show_readout(self.session.readout)
        self.bar.refresh()
        self._plot.show_light(light, quick=self.session.dragging)
        self.slider.refresh()
        if light is None:
            self._headline.say(say("No sensor to judge by."), say("Add a camera at the end of the train."))
        else:
            self._headline.say(*self._said(light))
        if not self.session.dragging:
            self.rest_later()

    def refresh_rest(self) -> None:
        """Show the table in front."""
        self._refresh_table()
        self._need.refresh()

    def follow_selection(self) -> None:
        """Offer what the picked part has to try."""
        self.slider.refresh()
        self._need.refresh()

    def _said(self, light: Light) -> tuple[str, str]:
        """Return the headline and what is under it, with the values entered."""
        return sentences(light, self.session.range_report)

    def _say_anew(self) -> None:
        light = self._light()
        # What is shown of the place under the pointer stays until the pointer leaves.
        if light is not None and not self.session.dragging and not self._probing:
            self._headline.say(*self._said(light))
            self._refresh_table()

    def _refresh_table(self) -> None:
        """Bring the table in front up to date; the others wait until they are looked at."""
        light, train, shelf = self._light(), self.session.train, self.session.workbook.by_id
        number, readout = self._stack.currentIndex(), self.session.readout
        if light is None or train is None or readout is None:
            for table in (self.table, self.cameras, self.ways):
                table.set_rows([])
            self.field.clear()
            self._advice.setText("")
            self._turn.setEnabled(False)
            return
        if number == CLEARANCE:
            rows = [clearance_row(light, n + 1, self.session.range_report) for n in range(len(light.clearances))]
            self.table.set_rows(rows)
        elif number == CAMERAS:
            cameras = all_my_cameras(train, shelf)
            self.cameras.set_rows([camera_row(c, c.camera.id == train.camera) for c in cameras])
            trains: dict[RowKey, Train] = {PartKey(c.camera.id): with_camera(train, c.camera.id) for c in cameras}
            self._thumbnails.ask(trains, [train], self.map.settings_for(readout))
        elif number == CURVE:
            return
        elif number == ROUND:
            both = both_ways(train, shelf)
            self.ways.set_rows([row for one in both for row in way_rows(one)])
            text = " ".join(one.text for one in both)
            self._advice.setText(text or say("There is no drawer or wheel with a filter behind the datum."))
            self._turn.setEnabled(bool(both))
        else:
            self.field.refresh()

    def end(self) -> None:
        """Give up what is under way: the window is closing."""
        self.map.end()
        self.field.mosaic.work.end()
        self._thumbnails.work.end()
        self._need.work.end()

    def _show_natural(self, wanted: bool) -> None:
        self.map.set_natural(wanted)
        self._plot.set_natural(wanted)

    def _probe(self, place: Point | None) -> None:
        """Say of the place under the pointer, and draw its bundle on the rail."""
        light = self._light()
        self._probing = light is not None and place is not None
        if light is None or place is None:
            self._headline.detail.setText("" if light is None else self._said(light)[1])
            self.probed.emit(None)
            return
        ri = float(light.light_at(np.array([place]))[0])
        lost = (
            say("dark")
            if ri <= 0.0
            else say("{ri:.0f} %, {stops_lost:.2f} stops", ri=100 * ri, stops_lost=stops_lost(ri))
        )
        clipping = [
            light.placed[n].part.name for n, image in enumerate(light.images)
            if light.clearances[n].clips and light.takes_at(image, place)
        ]  # fmt: skip
        names = say(", clipped by {listed}", listed=", ".join(dict.fromkeys(clipping))) if clipping else ""
        self._headline.detail.setText(
            say("{hypot:.1f mm} from the axis: {lost}{names}", hypot=np.hypot(*place), lost=lost, names=names)
        )
        self.probed.emit(bundle_to(light, place))

    def _activate(self, key: RowKey | None, column: int) -> None:
        readout = self.session.readout
        at = QCursor.pos() if self.table.underMouse() else self.table.mapToGlobal(QPoint(200, 40))
        if readout is not None and isinstance(key, ShareKey):
            show_working(self.session.figure(f"light.needed.{key.number}.{key.part}_mm"), self, at)

    def _pick(self, key: RowKey | None) -> None:
        """Point at the aperture's part on the rail."""
        train, light = self.session.train, self._light()
        if train is None or light is None or not isinstance(key, ShareKey):
            return
        placed = light.placed[key.number - 1]
        self.slider.offer_aperture(placed)
        if 0 <= placed.index < len(train.row(placed.side)):
            self.session.select(Selection(placed.side, placed.index))

    def _use_camera(self, key: RowKey | None, column: int) -> None:
        """Put the activated camera on the train."""
        train = self.session.train
        if train is not None and isinstance(key, PartKey):
            name = self.session.workbook.by_id[key.part].name
            self.session.do(SetCamera(train.id, key.part, label=say("Use {name}", name=name)))

    def _turn_round(self) -> None:
        """Turn the housing of the picked row round, the first one when none is picked."""
        train, key = self.session.train, self.ways.current_key()
        if train is None or not self.ways.ledger.rows:
            return
        found = key if isinstance(key, WayKey) else self.ways.ledger.rows[0].key
        if isinstance(found, WayKey):
            name = self.session.workbook.by_id[train.rear_train[found.index].part].name
            self.session.do(FlipPart(train.id, found.index, label=say("Turn {name} round", name=name)))
