"""The real window with random hands in it: clicks, drags, keys, text, menus and actions, in a real event loop.

    python tests/hardening/monkey.py FOLDER --times 1000 --seed 1

File dialogs answer with files of the folder, other dialogs with one of their buttons. An error of the program's own, or
a state that does not read back, is wrong. Prints one line of JSON.
"""

import collections
import os
import random
import resource
from collections.abc import Callable
from pathlib import Path
from typing import Any

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QPoint, QSettings, Qt, QTimer
from PySide6.QtGui import QAction
from PySide6.QtPrintSupport import QPrintPreviewDialog
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QComboBox, QFileDialog, QLineEdit, QMenu, QMessageBox, QTabBar, QWidget

from farrail import trouble
from farrail.demo.hallan_skerry import demo_workbook
from farrail.ui.window import MainWindow
from farrail.workbook.reading import from_text, to_text
from farrail.workbook.store import write_file
from tests.hardening.random_edits import NAMES, TYPED
from tests.hardening.running import a_window, an_application, called

KEYS = (Qt.Key.Key_Return, Qt.Key.Key_Escape, Qt.Key.Key_Tab, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Left,
        Qt.Key.Key_Right, Qt.Key.Key_Delete, Qt.Key.Key_Space, Qt.Key.Key_F2, Qt.Key.Key_Home, Qt.Key.Key_End,
        Qt.Key.Key_PageDown, Qt.Key.Key_A, Qt.Key.Key_1, Qt.Key.Key_Backspace)  # fmt: skip
# The one ends the walk, the other opens a program of the desktop.
NOT_PRESSED = ("quit", "log")


class Monkey:
    """Random hands on one window."""

    def __init__(self, window: MainWindow, folder: Path, times: int, seed: int) -> None:
        self.window, self.folder, self.times = window, folder, times
        self.dice = random.Random(seed)
        self.done: collections.Counter[str] = collections.Counter()
        self.wrong: list[str] = []
        self.last = ""
        self.resident: list[int] = []

    def act(self) -> None:
        """Do one thing, and see that the workbook still reads back now and then."""
        if sum(self.done.values()) >= self.times:
            QApplication.exit(0)
            return
        if not self.window.isVisible():
            self.window.show()
        popup = QApplication.activePopupWidget()
        way = self.popup if popup is not None else self.dice.choice(
            (self.click, self.click, self.drag, self.key, self.type, self.trigger, self.choose, self.train, self.resize)
        )  # fmt: skip
        number = sum(self.done.values())
        self.done[way.__name__] += 1
        self.last = way.__name__
        way()
        if number % 100 == 0:
            book = self.window.session.workbook
            if from_text(to_text(book), "x") != book:
                self.wrong.append(f"{number}: does not read back")
            held = next(x for x in Path("/proc/self/status").read_text().splitlines() if x.startswith("VmRSS"))
            self.resident.append(int(held.split()[1]) // 1024)

    def told(self, error: BaseException, doing: str) -> None:
        """Take an error of the program's own."""
        trace = error.__traceback__
        while trace is not None and trace.tb_next is not None:
            trace = trace.tb_next
        where = "" if trace is None else f" in {trace.tb_frame.f_code.co_qualname}, line {trace.tb_lineno}"
        self.wrong.append(f"{sum(self.done.values())} {self.last}: {type(error).__name__}: {str(error)[:140]}{where}")

    def seen(self, kind: type[QWidget] = QWidget) -> QWidget | None:
        """Return a widget that can be seen."""
        found = [w for w in self.window.findChildren(kind) if w.isVisible() and w.isEnabled() and w.width() > 2]
        return self.dice.choice(found) if found else None

    def at(self, widget: QWidget) -> QPoint:
        """Return a place in a widget."""
        return QPoint(self.dice.randrange(max(widget.width(), 1)), self.dice.randrange(max(widget.height(), 1)))

    def click(self) -> None:
        widget = self.seen()
        if widget is not None:
            button = self.dice.choice((Qt.MouseButton.LeftButton,) * 4 + (Qt.MouseButton.RightButton,))
            if self.dice.random() < 0.15:
                QTest.mouseDClick(widget, button, pos=self.at(widget))
            else:
                QTest.mouseClick(widget, button, pos=self.at(widget))

    def drag(self) -> None:
        widget = self.seen()
        if widget is None:
            return
        QTest.mousePress(widget, Qt.MouseButton.LeftButton, pos=self.at(widget))
        for _ in range(self.dice.randrange(1, 6)):
            QTest.mouseMove(widget, self.at(widget))
        QTest.mouseRelease(widget, Qt.MouseButton.LeftButton, pos=self.at(widget))

    def key(self) -> None:
        widget = QApplication.focusWidget() or self.window
        modifier = self.dice.choice((Qt.KeyboardModifier.NoModifier,) * 3 + (Qt.KeyboardModifier.ShiftModifier,))
        QTest.keyClick(widget, self.dice.choice(KEYS), modifier)

    def type(self) -> None:
        widget = self.seen(QLineEdit)
        if isinstance(widget, QLineEdit):
            widget.setFocus()
            widget.selectAll()
            text = self.dice.choice((*TYPED, *NAMES))
            # Keys there are for ASCII only; the rest comes as if pasted.
            if text.isascii() and text.isprintable():
                QTest.keyClicks(widget, text[:40])
            else:
                widget.insert(text)
            if self.dice.random() < 0.6:
                QTest.keyClick(widget, Qt.Key.Key_Return)

    def trigger(self) -> None:
        actions = [a for a in self.window.findChildren(QAction) if a.isEnabled() and not a.menu()]
        names = {id(self.window._actions[name]) for name in NOT_PRESSED}
        action = self.dice.choice([a for a in actions if id(a) not in names])
        self.last = f"trigger {action.text()}"
        action.trigger()

    def choose(self) -> None:
        widget = self.seen(self.dice.choice((QComboBox, QTabBar)))
        if isinstance(widget, QComboBox) and widget.count():
            widget.setCurrentIndex(self.dice.randrange(widget.count()))
            widget.activated.emit(widget.currentIndex())
        elif isinstance(widget, QTabBar) and widget.count():
            widget.setCurrentIndex(self.dice.randrange(widget.count()))

    def train(self) -> None:
        trains = self.window.session.workbook.trains
        if trains:
            self.window.session.show_train(self.dice.choice(trains).id)
        else:
            self.window.files.open_path(self.folder / "a.farrail.json")

    def resize(self) -> None:
        self.window.resize(self.dice.choice((1040, 1280, 1600)), self.dice.choice((680, 800, 1000)))

    def popup(self) -> None:
        menu = QApplication.activePopupWidget()
        if isinstance(menu, QMenu) and self.dice.random() < 0.6:
            actions = [
                a
                for a in menu.actions()
                if a.isEnabled() and a.text() not in ("Quit", "Error log") and not a.isSeparator()
            ]
            if actions:
                action = self.dice.choice(actions)
                self.last = f"menu {action.text()}"
                menu.close()
                action.trigger()
                return
        if menu is not None:
            menu.close()


def _dialogs(folder: Path, dice: random.Random) -> None:
    """Let dialogs answer themselves."""
    names = [*(str(folder / n) for n in ("a.farrail.json", "b.farrail.json", "t.csv", "none.csv", "x.pdf")), ""]
    answer: Callable[..., tuple[str, str]] = lambda *a, **k: (dice.choice(names), "")  # noqa: E731
    QFileDialog.getOpenFileName = answer  # type: ignore[method-assign]
    QFileDialog.getSaveFileName = answer  # type: ignore[method-assign]

    def executed(box: QMessageBox) -> int:
        button = dice.choice(box.buttons())
        QTimer.singleShot(0, button.click)
        return real(box)

    real = QMessageBox.exec
    QMessageBox.exec = executed  # type: ignore[method-assign, assignment]

    def previewed(preview: QPrintPreviewDialog) -> int:
        QTimer.singleShot(0, preview.reject)
        return shown(preview)

    shown = QPrintPreviewDialog.exec
    QPrintPreviewDialog.exec = previewed  # type: ignore[method-assign, assignment]


def attack(folder: Path, times: int, seed: int) -> dict[str, Any]:
    """Let random hands work; returns the counts and what was wrong."""
    os.environ["XDG_STATE_HOME"] = os.environ["XDG_CONFIG_HOME"] = str(folder)
    write_file(folder / "a.farrail.json", demo_workbook())
    app = an_application()
    window = a_window(folder, QSettings(str(folder / "settings.ini"), QSettings.Format.IniFormat))
    window.resize(1280, 800)
    session = window.session
    monkey = Monkey(window, folder, times, seed)
    _dialogs(folder, monkey.dice)
    real_tell = session.log.tell

    def tell(error: BaseException, doing: str) -> str:
        monkey.told(error, doing)
        return real_tell(error, doing)

    session.log.tell = tell  # type: ignore[method-assign]
    trouble.watch(session.caught)
    timer = QTimer()
    timer.timeout.connect(monkey.act)
    timer.start(0)
    app.exec()
    timer.stop()
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss // 1024
    kept = monkey.resident
    report = {"actions": sum(monkey.done.values()), "peak_mb": peak,
              "resident_mb": kept[:: max(len(kept) // 8, 1)], "wrong": monkey.wrong}  # fmt: skip
    session.history.mark_saved()
    window.close()
    return report


if __name__ == "__main__":
    called(__doc__, attack, times=300, seed=1)
