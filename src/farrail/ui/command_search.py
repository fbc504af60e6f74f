"""What the palette finds: commands, trains, parts, pages of stations, filters for the beam, and figures."""

from collections.abc import Callable, Iterable, Iterator
from functools import partial
from itertools import chain

from PySide6.QtCore import QPoint
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QAbstractButton, QWidget

from farrail.language import say
from farrail.parts.ready_search import find_sizes
from farrail.parts.registry import KIND_NAMES, TEMPLATES, usual_sizes
from farrail.quantities import headed
from farrail.train.train import Side
from farrail.ui.language_choice import choices as language_choices
from farrail.ui.length_choice import choices as length_choices
from farrail.ui.session import Session
from farrail.ui.station_stack import StationStack
from farrail.ui.theme.choice import AS_DESKTOP, ThemeChoice
from farrail.ui.theme.tokens import THEMES
from farrail.ui.widgets.page_tabs import WHOLE
from farrail.ui.widgets.palette import Entry
from farrail.ui.widgets.working import figure_text, show_working
from farrail.workbook.edits.laying import SetInBeam


def everything(
    actions: list[QAction], session: Session, stations: StationStack, open_part: Callable[[str], object],
    ways: Iterable[Iterable[Entry]], show_help: Callable[[str], object], window: QWidget,
) -> tuple[Entry, ...]:  # fmt: skip
    """Return all that can be found in a window now."""
    return (
        *commands(actions, session), *trains(session), *filters(session), *pages(stations), *parts(session, open_part),
        *figures(session, window), *chain.from_iterable(ways), *help_pages(show_help),
    )  # fmt: skip


def ways_of_telling(session: Session, choice: ThemeChoice, anew: Callable[[], None]) -> tuple[tuple[Entry, ...], ...]:
    """Return the themes, languages and units there are; the callback makes the windows again."""
    return tuple(themes(choice)), tuple(language_choices(session, anew)), tuple(length_choices(session, anew))


def help_pages(show_help: Callable[[str], object]) -> Iterator[Entry]:
    """Return the pages of the help."""
    from farrail.ui.help.pages import pages as all_pages

    for page in all_pages(None):
        yield Entry(say("Help: {title}", title=page.title), say("help"), partial(show_help, page.key))


def themes(choice: ThemeChoice) -> Iterator[Entry]:
    """Return the themes, and following the desktop."""
    offered = [(say("Theme: {title}", title=theme.title), theme.name) for theme in THEMES.values()]
    for title, name in (*offered, (say("Theme: as the desktop has it"), AS_DESKTOP)):
        chosen = choice.choice == name
        yield Entry(title, say("in use") if chosen else say("theme"), partial(choice.choose, name), chosen)


def commands(actions: list[QAction], session: Session) -> Iterator[Entry]:
    """Return the commands that can be used now, and those that say why they cannot."""
    for action in actions:
        name, reason = action.text().replace("&", ""), action.statusTip()
        if name and action.isEnabled():
            yield Entry(name, say("command"), action.trigger, value=action.shortcut().toString())
        elif name and reason:
            yield Entry(name, say("not now"), partial(session.message.emit, reason, False))


def trains(session: Session) -> Iterator[Entry]:
    """Return the workbook's trains."""
    for train in session.workbook.trains:
        yield Entry(train.name, say("train"), partial(session.show_train, train.id))


def filters(session: Session) -> Iterator[Entry]:
    """Return the filters that can be turned into the beam of the train in view."""
    train, shelf = session.train, session.workbook.by_id
    if train is None:
        return
    for index, laid in enumerate(train.row(Side.REAR)):
        for slot, part in enumerate(laid.filters):
            if part is not None and part in shelf:
                edit = SetInBeam(train.id, index, slot)
                yield Entry(
                    say("{name} into the beam", name=shelf[part].name), say("filter"), partial(session.do, edit)
                )


def pages(stations: StationStack) -> Iterator[Entry]:
    """Return the pages of every station."""
    for entry, station in zip(stations.entries, stations.all, strict=True):
        for button in station.findChildren(QAbstractButton):
            if button.property("tab") == "true" and button.text():
                yield Entry(
                    say("{text}, in {title}", text=button.property(WHOLE) or button.text(), title=entry.title),
                    say("page"),
                    partial(_turn_to, stations, entry.key, button),
                )


def _turn_to(stations: StationStack, key: str, button: QAbstractButton) -> None:
    stations.show_station(key)
    button.click()


def parts(session: Session, open_part: Callable[[str], object]) -> Iterator[Entry]:
    """Return the parts of the shelf; `open_part` is given the id of the one chosen."""
    for part in session.workbook.shelf:
        yield Entry(part.name, say("part"), partial(open_part, part.id))


def new_parts(add: Callable[[str], object]) -> Iterator[Entry]:
    """Return the kinds of parts that can be made; `add` is given the kind chosen."""
    for kind in TEMPLATES:
        yield Entry(say("New part: {name}", name=str(KIND_NAMES[kind])), say("command"), partial(add, kind))


def ready_made(text: str, show: Callable[[str], object]) -> Iterator[Entry]:
    """Return the ready-made sizes that a text asks for; `show` is given the name of the one chosen."""
    for _, item in find_sizes(text, usual_sizes()):
        yield Entry(item.part.name, say("ready-made size"), partial(show, item.part.name))


def figures(session: Session, window: QWidget) -> Iterator[Entry]:
    """Return the figures of the train in view; choosing one shows its working."""
    readout = session.readout
    for figure in () if readout is None else readout.figures.values():
        at = window.mapToGlobal(QPoint(window.width() // 3, 120))
        show = partial(show_working, figure, window, at)
        yield Entry(headed(figure.label), say("figure"), show, value=figure_text(figure))
