"""The application object's own: name, style, fonts, icon."""

from pathlib import Path

from PySide6.QtGui import QIcon
from PySide6.QtWidgets import QApplication

from farrail.ui.accessibility import speak
from farrail.ui.language_choice import translate_qt
from farrail.ui.theme.fonts import load_fonts
from farrail.ui.widgets.focus_ring import FocusRing


def prepare_application(app: QApplication) -> None:
    """Give the application its name, fonts and style; call once."""
    app.setOrganizationName("far-rail")
    app.setApplicationName("far-rail")
    app.setApplicationDisplayName("Far Rail")
    app.setStyle("Fusion")
    load_fonts()
    FocusRing(app)
    speak()
    translate_qt(app)
    app.setWindowIcon(QIcon(str(Path(__file__).parent.parent / "assets" / "icons" / "far-rail.svg")))
