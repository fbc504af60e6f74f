"""The rail's context menu: what can be done with the part under the hand."""

from collections.abc import Callable, Mapping

from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QMenu, QWidget

from farrail.language import say
from farrail.parts.base import TubePart
from farrail.parts.kinds.ahead import FilterHolder
from farrail.parts.kinds.closer import ReversingRing
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.kinds.guiders import OffAxisGuider
from farrail.parts.kinds.seats import FilterSeat
from farrail.train.train import Side
from farrail.ui.actions.laying import fill_guide_menu, fill_holder_menu, fill_ring_menu, fill_slots_menu
from farrail.ui.needs_sheet import show_needs
from farrail.ui.session import Session
from farrail.ui.widgets.plain import plain_title
from farrail.ui.widgets.sharing import picture_menu
from farrail.workbook.edits.laying import KeepPart, TakeFromCell


def show_rail_menu(
    session: Session, actions: Mapping[str, QAction], open_part: Callable[[str], None], at: QPoint, rail: QWidget
) -> None:
    """Show what can be done with the picked part, and with the drawing, at a point of the screen."""
    picked = session.selection
    menu = QMenu(rail)
    menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    if not picked.empty and not picked.joint:
        part = session.selected_part() or ""
        needs = menu.addAction(say("What must it measure?"))
        needs.setObjectName("what_it_needs")
        needs.triggered.connect(lambda: show_needs(session, part, rail, at))
        menu.addAction(say("Show in Parts")).triggered.connect(lambda: open_part(part))
        for name in ("flip", "turn", "move_left", "move_right", "remove"):
            menu.addAction(actions[name])
        if picked.side is Side.REAR:
            _offer_cell(menu, session, part, picked.index)
            _offer_keeping(menu, session, part, picked.index)
            if isinstance(session.workbook.by_id.get(part), FilterSeat):
                fill_slots_menu(menu.addMenu(say("Filters")), session, picked.index)
            elif isinstance(session.workbook.by_id.get(part), OffAxisGuider):
                fill_guide_menu(menu.addMenu(say("Guide camera")), session, picked.index)
        elif isinstance(session.workbook.by_id.get(part), FilterHolder):
            fill_holder_menu(menu.addMenu(say("Filters")), session, picked.index)
        elif isinstance(session.workbook.by_id.get(part), ReversingRing):
            fill_ring_menu(menu.addMenu(say("Lens on it")), session, picked.index)
        menu.addSeparator()
    for name in ("undo", "redo", "fit"):
        menu.addAction(actions[name])
    train = session.train
    picture_menu(rail, say("Rail") if train is None else train.name, menu.addMenu(say("Picture")))
    menu.popup(at)


def _offer_cell(menu: QMenu, session: Session, part_id: str, index: int) -> None:
    """Offer to take a filter's glass out of its cell, where it has one."""
    train, part = session.train, session.workbook.by_id.get(part_id)
    if train is None or not isinstance(part, RoundFilter) or part.without_cell() is part:
        return
    edit = TakeFromCell(train.id, index, not train.rear_train[index].out_of_cell)
    menu.addAction(plain_title(edit.label)).triggered.connect(lambda: session.do(edit))


def _offer_keeping(menu: QMenu, session: Session, part_id: str, index: int) -> None:
    """Offer to keep a loose part where it is and as it is set, no matter what the planner would do with it."""
    train, part = session.train, session.workbook.by_id.get(part_id)
    if train is None or not isinstance(part, TubePart) or not part.fills:
        return
    kept = train.rear_train[index].kept
    action = menu.addAction(say("Planner keeps it in place"))
    action.setCheckable(True)
    action.setChecked(kept)
    action.triggered.connect(lambda: session.do(KeepPart(train.id, index, not kept)))
