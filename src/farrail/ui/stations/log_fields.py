"""The fields of an observation's form, made from what its kind says of itself."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import Enum
from typing import Any

from PySide6.QtWidgets import QCheckBox, QComboBox, QGridLayout, QLineEdit, QWidget

from farrail.language import say
from farrail.logbook.kinds.evening import FilterFocus
from farrail.logbook.kinds.front import Darkening, OpeningInFrame
from farrail.logbook.kinds.lengths import Weighed
from farrail.logbook.kinds.light import FilterStops
from farrail.logbook.observation import Corner, Observation
from farrail.logbook.seen_words import CORNERS, choice_words
from farrail.logbook.value_names import value_name
from farrail.parts.field_info import FieldInfo
from farrail.parts.kinds.filters import RoundFilter, SheetFilter
from farrail.quantities import typed_bare, unit_word
from farrail.readouts.read import Readout
from farrail.ui.widgets.short_field import ShortField
from farrail.workbook.workbook import Workbook

# The kind's own fields come first, in their order; these after them.
COMMON = ("focal_mm", "f_number", "time", "place", "weather", "note", "photo")


class CornerBoxes(QWidget):
    """Four boxes that are as the picture's corners are."""

    def __init__(self, corners: Sequence[Corner]) -> None:
        """Tick the corners given."""
        super().__init__()
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(14)
        grid.setVerticalSpacing(2)
        self._boxes: dict[Corner, QCheckBox] = {}
        for number, corner in enumerate(Corner):
            box = QCheckBox(str(CORNERS[corner]))
            box.setObjectName(f"log_corner_{corner.value}")
            box.setChecked(corner in corners)
            self._boxes[corner] = box
            grid.addWidget(box, *divmod(number, 2))
        grid.setColumnStretch(2, 1)

    @property
    def corners(self) -> tuple[Corner, ...]:
        """The corners ticked."""
        return tuple(corner for corner, box in self._boxes.items() if box.isChecked())


@dataclass(frozen=True)
class Answer:
    """One field of the form.

    Attributes:
        name: the kind's field.
        label: what it is called.
        help: what it means.
        unit: what is behind it.
        widget: what is typed or chosen in.
        needed: whether nothing can be written down without it.
        is_text: whether it takes words.
        whole: whether it takes a whole number.
        corners: whether it takes names of corners.
        length: whether it is a length in the unit in force, which a bare number then has.
    """

    name: str
    label: str
    help: str
    unit: str
    widget: QWidget
    needed: bool
    is_text: bool
    whole: bool = False
    corners: bool = False
    length: bool = False

    def put(self, text: str) -> None:
        """Fill the field in."""
        if isinstance(self.widget, ShortField):
            self.widget.refuse("")
        if isinstance(self.widget, QLineEdit):
            self.widget.setText(text)


def answers_of(
    kind: type[Observation], values: dict[str, Any], readout: Readout | None, workbook: Workbook
) -> list[Answer]:
    """Return the fields of a kind, what was seen first, then how and where.

    Args:
        kind: the kind.
        values: what is in them; {} for a new one.
        readout: the train in view, for what its state fills in; None: nothing is filled in.
        workbook: where parts are named.
    """
    names = [name for name in kind.model_fields if _told(kind, name) is not None and name not in COMMON]
    ahead = [name for name in ("focal_mm",) if kind.model_fields[name].is_required()]
    rest = [name for name in COMMON if name not in ahead and _suits(name, readout)]
    return [_answer(kind, name, values, readout, workbook) for name in (*ahead, *names, *rest)]


def _told(kind: type[Observation], name: str) -> FieldInfo | None:
    return next((item for item in kind.model_fields[name].metadata if isinstance(item, FieldInfo)), None)


def _suits(name: str, readout: Readout | None) -> bool:
    """Whether a common field says anything of the train: a telescope has no focal length to set."""
    if readout is None or name != "focal_mm":
        return True
    return readout.front.lens is not None and readout.front.range_mm[1] > readout.front.range_mm[0]


def _answer(
    kind: type[Observation], name: str, values: dict[str, Any], readout: Readout | None, workbook: Workbook
) -> Answer:
    told, info = _told(kind, name), kind.model_fields[name]
    assert told is not None
    value = values.get(name, _filled(name, readout) if not values else None)
    if not values and value is None and not info.is_required():
        value = info.get_default()
    annotation, needed = info.annotation, info.is_required()
    # A focal length stays in mm, and so does how far it may be off.
    focal = name == "focal_mm" or (kind is Darkening and name == "off_mm")
    length = told.unit == "mm" and not focal and "float" in str(annotation)
    unit = (
        unit_word("mm")
        if length
        else say(told.unit)
        if told.unit and name not in ("place", "weather", "note", "photo", "time")
        else ""
    )
    widget: QWidget
    if annotation is bool:
        box = QCheckBox()
        box.setChecked(bool(value))
        widget = box
    elif isinstance(annotation, type) and issubclass(annotation, Enum):
        widget = _choice([(choice_words(one), one.value) for one in annotation], value)
    elif name == "corners":
        widget = CornerBoxes([Corner(one) for one in value or ()])
    elif name in ("part", "beside"):
        parts = _parts(kind, readout, workbook)
        none = [] if needed else [(say("All of it") if kind is Weighed else say("Not sure"), "")]
        widget = _choice([*none, *parts], value)
    elif name == "path":
        widget = _choice(_openings(readout, str(value)), value)
    else:
        line = ShortField(f"{told.label}: {told.help}" if told.help else told.label)
        line.setText(typed_bare(value) if length and isinstance(value, float) else _shown(value))
        line.setMaxLength(2000)
        widget = line
    widget.setObjectName(f"log_{name}")
    widget.setAccessibleName(told.label)
    text = "str" in str(annotation)
    return Answer(
        name, told.label, told.help, unit, widget, needed, text, whole="int" in str(annotation) and "float" not in
        str(annotation), corners=name == "corners", length=length,
    )  # fmt: skip


def _openings(readout: Readout | None, now: str) -> list[tuple[str, str]]:
    """Return the values that openings of a train's parts are known by, each once, with the one in use."""
    names = {now: now}
    if readout is not None:
        parts = readout.layout.parts
        names |= {one.path: value_name(parts.get(one.part.id), one.path) for one in readout.light.placed}
    return sorted((label, path) for path, label in names.items())


def _choice(pairs: list[tuple[str, str]], value: Any) -> QComboBox:
    box = QComboBox()
    for text, data in pairs:
        box.addItem(text, data)
    wanted = value.value if isinstance(value, Enum) else value
    box.setCurrentIndex(max(box.findData(wanted), 0))
    return box


def _parts(kind: type[Observation], readout: Readout | None, workbook: Workbook) -> list[tuple[str, str]]:
    """Return the parts one may mean: of the train in view those of its front, its filters, or all of them."""
    if readout is None:
        return [(part.name, part.id) for part in workbook.shelf]
    parts = dict.fromkeys(readout.layout.train.part_ids())
    if kind is Darkening:
        parts = dict.fromkeys(placed.part.id for placed in readout.front.placed)
    shelf = readout.layout.parts
    wanted = [shelf[part_id] for part_id in parts if part_id in shelf]
    if kind is OpeningInFrame:
        wanted = [part for part in wanted if any(one.part.id == part.id for one in readout.light.placed)]
    if kind is FilterFocus:
        wanted = [part for part in wanted if isinstance(part, RoundFilter)]
    if kind is FilterStops:
        wanted = [part for part in wanted if isinstance(part, RoundFilter | SheetFilter)]
    return [(part.name, part.id) for part in wanted]


def _filled(name: str, readout: Readout | None) -> Any:
    """Return what the train's state says of a field."""
    if readout is None:
        return None
    order = readout.layout.first_order
    if name == "focal_mm":
        return round(order.own_focal_length.value, 1)
    if name == "f_number":
        return round(order.f_number.value, 1)
    return None


def _shown(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, float):
        return say("{value:.4g}", value=value) if abs(value) < 1000.0 else say("{value:.1f}", value=value)
    return str(value)
