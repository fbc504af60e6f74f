"""What a part on the rail must measure, in a sheet beside it."""

from PySide6.QtCore import QPoint
from PySide6.QtWidgets import QWidget

from farrail.errors import FarRailError
from farrail.language import say
from farrail.ui.session import Session
from farrail.ui.widgets.popover import Popover


def show_needs(session: Session, part_id: str, beside: QWidget, at: QPoint) -> Popover | None:
    """Show what a part of the train in view must measure; None where there is no train in view."""
    from farrail.planning.needs import needs_of

    train, shelf = session.train, session.workbook.by_id
    if train is None or part_id not in shelf:
        return None
    sheet = Popover(say("{name}: what it must measure", name=shelf[part_id].name), beside)
    sheet.setObjectName("needs_sheet")
    try:
        for need in needs_of(train, shelf, part_id):
            sheet.add_line(need.sentence)
            if need.actual_mm is not None:
                sheet.add_line(say("now {actual:.1f mm}", actual=need.actual_mm), role="steel", size=12)
    except FarRailError as error:
        sheet.add_line(str(error), role="steel")
    sheet.show_at(at)
    return sheet
