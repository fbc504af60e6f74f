"""The question about changes that are not saved, of one workbook or of several."""

from collections.abc import Sequence
from enum import Enum, auto

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QMessageBox, QWidget

from farrail.language import say
from farrail.ui.theme.apply import style


class Leaving(Enum):
    """What is done about them."""

    SAVE = auto()
    LEAVE = auto()
    STAY = auto()


def ask_about_unsaved(window: QWidget | None, titles: Sequence[str]) -> Leaving:
    """Ask once about all workbooks with changes.

    Args:
        window: where the question is shown.
        titles: the workbooks.
    """
    box = QMessageBox(window)
    style(box)
    box.setObjectName("unsaved_guard")
    box.setWindowTitle(say("Unsaved changes"))
    box.setTextFormat(Qt.TextFormat.PlainText)
    if len(titles) == 1:
        box.setText(say("“{title}” has changes that are not saved.", title=titles[0]))
    else:
        box.setText(say("{count} workbooks have changes that are not saved: {listed}.",
                        count=len(titles), listed=", ".join(titles)))  # fmt: skip
    box.setInformativeText(say("Without saving they are lost."))
    save = box.addButton(say("Save") if len(titles) == 1 else say("Save all"), QMessageBox.ButtonRole.AcceptRole)
    save.setObjectName("guard_save")
    leave = box.addButton(say("Leave without saving"), QMessageBox.ButtonRole.DestructiveRole)
    leave.setObjectName("guard_leave")
    stay = box.addButton(say("Cancel"), QMessageBox.ButtonRole.RejectRole)
    stay.setObjectName("guard_stay")
    box.setDefaultButton(save)
    box.setEscapeButton(stay)
    box.exec()
    clicked = box.clickedButton()
    return Leaving.SAVE if clicked is save else Leaving.LEAVE if clicked is leave else Leaving.STAY
