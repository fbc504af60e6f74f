"""Which theme is worn: one that was chosen, or the one that goes with the desktop."""

from collections.abc import Callable

from PySide6.QtCore import QObject, QSettings, Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QWidget

from farrail.ui.theme.apply import apply_theme, current_theme
from farrail.ui.theme.tokens import LAMP_ROOM, PAPER, THEMES, Theme, following

KEY = "theme"
# What is kept where no one chose: dark desktops wear the lamp room, light ones paper.
AS_DESKTOP = "desktop"


def kept_choice(settings: QSettings) -> str:
    """Return the name of the theme chosen, or that the desktop is followed; what is none counts as not chosen."""
    kept = str(settings.value(KEY, AS_DESKTOP))
    return kept if kept in THEMES else AS_DESKTOP


def theme_of(choice: str) -> Theme:
    """Return the theme of a choice, as the desktop is now."""
    if choice in THEMES:
        return THEMES[choice]
    app = QGuiApplication.instance()
    dark = isinstance(app, QGuiApplication) and app.styleHints().colorScheme() == Qt.ColorScheme.Dark
    return LAMP_ROOM if dark else PAPER


class ThemeChoice(QObject):
    """Puts the chosen theme on, keeps it, and follows the desktop where that was chosen."""

    def __init__(self, window: QWidget, settings: QSettings, recolour: Callable[[], None]) -> None:
        """Serve a window; `recolour` is shown once another theme is on."""
        super().__init__(window)
        self._window, self._settings, self._recolour = window, settings, recolour
        app = QGuiApplication.instance()
        if isinstance(app, QGuiApplication):
            app.styleHints().colorSchemeChanged.connect(self._desktop_changed)

    @property
    def choice(self) -> str:
        """The name of the theme chosen, or that the desktop is followed."""
        return kept_choice(self._settings)

    def choose(self, choice: str) -> None:
        """Put a theme on, by its name, or follow the desktop; it is remembered."""
        self._settings.setValue(KEY, choice)
        self._put(theme_of(choice))

    def next(self) -> None:
        """Put the next theme on."""
        self.choose(following(current_theme()).name)

    def _desktop_changed(self) -> None:
        if self.choice == AS_DESKTOP:
            self._put(theme_of(AS_DESKTOP))

    def _put(self, theme: Theme) -> None:
        if theme is current_theme():
            return
        apply_theme(theme)
        self._recolour()
        for widget in self._window.findChildren(QWidget):
            widget.update()
