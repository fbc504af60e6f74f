"""What the attacks share: how a script is called and reports, and the real window they work in."""

import argparse
import json
import os
import subprocess
import sys
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import TYPE_CHECKING, Any, NoReturn

if TYPE_CHECKING:
    from PySide6.QtCore import QSettings
    from PySide6.QtWidgets import QApplication

    from farrail.ui.window import MainWindow

HERE = Path(__file__).parent
ROOT = HERE.parents[1]


def environment(**more: str) -> dict[str, str]:
    """Return the environment of a process that finds the program and the attacks, without a monitor."""
    found = f"{ROOT / 'src'}{os.pathsep}{ROOT}"
    return {**os.environ, "PYTHONPATH": found, "QT_QPA_PLATFORM": "offscreen", **more}


def report_of(script: str, *arguments: str) -> dict[str, Any]:
    """Run an attack in a process of its own; returns its report, or what it ended with as what is wrong."""
    command = [sys.executable, str(HERE / script), *arguments]
    done = subprocess.run(command, env=environment(), capture_output=True, text=True, check=False)
    try:
        report = json.loads(done.stdout.strip().splitlines()[-1])
    except (IndexError, ValueError):
        return {"wrong": [f"ended with {done.returncode}: {done.stderr[-2000:]}"]}
    return report if isinstance(report, dict) else {"wrong": [report]}


def called(
    about: str | None, attack: Callable[..., Mapping[str, Any]], folder: bool = True, **numbers: int
) -> NoReturn:
    """Run an attack as the command line says and print its report; ends with 0 when nothing was wrong.

    Args:
        about: what its help says.
        attack: takes the folder, where it wants one, and each number by its name.
        folder: whether it is given a folder to work in.
        numbers: its options, with what they are when left out.
    """
    parser = argparse.ArgumentParser(description=about, formatter_class=argparse.RawDescriptionHelpFormatter)
    if folder:
        parser.add_argument("folder", type=Path)
    for name, usual in numbers.items():
        parser.add_argument(f"--{name}", type=int, default=usual)
    options = vars(parser.parse_args())
    if folder:
        options["folder"].mkdir(parents=True, exist_ok=True)
    report = attack(**options)
    print(json.dumps(report), flush=True)
    # Threads of a search may still be under way; what there was to say is said.
    os._exit(int(bool(report["wrong"])))


def an_application() -> "QApplication":
    """Return the application, prepared as the program prepares it."""
    from PySide6.QtWidgets import QApplication

    from farrail.ui.application import prepare_application

    app = QApplication.instance() or QApplication([])
    assert isinstance(app, QApplication)
    prepare_application(app)
    return app


def a_window(folder: Path, settings: "QSettings") -> "MainWindow":
    """Return a real window with the demo, in the theme of its settings and with its recovery folder in `folder`."""
    from farrail.demo.hallan_skerry import demo_workbook
    from farrail.ui.session import Session
    from farrail.ui.theme.apply import apply_theme, choose_theme
    from farrail.ui.theme.choice import kept_choice, theme_of
    from farrail.ui.window import MainWindow

    choose_theme(theme_of(kept_choice(settings)))
    window = MainWindow(Session(demo_workbook(), folder / "recovery"), settings, folder / "recovery")
    apply_theme(theme_of(kept_choice(settings)))
    window.show()
    return window
