"""The Exposure station: what the train costs in light, how to pay for it, and a timer for long times."""

from PySide6.QtWidgets import QComboBox, QHBoxLayout, QVBoxLayout, QWidget

from farrail.errors import FarRailError
from farrail.language import say
from farrail.optics.exposure import parse_time_s, time_words
from farrail.parts.origin import Origin
from farrail.readouts.exposure.model import USUAL_ISO, Exposure
from farrail.readouts.front.graduated import graduated_choice
from farrail.readouts.front.graduated_words import choice_words
from farrail.ui.session import Session
from farrail.ui.stations.exposure_words import ladder_rows, payment_rows, sentences, time_interval
from farrail.ui.stations.station import Headline, Station
from farrail.ui.widgets.countdown import Countdown
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.ledger_rows import Column
from farrail.ui.widgets.photo_frame import PhotoFrame
from farrail.ui.widgets.plain import Label
from farrail.ui.widgets.short_field import short_field
from farrail.workbook.edits.shelf import parse_reading
from farrail.workbook.edits.trains import SetGuideNumber, SetMetered


class ExposureStation(Station):
    """What all of it costs in light."""

    key = "exposure"

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the station."""
        super().__init__(session, parent)
        session.ranges_changed.connect(self._say_anew)
        self._headline = Headline("exposure")
        self.metered = short_field("metered_time", say("Time metered without filters"), "1/60", 78)
        self.metered.editingFinished.connect(self._keep)
        self.iso = short_field(
            "metered_iso", say("Sensitivity it was metered at"), say("{usual_iso:g}", usual_iso=USUAL_ISO), 62
        )
        self.iso.editingFinished.connect(self._keep)
        self.through = short_field("time_through", say("Time metered through the filters"), "4 s", 68)
        self.through.editingFinished.connect(self._back)
        fields = QHBoxLayout()
        fields.setSpacing(6)
        words = (
            (say("without filters"), self.metered),
            (say("at ISO"), self.iso),
            (say("or with"), self.through),
        )
        for word, field in words:
            fields.addWidget(Label(word))
            fields.addWidget(field)
        fields.addStretch(1)
        self.ways = Ledger(
            "payments",
            say("Ways to compensate"),
            (Column(say("Compensate with")), Column(say("bare"), True, 76), Column(say("in all"), True, 178)),
        )
        self.ways.edited.connect(self._guide)
        self.ways.verticalHeader().setDefaultSectionSize(22)
        self.countdown = Countdown()
        self.countdown.ended.connect(self._over)
        left = QVBoxLayout()
        left.setSpacing(10)
        left.addWidget(self._headline)
        left.addLayout(fields)
        left.addWidget(self.ways, 1)
        left.addWidget(self.countdown)
        self.ladder = Ledger(
            "ladder", say("Light loss, from the scene to the sensor"),
            (
                Column(say("From scene to sensor")), Column(say("stops"), True, 97), Column(say("sky"), True, 58, 0),
                Column(say("setting"), False, 122, 0),
            ),
        )  # fmt: skip
        sheet = QHBoxLayout(self)
        sheet.setContentsMargins(18, 14, 20, 8)
        sheet.setSpacing(24)
        sheet.addLayout(left, 11)
        sheet.addLayout(self._right(), 10)

    def _right(self) -> QVBoxLayout:
        """Return the ladder, with the choice of a graduated filter under it."""
        self.sky = short_field("metered_sky", say("Time metered for the sky"), "1/250", 70)
        self.ground = short_field("metered_ground", say("Time metered for the ground"), "1/30", 70)
        self.horizon = QComboBox()
        self.horizon.setObjectName("horizon")
        self.horizon.setAccessibleName(say("Whether anything breaks the horizon"))
        self.horizon.addItems([say("straight horizon"), say("broken horizon")])
        self.horizon.currentIndexChanged.connect(self._choose_graduated)
        for field in (self.sky, self.ground):
            field.editingFinished.connect(self._choose_graduated)
        self._graduated = Label()
        self._graduated.setObjectName("graduated_choice")
        self._graduated.setProperty("role", "steel")
        self._graduated.setWordWrap(True)
        self.photo = PhotoFrame(self.session, "exposure_photo", ("ends",))
        self.photo.made_changed.connect(self._say_ends)
        self._ends = Label()
        self._ends.setObjectName("exposure_ends")
        self._ends.setProperty("role", "steel")
        self._ends.setWordWrap(True)
        beside = QHBoxLayout()
        beside.setSpacing(12)
        beside.addWidget(self.photo, 5)
        beside.addWidget(self._ends, 3)
        row = QHBoxLayout()
        row.setSpacing(8)
        for widget in (Label(say("Sky")), self.sky, Label(say("ground")), self.ground, self.horizon):
            row.addWidget(widget)
        row.addStretch(1)
        box = QVBoxLayout()
        box.setSpacing(6)
        box.addWidget(self.ladder, 4)
        box.addLayout(beside, 4)
        box.addLayout(row)
        box.addWidget(self._graduated)
        return box

    # Keeping up

    def _exposure(self) -> Exposure | None:
        readout = self.session.readout
        return None if readout is None else readout.exposure

    def refresh(self) -> None:
        """Show what the train in view costs."""
        exposure, train = self._exposure(), self.session.train
        if exposure is None or train is None:
            self._headline.say(say("No train in view."), say("Start one from the train menu."))
            self.ladder.set_rows([])
            self.ways.set_rows([])
            self.countdown.offer(None)
            return
        if not self.session.dragging:
            self._headline.say(*sentences(exposure, self.session.range_report))
            self.rest_later()

    def refresh_rest(self) -> None:
        """Show the figures, what was metered and what suits it."""
        exposure, train = self._exposure(), self.session.train
        if exposure is None or train is None:
            return
        self._say_anew()
        kept = train.conditions
        self.metered.setText("" if kept.metered_s is None else time_words(kept.metered_s))
        self.iso.setText("" if kept.metered_iso is None else say("{metered_iso:g}", metered_iso=kept.metered_iso))
        self.through.clear()
        self._choose_graduated()
        self.photo.show_readout(self.session.readout)

    def _say_ends(self) -> None:
        ends = self.photo.ends_words()
        self._ends.setText(
            say("Metered on the ground without filters, exposed longer by what they cost. Striped: {ends}.", ends=ends)
            if ends
            else ""
        )

    def end(self) -> None:
        """Give up what is under way: the window is closing."""
        self.photo.end()

    def _say_anew(self) -> None:
        """Show headline and ladder with the intervals that are worked out."""
        exposure, readout = self._exposure(), self.session.readout
        if exposure is not None and readout is not None and not self.session.dragging:
            self._headline.say(*sentences(exposure, self.session.range_report))
            self.ladder.set_rows(ladder_rows(exposure, self.session.ranged(readout.exposure_figures)))
            self.ways.set_rows(payment_rows(exposure, self.session.range_report))
            self.countdown.offer(self._long_time_s(exposure), time_interval(exposure, self.session.range_report))

    def _choose_graduated(self) -> None:
        """Say which graduated filter suits sky and ground as metered."""
        readout, sky, ground = self.session.readout, self.sky.text().strip(), self.ground.text().strip()
        if readout is None or not (sky and ground):
            self._graduated.setText(say("Meter sky and ground apart to choose a graduated filter."))
            return
        try:
            broken = self.horizon.currentIndex() == 1
            choice = graduated_choice(readout.front, parse_time_s(sky), parse_time_s(ground), broken=broken)
        except FarRailError as error:
            self._graduated.setText(str(error))
            return
        self._graduated.setText(choice_words(choice))

    def _long_time_s(self, exposure: Exposure) -> float | None:
        """Return the time to count down: that of an exposure held by hand."""
        try:
            return exposure.time_s if exposure.by_hand else None
        except FarRailError:
            return None

    # Hands

    def _keep(self) -> None:
        """Keep what was metered."""
        train = self.session.train
        if train is None:
            return
        kept, text, iso_text = train.conditions, self.metered.text().strip(), self.iso.text().strip()
        try:
            shown = "" if kept.metered_s is None else time_words(kept.metered_s)
            time_s = kept.metered_s if text == shown else parse_time_s(text) if text else None
            iso = parse_reading(iso_text, Origin.MEASURED).value if iso_text else None
        except FarRailError as error:
            self._refuse(error)
            return
        if (time_s, iso) != (kept.metered_s, kept.metered_iso):
            self.session.do(SetMetered(train.id, time_s, iso))

    def _back(self) -> None:
        """Work back from a time metered through everything."""
        train, exposure, text = self.session.train, self._exposure(), self.through.text().strip()
        if train is None or exposure is None or not text:
            return
        try:
            time_s = exposure.metered_from(parse_time_s(text))
        except FarRailError as error:
            self._refuse(error)
            return
        self.session.do(SetMetered(train.id, time_s, train.conditions.metered_iso))

    def _guide(self, _key: object, _column: int, text: str) -> None:
        """Keep a flash's guide number."""
        train = self.session.train
        if train is None:
            return
        try:
            number = parse_reading(text, Origin.MEASURED).value if text.strip() else None
        except FarRailError as error:
            self._refuse(error)
            return
        self.session.do(SetGuideNumber(train.id, number))

    def _refuse(self, error: FarRailError) -> None:
        self.session.message.emit(str(error), True)
        self.refresh()

    def _over(self, seconds: float) -> None:
        self.session.message.emit(
            say("Close the shutter: {time_words} are over.", time_words=time_words(seconds)), False
        )
