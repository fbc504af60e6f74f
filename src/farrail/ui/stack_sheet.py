"""The focus stack as a printed sheet: the plan, and the place of every frame to tick off."""

from collections.abc import Sequence
from html import escape
from pathlib import Path

from PySide6.QtGui import QTextDocument

from farrail.language import say
from farrail.optics.focus_stack import FocusStack
from farrail.ui.paper import new_pdf

COLUMNS = 5
MOST_PLACES = 2000
MARGIN_MM = 18.0


def stack_sheet_html(title: str, rows: Sequence[tuple[str, ...]], plan: FocusStack) -> str:
    """Return the sheet as HTML: the plan's rows, then frames with their places from the first."""
    told = "".join(
        f"<tr><td>{escape(name)}</td><td align='right'><b>{escape(value)}</b></td><td>{escape(how)}</td></tr>"
        for name, value, how in rows
    )
    count = min(plan.frames, MOST_PLACES)
    places = [say("{n}: {place_mm:.3f mm}", n=n + 1, place_mm=plan.place_mm(n)) for n in range(count)]
    lines = [places[n : n + COLUMNS] for n in range(0, count, COLUMNS)]
    table = "".join("<tr>" + "".join(f"<td>☐ {place}</td>" for place in line) + "</tr>" for line in lines)
    left = plan.frames - count
    apart = say("… and {count} more, {step_mm:.3f mm} apart.", count=left, step_mm=plan.step_mm)
    more = f"<p>{apart}</p>" if left > 0 else ""
    how = say(
        "Move from the front of the subject to its back; the places are counted from the first frame. Shade the lamp's "
        "changes, let the rail settle, do not touch the table."
    )
    heading = escape(say("Focus stack: {title}", title=title))
    return (
        f"<h2>{heading}</h2><table cellpadding='4'>{told}</table><p>{how}</p>"
        f"<table cellpadding='3'>{table}</table>{more}"
    )


def write_stack_sheet(path: Path, title: str, rows: Sequence[tuple[str, ...]], plan: FocusStack) -> None:
    """Write the sheet as a PDF on A4.

    Raises:
        FarRailError: it cannot be written there.
    """
    document = QTextDocument()
    document.setHtml(stack_sheet_html(title, rows, plan))
    with new_pdf(path, say("Focus stack: {title}", title=title), MARGIN_MM) as writer:
        document.print_(writer)
