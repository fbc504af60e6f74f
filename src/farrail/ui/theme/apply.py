"""Putting a theme on the application: its palette, and the style sheet of each part of a window.

Qt styles every widget below a style sheet again when the sheet changes, hidden ones too; a window has more than a
thousand. So the application has no style sheet: each part of a window, such as a station, gets its own when it is first
shown, and again when it is first shown after a change of theme.
"""

from pathlib import Path
from weakref import WeakSet

from PySide6.QtCore import QEvent, QObject
from PySide6.QtGui import QColor, QPalette
from PySide6.QtWidgets import QApplication, QToolTip, QWidget
from shiboken6 import isValid

from farrail.ui.theme.fonts import font
from farrail.ui.theme.tokens import PAPER, Theme

_current = PAPER
ICONS = Path(__file__).parent.parent.parent / "assets" / "icons"


def current_theme() -> Theme:
    """Return the theme in force."""
    return _current


def choose_theme(theme: Theme) -> None:
    """Make a theme the one in force; widgets that paint themselves ask for it when they repaint."""
    global _current  # one application, one theme
    _current = theme
    app = QApplication.instance()
    if isinstance(app, QApplication):
        app.setPalette(_palette(theme))
        QToolTip.setPalette(_palette(theme))
        app.setFont(font())


def apply_theme(theme: Theme) -> None:
    """Make a theme the application's; what is hidden gets it once it is shown."""
    choose_theme(theme)
    for widget in list(_styled):
        if isValid(widget):
            style_when_shown(widget)


def style(widget: QWidget) -> None:
    """Give a part of a window the style sheet of the theme in force, unless it has it."""
    if getattr(widget, STYLED, None) is not _current:
        setattr(widget, STYLED, _current)
        widget.setStyleSheet(_style(_current))
    _styled.add(widget)


def style_when_shown(widget: QWidget) -> None:
    """Give a part of a window its style sheet now if it is visible, else when it is next shown."""
    if widget.isVisible():
        style(widget)
    else:
        _styled.add(widget)
        widget.installEventFilter(_on_show)


class _OnShow(QObject):
    """Styles what it watches when that is shown."""

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Style a widget before it is painted for the first time in this theme."""
        if event.type() == QEvent.Type.Show and isinstance(watched, QWidget):
            watched.removeEventFilter(self)
            style(watched)
        return False


_on_show = _OnShow()
_styled: WeakSet[QWidget] = WeakSet()
# The theme that a widget's style sheet is of.
STYLED = "_far_rail_theme"


def _palette(theme: Theme) -> QPalette:
    palette = QPalette()
    roles = QPalette.ColorRole
    for role, colour in (
        (roles.Window, theme.paper), (roles.Base, theme.panel), (roles.AlternateBase, theme.paper),
        (roles.WindowText, theme.ink), (roles.Text, theme.ink), (roles.ButtonText, theme.ink),
        (roles.Button, theme.panel), (roles.Highlight, theme.accent_wash), (roles.HighlightedText, theme.ink),
        (roles.PlaceholderText, theme.steel), (roles.ToolTipBase, theme.panel), (roles.ToolTipText, theme.ink),
        (roles.Mid, theme.hairline), (roles.Link, theme.accent),
    ):  # fmt: skip
        palette.setColor(role, QColor(colour))
    for role in (roles.Text, roles.ButtonText, roles.WindowText):
        palette.setColor(QPalette.ColorGroup.Disabled, role, QColor(theme.steel))
    return palette


def _style(t: Theme) -> str:
    tick = "tick-dark.png" if t.dark else "tick-light.png"
    return f"""
    QMainWindow, QDialog {{ background: {t.paper}; }}
    QToolTip {{ background: {t.panel}; color: {t.ink}; border: 1px solid {t.hairline}; padding: 5px 8px; }}
    QMenu {{ background: {t.panel}; color: {t.ink}; border: 1px solid {t.hairline}; padding: 6px 0; }}
    QMenu::item {{ padding: 6px 28px 6px 18px; }}
    QMenu::item:selected {{ background: {t.accent_wash}; color: {t.ink}; }}
    QMenu::item:disabled {{ color: {t.steel}; }}
    QMenu::separator {{ height: 1px; background: {t.hairline}; margin: 6px 0; }}
    QLineEdit, QPlainTextEdit, QComboBox, QSpinBox {{ background: {t.panel}; color: {t.ink};
        border: 1px solid {t.edge}; border-radius: 3px; padding: 4px 7px; selection-background-color: {t.accent};
        selection-color: {t.on_accent}; min-height: 18px; }}
    QLineEdit:focus, QPlainTextEdit:focus, QComboBox:focus, QSpinBox:focus {{ border: 2px solid {t.accent};
        padding: 3px 6px; }}
    QLineEdit[wrong="true"] {{ border: 1px solid {t.stop}; color: {t.stop}; }}
    QComboBox::drop-down {{ border: 0; width: 18px; }}
    QComboBox::down-arrow {{ image: none; width: 0; height: 0; margin-right: 8px; border-left: 4px solid {t.panel};
        border-right: 4px solid {t.panel}; border-top: 5px solid {t.steel}; }}
    QComboBox QAbstractItemView {{ background: {t.panel}; color: {t.ink}; border: 1px solid {t.hairline};
        selection-background-color: {t.accent_wash}; selection-color: {t.ink}; outline: 0; }}
    QPushButton {{ background: {t.panel}; color: {t.ink}; border: 1px solid {t.edge}; border-radius: 3px;
        padding: 5px 13px; min-height: 18px; }}
    QPushButton:hover {{ border-color: {t.accent}; }}
    QPushButton:checked {{ background: {t.accent_wash}; border-color: {t.accent}; }}
    QPushButton:focus {{ border: 1px solid {t.accent}; }}
    QPushButton:disabled {{ color: {t.steel}; }}
    QPushButton[quiet="true"], QToolButton {{ background: transparent; border: 1px solid transparent; color: {t.ink};
        border-radius: 3px; padding: 4px 8px; text-align: left; }}
    QPushButton[verdict="good"] {{ color: {t.good}; text-align: left; }}
    QPushButton[verdict="look"] {{ color: {t.look}; text-align: left; }}
    QPushButton[verdict="stop"] {{ color: {t.stop}; text-align: left; }}
    QPushButton[quiet="true"]:hover, QToolButton:hover {{ background: {t.accent_wash}; }}
    QPushButton[quiet="true"]:focus, QToolButton:focus {{ border: 1px solid {t.accent}; }}
    QPushButton[figure="true"] {{ background: transparent; border: 0; border-bottom: 1px dotted transparent;
        border-radius: 0; padding: 3px 0 3px 0; text-align: left; }}
    QPushButton[figure="true"]:hover, QPushButton[figure="true"]:focus {{ border-bottom: 1px dotted {t.accent};
        color: {t.accent}; }}
    QPushButton[row="true"] {{ background: transparent; border: 1px solid transparent;
        border-left: 3px solid {t.edge}; border-radius: 0; text-align: left; padding: 0; min-height: 44px; }}
    QPushButton[row="true"]:hover {{ background: {t.panel}; border-left: 3px solid {t.axis_light}; }}
    QPushButton[row="true"]:focus {{ border: 1px solid {t.accent}; border-left: 3px solid {t.accent}; }}
    QPushButton[usual="true"] {{ padding: 2px 7px; min-height: 20px; color: {t.steel}; }}
    QPushButton[choice="true"] {{ padding: 3px 9px; }}
    QWidget[stand="hand"] {{ background: {t.panel}; }}
    QLineEdit[stand="answered"] {{ background: transparent; border: 1px solid transparent; }}
    QLineEdit[stand="later"] {{ background: transparent; }}
    QWidget#header {{ background: {t.paper}; border-bottom: 1px solid {t.hairline}; }}
    QWidget#tab_line {{ background: {t.hairline}; }}
    QPushButton[tab="true"] {{ background: transparent; border: 0; border-bottom: 3px solid transparent;
        border-radius: 0; color: {t.steel}; padding: 6px 9px 5px 9px; }}
    QPushButton[chip="true"] {{ padding: 2px 8px; font-size: 12px; }}
    QPushButton[chip="true"]:checked {{ background: {t.accent_wash}; border-color: {t.accent}; }}
    QPushButton[tab="true"]:checked {{ color: {t.ink}; border-bottom: 3px solid {t.axis_light}; }}
    QPushButton[tab="true"]:hover {{ color: {t.ink}; }}
    QPushButton[tab="true"]:focus {{ background: {t.accent_wash}; }}
    QLineEdit#ledger_editor {{ padding: 0 4px; }}
    QFrame#message_bar {{ background: {t.panel}; border-top: 1px solid {t.ink}; }}
    QFrame#message_bar[trouble="true"] {{ border-top: 1px solid {t.stop}; }}
    QFrame#message_bar[trouble="true"] QLabel {{ color: {t.stop}; }}
    QToolButton:disabled {{ color: {t.steel}; }}
    QToolButton::menu-indicator, QPushButton::menu-indicator {{ image: none; width: 0; }}
    QTableView, QListView, QTreeView {{ background: transparent; color: {t.ink}; border: 0; outline: 0;
        selection-background-color: {t.accent_wash}; selection-color: {t.ink}; gridline-color: {t.hairline}; }}
    QListWidget::item, QTreeWidget::item {{ padding: 5px 8px; }}
    QListWidget::item:selected, QTreeWidget::item:selected {{ background: {t.accent_wash}; color: {t.ink}; }}
    QHeaderView {{ background: transparent; border: 0; }}
    QHeaderView::section {{ background: {t.paper}; color: {t.steel}; border: 0;
        border-bottom: 1px solid {t.hairline}; padding: 3px 6px 5px 6px; font-weight: 400; }}
    QScrollBar:vertical {{ background: transparent; width: 10px; margin: 0; }}
    QScrollBar::handle:vertical {{ background: {t.edge}; border-radius: 4px; min-height: 28px; margin: 0 1px; }}
    QScrollBar:horizontal {{ background: transparent; height: 10px; margin: 0; }}
    QScrollBar::handle:horizontal {{ background: {t.edge}; border-radius: 4px; min-width: 28px; margin: 1px 0; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
    QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
    QScrollArea, QScrollArea > QWidget > QWidget {{ background: transparent; border: 0; }}
    QFrame#popover, QDialog QFrame#card {{ background: {t.panel}; border: 1px solid {t.hairline}; border-radius: 4px; }}
    QLabel[reason="true"] {{ background: {t.panel}; color: {t.stop}; border: 1px solid {t.stop}; padding: 3px 7px; }}
    QLabel[role="steel"] {{ color: {t.steel}; }}
    QLabel[role="good"] {{ color: {t.good}; }}
    QLabel[role="look"] {{ color: {t.look}; }}
    QLabel[role="stop"] {{ color: {t.stop}; }}
    QRadioButton, QCheckBox {{ color: {t.ink}; spacing: 8px; min-height: 24px; }}
    QCheckBox::indicator, QListWidget::indicator, QTreeWidget::indicator {{ width: 14px; height: 14px;
        border: 1px solid {t.steel}; border-radius: 2px; background: {t.panel}; }}
    QCheckBox::indicator:checked, QListWidget::indicator:checked,
    QTreeWidget::indicator:checked {{ background: {t.accent}; border-color: {t.accent};
        image: url("{(ICONS / tick).as_posix()}"); }}
    QSlider:horizontal {{ min-height: 24px; }}
    QSlider::groove:horizontal {{ height: 4px; border-radius: 2px; background: {t.edge}; }}
    QSlider::handle:horizontal {{ width: 16px; height: 16px; margin: -6px 0; border-radius: 8px;
        background: {t.accent}; }}
    QSlider::handle:horizontal:disabled {{ background: {t.edge}; }}
    QProgressBar {{ background: {t.panel}; border: 1px solid {t.edge}; border-radius: 3px; min-height: 22px;
        text-align: center; color: {t.ink}; }}
    QProgressBar::chunk {{ background: {t.accent_wash}; border-right: 2px solid {t.accent}; }}
    """
