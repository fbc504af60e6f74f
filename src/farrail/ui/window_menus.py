"""What is in the menus of a window: of the workbook, of the train, and of tables."""

from collections.abc import Callable, Iterable, Mapping
from functools import partial
from pathlib import Path

from PySide6.QtCore import QObject, QTimer
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QMenu

from farrail.language import say
from farrail.ui.actions.files import FileCommands
from farrail.ui.actions.picked import PickedCommands
from farrail.ui.actions.trains import TrainCommands
from farrail.ui.header import Header
from farrail.ui.stations.registry import STATIONS
from farrail.ui.widgets.mnemonics import keep_letters
from farrail.ui.widgets.palette import Entry
from farrail.ui.widgets.plain import plain_title

# A folder is shown with so many letters.
MOST_FOLDER = 40


class WindowMenus(QObject):
    """Fills a window's menus from its actions."""

    def __init__(
        self, actions: Mapping[str, QAction], header: Header, files: FileCommands, trains: TrainCommands,
        ways: Callable[[], Iterable[Iterable[Entry]]], parent: QObject,
    ) -> None:  # fmt: skip
        """Serve one window."""
        super().__init__(parent)
        self._actions, self._header, self._files = actions, header, files
        self._trains, self._ways = trains, ways
        self._fill_menus()
        self._picked = PickedCommands(trains.session, actions, self)
        # Menus of names, such as those of trains and recent files, have none: a name is shown as it is.
        of_names = (self._recent_menu, self._versions_menu, self._ways_menu)
        for menu in (header.workbook_menu, *header.workbook_menu.findChildren(QMenu)):
            if menu not in of_names:
                keep_letters(menu)

    def _fill_menus(self) -> None:
        menu, act = self._header.workbook_menu, self._actions
        for name in ("first", "new", "open", "open_apart", "window"):
            menu.addAction(act[name])
        self._recent_menu = menu.addMenu(say("Open recent"))
        self._recent_menu.aboutToShow.connect(self._fill_recent)
        menu.addAction(act["demo"])
        menu.addSeparator()
        for name in ("save", "save_as", "restore_version"):
            menu.addAction(act[name])
        taken = menu.addMenu(say("Export and print"))
        taken.setObjectName("take_along_menu")
        for name in ("print_sheet", "print_rail", "save_rail", "figures", "export"):
            taken.addAction(act[name])
        self._versions_menu = menu.addMenu(say("Earlier versions kept"))
        self._versions_menu.setObjectName("versions_menu")
        self._versions_menu.aboutToShow.connect(lambda: self._files.offer_versions(self._versions_menu))
        menu.addSeparator()
        for title, name, actions in _sections():
            section = menu.addMenu(title)
            section.setObjectName(name)
            for one in actions:
                if one:
                    section.addAction(act[one])
                else:
                    section.addSeparator()
        self._ways_menu = menu.addMenu(say("Preferences"))
        self._ways_menu.setObjectName("ways_menu")
        self._ways_menu.aboutToShow.connect(self._fill_ways)
        menu.addSeparator()
        menu.addAction(act["close"])
        menu.addAction(act["quit"])
        self._header.train_menu.aboutToShow.connect(self._fill_trains)

    def show_preferences(self) -> None:
        """Open the preferences where the workbook's menu is."""
        button = self._header.workbook
        self._ways_menu.popup(button.mapToGlobal(button.rect().bottomLeft()))

    def fill_table_menu(self, menu: QMenu) -> None:
        """Put what is done with tables into the Parts station's menu."""
        for name in ("have_it", "import", "export", "paste_parts", "paste_page", "copy_part"):
            menu.addAction(self._actions[name])
        menu.addSeparator()
        menu.addAction(self._actions["caliper"])

    def _fill_ways(self) -> None:
        self._ways_menu.clear()
        for entries in self._ways():
            self._ways_menu.addSeparator()
            for entry in entries:
                action = self._ways_menu.addAction(entry.name)
                action.setCheckable(True)
                action.setChecked(entry.chosen)
                # Once the menu is gone: a window may be made again by it.
                action.triggered.connect(partial(QTimer.singleShot, 0, entry.run))

    def _fill_recent(self) -> None:
        self._recent_menu.clear()
        for path in self._files.recent():
            title = plain_title(say("{name} in {folder}", name=path.name, folder=_shown_folder(path)))
            self._recent_menu.addAction(title).triggered.connect(self._files.opener(path))
        if not self._recent_menu.isEmpty():
            self._recent_menu.addSeparator()
            self._recent_menu.addAction(say("Clear this list")).triggered.connect(self._files.clear_recent)
        if self._recent_menu.isEmpty():
            self._recent_menu.addAction(say("No files yet")).setEnabled(False)

    def _fill_trains(self) -> None:
        menu = self._header.train_menu
        menu.clear()
        self._trains.list_trains(menu)
        menu.addSeparator()
        for name in ("new_train", "copy_train", "rename_train", "remove_train"):
            menu.addAction(self._actions[name])
        menu.addSeparator()
        menu.addAction(self._actions["turn_camera"])
        self._trains.offer_front_ring(menu)
        self._trains.offer_turned_lens(menu)


def _shown_folder(path: Path) -> str:
    """Return a file's folder, the home folder as ~; of a long one its end."""
    folder, home = path.parent, Path.home()
    shown = f"~/{folder.relative_to(home)}" if folder.is_relative_to(home) and folder != home else str(folder)
    return shown if len(shown) <= MOST_FOLDER else f"…{shown[1 - MOST_FOLDER :]}"


def _sections() -> tuple[tuple[str, str, tuple[str, ...]], ...]:
    """Return the submenus: title, object name, and actions by name; "" is a line between them."""
    pages = tuple(f"go_{entry.key}" for entry in STATIONS)
    return (
        (say("Edit"), "edit_menu", (
            "undo", "redo", "", "copy_part", "paste_parts", "paste_page", "import", "sizes", "have_it", "caliper", "",
            "find", "palette",
        )),
        (say("View"), "view_menu", (
            "fit", "zoom_in", "zoom_out", "fold", "float", "go_rail", "", *pages, "next_page", "previous_page", "",
            "theme", "full_screen", "preferences", "menu",
        )),
        (say("Train"), "train_section", (
            "new_train", "copy_train", "rename_train", "remove_train", "", "conditions", "aperture", "turn_camera", "",
            "turn", "flip", "remove", "move_left", "move_right", "", "plan", "ask", "saw",
        )),
        (say("Help"), "help_menu", ("help", "more", "keys", "log", "about")),
    )  # fmt: skip
