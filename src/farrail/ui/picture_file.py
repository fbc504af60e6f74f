"""One picture of one train: its rail or its light, as PNG or SVG, without a display."""

from pathlib import Path

from farrail.errors import BadInput, FarRailError
from farrail.ui.paper import ask_for_folder, drawing_application
from farrail.workbook.store import read_file

SIZES = {"rail": (1280, 420), "light": (980, 380)}
SCALE = 2.0


def draw_picture(file: Path, train: str, view: str, out: Path) -> int:
    """Draw a train of a workbook into a file; returns the exit code.

    Raises:
        FarRailError: the workbook cannot be read, the name ends in neither .png nor .svg, or cannot be written.
    """
    if out.suffix.lower() not in (".png", ".svg"):
        raise BadInput(f"“{out.name}” says not which kind of picture it is; give a name that ends in .png or .svg.")
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
    from PySide6.QtCore import QPoint, QRect, QSize
    from PySide6.QtGui import QColor, QImage, QPainter
    from PySide6.QtSvg import QSvgGenerator
    from PySide6.QtWidgets import QWidget

    from farrail.ui.rail.view import RailView
    from farrail.ui.session import Session
    from farrail.ui.stations.light_sheet import LightSheet
    from farrail.ui.theme.apply import current_theme

    assert isinstance(session, Session)
    widget: QWidget = RailView(session) if view == "rail" else LightSheet(session)
    width, height = SIZES[view]
    widget.resize(width, height)
    painter = QPainter()
    if out.suffix.lower() == ".svg":
        made = QSvgGenerator()
        made.setFileName(str(out))
        made.setSize(QSize(width, height))
        made.setViewBox(QRect(0, 0, width, height))
        made.setTitle(session.train.name if session.train is not None else "Far Rail")
        done = painter.begin(made)
    else:
        image = QImage(round(width * SCALE), round(height * SCALE), QImage.Format.Format_RGB32)
        image.setDevicePixelRatio(SCALE)
        image.fill(QColor(current_theme().paper))
        done = painter.begin(image)
    if done:
        widget.render(painter, QPoint(0, 0))
        painter.end()
    if out.suffix.lower() == ".png":
        done = done and image.save(str(out))
    widget.deleteLater()
    if not done or not out.is_file():
        raise FarRailError(f"{out} cannot be written; choose another folder.")
