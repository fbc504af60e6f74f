"""Themes, fonts, pictures, and a real window on a real display."""

import os
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QFontInfo, QGuiApplication
from PySide6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot
from tests.ui.displays import virtual_screen
from Xlib import XK, X, display
from Xlib.ext import xtest

from farrail.ui.pictures import SCENES
from farrail.ui.theme.apply import apply_theme, current_theme
from farrail.ui.theme.choice import AS_DESKTOP
from farrail.ui.theme.fonts import font
from farrail.ui.theme.tokens import PAPER, THEMES, Theme
from farrail.ui.window import MainWindow
from farrail.workbook.store import read_file

SOURCE = str(Path(__file__).parents[2] / "src")


def luminance(colour: str) -> float:
    """Relative luminance (WCAG 2.2, definition)."""
    made = QColor(colour)
    parts = [
        c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in (made.redF(), made.greenF(), made.blueF())
    ]
    return 0.2126 * parts[0] + 0.7152 * parts[1] + 0.0722 * parts[2]


def contrast(one: str, other: str) -> float:
    """Contrast ratio (WCAG 2.2, definition)."""
    a, b = sorted((luminance(one), luminance(other)), reverse=True)
    return (a + 0.05) / (b + 0.05)


@pytest.mark.parametrize("theme", THEMES.values(), ids=lambda t: t.name)
def test_contrast_reaches_aa_in_every_theme(theme: Theme) -> None:
    for ground in (theme.paper, theme.panel):
        for text in (theme.ink, theme.steel, theme.good, theme.look, theme.stop):
            assert contrast(text, ground) >= 4.5, (theme.name, text, ground)
        for mark in (theme.axis_light, theme.glass_edge, theme.edge):
            assert contrast(mark, ground) >= 3.0, (theme.name, mark, ground)
        # Written as text too: what can be clicked, what the corner's light says.
        for text in (theme.accent, theme.corner_light):
            assert contrast(text, ground) >= 4.5, (theme.name, text, ground)
    for text in (theme.ink, theme.steel, theme.look):
        assert contrast(text, theme.accent_wash) >= 4.5, (theme.name, text)
    assert contrast(theme.on_accent, theme.accent) >= 4.5
    assert contrast(theme.ink, theme.glass) >= 4.5


def test_the_theme_is_switched_and_remembered(make_window: Callable[..., MainWindow], qtbot: QtBot) -> None:
    window = make_window()
    for name in ("lamp-room", "dark-adapted", "print", "paper"):
        qtbot.keyClick(window, Qt.Key.Key_L, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
        assert current_theme().name == name
        QApplication.processEvents()
        pixel = window.grab().toImage().pixelColor(640, 390)
        assert pixel.name().upper() == THEMES[name].paper
        assert window._settings.value("theme") == name
    apply_theme(PAPER)


def test_the_shipped_font_is_used(qapp: QApplication) -> None:
    assert QFontInfo(font()).family() == "Inter"


# Contours, a thread's answer, frames in a dark theme: what could differ from run to run.
TWICE = ("light", "ask", "frames")


@pytest.mark.timeout(400)
def test_pictures_are_the_same_bytes_twice(tmp_path: Path) -> None:
    assert set(TWICE) <= set(SCENES)
    for run in ("one", "two"):
        only = [word for name in TWICE for word in ("--only", name)]
        command = [sys.executable, "-m", "farrail", "pictures", "--out", str(tmp_path / run), *only]
        env = {k: v for k, v in os.environ.items() if k != "DISPLAY"}
        subprocess.run(command, env={**env, "PYTHONPATH": SOURCE}, check=True, capture_output=True)
    names = sorted(p.name for p in (tmp_path / "one").iterdir())
    assert names == sorted(f"{name}.png" for name in TWICE)
    for name in names:
        assert (tmp_path / "one" / name).read_bytes() == (tmp_path / "two" / name).read_bytes(), name


@pytest.fixture
def screen() -> Iterator[str]:
    """A virtual display of its own."""
    with virtual_screen("1400x900") as name:
        yield name


class Hand:
    """A mouse and a keyboard on an X display, from outside the program."""

    def __init__(self, name: str) -> None:
        self._display = display.Display(name)

    def window(self, title: str, seconds: float = 60.0) -> tuple[int, int]:
        """Wait until a window whose title contains some words is shown; returns its place."""
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            for found in self._display.screen().root.query_tree().children:
                name = found.get_full_property(self._display.intern_atom("_NET_WM_NAME"), X.AnyPropertyType)
                shown = found.get_attributes().map_state == X.IsViewable
                if name is not None and title.encode() in name.value and shown:
                    place = found.get_geometry()
                    found.set_input_focus(X.RevertToParent, X.CurrentTime)
                    self._display.sync()
                    return place.x, place.y
            time.sleep(0.1)
        raise AssertionError(f"no window called {title}")

    def click(self, x: int, y: int) -> None:
        xtest.fake_input(self._display, X.MotionNotify, x=x, y=y)
        self._press(X.ButtonPress, X.ButtonRelease, 1)

    def keys(self, *names: str) -> None:
        codes = [self._display.keysym_to_keycode(XK.string_to_keysym(name)) for name in names]
        for code in codes:
            xtest.fake_input(self._display, X.KeyPress, code)
        for code in reversed(codes):
            xtest.fake_input(self._display, X.KeyRelease, code)
        self._display.sync()
        time.sleep(0.15)

    def _press(self, down: int, up: int, detail: int) -> None:
        xtest.fake_input(self._display, down, detail)
        xtest.fake_input(self._display, up, detail)
        self._display.sync()
        time.sleep(0.2)

    def close(self) -> None:
        self._display.close()


def test_a_real_window_takes_mouse_and_keyboard(screen: str, tmp_path: Path) -> None:
    file = tmp_path / "real.farrail.json"
    env = {
        **{k: v for k, v in os.environ.items() if k not in ("QT_QPA_PLATFORM", "WAYLAND_DISPLAY")},
        "DISPLAY": screen, "PYTHONPATH": SOURCE, "HOME": str(tmp_path), "XDG_CONFIG_HOME": str(tmp_path / "config"),
        "XDG_STATE_HOME": str(tmp_path / "state"),
    }  # fmt: skip
    subprocess.run([sys.executable, "-m", "farrail", "demo", "--save", str(file)], env=env, check=True)
    program = subprocess.Popen([sys.executable, "-m", "farrail", str(file)], env=env, stderr=subprocess.PIPE, text=True)
    hand = Hand(screen)
    try:
        x, y = hand.window("real")
        time.sleep(1.0)
        hand.click(x + 60, y + 200)  # paper beside the drawing takes the focus
        # Backwards from the camera: joint, spacer 5, joint, spacer 8.7; taken out and saved.
        for _ in range(2):
            hand.keys("Right")
        hand.keys("Right")
        hand.keys("Right")
        hand.keys("Delete")
        hand.keys("Control_L", "s")
        end = time.monotonic() + 20
        while read_file(file).workbook.trains[0].rear_train[1].part == "ring-48-42" and time.monotonic() < end:
            time.sleep(0.2)
        row = [laid.part for laid in read_file(file).workbook.trains[0].rear_train]
        assert row == ["tern-flattener", "kittiwake-drawer", "spacer-8-7", "spacer-5"]
        hand.keys("Control_L", "q")
        assert program.wait(timeout=20) == 0
    finally:
        hand.close()
        program.kill()
        _, errors = program.communicate()
    assert "Traceback" not in errors, errors


def test_the_theme_follows_the_desktop_until_one_is_chosen(
    make_window: Callable[..., MainWindow], monkeypatch: pytest.MonkeyPatch
) -> None:
    window, dark = make_window(), [False]
    hints = QGuiApplication.styleHints()
    monkeypatch.setattr(type(hints), "colorScheme", lambda _: Qt.ColorScheme.Dark if dark[0] else Qt.ColorScheme.Light)
    try:
        window.themes.choose(AS_DESKTOP)
        assert current_theme() is PAPER
        dark[0] = True
        hints.colorSchemeChanged.emit(Qt.ColorScheme.Dark)
        assert current_theme().name == "lamp-room"
        assert window._settings.value("theme") == AS_DESKTOP
        window.themes.choose("print")
        dark[0] = False
        hints.colorSchemeChanged.emit(Qt.ColorScheme.Light)
        assert current_theme().name == "print"
        window._settings.setValue("theme", "no such theme")
        assert window.themes.choice == AS_DESKTOP
    finally:
        apply_theme(PAPER)
