"""Names of a station's pages in a row; one is chosen."""

from collections.abc import Sequence

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QAbstractButton, QButtonGroup, QPushButton, QWidget

from farrail.ui.widgets.flow_layout import FlowLayout

# Where a name that is short on its button is whole.
WHOLE = "whole_name"


class PageTabs(QWidget):
    """Names side by side, in more lines where there is no room; the first one is chosen to begin with."""

    # A name was clicked: its number.
    chosen = Signal(int)

    def __init__(self, names: Sequence[tuple[str, ...]], parent: QWidget | None = None) -> None:
        """Make the row.

        Args:
            names: of each page its name, its button's object name, and where the name is short, the whole name.
            parent: the owner.
        """
        super().__init__(parent)
        self._group = QButtonGroup(self)
        row = FlowLayout(self, 2)
        for number, (text, name, *whole) in enumerate(names):
            button = QPushButton(text)
            button.setObjectName(name)
            button.setToolTip(whole[0] if whole else "")
            button.setProperty(WHOLE, whole[0] if whole else "")
            button.setCheckable(True)
            button.setProperty("tab", "true")
            button.setChecked(number == 0)
            self._group.addButton(button, number)
            row.addWidget(button)
        policy = self.sizePolicy()
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)
        self._group.idClicked.connect(self.chosen)

    def button(self, number: int) -> QAbstractButton:
        """Return a name's button."""
        return self._group.button(number)

    def choose(self, number: int) -> None:
        """Mark a name as chosen, without a signal."""
        self._group.button(number).setChecked(True)
