"""Findings as marks: a narrow column of their signs where a window has no room for their sentences."""

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QSize, Qt, Signal
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QAbstractButton, QScrollArea, QToolButton, QVBoxLayout, QWidget

from farrail.language import say, word
from farrail.readouts.finding import Finding
from farrail.ui.widgets.glyphs import draw_severity
from farrail.ui.widgets.plain import plain_tip

SIDE_PX = 34
COLUMN_PX = 52


class FindingMark(QAbstractButton):
    """One finding's sign; its sentence is its name and its tip."""

    def __init__(self, parent: QWidget | None = None) -> None:
        """Make an empty mark."""
        super().__init__(parent)
        self.finding: Finding | None = None
        self.setFixedSize(SIDE_PX, SIDE_PX)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def show_finding(self, finding: Finding) -> None:
        """Show another finding."""
        self.finding = finding
        text, reason = finding.sentences
        self.setObjectName(f"mark_{finding.id}")
        self.setAccessibleName(f"{word(finding.severity)}: {text} {reason}")
        self.setToolTip(plain_tip(f"{text}\n{reason}"))
        self.update()

    def sizeHint(self) -> QSize:
        """Return its size."""
        return QSize(SIDE_PX, SIDE_PX)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint the sign."""
        if self.finding is not None:
            painter = QPainter(self)
            draw_severity(painter, QPointF(SIDE_PX / 2.0, SIDE_PX / 2.0), self.finding.severity)
            painter.end()


class FindingMarks(QWidget):
    """The column of signs, with a button that opens the findings whole."""

    # The findings are wanted whole.
    opened = Signal()
    # A finding's sign was pressed.
    pointed = Signal(Finding)

    def __init__(self, parent: QWidget | None = None) -> None:
        """Make an empty column."""
        super().__init__(parent)
        self.setObjectName("finding_marks")
        self.setFixedWidth(COLUMN_PX)
        self._marks: list[FindingMark] = []
        self.open = QToolButton()
        self.open.setObjectName("findings_open")
        self.open.setText("‹")
        self.open.setAccessibleName(say("Show the findings whole"))
        self.open.setToolTip(say("Show the findings whole"))
        self.open.setFixedSize(SIDE_PX, SIDE_PX)
        self.open.clicked.connect(self.opened)
        column = QWidget()
        self._column = QVBoxLayout(column)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(2)
        self._column.addStretch(1)
        scroll = QScrollArea()
        scroll.setObjectName("marks_scroll")
        scroll.setAccessibleName(say("Findings"))
        scroll.setFrameShape(QScrollArea.Shape.NoFrame)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(column)
        box = QVBoxLayout(self)
        box.setContentsMargins(8, 10, 0, 6)
        box.setSpacing(4)
        box.addWidget(self.open)
        box.addWidget(scroll, 1)

    def show_findings(self, findings: Sequence[Finding]) -> None:
        """Show other findings, the gravest first as they come."""
        while len(self._marks) < len(findings):
            mark = FindingMark()
            mark.clicked.connect(self._point)
            self._column.insertWidget(len(self._marks), mark)
            self._marks.append(mark)
        for mark, finding in zip(self._marks, findings, strict=False):
            mark.show_finding(finding)
            mark.show()
        for mark in self._marks[len(findings) :]:
            mark.hide()

    def _point(self) -> None:
        mark = self.sender()
        if isinstance(mark, FindingMark) and mark.finding is not None:
            self.pointed.emit(mark.finding)
