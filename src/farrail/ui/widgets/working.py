"""Show working: the arithmetic behind a figure, and figures that show it when clicked."""

from fnmatch import fnmatchcase

from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from farrail.language import N_, say
from farrail.quantities import headed
from farrail.readouts.cards import card_of
from farrail.readouts.figure import Figure, kinds_of_figures, meaning_of
from farrail.readouts.interval_words import value_words
from farrail.ui.theme.fonts import MEDIUM, font
from farrail.ui.widgets.card_picture import CardPicture
from farrail.ui.widgets.plain import plain_title
from farrail.ui.widgets.popover import Popover

PROVENANCE_WORDS = {
    "measured": N_("Rests on measured values throughout."),
    "published": N_("Rests on published values: weakest input."),
    "assumed": N_("Rests on an assumed value: weakest input."),
}


def figure_text(figure: Figure, decimals: int = 2) -> str:
    """Return a figure as the interface writes it, with its interval and its unit."""
    told = value_words(figure, decimals)
    return told if isinstance(figure.shown, str) else f"{told} {figure.unit_word}".strip()


class WorkingPopover(Popover):
    """The working of one figure."""

    def __init__(self, figure: Figure, parent: QWidget) -> None:
        """Arrange the working; nothing is shown yet."""
        super().__init__(headed(figure.label), parent, 420)
        working = figure.working
        meaning = meaning_of(figure.kind)
        if meaning:
            self.add_line(meaning, role="steel", size=12)
        card = card_of(figure)
        if card is not None:
            self.body.addWidget(CardPicture(card, say("The geometry behind it: {label_of}", label_of=figure.label)))
        self.add_line(working.formula, strong=True)
        self.add_line(working.numbers)
        in_inches = figure.inches
        if in_inches:
            self.add_line(say("In inches: {in_inches}.", in_inches=in_inches), role="steel", size=12)
        if figure.low is not None and figure.high is not None:
            self.add_line(
                say(
                    "Unknown inputs spread it from {low} to {high} {unit}.",
                    low=figure.number_words(figure.low)[0],
                    high=figure.number_words(figure.high)[0],
                    unit=figure.unit_word,
                )
            )
        self.add_line(say("Source: {source}", source=working.source), role="steel", size=12)
        self.add_line(str(PROVENANCE_WORDS[figure.provenance.value]), role="steel", size=12)


def show_working(figure: Figure | None, parent: QWidget, at: QPoint) -> None:
    """Show a figure's working beside a point; nothing happens for no figure."""
    if figure is not None:
        WorkingPopover(figure, parent).show_at(at)


class FigureLine(QWidget):
    """A caption with a figure that shows its working when clicked."""

    def __init__(self, caption: str, figure_id: str, parent: QWidget | None = None) -> None:
        """Make a line for the figure of an id; it is empty until `set_figure`."""
        super().__init__(parent)
        self._figure: Figure | None = None
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(2)
        self.button = QPushButton(caption)
        self.button.setObjectName(f"figure_{figure_id}")
        self.button.setProperty("figure", "true")
        self.button.setCursor(Qt.CursorShape.PointingHandCursor)
        meaning = next((meaning_of(kind) for kind in kinds_of_figures() if fnmatchcase(figure_id, kind)), "")
        self.button.setToolTip(
            say("{meaning} Click for its working.", meaning=meaning) if meaning else say("Show working")
        )
        self.button.setFont(font(13, MEDIUM))
        self.button.clicked.connect(self._show)
        self._caption = caption
        row.addWidget(self.button)
        row.addStretch(1)

    @property
    def has_figure(self) -> bool:
        """Whether there is a figure to show."""
        return self._figure is not None

    def set_figure(self, figure: Figure | None, text: str | None = None) -> None:
        """Show another figure; the line hides when there is none."""
        self._figure = figure
        self.setVisible(figure is not None)
        if figure is not None:
            said = text if text is not None else figure_text(figure)
            self.button.setText(f"{self._caption}  {plain_title(said)}")

    def _show(self) -> None:
        show_working(self._figure, self, self.button.mapToGlobal(QPoint(0, self.button.height())))
