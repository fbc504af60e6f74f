"""Sheets of the program itself: its keys, and what it is made of with whose licences."""

from collections.abc import Iterable

from PySide6.QtGui import QAction
from PySide6.QtWidgets import QGridLayout, QScrollArea, QWidget

from farrail import __version__
from farrail.desktop.licences import INSIDE, licences
from farrail.language import N_, Text, say
from farrail.ui.theme.fonts import MEDIUM, font
from farrail.ui.widgets.plain import Label
from farrail.ui.widgets.popover import Popover

# Keys of the drawing and of tables, which are no commands of the window.
RAIL_KEYS = (
    ("← →", N_("The next part or joint, across the optic")),
    (N_("Home, End"), N_("The first, the last")),
    (N_("a letter"), N_("The next part that begins with it")),
    (N_("Enter"), N_("Open the part; at a joint, what fits there")),
    (N_("Alt+← →"), N_("Move the part")),
    ("Shift+F", N_("Flip it")),
    (N_("Delete"), N_("Take it off")),
    (N_("Ctrl+← →"), N_("Move the drawing")),
    ("+  −  0", N_("Zoom in, zoom out, show the whole train")),
    (N_("Escape"), N_("End a preview; clear the selection")),
)
TABLE_KEYS = (
    (N_("Enter"), N_("Do what the row offers, or show it in full")),
    (N_("type, or F2"), N_("Type over a value")),
    ("Ctrl+C", N_("Copy the table; in Parts the selected parts")),
    (N_("Delete, F2, Ctrl+D"), N_("In Parts: remove, rename, duplicate")),
    ("Ctrl+V", N_("In Parts: paste copied parts or rows of a spreadsheet")),
    ("Ctrl+Alt+S", N_("Sort the shelf by the column")),
    (N_("arrows"), N_("In a picture: point by point")),
)
SHIPPED = (
    (N_("Inter"), N_("the typeface; SIL Open Font License 1.1, beside it")),
    (N_("DejaVu Sans"), N_("signs that the other lacks; its own free licence, beside it")),
    (N_("Deep-sky catalogue"), N_("its data are CC-BY-SA-4.0")),
)
HIGH_PX = 480


def show_keys(actions: Iterable[QAction], window: QWidget) -> None:
    """Show every key there is."""
    named = [(action.shortcut().toString(), action.text().replace("&", "")) for action in actions if action.shortcut()]
    groups = (
        (say("Everywhere"), [pair for pair in named if pair[0]]),
        (say("On the rail"), RAIL_KEYS),
        (say("In tables and pictures"), TABLE_KEYS),
    )
    _show(say("Keyboard shortcuts"), groups, window, "keys_sheet")


def show_about(window: QWidget) -> None:
    """Show what the program is and what it is made of."""
    made_of: list[tuple[Text, Text]] = []
    for one in licences():
        said = one.licence or say("its licence is installed with it")
        made_of.append((one.package, f"{one.version}; {said}"))
        if one.package in INSIDE:
            made_of.append(INSIDE[one.package])
    own = say("version {version__}; MIT licence, in the file LICENSE", version__=__version__)
    shipped = (("Far Rail", own), *SHIPPED)
    _show(say("About Far Rail"), (("", shipped), (say("Packages"), made_of)), window, "about_sheet")


def _show(title: str, groups: Iterable[tuple[str, Iterable[tuple[Text, Text]]]], window: QWidget, name: str) -> None:
    sheet = Popover(title, window, 560)
    sheet.setObjectName(name)
    inside = QWidget()
    grid = QGridLayout(inside)
    grid.setContentsMargins(8, 6, 8, 6)
    grid.setHorizontalSpacing(18)
    grid.setVerticalSpacing(5)
    grid.setColumnStretch(1, 1)
    row = 0
    for heading, pairs in groups:
        if heading:
            told = Label(heading)
            told.setProperty("role", "steel")
            grid.addWidget(told, row, 0, 1, 2)
            row += 1
        for first, second in pairs:
            key, said = Label(str(first)), Label(str(second))
            key.setFont(font(13, MEDIUM))
            for label in (key, said):
                label.setWordWrap(True)
            key.setMinimumWidth(170)
            grid.addWidget(key, row, 0)
            grid.addWidget(said, row, 1)
            row += 1
    area = QScrollArea()
    area.setAccessibleName(title)
    area.setFrameShape(QScrollArea.Shape.NoFrame)
    area.setWidgetResizable(True)
    area.setWidget(inside)
    area.setMinimumHeight(min(HIGH_PX, inside.sizeHint().height() + 8))
    sheet.body.addWidget(area)
    sheet.show_at(window.mapToGlobal(window.rect().center()) - sheet.rect().center())
    area.setFocus()
