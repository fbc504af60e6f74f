"""Popovers: a sheet beside what was clicked, gone with Escape or a click elsewhere; never modal."""

from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QGuiApplication, QKeyEvent
from PySide6.QtWidgets import QAbstractButton, QFrame, QLabel, QVBoxLayout, QWidget

from farrail.ui.theme.apply import style
from farrail.ui.theme.fonts import MEDIUM, STRONG, font
from farrail.ui.widgets.plain import Label


class Popover(QFrame):
    """A sheet with a title and lines of text; subclasses add what they need to `body`."""

    def __init__(self, title: str, parent: QWidget, width: int = 360) -> None:
        """Make a sheet; nothing is shown yet."""
        super().__init__(parent, Qt.WindowType.Popup)
        self.setObjectName("popover")
        style(self)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setAccessibleName(title)
        self.setFixedWidth(width)
        self.body = QVBoxLayout(self)
        self.body.setContentsMargins(18, 15, 18, 16)
        self.body.setSpacing(6)
        heading = Label(title)
        heading.setFont(font(14, STRONG))
        heading.setWordWrap(True)
        self.body.addWidget(heading)

    def add_line(self, text: str, *, role: str = "", size: int = 13, strong: bool = False) -> QLabel:
        """Add a line of text."""
        label = Label(text)
        label.setFont(font(size, MEDIUM if strong else font().weight()))
        label.setWordWrap(True)
        label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        if role:
            label.setProperty("role", role)
        self.body.addWidget(label)
        return label

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter presses the button that has the focus."""
        button = self.focusWidget()
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and isinstance(button, QAbstractButton):
            button.click()
            return
        super().keyPressEvent(event)

    def show_at(self, at: QPoint) -> None:
        """Show beside a point of the screen, kept wholly on it."""
        self.adjustSize()
        screen = QGuiApplication.screenAt(at) or QGuiApplication.primaryScreen()
        area = screen.availableGeometry()
        x = min(max(at.x(), area.left() + 8), area.right() - self.width() - 8)
        below = at.y() + 8
        y = below if below + self.height() <= area.bottom() - 8 else at.y() - self.height() - 8
        self.move(x, max(y, area.top() + 8))
        self.show()
