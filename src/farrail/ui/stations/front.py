"""The Front station: what the stack ahead of the lens darkens, from where it is clean, and what would fix it."""

from collections.abc import Iterator

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QSlider,
    QVBoxLayout,
    QWidget,
)

from farrail.errors import FarRailError
from farrail.language import say, say_n
from farrail.lengths import as_shown
from farrail.optics.exposure import density_of_stops
from farrail.parts.kinds.ahead import FilterHolder
from farrail.parts.origin import Origin
from farrail.planning.offers import Offer
from farrail.planning.remedies import Remedy, remedies_for
from farrail.planning.turning import turning_of
from farrail.readouts.front.graduated_words import left_words
from farrail.readouts.front.model import Front
from farrail.readouts.front.sheets import graduated_strength_stops, sheets_in
from farrail.readouts.limits import CLEAN_STOPS
from farrail.readouts.read import read
from farrail.train.rows import with_parts
from farrail.train.train import Side, Train
from farrail.ui.background_task import BackgroundTask, Same
from farrail.ui.session import Session
from farrail.ui.stations.front_words import (
    remedy_row,
    sentences,
    sheet_rows,
    turning_words,
)
from farrail.ui.stations.ring_page import RingPage
from farrail.ui.stations.sky_page import SkyPage
from farrail.ui.stations.station import BESIDE_PICTURE_PX, Headline, PageStack, Station, beside_picture
from farrail.ui.widgets.front_view import FrontView
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.ledger_rows import Column
from farrail.ui.widgets.need_line import NeedLine
from farrail.ui.widgets.number_field import NumberField
from farrail.ui.widgets.page_tabs import PageTabs
from farrail.ui.widgets.photo_bar import PhotoBar
from farrail.ui.widgets.photo_frame import PhotoFrame
from farrail.ui.widgets.photo_window import PhotoWindow
from farrail.ui.widgets.plain import Label
from farrail.ui.widgets.read_out import told_in
from farrail.ui.widgets.row_keys import Nth, RowKey, SheetKey
from farrail.ui.widgets.sweep_plot import SweepPlot
from farrail.ui.widgets.thumbnails import Thumbnails
from farrail.workbook.edits.front import LayStack, SlideSheet
from farrail.workbook.edits.laying import TurnPart
from farrail.workbook.edits.shelf import parse_reading
from farrail.workbook.edits.trains import SetFocal
from farrail.workbook.history import Edit

REMEDIES, SHEETS, SKY, RINGS, VIEW, CURVE = range(6)
STEPS = 400


class FrontStation(Station):
    """Does what is ahead of the lens show in the picture."""

    key = "front"

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the station."""
        super().__init__(session, parent)
        session.ranges_changed.connect(self._say_anew)
        self._remedies: tuple[Remedy, ...] = ()
        self._headline, self._need = Headline("front", BESIDE_PICTURE_PX), NeedLine(session, "filters")
        self._view, self._plot = FrontView(), SweepPlot()
        self.picture = PhotoFrame(session, "front_picture")
        self.bar = PhotoBar(self.picture)
        self.zoom = self._slider("front_zoom", say("Focal length"))
        self.zoom.valueChanged.connect(self._zoom)
        self.turn = self._slider("front_turn", say("Holder's angle"))
        self.turn.setRange(-90, 90)
        self.turn.valueChanged.connect(self._turn)
        self._zoom_text = NumberField(
            session, "front_zoom_text", say("Focal length, typed"), "focal_mm", 1.0, self._zoom_to, 86
        )
        self._turn_text = NumberField(
            session, "front_turn_text", say("Holder's angle, typed"), "turn_deg", 1.0, self._turn_to, 62
        )
        told_in(self.zoom, self._zoom_text)
        told_in(self.turn, self._turn_text)
        self._zoom_word, self._turn_word = Label(say("Zoom")), Label(say("Turn holder"))
        self._zoom_word.setBuddy(self._zoom_text)
        self._turn_word.setBuddy(self._turn_text)
        sliders = QHBoxLayout()
        sliders.setSpacing(8)
        for widget, stretch in (
            (self._zoom_word, 0), (self.zoom, 3), (self._zoom_text, 0), (self._turn_word, 0), (self.turn, 2),
            (self._turn_text, 0),
        ):  # fmt: skip
            sliders.addWidget(widget, stretch)
        self._turning = Label()
        self._turning.setObjectName("front_turning")
        self._turning.setProperty("role", "steel")
        self._turning.setWordWrap(True)
        left = QVBoxLayout()
        left.setSpacing(4)
        left.addWidget(self.picture, 1)
        left.addWidget(self.bar)
        left.addLayout(sliders)
        right = QVBoxLayout()
        right.setSpacing(6)
        right.addWidget(self._headline)
        right.addWidget(self._need)
        right.addLayout(self._tables(), 1)
        self._work = BackgroundTask(self._question, self)
        self._work.answered.connect(self._show_remedies)
        self._work.outdated.connect(self._no_remedies)
        self._work.failed.connect(lambda error: self.session.tell_failure(error, say("The search for fixes")))
        said = beside_picture(self, left, right)
        self.picture.fill_wanted.connect(lambda: said.setVisible(said.isHidden()))
        self.picture.window_wanted.connect(lambda: PhotoWindow(session, self.picture, self).show())

    def _slider(self, name: str, title: str) -> QSlider:
        slider = QSlider(Qt.Orientation.Horizontal)
        slider.setObjectName(name)
        slider.setAccessibleName(title)
        slider.sliderPressed.connect(self.session.begin_drag)
        slider.sliderReleased.connect(self.session.end_drag)
        return slider

    def _tables(self) -> QVBoxLayout:
        self.remedies = Ledger(
            "front_remedies", say("Fix"),
            (
                Column(say("Fix")), Column(say("free from (mm)"), True, 92), Column(say("now"), True, 56),
                Column(say("depth (mm)"), True, 48, 0, lengths=True),
            ),
        )  # fmt: skip
        self.remedies.row_picked.connect(self._pick)
        self._thumbnails = Thumbnails(self.session, self.remedies)
        self.picture.marks_changed.connect(self._ask_thumbnails)
        self.remedies.row_activated.connect(lambda *_: self._apply())
        self.sheets = Ledger(
            "front_sheets",
            say("Filters in their slots"),
            (
                Column(say("Square filter")),
                Column(say("up"), True, 44, lengths=True),
                Column(say("line"), False, 150, 0),
                Column(say("needs"), True, 92),
            ),
        )
        self.sheets.edited.connect(self._slide)
        self.rings, self.sky = RingPage(self.session), SkyPage(self.session)
        self._tabs = PageTabs(
            (
                (say("Fixes"), "show_remedies"),
                (say("Filter size"), "show_sheets"),
                (say("Sky"), "show_sky", say("Polarised sky")),
                (say("Rings"), "show_rings", say("Adapter rings")),
                (say("View"), "show_view", say("View from behind")),
                (say("Curve"), "show_curve_over_zoom"),
            )
        )
        self._tabs.chosen.connect(self.show_table)
        self._stack = PageStack()
        for page in (self._remedy_page(), self._sheet_page(), self.sky, self.rings, self._view_page(), self._plot):
            self._stack.addWidget(page)
        box = QVBoxLayout()
        box.setSpacing(2)
        box.addWidget(self._tabs)
        box.addWidget(self._stack, 1)
        return box

    def _page(self, table: Ledger, *, above: QHBoxLayout | None = None, below: QHBoxLayout | None = None) -> QWidget:
        page = QWidget()
        box = QVBoxLayout(page)
        box.setContentsMargins(0, 4, 0, 0)
        box.setSpacing(5)
        if above is not None:
            box.addLayout(above)
        box.addWidget(table, 1)
        if below is not None:
            box.addLayout(below)
        return page

    def _view_page(self) -> QWidget:
        page = QWidget()
        box = QVBoxLayout(page)
        box.setContentsMargins(0, 4, 0, 0)
        box.setSpacing(4)
        box.addWidget(self._view, 1)
        box.addWidget(self._turning)
        return page

    def _remedy_page(self) -> QWidget:
        self._do = QPushButton(say("Apply"))
        self._do.setObjectName("front_apply")
        self._do.clicked.connect(self._apply)
        self._do.setEnabled(False)
        row = QHBoxLayout()
        row.addWidget(self._do)
        row.addStretch(1)
        return self._page(self.remedies, below=row)

    def _sheet_page(self) -> QWidget:
        self._sky = QLineEdit()
        self._sky.setObjectName("front_sky")
        self._sky.setPlaceholderText(say("sky brighter by, stops"))
        self._sky.setAccessibleName(say("Difference between metered sky and ground, in stops"))
        self._sky.setFixedWidth(172)
        self._sky.textChanged.connect(self._advise)
        self._advice = Label()
        self._advice.setObjectName("front_advice")
        self._advice.setProperty("role", "steel")
        row = QHBoxLayout()
        row.setSpacing(10)
        row.addWidget(self._sky)
        row.addWidget(self._advice, 1)
        return self._page(self.sheets, above=row)

    # Keeping up

    def show_remedies(self) -> None:
        """Bring what helps the corners to the front."""
        self.show_table(REMEDIES)

    def show_table(self, number: int) -> None:
        """Bring remedies (0), sheets (1), the sky (2), ring sizes (3), the view from behind (4) or the curve (5)."""
        self._stack.setCurrentIndex(number)
        self._tabs.choose(number)
        front = self._front()
        self._view.show_front(front, self.sky.refresh(front) if number == SKY else None)
        self._refresh_table()
        self.show_preview(True)

    def _front(self) -> Front | None:
        readout = self.session.readout
        return None if readout is None else readout.front

    def refresh(self) -> None:
        """Show the front stack of the train in view."""
        front = self._front()
        on_sky = self._stack.currentIndex() == SKY
        self._view.show_front(front, self.sky.refresh(front) if on_sky else None)
        self._plot.show_front(front)
        self.picture.show_readout(self.session.readout)
        self.bar.refresh()
        if front is None:
            self._headline.say(say("No train in view."), say("Start one from the train menu."))
        else:
            self._say_anew()
        self._place_sliders(front)
        if not self.session.dragging:
            self.rest_later()

    def refresh_rest(self) -> Iterator[None]:
        """Show how far the holder may be turned, and the table in front."""
        front = self._front()
        self._turning.setText("" if front is None else turning_words(turning_of(front, CLEAN_STOPS)))
        self._need.refresh()
        yield
        self._refresh_table()

    def follow_selection(self) -> None:
        """Show what the selected part must measure."""
        self._need.refresh()

    def _say_anew(self) -> None:
        """Show the headline with the intervals that are worked out."""
        front = self._front()
        if front is not None:
            dragging = self.session.dragging
            self._headline.say(*sentences(front, self.session.range_report, with_band=not dragging))

    def _place_sliders(self, front: Front | None) -> None:
        zooms = front is not None and front.lens is not None and front.lens.longest_focal_mm is not None
        holder = self._holder()
        for widgets, wanted in (
            ((self._zoom_word, self.zoom, self._zoom_text), zooms),
            ((self._turn_word, self.turn, self._turn_text), holder is not None),
        ):
            for widget in widgets:
                widget.setVisible(wanted)
        if front is not None and zooms:
            low, high = front.range_mm
            share = (front.focal_mm - low) / ((high - low) or 1.0)
            self._set(self.zoom, 0, STEPS, round(share * STEPS))
            self._zoom_text.say(front.focal_mm, say("{focal_mm:.2f} mm", focal_mm=front.focal_mm))
        if holder is not None and front is not None:
            angle = front.layout.front_rotation_deg[holder]
            self._set(self.turn, -90, 90, round(angle))
            self._turn_text.say(angle, say("{angle:g}°", angle=angle))

    def _set(self, slider: QSlider, low: int, high: int, value: int) -> None:
        if not slider.isSliderDown():
            slider.blockSignals(True)
            slider.setRange(low, high)
            slider.setValue(value)
            slider.blockSignals(False)

    def _holder(self) -> int | None:
        """Return the place of the first holder in the front stack."""
        train, shelf = self.session.train, self.session.workbook.by_id
        if train is None:
            return None
        return next((i for i, laid in enumerate(train.front_stack) if isinstance(shelf[laid.part], FilterHolder)), None)

    def _refresh_table(self) -> None:
        front, train = self._front(), self.session.train
        number = self._stack.currentIndex()
        if front is None or train is None:
            self._work.forget()
            self._no_remedies()
            self.sheets.set_rows([])
            return
        if number == REMEDIES:
            self._ask_remedies()
        elif number == SHEETS:
            self.sheets.set_rows(sheet_rows(front, sheets_in(front)))

    # Remedies

    def _question(self) -> object:
        """Return what the fixes rest on: the train and the parts; None without a train."""
        train = self.session.train
        return None if train is None else Same([train, self.session.workbook.shelf])

    def _no_remedies(self) -> None:
        self._remedies = ()
        self._thumbnails.forget()
        self.remedies.set_rows([])
        self._do.setEnabled(False)
        self._plot.show_other(None)
        self.previewed.emit(None)

    def _ask_remedies(self) -> None:
        """Ask for fixes in the background: a dozen stacks are tried."""
        train, shelf = self.session.train, self.session.workbook.by_id
        if train is None or self._work.asked:
            return
        self._no_remedies()
        self._work.begin(lambda _: remedies_for(train, shelf))

    def _show_remedies(self, answer: object) -> None:
        assert isinstance(answer, tuple)
        self._remedies = answer
        self.remedies.set_rows([remedy_row(r, n) for n, r in enumerate(answer)])
        self.remedies.clearSelection()
        self._ask_thumbnails()

    def _ask_thumbnails(self) -> None:
        """Have the photo that each fix would give made, of the scene in view."""
        readout = self.session.readout
        if readout is not None and self._remedies and self.isVisible():
            trains: dict[RowKey, Train] = {Nth(number): one.train for number, one in enumerate(self._remedies)}
            bought = [part for one in self._remedies for part in one.change.bought]
            crops: dict[RowKey, float] = {Nth(n): one.change.crop for n, one in enumerate(self._remedies)}
            self._thumbnails.ask(trains, self._remedies, self.picture.settings_for(readout), bought, crops)

    def _remedy(self) -> Remedy | None:
        key = self.remedies.current_key()
        return self._remedies[key.number] if isinstance(key, Nth) and key.number < len(self._remedies) else None

    def _pick(self, key: RowKey | None) -> None:
        """Preview the picked remedy on the rail and beside the curve."""
        remedy = self._remedies[key.number] if isinstance(key, Nth) and key.number < len(self._remedies) else None
        cropped = remedy is not None and remedy.change.crop < 1.0
        self._do.setEnabled(remedy is not None and not cropped)
        self._do.setToolTip(say("A crop is made when the photo is developed; nothing changes here.") if cropped else "")
        self.show_preview(True)

    def _apply(self) -> None:
        """Place the picked remedy: one step of undo."""
        remedy, train = self._remedy(), self.session.train
        if remedy is not None and remedy.change.crop < 1.0:
            self.session.message.emit(say("A crop is made when the photo is developed; nothing changes here."), False)
        elif remedy is not None and train is not None:
            self.previewed.emit(None)
            words = f"{remedy.words[0].upper()}{remedy.words[1:]}"
            then = remedy.train
            self.session.do(
                LayStack(train.id, then.front_stack, remedy.change.bought, then.conditions, label=words[:100])
            )

    def show_preview(self, wanted: bool) -> None:
        """Show the picked remedy on the rail; while another station is in front, nothing."""
        offer, page = None, self._stack.currentIndex()
        if wanted and page == REMEDIES and (remedy := self._remedy()) is not None:
            offer = Offer(remedy.train, remedy.words, remedy.change.bought)
        parts = with_parts(self.session.workbook.by_id, () if offer is None else offer.bought)
        fixed = None if offer is None else read(offer.train, parts)
        self._plot.show_other(None if fixed is None else fixed.front.now)
        if self.isVisible():
            # The photo shows what the picked fix would give.
            self.picture.show_readout(self.session.readout if fixed is None else fixed, parts)
        self.previewed.emit(offer)

    def end(self) -> None:
        """Wait for what is under way: the window is closing."""
        for work in (self._work, self.rings.work, self._need.work, self._thumbnails.work):
            work.end()
        self.picture.end()

    def wait(self) -> None:
        """Wait for what is under way."""
        self._work.wait()
        self._thumbnails.work.wait()
        self.rings.work.wait()

    # Hands

    def _zoom(self, value: int) -> None:
        train, front = self.session.train, self._front()
        # A train without a lens of several focal lengths may have come into view under a moving hand.
        if train is not None and front is not None and front.lens is not None:
            low, high = front.range_mm
            self.session.do(SetFocal(train.id, round(low + (high - low) * value / STEPS, 2)))

    def _zoom_to(self, focal_mm: float | None) -> Edit | None:
        train = self.session.train
        return None if train is None or focal_mm is None else SetFocal(train.id, focal_mm)

    def _turn_to(self, angle_deg: float | None) -> Edit | None:
        train, holder = self.session.train, self._holder()
        if train is None or holder is None:
            return None
        return TurnPart(train.id, holder, angle_deg or 0.0, Side.FRONT, label=say("Turn the holder"))

    def _turn(self, value: int) -> None:
        train, holder = self.session.train, self._holder()
        if train is not None and holder is not None:
            self.session.do(TurnPart(train.id, holder, float(value), Side.FRONT, label=say("Turn the holder")))

    def _slide(self, key: RowKey | None, column: int, text: str) -> None:
        train = self.session.train
        if train is None or not isinstance(key, SheetKey):
            return
        try:
            shift = parse_reading(as_shown(text), Origin.MEASURED).value
        except FarRailError as error:
            self.session.message.emit(str(error), True)
            return
        self.session.do(SlideSheet(train.id, key.index, key.slot, shift))

    def _advise(self, text: str) -> None:
        """Say how strong a graduated filter to choose for the metered difference."""
        if not text.strip():
            self._advice.setText("")
            return
        try:
            brighter = parse_reading(text, Origin.MEASURED).value
            stops = graduated_strength_stops(brighter)
        except FarRailError:
            self._advice.setText(say("Give the difference in stops, such as 3."))
            return
        words = (
            say_n(
                "choose {stops:g} stop (density {density:.1f})",
                "choose {stops:g} stops (density {density:.1f})",
                stops,
                stops=stops,
                density=density_of_stops(stops),
            )
            if stops
            else say("no graduated filter is needed")
        )
        self._advice.setText(
            say("{words}; the sky stays {left_words}", words=words, left_words=left_words(brighter, stops))
        )
