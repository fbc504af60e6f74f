"""Opens the demo in a window and prints how it rests on its screen, as JSON; the scale comes from the environment."""

import json
import sys
import tempfile
from pathlib import Path

from PySide6.QtCore import QSettings
from PySide6.QtWidgets import QApplication
from tests.ui.walking import pages

from farrail.demo.hallan_skerry import demo_workbook
from farrail.ui.application import prepare_application
from farrail.ui.session import Session
from farrail.ui.theme.apply import apply_theme
from farrail.ui.theme.tokens import PAPER
from farrail.ui.window import MainWindow


def main() -> int:
    """Print what was seen."""
    app = QApplication(["far-rail"])
    prepare_application(app)
    apply_theme(PAPER)
    folder = Path(tempfile.mkdtemp())
    window = MainWindow(
        Session(demo_workbook(), folder), QSettings(str(folder / "s.ini"), QSettings.Format.IniFormat), folder
    )
    window.session.show_train("lantern-apsc")
    window.show()
    for _ in range(5):
        app.processEvents()
    room = window.screen().availableGeometry()
    short = []
    for page in pages(window):
        stands, port = window.stations.area.widget(), window.stations.area.viewport()
        assert stands is not None
        if stands.height() < stands.minimumSizeHint().height() - 1 or port.width() < 600:
            short.append(page)
    window.stations.show_station("light")
    for _ in range(5):
        app.processEvents()
    print(json.dumps({
        "scale": window.devicePixelRatioF(), "screen": [room.width(), room.height()],
        "window": [window.width(), window.height()], "short": short, "folded": window.rail.folded,
        "marks": window.findings.marks.isVisible(),
    }))  # fmt: skip
    window.session.history.mark_saved()
    window.close()
    return 0


if __name__ == "__main__":
    sys.exit(main())
