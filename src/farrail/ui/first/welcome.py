"""What the window opens on: three ways in, what was open before, the demo, an empty sheet."""

from collections.abc import Sequence
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from farrail.language import say
from farrail.ui.first.route_picture import RoutePicture
from farrail.ui.theme.fonts import MEDIUM, STRONG, font
from farrail.ui.widgets.plain import Label, plain_tip, plain_title
from farrail.workbook.routes.words import ROUTES

# So many recent workbooks have room beside the routes.
MOST_RECENT = 4


class RouteButton(QPushButton):
    """A tall row: a small cut section, what the route is called, and what it leads to."""

    def __init__(self, route: str, parent: QWidget | None = None) -> None:
        """Show a route."""
        super().__init__(parent)
        title, leads = ROUTES[route]
        self.setObjectName(f"route_{route}")
        self.setProperty("row", "true")
        self.setAccessibleName(f"{title}: {leads}")
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setMinimumHeight(84)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        name = Label(str(title))
        name.setFont(font(17, STRONG))
        text = Label(str(leads))
        text.setProperty("role", "steel")
        text.setWordWrap(True)
        words = QVBoxLayout()
        words.setSpacing(2)
        words.addStretch(1)
        words.addWidget(name)
        words.addWidget(text)
        words.addStretch(1)
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 8, 14, 8)
        row.setSpacing(22)
        row.addWidget(RoutePicture(route))
        row.addLayout(words, 1)
        for child in self.findChildren(QWidget):
            child.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)


class Welcome(QWidget):
    """The ways in."""

    # A route was chosen: its key.
    route_wanted = Signal(str)
    # A file was chosen: its path.
    file_wanted = Signal(Path)
    # The demo, another file, or an empty workbook is wanted.
    demo_wanted = Signal()
    open_wanted = Signal()
    empty_wanted = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        """Arrange the page."""
        super().__init__(parent)
        self.setObjectName("welcome")
        left = QVBoxLayout()
        left.setSpacing(6)
        left.addWidget(_heading(say("Start with my own gear")))
        for route in ROUTES:
            button = RouteButton(route)
            button.clicked.connect(partial(self.route_wanted.emit, route))
            left.addWidget(button)
        left.addStretch(1)
        self._recent = QVBoxLayout()
        self._recent.setSpacing(0)
        self._recent.setContentsMargins(0, 0, 0, 0)
        right = QVBoxLayout()
        right.setSpacing(6)
        self._go_on = _heading(say("Recent"))
        right.addWidget(self._go_on)
        right.addLayout(self._recent)
        right.addWidget(_heading(say("Or look around first")))
        for name, text, more, signal in (
            (
                "welcome_demo",
                say("Hallan Skerry, the demo"),
                say("The trains of an invented club; change anything in them"),
                self.demo_wanted,
            ),
            (
                "welcome_open",
                say("Open a workbook…"),
                say("A file of your own, or one you were given"),
                self.open_wanted,
            ),
            ("welcome_new", say("Empty workbook"), say("No parts and no train"), self.empty_wanted),
        ):
            right.addWidget(_line(name, text, more, signal))
        right.addStretch(1)
        sheet = QHBoxLayout(self)
        sheet.setContentsMargins(26, 18, 26, 14)
        sheet.setSpacing(46)
        sheet.addLayout(left, 11)
        sheet.addLayout(right, 9)

    def show_recent(self, files: Sequence[tuple[Path, str]]) -> None:
        """List recent workbooks, each with the verdict it was left at."""
        while self._recent.count():
            item = self._recent.takeAt(0)
            widget = None if item is None else item.widget()
            if widget is not None:
                widget.deleteLater()
        self._go_on.setVisible(bool(files))
        for number, (path, verdict) in enumerate(files[:MOST_RECENT]):
            line = _line(f"recent_{number}", path.name.removesuffix(".farrail.json"), verdict or str(path.parent), None)
            line.setToolTip(plain_tip(str(path)))
            line.clicked.connect(partial(self.file_wanted.emit, path))
            self._recent.addWidget(line)


def _heading(text: str) -> Label:
    label = Label(text)
    label.setFont(font(13, MEDIUM))
    label.setProperty("role", "steel")
    return label


def _line(name: str, text: str, more: str, signal: object) -> QPushButton:
    """Return a row that can be pressed: what it opens, and a smaller line about it."""
    button = QPushButton()
    button.setObjectName(name)
    button.setProperty("row", "true")
    button.setAccessibleName(f"{text}: {more}")
    button.setCursor(Qt.CursorShape.PointingHandCursor)
    box = QVBoxLayout(button)
    box.setContentsMargins(12, 5, 12, 5)
    box.setSpacing(0)
    title, below = Label(plain_title(text).replace("&&", "&")), Label(more)
    title.setFont(font(14, MEDIUM))
    below.setProperty("role", "steel")
    for label in (title, below):
        label.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        label.setMinimumWidth(10)
        box.addWidget(label)
    button.setMinimumHeight(48)
    if signal is not None:
        button.clicked.connect(lambda: signal.emit())  # type: ignore[attr-defined]
    return button
