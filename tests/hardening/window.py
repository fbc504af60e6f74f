"""The real window with a person working steadily in it, to be killed from outside.

    python tests/hardening/window.py

Makes an edit every fifth of a second, and writes the number of each to standard output once it is made.
"""

import sys

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication

from farrail.ui.start import run
from farrail.ui.window import MainWindow
from farrail.workbook.edits.trains import SetFNumber

EVERY_MS = 200
FIRST_N = 2.0
STEP = 0.01


def work() -> None:
    """Begin to edit once the window is."""
    window = next((w for w in QApplication.topLevelWidgets() if isinstance(w, MainWindow)), None)
    if window is None:
        QTimer.singleShot(50, work)
        return
    session, made, timer = window.session, [0], QTimer(window)

    def edit() -> None:
        made[0] += 1
        train = session.train
        assert train is not None
        session.do(SetFNumber(train.id, round(FIRST_N + made[0] * STEP, 2)))
        print(made[0], flush=True)

    timer.timeout.connect(edit)
    timer.start(EVERY_MS)


if __name__ == "__main__":
    # The program makes its own application and loop; work begins from within that loop.
    import farrail.ui.gc_control as tidying

    class Working(tidying.Tidying):
        """Begins to work where the program begins to tidy: the window is then."""

        def __init__(self, *arguments: object) -> None:
            super().__init__(*arguments)  # type: ignore[arg-type]
            work()

    tidying.Tidying = Working  # type: ignore[assignment, misc]
    sys.exit(run(["demo"]))
