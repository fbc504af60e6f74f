"""Keys that mean the same everywhere: Enter presses, Escape takes back, Shift+F1 says what a hand would be shown."""

from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QAbstractButton, QApplication, QWidget

from farrail.language import say
from farrail.ui.rail.view import RailView
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.popover import Popover

# More tips than this are no help.
MOST_TIPS = 14


class EnterPresses:
    """Presses the button that has the focus with Enter, as the space bar does.

    A field hands Enter on when it has taken it: where it sent the focus to a button, that Enter is not for the button.
    """

    def __init__(self, window: QWidget) -> None:
        """Serve a window."""
        self._window = window
        self._begun_at: QWidget | None = None

    def begins(self) -> None:
        """Remember what has the focus: a key is about to be pressed there."""
        self._begun_at = self._window.focusWidget()

    def presses(self, event: QKeyEvent) -> bool:
        """Press it; whether there was one."""
        button = self._window.focusWidget()
        enter = event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        if not enter or button is not self._begun_at or not isinstance(button, QAbstractButton):
            return False
        button.click()
        return True


def tell_more(window: QWidget) -> None:
    """Show what the pointer would be shown over what has the focus, and over what cannot have it."""
    about = QApplication.focusWidget()
    own = "" if about is None else _told(about)
    title = "" if about is None else about.accessibleName()
    sheet = Popover(title or say("Tooltip"), window, 460)
    sheet.setObjectName("told_more")
    if own:
        sheet.add_line(own)
    others = [] if own else _silent(window)
    for name, tip in others[:MOST_TIPS]:
        sheet.add_line(f"{name}: {tip}" if name and not tip.startswith(name) else tip, size=12)
    if not own and not others:
        sheet.add_line(say("There is no more information here."), role="steel")
    at = window.mapToGlobal(QPoint(60, 80)) if about is None else about.mapToGlobal(QPoint(12, 12))
    sheet.show_at(at)
    sheet.setFocus(Qt.FocusReason.PopupFocusReason)


def _told(about: QWidget) -> str:
    """Return what a widget says something about what is picked in it, else of itself."""
    if isinstance(about, Ledger):
        return about.told()
    if isinstance(about, RailView):
        return about.told()
    tip = about.toolTip()
    return tip or about.accessibleDescription()


def _silent(window: QWidget) -> list[tuple[str, str]]:
    """Return name and tip of what is seen and cannot have the focus."""
    found: dict[str, str] = {}
    for widget in window.findChildren(QWidget):
        if widget.toolTip() and widget.isVisible() and widget.focusPolicy() == Qt.FocusPolicy.NoFocus:
            found.setdefault(widget.toolTip(), widget.accessibleName())
    return [(name, tip) for tip, name in found.items()]
