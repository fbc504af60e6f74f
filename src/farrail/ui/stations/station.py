"""What every station is: a panel that shows one readout and is shown when to look again."""

from collections.abc import Iterator

from PySide6.QtCore import QSize, Signal
from PySide6.QtWidgets import QHBoxLayout, QLayout, QSizePolicy, QStackedWidget, QVBoxLayout, QWidget

from farrail.ui.session import Session
from farrail.ui.theme.fonts import STRONG, font
from farrail.ui.widgets.plain import Label

# The least height of what is beside a large picture.
LEAST_PAGE_PX = 130
# How high the tabs over a page and its margins are.
TABS_PX = 92
# Type of a headline there.
BESIDE_PICTURE_PX = 16


class Station(QWidget):
    """A panel about the train in view; only the one in front is kept up to date."""

    # Its stable name, as in the registry.
    key = ""
    # An offer to show on the rail, or None for the train as it is.
    previewed = Signal(object)
    # It needs more or less room than before.
    room_wanted = Signal()

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Make the panel; it is filled by `refresh`."""
        super().__init__(parent)
        self.session = session
        self.setObjectName(f"station_{self.key}")

    def refresh(self) -> None:
        """Show at once what the hand looks at: the headline, and the row or picture it works on."""
        raise NotImplementedError

    def refresh_rest(self) -> Iterator[None] | None:
        """Show all else, after the first painting and, where it is long, in steps."""

    def follow_selection(self) -> None:
        """Show what depends on what is picked on the rail."""

    def needed_px(self, usual_px: int) -> int:
        """Return how high it is to show all of what it has now, the tabs with it; `usual_px` where it cannot say."""
        return usual_px

    def rest_later(self) -> None:
        """Have the rest shown after the next painting."""
        self.session.after_paint.ask(self._rest)

    def _rest(self) -> Iterator[None] | None:
        # What was asked for before another station came to the front is shown when this one comes back.
        return None if self.isHidden() and self.parent() is not None else self.refresh_rest()

    def show_preview(self, wanted: bool) -> None:
        """Show on the rail what is picked to preview here; while another station is in front, nothing."""
        self.previewed.emit(None)

    def end(self) -> None:
        """Wait for what is under way: the window is closing."""


class Headline(QWidget):
    """A sentence in large type with a smaller one under it."""

    def __init__(self, name: str, size_px: int = 19) -> None:
        """Make an empty headline; `name` prefixes the labels' object names."""
        super().__init__()
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(4)
        self.main = Label()
        self.main.setObjectName(f"{name}_headline")
        self.main.setFont(font(size_px, STRONG))
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


class PageStack(QStackedWidget):
    """Pages beside a large picture: not as high as the highest of them, for what does not fit in one scrolls there."""

    def __init__(self, parent: QWidget | None = None) -> None:
        """Be empty."""
        super().__init__(parent)
        self.setMinimumHeight(LEAST_PAGE_PX)

    def hasHeightForWidth(self) -> bool:
        """Its height follows from the room there is."""
        return False

    def sizeHint(self) -> QSize:
        """Want no more than the least."""
        return QSize(super().sizeHint().width(), LEAST_PAGE_PX)


def beside_picture(station: QWidget, left: QLayout, right: QLayout) -> QWidget:
    """Arrange a station around a large picture: five eighths of the width for it, the rest for what is said of it.

    Returns:
        The half with what is said, to be hidden where the picture fills the page.
    """
    sheet = QHBoxLayout(station)
    sheet.setContentsMargins(14, 10, 16, 6)
    sheet.setSpacing(16)
    for layout, stretch in ((left, 25), (right, 15)):
        half = QWidget()
        # Shared by the stretch alone, not by what the halves would like.
        half.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        layout.setContentsMargins(0, 0, 0, 0)
        half.setLayout(layout)
        sheet.addWidget(half, stretch)
    return half


def shortcut_of(number: int) -> str:
    """Return the key of a station by its place, from 1: Alt+1 to Alt+9, Alt+0 for the tenth; "" beyond."""
    return f"Alt+{number % 10}" if number <= 10 else ""
