"""What the frame covers: a sky target on it, the panels of its mosaic, and the figures of field and cone."""

from PySide6.QtCore import QPoint, QStringListModel, Qt
from PySide6.QtGui import QCursor
from PySide6.QtWidgets import QCompleter, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from farrail.errors import FarRailError
from farrail.exchange.sky_catalogue import names_like, parse_target
from farrail.language import say
from farrail.readouts.field.sky import framing_of
from farrail.ui.session import Session
from farrail.ui.stations.light_words import field_rows
from farrail.ui.widgets.clearing import clearable
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.ledger_rows import Column
from farrail.ui.widgets.mosaic_picture import MosaicPicture
from farrail.ui.widgets.row_keys import FigureKey, RowKey
from farrail.ui.widgets.working import show_working
from farrail.workbook.edits.trains import SetTarget


class FieldPage(QWidget):
    """A row to choose a target, the figures, and the target drawn on the frame."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the page."""
        super().__init__(parent)
        self._session = session
        self.table = Ledger(
            "field_figures",
            say("Field and cone"),
            (Column(say("Field and cone")), Column("", False, 186, 150, said=say("value"))),
        )
        self.table.row_activated.connect(self._show_figure)
        self.target = QLineEdit()
        self.target.setObjectName("target_field")
        self.target.setPlaceholderText(say("Target: NGC 7000, or 40 x 30 minutes of arc"))
        clearable(self.target)
        self.target.setAccessibleName(say("Sky target"))
        self.turned = QLineEdit()
        self.turned.setObjectName("target_turned")
        self.turned.setPlaceholderText(say("turned °"))
        self.turned.setAccessibleName(say("Turn of the target (°)"))
        self.turned.setToolTip(
            say("The target's long axis against the picture's width, anticlockwise, with the camera straight")
        )
        self.overlap = QLineEdit()
        self.overlap.setObjectName("target_overlap")
        self.overlap.setPlaceholderText(say("overlap %"))
        self.overlap.setAccessibleName(say("Overlap of neighbouring panels (%)"))
        self.overlap.setToolTip(say("Share of a side that neighbouring panels of a mosaic have in common, 0 to 60 %"))
        self._fields = (self.target, self.turned, self.overlap)
        for field in self._fields:
            field.returnPressed.connect(self._aim)
        for field in self._fields[1:]:
            field.setMaximumWidth(76)
        self._names = QStringListModel(self)
        completer = QCompleter(self._names, self)
        completer.setCompletionMode(QCompleter.CompletionMode.UnfilteredPopupCompletion)
        completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        self.target.setCompleter(completer)
        self.target.textEdited.connect(lambda text: self._names.setStringList(names_like(text)))
        self.mosaic = MosaicPicture()
        row = QHBoxLayout()
        row.setSpacing(6)
        row.addWidget(self.target, 1)
        row.addWidget(self.turned)
        row.addWidget(self.overlap)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 6, 0, 0)
        box.addLayout(row)
        box.addWidget(self.table, 3)
        box.addWidget(self.mosaic, 4)

    def clear(self) -> None:
        """Show nothing: there is no train with a camera."""
        self.table.set_rows([])
        self.mosaic.show_framing(None)

    def refresh(self) -> None:
        """Show the train in view."""
        readout = self._session.readout
        if readout is None:
            self.clear()
            return
        figures = readout.spacing_figures | readout.light_figures | readout.field_figures
        self.table.set_rows(field_rows(self._session.ranged(figures)))
        self.mosaic.show_framing(framing_of(readout.layout))
        target = readout.layout.train.conditions.target
        if any(field.hasFocus() for field in self._fields):
            return
        self.target.setText("" if target is None else target.name)
        self.turned.setText(
            "" if target is None or not target.turned_deg else say("{turned_deg:g}°", turned_deg=target.turned_deg)
        )
        self.overlap.setText("" if target is None else say("{overlap:g} %", overlap=100.0 * target.overlap))

    def _aim(self) -> None:
        """Take the target typed: a size, or a name of the catalogue."""
        train, text = self._session.train, self.target.text().strip()
        if train is None:
            return
        if not text:
            self._session.do(SetTarget(train.id, None))
            return
        known = train.conditions.target
        try:
            target = known if known is not None and known.name == text else parse_target(text)
            angle, overlap = _plain(self.turned, "°"), _plain(self.overlap, "%")
            if angle:
                target = target.model_copy(update={"turned_deg": _degrees(angle)})
            if overlap:
                target = target.model_copy(update={"overlap": _share(overlap)})
        except FarRailError as error:
            self._session.message.emit(str(error), True)
            return
        self._session.do(SetTarget(train.id, target))

    def _show_figure(self, key: RowKey | None, column: int) -> None:
        at = QCursor.pos() if self.table.underMouse() else self.table.mapToGlobal(QPoint(200, 40))
        if self._session.readout is not None and isinstance(key, FigureKey):
            show_working(self._session.figure(key.id), self, at)


def _plain(field: QLineEdit, unit: str) -> str:
    return field.text().replace(unit, "").replace(",", ".").replace("−", "-").strip()


def _share(text: str) -> float:
    try:
        value = float(text)
    except ValueError:
        value = -1.0
    if not 0.0 <= value <= 60.0:
        raise FarRailError("“{text}” is no overlap; write 0 to 60 %, such as 15.", text=text[:20])
    return value / 100.0


def _degrees(text: str) -> float:
    try:
        value = float(text)
    except ValueError:
        raise FarRailError("“{text}” is no angle; write degrees such as 24.", text=text[:20]) from None
    return (value + 180.0) % 360.0 - 180.0
