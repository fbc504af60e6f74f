"""F1: the page that is about what has the focus."""

from collections.abc import Callable

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QApplication, QWidget

from farrail.quantities import headed
from farrail.ui.help.about_focus import page_about
from farrail.ui.help.pages import pages
from farrail.ui.help.window import HelpWindow
from farrail.ui.session import Session


class HelpCommands(QObject):
    """Opens the help of one window; it is loaded when it is first asked for."""

    def __init__(self, session: Session, station: Callable[[], str], window: QWidget) -> None:
        """Serve one window; `station` returns the key of the station in front, or of the first page."""
        super().__init__(window)
        self._session, self._station, self._window = session, station, window

    def about_focus(self) -> None:
        """Show the page that is about what has the focus."""
        key, figure_id = page_about(QApplication.focusWidget(), self._station())
        figure = self._session.figure(figure_id) if figure_id else None
        self.show(key, "" if figure is None else headed(figure.label))

    def show(self, key: str, looked_for: str = "") -> None:
        """Show a page, at the first place a text is there."""
        found = self._window.findChild(HelpWindow)
        if found is None:
            found = HelpWindow(pages(self._session.readout), self._window)
        found.show_page(key, looked_for)
        found.show()
        found.raise_()
        found.activateWindow()
        found.list.setFocus()
