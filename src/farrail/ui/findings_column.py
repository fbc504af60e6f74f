"""The findings column: what the program judges, gravest first, and the shelf that fits what is picked."""

from collections.abc import Iterator, Sequence
from functools import lru_cache

from PySide6.QtCore import QPoint, QPointF, QRect, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QColor, QFont, QFontMetrics, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import (
    QAbstractButton,
    QFrame,
    QHBoxLayout,
    QScrollArea,
    QSizePolicy,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from farrail.language import begun_large, local_number, say, word
from farrail.planning.fitting import Fit, fits_at
from farrail.readouts.finding import Finding
from farrail.train.placed import Place
from farrail.train.train import Side, Train
from farrail.ui.actions.laying import lay_at
from farrail.ui.background_task import BackgroundTask, Same
from farrail.ui.finding_marks import COLUMN_PX, FindingMarks
from farrail.ui.selection import Selection
from farrail.ui.session import Session
from farrail.ui.theme.apply import current_theme
from farrail.ui.theme.fonts import MEDIUM, REGULAR, STRONG, font
from farrail.ui.widgets.glyphs import draw_severity
from farrail.ui.widgets.ledger import ONE_LINE_PX, Ledger
from farrail.ui.widgets.ledger_rows import Cell, Column, Row
from farrail.ui.widgets.plain import Label
from farrail.ui.widgets.row_keys import FitKey, RowKey
from farrail.ui.widgets.working import show_working
from farrail.workbook.edits.laying import ReplacePart

TEXT_LEFT, PAD = 30, 8
LEAST_FITS = 6
# Findings are read in so many pixels at least; Qt's own bound for what has none.
LEAST_PX, MOST_PX = 240, 16_777_215


class FindingRow(QAbstractButton):
    """One finding: its mark, its sentence, its reason."""

    def __init__(self, parent: QWidget | None = None) -> None:
        """Make an empty row."""
        super().__init__(parent)
        self.finding: Finding | None = None
        self._said = ("", "")
        self._enter = ""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        policy = QSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)

    def show_finding(self, finding: Finding, enter: str = "") -> None:
        """Show another finding, and what to enter to settle it."""
        if finding != self.finding or enter != self._enter:
            self.finding, self._enter = finding, enter
            self.setObjectName(f"finding_{finding.id}")
            text, reason = self._said = finding.sentences
            self.setAccessibleName(f"{word(finding.severity)}: {text} {reason} {enter}".rstrip())
            severity = begun_large(word(finding.severity))
            self.setToolTip(
                say("{value}: click to go to the value to enter", value=severity)
                if enter
                else say("{value}: click to point at it and show working", value=severity)
            )
            self.updateGeometry()
            self.update()

    def _heights(self, width: int) -> tuple[int, int, int]:
        if self.finding is None:
            return 0, 0, 0
        room = max(width - TEXT_LEFT - 4, 40)
        enter = _wrapped_height(self._enter, room, 12, MEDIUM) + 3 if self._enter else 0
        return _wrapped_height(self._said[0], room, 13, MEDIUM), _wrapped_height(self._said[1], room, 12), enter

    def hasHeightForWidth(self) -> bool:
        """Its text wraps."""
        return True

    def heightForWidth(self, width: int) -> int:
        """Return the height its text needs."""
        return sum(self._heights(width)) + 2 * PAD + 3

    def sizeHint(self) -> QSize:
        """Return the size its text needs at the present width."""
        return QSize(200, self.heightForWidth(self.width() if self.width() > TEXT_LEFT * 2 else 200))

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Ask for the height the text needs at the new width."""
        super().resizeEvent(event)
        if event.size().width() != event.oldSize().width():
            self.updateGeometry()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint mark and text."""
        if self.finding is None:
            return
        theme, p = current_theme(), QPainter(self)
        if self.underMouse() or self.isDown():
            p.fillRect(self.rect(), QColor(theme.accent_wash))
        draw_severity(p, QPointF(13.0, PAD + 9.0), self.finding.severity)
        main, reason, enter = self._heights(self.width())
        wrap = int(Qt.TextFlag.TextWordWrap)
        p.setFont(font(13, MEDIUM))
        p.setPen(QColor(theme.ink))
        p.drawText(QRect(TEXT_LEFT, PAD, self.width() - TEXT_LEFT - 4, main + 4), wrap, self._said[0])
        p.setFont(font(12))
        p.setPen(QColor(theme.steel))
        p.drawText(QRect(TEXT_LEFT, PAD + main + 3, self.width() - TEXT_LEFT - 4, reason + 4), wrap, self._said[1])
        if enter:
            p.setFont(font(12, MEDIUM))
            p.setPen(QColor(theme.accent))
            top = PAD + main + reason + 6
            p.drawText(QRect(TEXT_LEFT, top, self.width() - TEXT_LEFT - 4, enter + 4), wrap, self._enter)
        p.end()


class FindingsColumn(QWidget):
    """Findings above, and the shelf at the picked joint or part below."""

    # It was folded to marks, or opened.
    folded = Signal(bool)
    # A value is to be entered: the id of its part, and its path.
    value_wanted = Signal(str, str)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the column."""
        super().__init__(parent)
        self.setObjectName("findings_column")
        self._session = session
        self._rows: list[FindingRow] = []
        self._findings: tuple[Finding, ...] = ()
        self._narrow = False
        self._label = ""
        # The list is wanted in the hand once it is there.
        self._going = False
        title = Label(say("Findings"))
        title.setFont(font(14, STRONG))
        self._close = QToolButton()
        self._close.setObjectName("findings_close")
        self._close.setText("›")
        self._close.setAccessibleName(say("Fold the findings to marks"))
        self._close.setToolTip(say("Fold the findings to marks"))
        self._close.clicked.connect(lambda: self.fold(folded=True))
        self._close.hide()
        # While a hand drags, findings wait for it to rest.
        self._coming = Label(say("updated when you let go"))
        self._coming.setProperty("role", "steel")
        self._coming.hide()
        head = QHBoxLayout()
        head.addWidget(title)
        head.addWidget(self._coming)
        head.addStretch(1)
        head.addWidget(self._close)
        self.marks = FindingMarks()
        self.marks.opened.connect(lambda: self.fold(folded=False))
        self.marks.pointed.connect(lambda finding: self._point_at(finding, self.marks))
        self.marks.hide()
        self._none = Label(say("No findings for this train."))
        self._none.setProperty("role", "steel")
        self._none.setWordWrap(True)
        self._list = QWidget()
        self._list_box = QVBoxLayout(self._list)
        self._list_box.setContentsMargins(0, 0, 0, 0)
        self._list_box.setSpacing(1)
        self._list_box.addWidget(self._none)
        self._list_box.addStretch(1)
        scroll = QScrollArea()
        scroll.setObjectName("findings_scroll")
        scroll.setAccessibleName(say("Findings, to be scrolled"))
        scroll.setFrameShape(QFrame.Shape.NoFrame)
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(self._list)
        self._scroll = scroll
        self._shelf_title = Label()
        self._shelf_title.setObjectName("fits_title")
        self._shelf_title.setFont(font(14, STRONG))
        self._shelf_text = Label()
        self._shelf_text.setObjectName("fits_text")
        self._shelf_text.setProperty("role", "steel")
        self._shelf_text.setWordWrap(True)
        self.fits = Ledger(
            "fits", say("Parts that fit here"), (Column(say("Part")), Column(say("leaves"), True, 96, lengths=True))
        )
        self.fits.horizontalHeader().hide()
        self.fits.row_activated.connect(self._take)
        self._whole = QWidget()
        box = QVBoxLayout(self._whole)
        box.setContentsMargins(14, 14, 12, 10)
        box.setSpacing(5)
        box.addLayout(head)
        box.addWidget(scroll, 6)
        box.addSpacing(6)
        box.addWidget(self._shelf_title)
        box.addWidget(self._shelf_text)
        box.addWidget(self.fits, 5)
        both = QHBoxLayout(self)
        both.setContentsMargins(0, 0, 0, 0)
        both.addWidget(self._whole, 1)
        both.addWidget(self.marks)
        self.setMinimumWidth(LEAST_PX)
        # What fits is worked out after the drawing has answered, so that an edit never waits for it.
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(30)
        self._later.timeout.connect(self._refresh_fits)
        self._work = BackgroundTask(self._question, self)
        self._work.answered.connect(self._show_found)
        self._work.outdated.connect(lambda: self.fits.hide())
        self._work.failed.connect(lambda error: session.tell_failure(error, say("Parts that fit here")))
        session.changed.connect(self.refresh)
        session.train_changed.connect(self.refresh)
        session.rested.connect(self.refresh)
        session.ranges_changed.connect(self.refresh)
        session.selection_changed.connect(self._later.start)

    def refresh(self) -> None:
        """Show the findings of the train in view; while a value is dragged they wait."""
        if self._session.dragging:
            self._coming.show()
            return
        self._session.after_paint.ask(self._refresh)

    def _refresh(self) -> Iterator[None]:
        readout = self._session.readout
        if readout is not None:
            yield from readout.judge()
        findings = readout.findings if readout is not None else ()
        ranges = self._session.ranges
        if ranges is not None:
            findings = ranges.judged((*findings, *ranges.findings))
        yield
        self._findings = findings
        if not self.marks.isHidden():
            self.marks.show_findings(findings)
        while len(self._rows) < len(findings):
            row = FindingRow(self._list)
            row.clicked.connect(self._point)
            self._list_box.insertWidget(len(self._rows), row)
            QWidget.setTabOrder(self._rows[-1] if self._rows else self._scroll, row)
            self._rows.append(row)
        for row, finding in zip(self._rows, findings, strict=False):
            row.show_finding(finding, self._session.to_enter(finding))
            row.show()
            yield
        for row in self._rows[len(findings) :]:
            row.hide()
        self._none.setVisible(readout is not None and not findings)
        self._coming.hide()
        for error in readout.errors if readout is not None else ():
            self._session.caught(error)
        self._later.start()

    def _point(self) -> None:
        """Point at what the clicked finding is about, and show its figure's working."""
        row = self.sender()
        if isinstance(row, FindingRow) and row.finding is not None:
            self._point_at(row.finding, row)

    def _point_at(self, finding: Finding, beside: QWidget) -> None:
        """Point at what a finding is about, and show its figure's working."""
        train, readout = self._session.train, self._session.readout
        if train is None or readout is None:
            return
        place = finding.place or _first_place(train, finding.part)
        if place is not None and 0 <= place.index < len(train.row(place.side)) + finding.at_joint:
            self._session.select(Selection(place.side, place.index, joint=finding.at_joint))
        if finding.value and self._session.to_enter(finding):
            self.value_wanted.emit(finding.part, finding.value)
            return
        show_working(self._session.figure(finding.figure), self, beside.mapToGlobal(QPoint(-440, 0)))

    # Room

    def show_first(self) -> None:
        """Open the gravest finding, as a click on it does."""
        self.fold(folded=False)
        first = next((row for row in self.findChildren(FindingRow) if row.isVisibleTo(self)), None)
        if first is not None:
            first.setFocus()
            first.click()

    def narrow(self, *, narrow: bool) -> None:
        """Fold to marks where the window has no room for sentences, and open again where it has."""
        if narrow != self._narrow:
            self._narrow = narrow
            self.fold(folded=narrow)

    def fold(self, *, folded: bool) -> None:
        """Show marks alone, or whole findings."""
        if folded:
            self.marks.show_findings(self._findings)
        self._whole.setVisible(not folded)
        self.marks.setVisible(folded)
        self._close.setVisible(self._narrow and not folded)
        self.setMinimumWidth(COLUMN_PX if folded else LEAST_PX)
        self.setMaximumWidth(COLUMN_PX if folded else MOST_PX)
        self.folded.emit(folded)

    # The shelf at what is picked

    def choose_fit(self) -> None:
        """Go to the list of what fits, its best first."""
        self._later.stop()
        if self.marks.isVisible():
            self.fold(folded=False)
        self._going = True
        self._refresh_fits()
        if not self._work.busy:
            self._go()

    def _go(self) -> None:
        """Go to the list, now that it is there."""
        going, self._going = self._going, False
        if going and self.fits.ledger.rows:
            self.fits.setFocus(Qt.FocusReason.ShortcutFocusReason)
            self.fits.setCurrentIndex(self.fits.ledger.index(0, 0))

    def _refresh_fits(self) -> None:
        train, picked = self._session.train, self._session.selection
        readout = self._session.readout
        if train is None or readout is None or picked.empty:
            self._shelf_title.hide()
            self.fits.hide()
            self._shelf_text.setText(say("Pick a joint on the axis, or a part, to see what on the shelf fits there."))
            return
        self._shelf_title.show()
        shelf = self._session.workbook.by_id
        if picked.joint:
            self._shelf_title.setText(say("Shelf at this joint"))
            label = next(
                (j.label for j in readout.layout.joints if (j.side, j.index) == (picked.side, picked.index)), ""
            )
        else:
            self._shelf_title.setText(say("Shelf in its place"))
            row = train.row(picked.side)
            if picked.index >= len(row):
                return
            label = say("instead of {name}", name=shelf[row[picked.index].part].name)
        self._label = label
        if self._session.after_paint.at_once:
            self._work.forget()
            self._show_fits(fits_at(train, shelf, picked.side, picked.index, instead=not picked.joint))
            return
        if self._work.asked:
            return
        # The list of before stays to be seen, not to be used: most answers come within the blink of an eye.
        self.fits.setEnabled(False)
        if not self.fits.isVisible():
            self._shelf_text.setText(say("Looking through {count} parts …", count=len(shelf)))
        side, index, instead = picked.side, picked.index, not picked.joint
        self._work.begin(lambda cancel: fits_at(train, shelf, side, index, instead=instead, stopped=cancel.is_set))

    def _question(self) -> object:
        """What the list rests on: the train, the shelf and the selection; None where nothing is selected."""
        train, picked = self._session.train, self._session.selection
        if train is None or picked.empty:
            return None
        return Same((train, self._session.workbook.shelf)), picked

    def _show_found(self, answer: object) -> None:
        assert isinstance(answer, list)
        self._show_fits(answer)
        self._go()

    def _show_fits(self, found: Sequence[Fit]) -> None:
        readout = self._session.readout
        if readout is None:
            return
        label = self._label
        self.fits.setEnabled(True)
        self._shelf_text.setText(label if found else say("{label}: none of your parts fits.", label=label))
        lens = readout.spacing.requirement is not None and readout.spacing.requirement.is_lens
        tolerance = readout.spacing.tolerance_mm
        self.fits.set_rows([_fit_row(fit, tolerance, lens) for fit in found])
        self.fits.setVisible(bool(found))
        # A handful is seen at once, all that is said above it.
        self.fits.setMinimumHeight(min(len(found), LEAST_FITS) * ONE_LINE_PX + 2)

    def end(self) -> None:
        """Give up the search under way: the window is closing."""
        self._work.end()

    def _take(self, key: RowKey | None, column: int) -> None:
        """Place the activated part at the picked joint, or put it in the picked part's place."""
        train, picked = self._session.train, self._session.selection
        if train is None or picked.empty or not isinstance(key, FitKey):
            return
        name = self._session.workbook.by_id[key.part].name
        if picked.joint:
            lay_at(self._session, key.part, picked.side, picked.index, flipped=key.flipped)
        else:
            self._session.do(
                ReplacePart(
                    train.id, key.part, picked.index, picked.side, label=say("Put {name} in its place", name=name)
                )
            )


def _first_place(train: Train, part: str) -> Place | None:
    """Return where a part is in a train, the first place where there are several."""
    for side in Side:
        for index, laid in enumerate(train.row(side)):
            if part and part in (laid.part, laid.filter_in_beam):
                return Place(side, index)
    return None


@lru_cache(maxsize=512)
def _wrapped_height(text: str, width: int, size_px: int, weight: QFont.Weight = REGULAR) -> int:
    """Return the height of a wrapped text; layouts ask for it again and again."""
    room = QRect(0, 0, width, 1000)
    return QFontMetrics(font(size_px, weight)).boundingRect(room, Qt.TextFlag.TextWordWrap, text).height()


def _fit_row(fit: Fit, tolerance: float | None, lens: bool) -> Row:
    error = fit.error_mm
    if error is None:
        leaves, role = "", ""
    else:
        leaves = (
            local_number("0.00")
            if abs(error) < 0.005
            else say("{miss:.2f length} short", miss=-error)
            if error < 0
            else say("{miss:.2f length} long", miss=error)
        )
        role = "good" if (error <= 0.0 if lens else tolerance is not None and abs(error) <= tolerance) else "steel"
    name = say("{name}, flipped", name=fit.part.name) if fit.flipped else fit.part.name
    return Row((Cell(name), Cell(leaves, role, strong=role == "good")), FitKey(fit.part.id, fit.flipped))
