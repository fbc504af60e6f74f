"""The first page, where the stations are: ways in, or the route under way."""

from collections.abc import Callable

from PySide6.QtWidgets import QStackedWidget, QWidget

from farrail.readouts.read import Readout
from farrail.ui.actions.files import FileCommands
from farrail.ui.first.route_page import RoutePage
from farrail.ui.first.welcome import Welcome
from farrail.ui.session import Session
from farrail.workbook.routes.answer import Route


class FirstPage(QStackedWidget):
    """The ways in, and behind them the ledger of a route."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Show the ways in."""
        super().__init__(parent)
        self.setObjectName("first_page")
        self.welcome, self.route = Welcome(), RoutePage(session)
        self.addWidget(self.welcome)
        self.addWidget(self.route)
        self.welcome.route_wanted.connect(lambda key: self.begin(Route(key)))
        self.route.first_wanted.connect(self.show_welcome)

    def serve(
        self, files: FileCommands, show_stations: Callable[[], None], end_route: Callable[[str], None],
        preview: Callable[[Readout | None], None],
    ) -> None:  # fmt: skip
        """Tie the ways in to what a window does with files, and with where a route leads."""
        self.welcome.demo_wanted.connect(files.demo)
        self.welcome.open_wanted.connect(files.open)
        self.welcome.empty_wanted.connect(files.empty)
        self.welcome.file_wanted.connect(lambda path: files.opener(path)())
        self.route.stations_wanted.connect(show_stations)
        self.route.ended.connect(end_route)
        self.route.previewed.connect(preview)

    def show_welcome(self) -> None:
        """Show the ways in."""
        self.setCurrentWidget(self.welcome)

    def begin(self, route: Route) -> None:
        """Begin a route."""
        self.setCurrentWidget(self.route)
        self.route.begin(route)
