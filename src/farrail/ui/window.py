"""The window: header, rail, stations and findings, and what ties them together."""

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QEvent, QPoint, QSettings, Qt, QTimer, Signal
from PySide6.QtGui import (
    QAction,
    QCloseEvent,
    QKeyEvent,
    QKeySequence,
    QResizeEvent,
    QShowEvent,
)
from PySide6.QtWidgets import QMainWindow, QStackedWidget, QVBoxLayout, QWidget

from farrail.language import N_, begun_small, say
from farrail.readouts.read import read
from farrail.train.rows import with_parts
from farrail.ui import command_search
from farrail.ui.actions.commands import Keys, make_action
from farrail.ui.actions.exports import ExportCommands
from farrail.ui.actions.files import FileCommands
from farrail.ui.actions.rail_menu import show_rail_menu
from farrail.ui.actions.tables import TableCommands
from farrail.ui.actions.trains import TrainCommands
from farrail.ui.autosave import Keeping
from farrail.ui.build_sheet import draw_sheet_on
from farrail.ui.desktop_keys import desktop_actions
from farrail.ui.dropping import Dropping
from farrail.ui.findings_column import FindingsColumn
from farrail.ui.floating import Floating
from farrail.ui.header import Header
from farrail.ui.keys import EnterPresses, tell_more
from farrail.ui.named_stations import NamedStations
from farrail.ui.rail.view import RailView
from farrail.ui.range_worker import Ranging
from farrail.ui.responsive_layout import Folding
from farrail.ui.session import Session
from farrail.ui.sheets import show_about, show_keys
from farrail.ui.station_stack import StationStack
from farrail.ui.stations.registry import STATIONS
from farrail.ui.stations.station import Station
from farrail.ui.theme.apply import style, style_when_shown
from farrail.ui.theme.choice import ThemeChoice
from farrail.ui.widgets.divider import Divider
from farrail.ui.widgets.message_bar import MessageBar
from farrail.ui.widgets.palette import Palette
from farrail.ui.widgets.plain import plain_tip, plain_title
from farrail.ui.widgets.short_field import ShortField
from farrail.ui.window_menus import WindowMenus
from farrail.ui.window_state import Remembering, fit_screen
from farrail.workbook.routes.answer import Route

if TYPE_CHECKING:
    from farrail.planning.offers import Offer
    from farrail.ui.first.first_page import FirstPage
    from farrail.ui.help.commands import HelpCommands

# The header's buttons: command, icon, name.
TOOLS = (("undo", "undo", N_("Undo")), ("redo", "redo", N_("Redo")), ("palette", "find", N_("Find")),
         ("theme", "lamp", N_("Theme")))  # fmt: skip
# The least window, the width under which findings fold to marks, the height under which the rail folds to a strip.
LEAST_WIDE_PX, LEAST_HIGH_PX = 800, 520
NARROW_PX, LOW_PX = 1180, 640
LEAST_STATIONS_PX, WHOLE_STATIONS_PX = 640, 1004


class MainWindow(NamedStations, QMainWindow):
    """One workbook in one window."""

    # A further window on the same workbook is wanted.
    another_wanted = Signal()
    # A file, or None for the first page, is wanted in a window of its own.
    open_apart_wanted = Signal(object)
    # Every window is wanted again, since what it was made from is shown otherwise now.
    rebuild_requested = Signal()
    closed = Signal()
    # The program is to end: all windows close.
    quit_wanted = Signal()

    def __init__(self, session: Session, settings: QSettings, recovery_folder: Path) -> None:
        """Build the window; nothing is shown yet."""
        super().__init__()
        self.setObjectName("main_window")
        self._enter = EnterPresses(self)
        self.session, self._settings = session, settings
        session.setParent(self)
        self.bar = MessageBar()
        self.files = FileCommands(session, self.bar, settings, recovery_folder, self)
        self.header = Header(session)
        self.rail = RailView(session)
        self.stations = StationStack(session, STATIONS)
        self.findings = FindingsColumn(session)
        self.ranging = Ranging(session, self)
        self._compose()
        self.folding = Folding(self.split, self.rail, self.stations, session, self._settings)
        self._remembering = Remembering(self.stations, self._settings)
        self.floating = Floating(self.split, self.rail, session, self, self.folding.follow)
        self.tables = TableCommands(session, lambda: self.parts, self)
        self.trains = TrainCommands(session, self.header, self)
        self.exports = ExportCommands(session, self.rail, self, draw_sheet_on)
        opened = lambda path: self.files.opener(path)()  # noqa: E731
        self._dropping = Dropping(self, self._show_frames, opened, self._show_table, self._tell)
        self.themes = ThemeChoice(self, settings, self.header.recolour)
        self._actions = self._make_actions()
        self._ways = partial(command_search.ways_of_telling, self.session, self.themes, self.rebuild_requested.emit)
        self._menus = WindowMenus(self._actions, self.header, self.files, self.trains, self._ways, self)
        self._connect()
        self._keeping = Keeping(session, self)
        self.setMinimumSize(LEAST_WIDE_PX, LEAST_HIGH_PX)
        self.resize(1280, 800)
        self._remembering.restore(self.restoreGeometry, self.below.restoreState)
        fit_screen(self)
        self._refresh_all()

    def _compose(self) -> None:
        self.below = Divider(Qt.Orientation.Horizontal)
        self.below.setObjectName("lower_split")
        self.below.addWidget(self.stations)
        # A station that wants more than a small window has gives way: findings must stay readable.
        self.stations.setMinimumWidth(LEAST_STATIONS_PX)
        self.below.addWidget(self.findings)
        self.below.setStretchFactor(0, 3)
        self.below.setStretchFactor(1, 1)
        self.below.setSizes([1004, 276])
        self._first: FirstPage | None = None
        self.lower_half = QStackedWidget()
        self.lower_half.addWidget(self.below)
        self.split = Divider(Qt.Orientation.Vertical)
        self.split.setObjectName("main_split")
        self.split.addWidget(self.rail)
        self.split.addWidget(self.lower_half)
        self.split.setStretchFactor(0, 1)
        self.split.setStretchFactor(1, 1)
        self.split.setSizes([372, 372])
        for splitter in (self.split, self.below):
            splitter.setHandleWidth(1)
            splitter.setChildrenCollapsible(False)
        sheet = QWidget()
        box = QVBoxLayout(sheet)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(0)
        box.addWidget(self.header)
        box.addWidget(self.split, 1)
        box.addWidget(self.bar)
        self.setCentralWidget(sheet)
        for part in (self.header, self.rail, self.findings, self.bar):
            style(part)

    # Commands

    def _make_actions(self) -> dict[str, QAction]:
        standard = QKeySequence.StandardKey
        rail, session, files, there = self.rail, self.session, self.files, self._in_parts
        table: tuple[tuple[str, str, Keys, object], ...] = (
            ("new", say("New workbook"), standard.New, files.new),
            ("open", say("Open…"), standard.Open, files.open),
            ("window", say("New window on this workbook"), "Ctrl+Shift+W", self.another_wanted.emit),
            ("open_apart", say("Open in a new window…"), "Ctrl+Shift+O", self._open_apart),
            ("first", say("First page: start with my own gear"), "Ctrl+Shift+N", self.show_first),
            ("save", say("Save"), standard.Save, files.save),
            ("save_as", say("Save as…"), "Ctrl+Shift+S", files.save_as),
            ("restore_version", say("Restore an earlier version…"), None, files.restore_version),
            ("demo", say("Open the demo, Hallan Skerry"), None, lambda: files.demo()),
            ("undo", say("Undo"), standard.Undo, session.undo),
            ("redo", say("Redo"), "Ctrl+Shift+Z", session.redo),
            ("new_train", say("Start a train…"), "Ctrl+T", self.trains.ask_train),
            ("copy_train", say("Duplicate this train"), None, self.trains.copy_train),
            ("rename_train", say("Rename this train…"), None, self.trains.ask_train_name),
            ("remove_train", say("Remove this train"), None, self.trains.remove_train),
            ("aperture", say("Change the aperture…"), "Ctrl+Shift+A", lambda: self.trains.ask_aperture(None)),
            ("conditions", say("Settings of this train"), "Ctrl+E", self.header.show_conditions),
            ("theme", say("Switch theme"), "Ctrl+Shift+L", self.themes.next),
            ("save_rail", say("Save the drawing as a picture…"), None, self.exports.save_rail),
            ("print_rail", say("Print the drawing…"), None, self.exports.print_rail),
            ("print_sheet", say("Print the build sheet…"), standard.Print, self.exports.print_sheet),
            ("figures", say("Write every figure as JSON or CSV…"), None, self.exports.figures),
            ("palette", say("Find a command, train, part or figure…"), "Ctrl+K", self.show_palette),
            ("help", say("Help about what has the focus"), "F1", lambda: self._help().about_focus()),
            ("keys", say("Keyboard shortcuts…"), "Ctrl+F1", lambda: show_keys(self._actions.values(), self)),
            ("about", say("About Far Rail"), None, lambda: show_about(self)),
            ("more", say("More about the focused item"), "Shift+F1", lambda: tell_more(self)),
            ("turn_camera", say("Turn the camera…"), None, lambda: self.trains.ask_turn(None)),
            ("turn", say("Turn the picked part…"), None, self.trains.turn_picked),
            ("fold", say("Fold the rail to a strip, or open it"), "F8", self.folding.toggle),
            ("float", say("Rail in a window of its own, or back"), "Ctrl+F8", self.floating.toggle),
            ("fit", say("Show the whole train"), "Ctrl+0", rail.fit),
            ("zoom_in", say("Zoom in"), standard.ZoomIn, lambda: rail.zoom(1.25)),
            ("zoom_out", say("Zoom out"), standard.ZoomOut, lambda: rail.zoom(0.8)),
            ("flip", say("Flip the picked part"), None, rail.flip_picked),
            ("remove", say("Remove the picked part"), None, rail.remove_picked),
            ("move_left", say("Move the picked part left"), None, lambda: rail.move_picked(-1)),
            ("move_right", say("Move the picked part right"), None, lambda: rail.move_picked(1)),
            ("import", say("Import a table of parts…"), None, partial(there, self.tables.import_file)),
            ("export", say("Export the shelf as a table…"), None, self.tables.export),
            ("paste_parts", say("Paste rows from a spreadsheet"), "Ctrl+Shift+V", partial(there, self.tables.paste)),
            (
                "paste_page",
                say("Paste a page about the part shown"),
                "Ctrl+Alt+V",
                partial(there, lambda: self.parts.paste_page()),
            ),
            ("copy_part", say("Copy the part shown as a row"), None, self.tables.copy_part),
            ("have_it", say("I have it"), None, self.tables.have_it),
            ("sizes", say("Ready-made sizes…"), None, partial(there, lambda: self.parts.show_ready_made())),
            ("caliper", say("Simulated caliper"), None, partial(there, self._toggle_caliper)),
            ("plan", say("Find spacer combinations"), "Ctrl+Alt+P", self._plan),
            ("go_rail", say("Go to the rail"), "F6", rail.setFocus),
            ("ask", say("Ask what fills the frame with a subject…"), "Ctrl+Shift+K", self._ask),
            ("saw", say("I saw …"), "Ctrl+I", self._saw),
            ("log", say("Error log"), None, self.files.show_log),
            ("quit", say("Quit"), "Ctrl+Q", self.quit_wanted.emit),
        )
        made = {name: make_action(self, f"act_{name}", text, keys, run) for name, text, keys, run in table}  # type: ignore[arg-type]
        made |= desktop_actions(self, self.stations, self.header, self.show_palette, self.show_preferences)
        for name, glyph, text in TOOLS:
            button = self.header.add_tool(f"tool_{name}", glyph, str(text))
            button.clicked.connect(made[name].trigger)
            button.setAccessibleName(made[name].text())
            button.setToolTip(f"{made[name].text()} ({made[name].shortcut().toString()})")
        return made

    def _in_parts(self, run: Callable[..., object], *given: str) -> None:
        """Bring Parts to the front and do something there."""
        self.stations.show_station("parts")
        run(*given)

    def _toggle_caliper(self) -> None:
        self.parts.show_caliper(not self.parts.caliper.isVisibleTo(self.parts))

    def _connect(self) -> None:
        session = self.session
        session.changed.connect(self._after_change)
        session.train_changed.connect(self._refresh_front)
        session.rested.connect(self._after_change)
        session.selection_changed.connect(lambda: self.stations.current.follow_selection())
        session.file_changed.connect(self._title_later)
        session.asked.connect(lambda text, choices: self.bar.say(text, False, choices))
        session.message.connect(self._tell)
        self.header.aperture_wanted.connect(self.trains.ask_aperture)
        self.header.verdict_wanted.connect(self.findings.show_first)
        self.rail.menu_wanted.connect(self._rail_menu)
        self.rail.part_opened.connect(self._open_part)
        for station in self.stations.made_so_far:
            self._connect_station(station)
        self.stations.made.connect(self._connect_station)
        self.rail.fits_wanted.connect(self.findings.choose_fit)
        self.findings.value_wanted.connect(self._open_part)
        self.files.arrived.connect(lambda first: self.show_first() if first else self.show_stations())
        self.stations.shown.connect(lambda _: self.show_stations())

    def _connect_station(self, station: Station) -> None:
        """Tie a station that was made to the rest of the window."""
        # A station is about what it previews; the drawing shows that beside it, and else the train as it is.
        station.previewed.connect(self._preview)
        station.room_wanted.connect(self.folding.again)
        if station.key == "light":
            self.light.probed.connect(self.rail.show_probe)
        elif station.key == "build":
            self.build.print_wanted.connect(self.exports.print_sheet)
        elif station.key == "parts":
            self._menus.fill_table_menu(self.parts.table_menu)
            self.parts.shelf.paste_wanted.connect(self._actions["paste_parts"].trigger)

    @property
    def first(self) -> "FirstPage":
        """The ways in and their routes, made when they are first shown."""
        if self._first is None:
            from farrail.ui.first.first_page import FirstPage

            page = self._first = FirstPage(self.session)
            self.lower_half.addWidget(page)
            style_when_shown(page)
            page.serve(self.files, self.show_stations, self._end_route, self.rail.preview)
        return self._first

    @property
    def _at_first(self) -> bool:
        """Whether the ways in are shown where the stations are otherwise."""
        return self._first is not None and self.lower_half.currentWidget() is self._first

    def show_first(self) -> None:
        """Show the ways in where the stations are."""
        self.first.welcome.show_recent(self.files.recent_verdicts())
        self.first.show_welcome()
        self.lower_half.setCurrentWidget(self.first)
        self.folding.open()

    def show_stations(self) -> None:
        """Show the stations again; what a route was previewing goes."""
        if self._at_first:
            self.rail.preview(None)
            self.lower_half.setCurrentWidget(self.below)
            self.folding.follow()

    def _end_route(self, route: str) -> None:
        """Go where a route has led: to what fills the gap, what helps the corners, what fills the frame."""
        if route == Route.NIGHT:
            self._plan()
        elif route == Route.FILTERS:
            self.stations.show_station("front")
            self.front.show_remedies()
        else:
            self._ask()
            self.close_up.ask.wish_for_subject()
        self.show_stations()

    def _tell(self, text: str, trouble: bool) -> None:
        """Say something; what was just typed and cannot be taken is marked where it is too."""
        self.bar.say(text, trouble)
        if trouble and ShortField.giving is not None:
            ShortField.giving.refuse(text)

    # Keeping up

    def _after_change(self) -> None:
        self._refresh_front()
        if not self.session.dragging:
            self._title_later()

    def _title_later(self) -> None:
        self.session.after_paint.ask(self._refresh_title)

    def _refresh_front(self) -> None:
        self.stations.refresh()

    def _refresh_all(self) -> None:
        self.header.refresh()
        self.stations.refresh()
        self.findings.refresh()
        self._refresh_title()

    def _refresh_title(self) -> None:
        history = self.session.history
        star = "" if history.clean else "• "
        self.setWindowTitle(say("{star}{title} – Far Rail", star=star, title=self.session.title))
        for name, label, word in (("undo", history.undo_label, say("Undo")), ("redo", history.redo_label, say("Redo"))):
            action = self._actions[name]
            action.setEnabled(label is not None)
            action.setText(word if label is None else plain_title(f"{word}: {begun_small(label)}"))
            button = self.header.findChild(QWidget, f"tool_{name}")
            if button is not None:
                button.setEnabled(label is not None)
                shown = action.text().replace("&&", "&")
                button.setToolTip(plain_tip(f"{shown} ({action.shortcut().toString()})"))

    def _plan(self) -> None:
        self.stations.show_station("spacing")
        self.spacing.find_plan()
        self.spacing.plan.go_to_first()

    def _ask(self) -> None:
        self.stations.show_station("close_up")
        self.close_up.show_ask()
        self.close_up.ask.width_.setFocus(Qt.FocusReason.ShortcutFocusReason)
        self.close_up.ask.width_.selectAll()

    def _show_frames(self, frames: list[Path]) -> None:
        """Have frames looked at beside the train in view."""
        self.show_stations()
        self.stations.show_station("log")
        self.log.show_frames(frames)

    def _show_table(self, path: Path) -> None:
        """Show what a table of parts would bring."""
        self.show_stations()
        self.stations.show_station("parts")
        self.tables.preview_path(path)

    def _saw(self) -> None:
        """Begin an entry of the log that fits the station in front."""
        key = self.stations.entry.key
        self.show_stations()
        self.stations.show_station("log")
        self.log.saw_at(key)

    def _preview(self, found: "Offer | None") -> None:
        """Show a proposal on the rail, or the train itself again."""
        self.stations.mark_preview(found is not None)
        if found is None:
            self.rail.preview(None)
            return
        self.rail.preview(read(found.train, with_parts(self.session.workbook.by_id, found.bought)))

    def _help(self) -> "HelpCommands":
        """Return what shows the help; it is loaded when it is first asked for."""
        from farrail.ui.help.commands import HelpCommands

        found = self.findChild(HelpCommands)
        if found is None:
            found = HelpCommands(self.session, self.in_front, self)
        return found

    def in_front(self) -> str:
        """Return the station in front; "" for the ways in."""
        return "" if self._at_first else self.stations.entry.key

    def show_palette(self) -> None:
        """Show the palette in the window's upper third."""
        made = [action for action in self._actions.values() if action.objectName() != "act_palette"]
        entries = command_search.everything(
            made, self.session, self.stations, self._open_part, self._ways(), lambda key: self._help().show(key), self
        )
        made_new = command_search.new_parts(partial(self._in_parts, self.parts.add))
        sizes = partial(command_search.ready_made, show=partial(self._in_parts, self.parts.show_ready_made))
        palette = Palette((*entries, *made_new), self, sizes, self._settings)
        palette.show_at(self.mapToGlobal(QPoint((self.width() - palette.width()) // 2, 90)))

    def event(self, event: QEvent) -> bool:
        """Before any key is pressed in the window, note where."""
        if event.type() == QEvent.Type.ShortcutOverride:
            self._enter.begins()
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter presses the button that has the focus; Escape ends a preview, then closes what is said below."""
        if self._enter.presses(event):
            return
        if event.key() == Qt.Key.Key_Escape:
            if self.rail.previewing:
                self.stations.current.show_preview(False)
                self.rail.preview(None)
                return
            if self.bar.isVisible():
                self.bar.put_away()
                return
        super().keyPressEvent(event)

    def show_preferences(self) -> None:
        """Open the menu of preferences."""
        self._menus.show_preferences()

    def _rail_menu(self, at: QPoint) -> None:
        show_rail_menu(self.session, self._actions, self._open_part, at, self.rail)

    def _open_part(self, part: str, path: str = "") -> None:
        self.show_stations()
        self.stations.show_station("parts")
        self.parts.show_part(part)
        self.parts.focus_value(path)

    @property
    def untouched(self) -> bool:
        """Whether no one has begun anything here: the first page of a workbook without a part, a train or a file."""
        session = self.session
        empty = not session.workbook.shelf and not session.workbook.trains
        return empty and session.path is None and session.history.clean and not session.shared

    def _open_apart(self) -> None:
        path = self.files.ask_file()
        if path is not None:
            self.open_apart_wanted.emit(path)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """In a small window findings fold to marks, and the rail to a strip."""
        super().resizeEvent(event)
        self.findings.narrow(narrow=self.width() < NARROW_PX)
        self.folding.low(low=self.height() < LOW_PX)
        # Once the splitter has its own new size.
        QTimer.singleShot(0, self._share)

    def _share(self) -> None:
        """Findings give stations what they need to be whole, down to the width they can be read in."""
        stations, findings = self.below.sizes()
        spare = findings - self.findings.minimumWidth()
        lacking = min(WHOLE_STATIONS_PX - stations, spare)
        if lacking > 0:
            self.below.setSizes([stations + lacking, findings - lacking])
        self.folding.again()

    def showEvent(self, event: QShowEvent) -> None:
        """Nothing wears a focus frame before a key was pressed: Tab goes from here to the first button."""
        super().showEvent(event)
        self.folding.again()
        if self.focusWidget() is None or not self.isActiveWindow():
            self.setFocus(Qt.FocusReason.OtherFocusReason)

    def keep_state(self) -> None:
        """Write down how the window is, for the next one that is made."""
        self.folding.keep()
        self._remembering.keep(self.saveGeometry(), self.below.saveState())

    def closeEvent(self, event: QCloseEvent) -> None:
        """Guard unsaved work, remember how the window was, let the file go."""
        if not self.files.may_leave():
            event.ignore()
            return
        self._keeping.stop()
        self.floating.end()
        self.findings.end()
        self.keep_state()
        for station in self.stations.made_so_far:
            station.end()
        self.session.close_file()
        event.accept()
        self.closed.emit()
