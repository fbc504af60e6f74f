"""A slider to try a value with: the f-number, the picked part's length, the picked aperture's width."""

from dataclasses import dataclass

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QSlider, QWidget

from farrail.errors import EditRefused
from farrail.language import say
from farrail.parts.base import Adjustable, FixedLength
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, Reading
from farrail.train.placed import PlacedAperture
from farrail.train.train import Side
from farrail.ui.session import Session
from farrail.ui.widgets.number_field import NumberField
from farrail.ui.widgets.read_out import told_in
from farrail.workbook.edits.laying import SetSpacer
from farrail.workbook.edits.shelf import SetReading
from farrail.workbook.edits.trains import SetFNumber
from farrail.workbook.history import Edit

STEPS = 400
# How far either way a value can be tried, as a factor.
FACTOR = 2.0
LEAST_F_NUMBER, MOST_F_NUMBER = 0.3, 1000.0


@dataclass(frozen=True)
class Trial:
    """One value that can be tried: its name, the value when the slider was taken, and where it goes."""

    label: str
    value: float
    unit: str
    part: str = ""
    path: str = ""
    index: int = -1

    @property
    def key(self) -> tuple[str, str, int]:
        """What it is, any called and however large it is now."""
        return self.part, self.path, self.index


class TrySlider(QWidget):
    """Moves one value; all of one drag is one step of undo."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the slider."""
        super().__init__(parent)
        self.setObjectName("try_slider")
        self._session = session
        self._aperture: Trial | None = None
        self._tried: list[Trial] = []
        self._moving = False
        self._begun = 0
        self.what = QComboBox()
        self.what.setObjectName("try_what")
        self.what.setAccessibleName(say("Value to try"))
        self.what.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.what.setMinimumContentsLength(14)
        self.what.activated.connect(self._place)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setObjectName("try_value")
        self.slider.setAccessibleName(say("Try another value"))
        self.slider.setRange(-STEPS, STEPS)
        self.slider.setToolTip(say("Try another value; undo brings the old one back."))
        self.slider.valueChanged.connect(self._move)
        self.slider.sliderPressed.connect(self._pressed)
        self.slider.sliderReleased.connect(self._released)
        self._value = NumberField(session, "try_text", say("The value tried"), "tried_mm", 0.1, self._typed, 78)
        told_in(self.slider, self._value)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        row.addWidget(self.what)
        row.addWidget(self.slider, 1)
        row.addWidget(self._value)

    def offer_aperture(self, placed: PlacedAperture) -> None:
        """Offer a clear aperture too."""
        path = placed.path
        if path in type(placed.part).model_fields:
            known = getattr(placed.part, path)
            value = known.value if isinstance(known, Quantity) else placed.diameter.value
            word = say("edge") if path == "prism_edge_mm" else say("clear")
            self._aperture = Trial(f"{placed.part.name}, {word}", value, "mm", placed.part.id, path)
            self.refresh()

    def refresh(self) -> None:
        """Offer what the train in view and the picked part have; a drag under way is not disturbed."""
        if self._moving:
            return
        current = self._current()
        self._tried = self._offers()
        texts, keys = [tried.label for tried in self._tried], [tried.key for tried in self._tried]
        if texts != [self.what.itemText(i) for i in range(self.what.count())]:
            self.what.clear()
            self.what.addItems(texts)
        if current is not None and current.key in keys:
            self.what.setCurrentIndex(keys.index(current.key))
        self.setVisible(bool(self._tried))
        self._place()

    def _offers(self) -> list[Trial]:
        readout, picked = self._session.readout, self._session.selection
        if readout is None:
            return []
        found = [Trial(say("Aperture"), readout.layout.first_order.f_number.value, "")]
        if (
            not picked.empty
            and not picked.joint
            and picked.side is Side.REAR
            and picked.index < len(readout.layout.rear)
        ):
            placed = readout.layout.rear[picked.index]
            if isinstance(placed.part, Adjustable):
                found.append(
                    Trial(say("{name}, set to", name=placed.part.name), placed.length.value, "mm", index=picked.index)
                )
            elif isinstance(placed.part, FixedLength) and placed.held is None:
                name = say("{name}, long", name=placed.part.name)
                found.append(Trial(name, placed.length.value, "mm", placed.part.id, "path_length_mm"))
        if self._aperture is not None and self._aperture.part in readout.layout.parts:
            part = readout.layout.parts[self._aperture.part]
            known = getattr(part, self._aperture.path, None)
            value = known.value if isinstance(known, Quantity) else self._aperture.value
            found.append(Trial(self._aperture.label, value, "mm", self._aperture.part, self._aperture.path))
        return found

    def _current(self) -> Trial | None:
        index = self.what.currentIndex()
        return self._tried[index] if 0 <= index < len(self._tried) else None

    def _place(self) -> None:
        """Put the slider in its middle and show the value as it is."""
        tried = self._current()
        self.slider.blockSignals(True)
        self.slider.setValue(0)
        self.slider.blockSignals(False)
        self._say(None if tried is None else tried.value)

    def _say(self, value: float | None) -> None:
        tried = self._current()
        if tried is None or value is None:
            self._value.say(None, "")
        else:
            told = say("{value:.2f mm}", value=value) if tried.unit else say("f/{value:g}", value=round(value, 2))
            self._value.say(round(value, 2), told)
            self._value.path = "tried_mm" if tried.unit else "f_number"
            self._value.setAccessibleName(tried.label)

    def _typed(self, value: float | None) -> Edit | None:
        tried, train = self._current(), self._session.train
        if tried is None or train is None or value is None:
            return None
        if not tried.unit and not LEAST_F_NUMBER <= value <= MOST_F_NUMBER:
            raise EditRefused(
                "f/{value:g} cannot be; give f/{least_f_number:g} to f/{most_f_number:g}.",
                value=value,
                least_f_number=LEAST_F_NUMBER,
                most_f_number=MOST_F_NUMBER,
            )
        self._begun += 1
        return self._edit(tried, value, train.id)

    def _move(self, step: int) -> None:
        tried, train = self._current(), self._session.train
        if tried is None or train is None:
            return
        value = tried.value * FACTOR ** (step / STEPS)
        if not self._session.dragging:
            self._begun += 1
        self._moving = True
        self._session.do(self._edit(tried, round(value, 2 if tried.unit else 3), train.id))
        self._moving = self.slider.isSliderDown()
        self._say(value)

    def _edit(self, tried: Trial, value: float, train: str) -> Edit:
        if not tried.part and tried.index < 0:
            return SetFNumber(train, min(max(value, LEAST_F_NUMBER), MOST_F_NUMBER))
        if tried.index >= 0:
            return SetSpacer(train, tried.index, value)
        reading = Reading(value=value, origin=Origin.ASSUMED, note=say("tried with the slider"))
        key = f"try:{tried.part}:{tried.path}:{self._begun}"
        return SetReading(
            tried.part,
            tried.path,
            reading,
            label=say("Try {label} at {value:.2f}", label=tried.label, value=value),
            merge_key=key,
        )

    def _pressed(self) -> None:
        self._begun += 1
        self._session.begin_drag()

    def _released(self) -> None:
        self._moving = False
        self._session.end_drag()
        self.refresh()
