"""Where the numbers being typed come from: said once, remembered, and changed with one click."""

from PySide6.QtWidgets import QButtonGroup, QHBoxLayout, QPushButton, QWidget

from farrail.language import N_, Text
from farrail.parts.origin import Origin
from farrail.ui.session import Session
from farrail.ui.widgets.plain import Label

SOURCES = (
    (Origin.PUBLISHED, N_("the maker's page"), "reading_published"),
    (Origin.MEASURED, N_("the part itself"), "reading_measured"),
    (Origin.ASSUMED, N_("a guess"), "reading_assumed"),
)
TIPS = {
    Origin.PUBLISHED: N_("Typed values are published: from a page, a manual, a drawing, an engraving"),
    Origin.MEASURED: N_("Typed values are measured on the part, with a caliper or a ruler"),
    Origin.ASSUMED: N_("Typed values are assumed; a verdict that depends on one says so"),
}


class OriginBar(QWidget):
    """Three buttons of which one is down."""

    def __init__(
        self, session: Session, caption: Text = N_("Read from"), parent: QWidget | None = None
    ) -> None:  # fmt: skip
        """Show where the session reads from."""
        super().__init__(parent)
        self.setObjectName("origin_bar")
        self._session = session
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(5)
        words = Label(str(caption))
        words.setProperty("role", "steel")
        row.addWidget(words)
        self._group = QButtonGroup(self)
        for number, (origin, text, name) in enumerate(SOURCES):
            button = QPushButton(str(text))
            button.setObjectName(name)
            button.setProperty("choice", "true")
            button.setCheckable(True)
            button.setToolTip(str(TIPS[origin]))
            button.setAccessibleName(f"{caption} {text}")
            self._group.addButton(button, number)
            row.addWidget(button)
        row.addStretch(1)
        self._group.idClicked.connect(lambda number: session.read_from(SOURCES[number][0]))
        session.reading_changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show the source in force."""
        for number, (origin, _, _) in enumerate(SOURCES):
            self._group.button(number).setChecked(origin is self._session.reading_from)
