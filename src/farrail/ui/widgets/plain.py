"""Names are text, never markup: what a person or a file calls something is shown as it is, wherever it appears."""

from html import escape

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel, QWidget

# A title in a menu or on a button holds so many characters; the whole name is elsewhere.
LONGEST_TITLE = 80


class Label(QLabel):
    """A label that shows its text as it is; Qt's own guesses whether it is markup, and would load what it names."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        """Show a text."""
        super().__init__(parent)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(text)


def plain_tip(text: str) -> str:
    """Return a tool tip that shows a text as it is, its lines kept."""
    return f"<qt>{escape(text)}</qt>".replace("\n", "<br>") if "<" in text else text


def plain_title(text: str) -> str:
    """Return a text for a menu or a button: in one line, cut where it is long, its ampersands shown as such."""
    line = " ".join(text.split())
    if len(line) > LONGEST_TITLE:
        line = f"{line[: LONGEST_TITLE - 1]}…"
    return line.replace("&", "&&")
