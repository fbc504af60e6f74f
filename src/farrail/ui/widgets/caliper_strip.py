"""The simulated caliper as a strip: jaws to set with the mouse, and a button that sends what it shows."""

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QApplication, QHBoxLayout, QLineEdit, QPushButton, QSlider, QVBoxLayout, QWidget

from farrail.errors import BadInput
from farrail.language import say
from farrail.simulated.caliper import LABEL, LARGEST_MM, SimulatedCaliper
from farrail.ui.theme.fonts import MEDIUM, STRONG, font
from farrail.ui.widgets.plain import Label
from farrail.ui.widgets.read_out import told_in

STEPS_PER_MM = 100


class CaliperStrip(QWidget):
    """A are-in for a caliper with a cable; it never takes the focus, so that a reading goes where one types."""

    # A reading was sent while no field had the focus: the text it types.
    sent = Signal(str)
    # The picked value's part is to be put between the jaws.
    hold_wanted = Signal()
    # Something went wrong, in one sentence.
    trouble = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        """Arrange the strip with closed jaws."""
        super().__init__(parent)
        self.setObjectName("caliper_strip")
        self.setAccessibleName(str(LABEL))
        self._caliper = SimulatedCaliper()
        title = Label(str(LABEL))
        title.setFont(font(12, MEDIUM))
        title.setProperty("role", "steel")
        self._display = Label()
        self._display.setObjectName("caliper_display")
        self._display.setFont(font(17, STRONG))
        self._display.setMinimumWidth(86)
        self._display.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self._jaws = QSlider(Qt.Orientation.Horizontal)
        self._jaws.setObjectName("caliper_jaws")
        self._jaws.setAccessibleName(say("Opening of the jaws"))
        self._jaws.setRange(0, round(LARGEST_MM * STEPS_PER_MM))
        self._jaws.valueChanged.connect(self._move)
        told_in(self._jaws, self._display)
        row = QHBoxLayout()
        row.setSpacing(8)
        row.addWidget(self._display)
        row.addWidget(self._jaws, 1)
        for text, name, tip, run in (
            (say("Zero"), "caliper_zero", say("Close the jaws and set the zero"), self.zero),
            (
                say("Hold the part"),
                "caliper_hold",
                say("Put the picked value's part between the jaws"),
                self.hold_wanted.emit,
            ),
            (
                say("Send"),
                "caliper_send",
                say("Type the reading into the field in use, else over the picked value"),
                self.send,
            ),
        ):
            button = QPushButton(text)
            button.setObjectName(name)
            button.setToolTip(tip)
            button.clicked.connect(run)
            row.addWidget(button)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 6, 0, 0)
        box.setSpacing(2)
        box.addWidget(title)
        box.addLayout(row)
        # A click leaves the focus in the field that is to be measured; keys may come here.
        for widget in self.findChildren(QWidget):
            if widget.focusPolicy() != Qt.FocusPolicy.NoFocus:
                widget.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self._show()

    def hold(self, length_mm: float) -> None:
        """Put a length between the jaws."""
        try:
            self._caliper.open_to(length_mm)
        except BadInput as error:
            self.trouble.emit(str(error))
            return
        self._jaws.blockSignals(True)
        self._jaws.setValue(round(length_mm * STEPS_PER_MM))
        self._jaws.blockSignals(False)
        self._show()

    def send(self) -> None:
        """Type the reading where the person types, or hand it on."""
        text = self._caliper.read().text
        field = QApplication.focusWidget()
        if isinstance(field, QLineEdit):
            field.selectAll()
            field.insert(text)
            field.textEdited.emit(field.text())
        else:
            self.sent.emit(text)

    def _move(self, steps: int) -> None:
        self._caliper.open_to(steps / STEPS_PER_MM)
        self._show()

    def zero(self) -> None:
        """Close the jaws and set the zero."""
        self._caliper.zero()
        self.hold(0.0)

    def _show(self) -> None:
        self._display.setText(say("{value_mm:.2f mm}", value_mm=self._caliper.read().value_mm))
        hint = "" if self._caliper.zeroed else say("Its zero is off: close and zero it first.")
        self._display.setToolTip(hint)
        self._display.setProperty("role", "" if self._caliper.zeroed else "look")
        self._display.style().unpolish(self._display)
        self._display.style().polish(self._display)
