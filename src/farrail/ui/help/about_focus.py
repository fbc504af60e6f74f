"""Which page of the help is about what has the focus."""

from PySide6.QtWidgets import QWidget

from farrail.ui.help.pages import FIGURES
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.row_keys import FigureKey

# By the name of a widget, the nearest around what has the focus first.
TOPICS = {
    "rail": "rail", "rail_window": "rail", "findings_column": "findings", "plan_panel": "spacing-plan",
    "first_page": "start", "header": "start", "frame_map": "photo", "front_picture": "photo", "exposure_photo": "photo",
    "closeup_photo": "photo", "photo_window": "photo", "log_frames": "frames",
    "conditions": "start", "station_parts": "parts", "station_spacing": "back-focus", "station_light": "map",
    "station_front": "front", "station_close_up": "close-up", "station_exposure": "exposure", "station_build": "build",
    "station_log": "log", "station_compare": "compare",
}  # fmt: skip


def page_about(widget: QWidget | None, station: str) -> tuple[str, str]:
    """Return the page that is about a widget, and the id of the figure it shows, "" where it shows none.

    Args:
        widget: what has the focus.
        station: the key of the station in front, for what belongs to none.
    """
    figure = _figure_of(widget)
    if figure:
        return FIGURES, figure
    around = widget
    while around is not None:
        topic = TOPICS.get(around.objectName())
        if topic is not None:
            return topic, ""
        around = around.parentWidget()
    return TOPICS.get(f"station_{station}", "start"), ""


def _figure_of(widget: QWidget | None) -> str:
    if isinstance(widget, Ledger):
        key = widget.current_key()
        return key.id if isinstance(key, FigureKey) else ""
    name = "" if widget is None else widget.objectName()
    return name.removeprefix("figure_") if name.startswith("figure_") and "." in name else ""
