"""One picture of one train: its rail or its light, as PNG, SVG or PDF, without a display."""

from pathlib import Path

from farrail.errors import BadInput
from farrail.language import say
from farrail.ui.paper import ask_for_folder, drawing_application
from farrail.workbook.store import read_file, write_bytes

SIZES = {"rail": (1280, 420), "light": (980, 380)}


def draw_picture(file: Path, train: str, view: str, out: Path) -> int:
    """Draw a train of a workbook into a file; returns the exit code.

    Raises:
        FarRailError: the workbook cannot be read, the name ends in none of .png, .svg and .pdf, or cannot be written.
    """
    if out.suffix.lower() not in (".png", ".svg", ".pdf"):
        raise BadInput(
            "“{name}” says not which kind of picture it is; give a name that ends in .png, .svg or .pdf.",
            name=out.name,
        )
    ask_for_folder(out)
    workbook = read_file(file).workbook
    key = workbook.train(train).id
    drawing_application()
    from farrail.ui.session import Session

    session = Session(workbook, out.absolute().parent)
    session.show_train(key)
    _render(session, view, out)
    return 0


def _render(session: object, view: str, out: Path) -> None:
    from PySide6.QtWidgets import QWidget

    from farrail.ui.rail.view import RailView
    from farrail.ui.session import Session
    from farrail.ui.stations.light_sheet import LightSheet
    from farrail.ui.widgets.sharing import picture_bytes

    assert isinstance(session, Session)
    widget: QWidget = RailView(session) if view == "rail" else LightSheet(session)
    widget.resize(*SIZES[view])
    title = session.train.name if session.train is not None else say("Far Rail")
    data = picture_bytes(widget, title, out.suffix.casefold())
    widget.deleteLater()
    write_bytes(out, data)
