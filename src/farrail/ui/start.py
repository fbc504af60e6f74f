"""Starting the window: checks, application, fonts, theme, workbook."""

import os
import sys
from pathlib import Path
from typing import TYPE_CHECKING

from farrail.errors import FarRailError
from farrail.ui.platform_check import check_display

if TYPE_CHECKING:
    from farrail.ui.windows import Windows


def run(arguments: list[str]) -> int:
    """Open the window on a file, the demo, or what was open last; returns the exit code.

    Args:
        arguments: nothing, `["demo"]`, one file name, `["--join"]` with or without a file (a program that runs already
            takes it), `["pictures", FOLDER]` or `["picture", FILE, TRAIN, VIEW, OUT]`.

    Raises:
        FarRailError: shown in one sentence by the caller.
    """
    if arguments[:1] == ["pictures"]:
        from farrail.ui.pictures import draw_pictures

        return draw_pictures(Path(arguments[1]), arguments[2:])
    if arguments[:1] == ["picture"]:
        from farrail.ui.picture_file import draw_picture

        return draw_picture(Path(arguments[1]), arguments[2], arguments[3], Path(arguments[4]))
    if arguments[:1] == ["sheet"]:
        from farrail.ui.build_sheet import write_build_sheet

        letter, large = (flag == "1" for flag in arguments[4:6])
        return write_build_sheet(Path(arguments[1]), arguments[2], Path(arguments[3]), letter=letter, large=large)
    if arguments[:1] == ["doctor"]:
        from farrail.ui.doctor import examine

        return examine(as_json=arguments[1] == "1")
    joins = arguments[:1] == ["--join"]
    if joins:
        arguments = arguments[1:]
    if len(arguments) > 1:
        raise FarRailError("One workbook at a time, please; {count} names were given.", count=len(arguments))
    check_display()
    if joins:
        from farrail.ui.single_instance import handed_over

        if handed_over(arguments[0] if arguments else ""):
            return 0
    # Read the workbook before any window opens: a file that cannot be read ends here, in one sentence.
    file = None if not arguments or arguments == ["demo"] else Path(arguments[0])
    if file is not None:
        from farrail.workbook.store import read_file

        read_file(file)
    return _run_window(file, demo=bool(arguments))


def _run_window(file: Path | None, *, demo: bool) -> int:
    from platformdirs import user_state_path

    # Once PySide6 is loaded it reads the source of every module imported after it: what needs no Qt goes first.
    from farrail.demo.hallan_skerry import demo_workbook
    from farrail.readouts import read  # noqa: F401
    from farrail.workbook.workbook import empty_workbook

    # isort: split
    from PySide6.QtCore import QSettings, QTimer
    from PySide6.QtWidgets import QApplication

    app = QApplication(sys.argv[:1])
    from farrail.ui.application import prepare_application

    prepare_application(app)
    from farrail.trouble import watch
    from farrail.ui.gc_control import Tidying
    from farrail.ui.session import Session
    from farrail.ui.shutdown import Ending
    from farrail.ui.theme.apply import apply_theme, choose_theme, current_theme
    from farrail.ui.theme.choice import kept_choice, theme_of
    from farrail.ui.windows import Windows

    settings = QSettings()
    choose_theme(theme_of(kept_choice(settings)))
    recovery = user_state_path("far-rail") / "recovery"
    session = Session(demo_workbook() if demo and file is None else empty_workbook(), recovery)
    windows = Windows(settings, recovery, app)
    window = windows.add(session)
    apply_theme(current_theme())
    if file is not None:
        window.files.open_path(file)
    elif not demo:
        window.show_first()
    window.show()
    QTimer.singleShot(0, window.files.offer_recovery)
    QTimer.singleShot(0, lambda: Tidying(windows.sessions, windows))
    QTimer.singleShot(0, lambda: _listen(windows))
    Ending(windows.sessions, windows.close_all, windows)
    watch(windows.caught)
    if os.environ.get("FAR_RAIL_START_PROBE"):
        # The benchmark asks when the first usable window is: painted, and the event loop idle.
        QTimer.singleShot(0, lambda: QTimer.singleShot(0, _report_and_leave))
    return app.exec()


def _listen(windows: "Windows") -> None:
    """Hear what a second start hands over; what that needs is loaded once the window is."""
    from farrail.ui.single_instance import Listening

    Listening(windows.show_file, windows)


def _report_and_leave() -> None:
    from PySide6.QtWidgets import QApplication

    status = Path("/proc/self/status")
    lines = status.read_text().splitlines() if status.exists() else []
    held = next((line.split()[1] for line in lines if line.startswith("VmRSS")), "?")
    print(f"usable {held}", flush=True)
    QApplication.exit(0)
