"""What every station is: a panel that shows one readout and is shown when to look again."""

from typing import ClassVar

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QVBoxLayout, QWidget

from farrail.language import Message, say
from farrail.planning.offers import Offer
from farrail.ui.session import Session
from farrail.ui.theme.fonts import STRONG, font
from farrail.ui.widgets.plain import Label


class Station(QWidget):
    """A panel about the train in view; only the one in front is kept up to date."""

    # A stable name, and what its tab says.
    key = ""
    title: ClassVar[Message] = Message("")
    # While it is in front, the rail folds to a strip unless a person opens it.
    needs_room = False
    # How high it is read in, its tabs with it: so much it has where the rail is open.
    least_px = 420
    # An offer to show on the rail, or None for the train as it is.
    previewed = Signal(Offer)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Make the panel; it is filled by `refresh`."""
        super().__init__(parent)
        self.session = session
        self.setObjectName(f"station_{self.key}")
        self.setAccessibleName(say("{title} page", title=self.title))

    def refresh(self) -> None:
        """Show what the session holds now."""
        raise NotImplementedError

    def show_preview(self, wanted: bool) -> None:
        """Show on the rail what is picked to preview here; while another station is in front, nothing."""
        self.previewed.emit(None)

    def end(self) -> None:
        """Wait for what is under way: the window is closing."""


class Headline(QWidget):
    """A sentence in large type with a smaller one under it."""

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        """Make an empty headline; `name` prefixes the labels' object names."""
        super().__init__(parent)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(4)
        self.main = Label()
        self.main.setObjectName(f"{name}_headline")
        self.main.setFont(font(19, STRONG))
        self.main.setWordWrap(True)
        self.detail = Label()
        self.detail.setObjectName(f"{name}_detail")
        self.detail.setProperty("role", "steel")
        self.detail.setWordWrap(True)
        box.addWidget(self.main)
        box.addWidget(self.detail)

    def say(self, main: str, detail: str) -> None:
        """Show two sentences."""
        self.main.setText(main)
        self.detail.setText(detail)


def shortcut_of(number: int) -> str:
    """Return the key of a station by its place, from 1: Alt+1 to Alt+9, Alt+0 for the tenth; "" beyond."""
    return f"Alt+{number % 10}" if number <= 10 else ""
