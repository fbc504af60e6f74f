"""The Close-up station: how large, how near, how deep; what the shelf reaches, what to ask it, and the focus stack."""

from collections.abc import Iterator

from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import (
    QHBoxLayout,
    QSizePolicy,
    QSlider,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from farrail.errors import EditRefused, FarRailError
from farrail.language import say
from farrail.lengths import as_shown
from farrail.parts.inventory_item import AT_HAND
from farrail.parts.origin import Origin
from farrail.planning.ask import answer_at, laid
from farrail.planning.combinations import close_up_parts, combinations_of
from farrail.planning.offers import Offer
from farrail.planning.reach import Reach, band_of, reach_of
from farrail.quantities import typed_bare, unit_word
from farrail.readouts.close_up.model import CloseUp
from farrail.ui.background_task import BackgroundTask, Same
from farrail.ui.session import Session
from farrail.ui.stations.ask_page import AskPage
from farrail.ui.stations.close_up_words import figure_rows, millimetres, sentences
from farrail.ui.stations.ends_page import EndsPage
from farrail.ui.stations.stack_page import StackPage
from farrail.ui.stations.station import Headline, Station
from farrail.ui.widgets.frame_rule import FrameRule, Shown
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.ledger_rows import Column
from farrail.ui.widgets.need_line import NeedLine
from farrail.ui.widgets.number_field import NumberField
from farrail.ui.widgets.page_tabs import PageTabs
from farrail.ui.widgets.photo_frame import PhotoFrame
from farrail.ui.widgets.plain import Label
from farrail.ui.widgets.reach_plot import Current, ReachPlot
from farrail.ui.widgets.read_out import told_in
from farrail.ui.widgets.row_keys import FigureKey, RowKey
from farrail.ui.widgets.short_field import short_field
from farrail.ui.widgets.working import show_working
from farrail.workbook.edits.shelf import parse_reading
from farrail.workbook.edits.trains import SetFocus, SetSubject
from farrail.workbook.history import Edit

FIGURES, ASK, ENDS, STACK = range(4)
STEPS = 400


class CloseUpStation(Station):
    """How close the train comes, and what the shelf could do."""

    key = "close_up"

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the station."""
        super().__init__(session, parent)
        session.ranges_changed.connect(self._say_anew)
        self._reach: Reach | None = None
        self._headline, self._need = Headline("closeup"), NeedLine(session, "close_up")
        self.frame_, self.plot = FrameRule(), ReachPlot()
        self.plot.hovered.connect(self._hover)
        self.plot.picked.connect(self._pick)
        self.photo = PhotoFrame(session, "closeup_photo", ())
        subject = QVBoxLayout()
        subject.setSpacing(8)
        subject.addWidget(self.photo, 5)
        subject.addWidget(self.frame_, 4)
        pictures = QHBoxLayout()
        pictures.setSpacing(14)
        pictures.addLayout(subject, 5)
        pictures.addWidget(self.plot, 7)
        self.focus = QSlider(Qt.Orientation.Horizontal)
        self.focus.setObjectName("closeup_focus")
        self.focus.setAccessibleName(say("Focus, from the far to the near end of the window"))
        self.focus.setRange(0, STEPS)
        self.focus.sliderPressed.connect(session.begin_drag)
        self.focus.sliderReleased.connect(session.end_drag)
        self.focus.valueChanged.connect(self._focus)
        self._far, self._near = Label(), Label()
        self.distance = NumberField(
            session, "closeup_distance", say("Working distance, typed"), "distance_mm", 1.0, self._focus_at, 70
        )
        told_in(self.focus, self.distance)
        self.subject = short_field(
            "closeup_subject",
            say("Subject width, {unit}: its outline is drawn", unit=unit_word("mm")),
            typed_bare(30.0),
            52,
        )
        self.subject.editingFinished.connect(self._keep_subject)
        sliders = QHBoxLayout()
        sliders.setSpacing(8)
        for widget, stretch in (
            (Label(say("Focus")), 0), (self._far, 0), (self.focus, 1), (self._near, 0), (self.distance, 0),
            (Label(say("subject")), 0),
            (self.subject, 0), (Label(unit_word("mm")), 0),
        ):  # fmt: skip
            sliders.addWidget(widget, stretch)
        # A widget, so that it can make room for the table of both ends.
        self._left = QWidget()
        left = QVBoxLayout(self._left)
        left.setContentsMargins(0, 0, 0, 0)
        left.setSpacing(6)
        left.addWidget(self._headline)
        left.addWidget(self._need)
        left.addLayout(pictures, 1)
        left.addLayout(sliders)
        self._work = BackgroundTask(self._question, self)
        self._work.answered.connect(self._show_reach)
        self._work.outdated.connect(lambda: self._show_reach(None))
        self._work.failed.connect(self._reach_failed)
        sheet = QHBoxLayout(self)
        sheet.setContentsMargins(18, 14, 20, 8)
        sheet.setSpacing(24)
        sheet.addWidget(self._left, 11)
        sheet.addLayout(self._pages(), 10)

    def _pages(self) -> QVBoxLayout:
        self.figures = Ledger(
            "closeup_figures",
            say("Close-up figures"),
            (
                Column(say("Figure")),
                Column("", True, 182, said=say("value"), lengths=True),
                Column("", False, 46, said=say("rests on")),
            ),
        )
        self.figures.row_activated.connect(self._show_working)
        self.figures.verticalHeader().setDefaultSectionSize(24)
        self.ask, self.ends, self.stack = AskPage(self.session), EndsPage(self.session), StackPage(self.session)
        self.ask.previewed.connect(self.previewed)
        self.ends.previewed.connect(self.previewed)
        self._tabs = PageTabs(
            (
                (say("Figures"), "show_figures"),
                (say("Find a set-up"), "show_ask"),
                (say("Lens at both ends"), "show_ends"),
                (say("Focus stack"), "show_stack"),
            )
        )
        self._tabs.chosen.connect(self.show_table)
        self._stack = QStackedWidget()
        for page in (self.figures, self.ask, self.ends, self.stack):
            self._stack.addWidget(page)
        # The pages have rows of their own width; the station's halves keep theirs the one that is in front.
        self._stack.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Expanding)
        box = QVBoxLayout()
        box.setSpacing(4)
        box.addWidget(self._tabs)
        box.addWidget(self._stack, 1)
        return box

    # Keeping up

    def show_ask(self) -> None:
        """Bring the page that finds a set-up to the front."""
        self.show_table(ASK)

    def show_table(self, number: int) -> None:
        """Bring the figures (0), asking (1), both ends (2) or the focus stack (3) to the front."""
        self._stack.setCurrentIndex(number)
        self._tabs.choose(number)
        self._left.setVisible(number != ENDS)
        self._refresh_page()
        self.show_preview(True)

    def _close(self) -> CloseUp | None:
        readout = self.session.readout
        return None if readout is None else readout.close_up

    def refresh(self) -> None:
        """Show the train in view."""
        close = self._close()
        if close is None:
            self._headline.say(say("No train in view."), say("Start one from the train menu."))
        else:
            self._headline.say(*sentences(close, self.session.range_report))
        self._show_frame(close)
        self.photo.show_readout(self.session.readout)
        self._place_slider(close)
        self._show_current(close)
        if not self.session.dragging:
            self.rest_later()

    def refresh_rest(self) -> Iterator[None]:
        """Ask for the reach, and show the page in front."""
        self._ask_reach()
        self._need.refresh()
        yield
        self._refresh_page()

    def follow_selection(self) -> None:
        """Show what the selected part must measure."""
        self._need.refresh()

    def _say_anew(self) -> None:
        """Show the intervals that are now worked out."""
        close = self._close()
        if close is None or self.session.dragging or not self.isVisible():
            return
        self._headline.say(*sentences(close, self.session.range_report))
        if self._stack.currentIndex() == FIGURES:
            self._refresh_page()

    def _refresh_page(self) -> None:
        readout, close, page = self.session.readout, self._close(), self._stack.currentIndex()
        if page == FIGURES:
            self.figures.set_rows([] if readout is None else figure_rows(self.session.ranged(readout.close_up_figures)))
        elif page == ENDS:
            self.ends.refresh()
        elif page == STACK:
            self.stack.refresh(close)
        self.ask.refresh()

    def _usable(self, close: CloseUp | None) -> bool:
        return close is not None and close.system is not None and close.active and close.now.focused

    def _show_frame(self, close: CloseUp | None) -> None:
        self.frame_.setVisible(self._usable(close))
        if close is None or not self._usable(close):
            self.frame_.show_frame(None)
            return
        subject = close.layout.train.conditions.subject_width_mm
        wide, high = close.field_mm
        words = (
            say("{wide:.1f length} × {high:.1f mm}", wide=wide, high=high)
            if wide < 100.0
            else say("{wide:.0f length} × {high:.0f mm}", wide=wide, high=high)
        )
        self.frame_.show_frame(Shown(wide, high, subject, words))

    def _show_current(self, close: CloseUp | None) -> None:
        if close is None or not self._usable(close) or close.system is None:
            self.plot.show_current(None, 0.0)
            return
        size, distance, _ = band_of([close.system])
        at = close.now.magnification, close.now.distance_mm
        self.plot.show_current(Current(size[0], distance[0], at), close.needed_mm)

    def _place_slider(self, close: CloseUp | None) -> None:
        usable = self._usable(close)
        moves = close is not None and usable and close.near.distance_mm != close.far.distance_mm
        self.focus.setEnabled(moves)
        train = self.session.train
        if train is not None and not self.subject.hasFocus():
            width = train.conditions.subject_width_mm
            self.subject.setText("" if width is None else typed_bare(width))
        if close is None or not usable:
            self._far.setText("")
            self._near.setText("")
            self.distance.say(None, "")
            self.distance.setEnabled(False)
            return
        now = close.now.distance_mm
        self.distance.setEnabled(moves)
        self.distance.say(round(now, 2), millimetres(now))
        self._far.setText(millimetres(close.far.distance_mm))
        self._near.setText(millimetres(close.near.distance_mm))
        if not self.focus.isSliderDown():
            self.focus.blockSignals(True)
            self.focus.setValue(round(close.focus_position * STEPS))
            self.focus.blockSignals(False)

    # The reach picture

    def _question(self) -> object:
        """Return what the reach rests on: camera, aperture and the owned parts that matter; None without a camera."""
        train, camera, shelf = self.session.train, self.session.camera, self.session.workbook.by_id
        if train is None or camera is None:
            return None
        owned = [part for part in close_up_parts(shelf) if part.status in AT_HAND]
        return Same([camera, *owned]), train.conditions.f_number

    def _ask_reach(self) -> None:
        """Work out what the owned parts reach, in the background, when they, camera or aperture have changed."""
        train, camera, shelf = self.session.train, self.session.camera, self.session.workbook.by_id
        if train is None or camera is None:
            self._work.forget()
            self._show_reach(None)
            return
        if self._work.asked:
            self.plot.show_reach(self._reach, train.optic)
            return
        owned = {part.id: part for part in close_up_parts(shelf) if part.status in AT_HAND}
        f_number = train.conditions.f_number
        self._work.begin(
            lambda cancel: reach_of(combinations_of(owned, camera, f_number, stopped=cancel.is_set), cancel.is_set)
        )

    def _show_reach(self, answer: object) -> None:
        self._reach = answer if isinstance(answer, Reach) else None
        train = self.session.train
        self.plot.show_reach(self._reach, "" if train is None else train.optic)

    def _reach_failed(self, error: Exception) -> None:
        self._show_reach(None)
        self.session.tell_failure(error, say("Working out what the parts reach"))

    def _hover(self, index: int, focus_position: float) -> None:
        """Show the frame at the point of the band under the pointer."""
        close = self._close()
        if index < 0 or self._reach is None or close is None:
            self._show_frame(close)
            return
        answer = answer_at(self._reach.combinations[index], focus_position)
        if not answer.magnification > 0.0:
            return
        wide, high = answer.field_mm(close.frame_mm)
        subject = close.layout.train.conditions.subject_width_mm
        self.frame_.show_frame(
            Shown(wide, high, subject, say("{wide:.1f length} × {high:.1f mm} there", wide=wide, high=high))
        )

    def _pick(self, index: int, focus_position: float) -> None:
        """Preview the clicked combination on the rail; a click beside the bands shows the train again."""
        train = self.session.train
        if index < 0 or self._reach is None or train is None:
            self.previewed.emit(None)
            return
        answer = answer_at(self._reach.combinations[index], focus_position)
        self.previewed.emit(Offer(laid(answer, train), answer.combination.words))

    def show_preview(self, wanted: bool) -> None:
        """Show what the page in front has picked; while another station is in front, nothing."""
        page = self.ends if self._stack.currentIndex() == ENDS else self.ask
        page.show_preview(wanted and self._stack.currentIndex() in (ASK, ENDS))

    def wait(self) -> None:
        """Wait for what is under way."""
        self._work.wait()
        self.ask.work.wait()
        self.ends.work.wait()

    def end(self) -> None:
        """Wait for what is under way: the window is closing."""
        for work in (self._work, self.ask.work, self.ends.work, self._need.work):
            work.end()
        self.stack.end()
        self.photo.end()

    # Hands

    def _focus(self, value: int) -> None:
        train, close = self.session.train, self._close()
        if train is not None and close is not None and self._usable(close):
            self.session.do(SetFocus(train.id, round(close.focus_for(value / STEPS), 4)))

    def _focus_at(self, distance_mm: float | None) -> Edit | None:
        train, close = self.session.train, self._close()
        if train is None or close is None or not self._usable(close):
            return None
        if distance_mm is not None and distance_mm <= 0.0:
            raise EditRefused(
                "A subject cannot be {distance_mm:g} mm from the front glass; enter a distance above 0.",
                distance_mm=distance_mm,
            )
        return SetFocus(train.id, None if distance_mm is None else round(close.focus_at(distance_mm), 4))

    def _keep_subject(self) -> None:
        train = self.session.train
        if train is None:
            return
        kept, text = train.conditions, self.subject.text().strip()
        try:
            width = parse_reading(as_shown(text), Origin.MEASURED).value if text else None
        except FarRailError as error:
            self.session.message.emit(str(error), True)
            width = kept.subject_width_mm
        if width != kept.subject_width_mm:
            self.session.do(SetSubject(train.id, width, kept.subject_depth_mm, kept.blur_um))
        shown = self.session.train
        left = None if shown is None else shown.conditions.subject_width_mm
        self.subject.setText("" if left is None else say("{left:g}", left=left))

    def _show_working(self, key: RowKey | None, _: int) -> None:
        readout = self.session.readout
        if readout is not None and isinstance(key, FigureKey):
            at = self.figures.viewport().mapToGlobal(QPoint(40, 40))
            show_working(self.session.figure(key.id), self, at)
