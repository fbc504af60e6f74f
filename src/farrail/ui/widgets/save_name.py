"""Asking where a file is to be written: with its ending, and with a question before anything there is replaced."""

from collections.abc import Sequence
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QMessageBox, QWidget

from farrail.language import say
from farrail.ui.theme.apply import style


def ask_where(
    owner: QWidget, title: str, start: str, kinds: str, endings: Sequence[str], *, others: bool = False
) -> tuple[Path, str] | None:  # fmt: skip
    """Ask for the file to write; returns it with the kind chosen, or None if cancelled.

    The dialog asks before it replaces the file of the name that was typed. An ending added afterwards makes another
    name, so a file of that one is asked about here.

    Args:
        owner: what asks.
        title: of the dialog.
        start: the name offered.
        kinds: the kinds of file, as Qt filters them.
        endings: those a name may have; any other gets the one of the chosen kind, or the first.
        others: leave a name its ending of another kind, for the writer to judge.
    """
    name, kind = QFileDialog.getSaveFileName(owner.window(), title, start, kinds)
    if not name:
        return None
    path = Path(name)
    if not path.name.casefold().endswith(tuple(endings)) and not (others and path.suffix):
        ending = next((one for one in endings if f"*{one}" in kind), endings[0])
        path = path.with_name(path.name + ending)
        if path.exists() and not _replaces(owner, path):
            return None
    return path, kind


def _replaces(owner: QWidget, path: Path) -> bool:
    box = QMessageBox(owner.window())
    style(box)
    box.setObjectName("replace_file")
    box.setIcon(QMessageBox.Icon.Question)
    box.setText(say("{name} is there already. Replace it?", name=path.name))
    replace = box.addButton(say("Replace"), QMessageBox.ButtonRole.DestructiveRole)
    replace.setObjectName("replace_file_yes")
    keep = box.addButton(say("Cancel"), QMessageBox.ButtonRole.RejectRole)
    keep.setObjectName("replace_file_no")
    box.setDefaultButton(keep)
    box.exec()
    return box.clickedButton() is replace
