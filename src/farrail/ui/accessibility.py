"""What assistive tools read of what the program paints itself: the rail with its parts and joints, and pictures.

Qt asks a factory for the interface of each widget. The interfaces live as long as their widgets: each widget holds
its own, and Qt lets go of it with the widget.
"""

import shiboken6
from PySide6.QtCore import QObject, QRect
from PySide6.QtGui import QAccessible, QAccessibleEvent, QAccessibleInterface
from PySide6.QtWidgets import QAbstractButton, QAccessibleWidget, QSlider, QWidget

from farrail.language import say
from farrail.ui.rail.view import RailView
from farrail.ui.selection import Selection
from farrail.ui.widgets.read_out import ReadOut, slider_words

Text, Role = QAccessible.Text, QAccessible.Role


class PlaceSpoken(QAccessibleInterface):
    """One part or joint on the rail."""

    def __init__(self, rail: RailView, number: int) -> None:
        """Speak for the place with a number, from the left."""
        super().__init__()
        self._rail, self._number = rail, number

    @property
    def _place(self) -> Selection | None:
        places = self._rail.places if shiboken6.isValid(self._rail) else []
        return places[self._number] if self._number < len(places) else None

    def isValid(self) -> bool:
        """Whether it is still there."""
        return self._place is not None

    def object(self) -> QObject | None:  # type: ignore[override]
        """There is no object behind it."""
        return None

    def childCount(self) -> int:
        """It holds nothing."""
        return 0

    def child(self, index: int) -> QAccessibleInterface | None:  # type: ignore[override]
        """It holds nothing."""
        return None

    def childAt(self, x: int, y: int) -> QAccessibleInterface | None:  # type: ignore[override]
        """It holds nothing."""
        return None

    def indexOfChild(self, child: QAccessibleInterface) -> int:
        """It holds nothing."""
        return -1

    def parent(self) -> QAccessibleInterface:
        """Return the rail's interface."""
        return QAccessible.queryAccessibleInterface(self._rail)

    def text(self, t: QAccessible.Text) -> str:
        """Return what is shown of it."""
        place = self._place
        if place is None or t not in (Text.Name, Text.Description):
            return ""
        name, told = self._rail.spoken(place)
        return name if t == Text.Name else told

    def setText(self, t: QAccessible.Text, text: str) -> None:
        """Nothing can be written here."""

    def rect(self) -> QRect:
        """Return where it is on the screen."""
        place = self._place
        drawn = None if place is None else self._rail.place_px(place)
        if drawn is None:
            return QRect()
        box = drawn.toAlignedRect()
        return QRect(self._rail.mapToGlobal(box.topLeft()), box.size())

    def role(self) -> QAccessible.Role:
        """Return what it is."""
        return Role.ListItem

    def state(self) -> QAccessible.State:
        """Return whether it is picked."""
        state = QAccessible.State()
        state.selectable = True
        state.focusable = True
        if self._place == self._rail.session.selection:
            state.selected = True
            state.focused = True
        return state


class RailSpoken(QAccessibleWidget):
    """The rail: a list of parts and joints, its value the verdict."""

    def __init__(self, rail: RailView) -> None:
        """Speak for a rail."""
        super().__init__(rail, Role.List, rail.accessibleName())
        self._rail = rail
        self._places: list[PlaceSpoken] = []

    def childCount(self) -> int:
        """Return how many places there are."""
        return len(self._rail.places)

    def child(self, index: int) -> QAccessibleInterface | None:  # type: ignore[override]
        """Return a place."""
        if not 0 <= index < self.childCount():
            return None
        while len(self._places) <= index:
            place = PlaceSpoken(self._rail, len(self._places))
            QAccessible.registerAccessibleInterface(place)
            self._places.append(place)
        return self._places[index]

    def indexOfChild(self, child: QAccessibleInterface) -> int:
        """Return a place's number; −1 for what is none."""
        return next((number for number, place in enumerate(self._places) if place is child), -1)

    def focusChild(self) -> QAccessibleInterface | None:  # type: ignore[override]
        """Return what is picked."""
        places, picked = self._rail.places, self._rail.session.selection
        return self.child(places.index(picked)) if picked in places else None

    def text(self, t: QAccessible.Text) -> str:
        """Return its name, and as its value what is picked and the verdict."""
        if t == Text.Value:
            return spoken_rail(self._rail)
        return str(super().text(t))


def spoken_rail(rail: RailView) -> str:
    """Return what is picked, with the verdict of the train."""
    readout, picked = rail.shown, rail.session.selection
    if readout is None:
        return say("No train on the rail yet")
    verdict = f"{readout.verdict.headline} {readout.verdict.detail}".strip()
    if picked.empty:
        return verdict
    name, told = rail.spoken(picked)
    return f"{name}. {told}. {verdict}"


class PictureSpoken(QAccessibleWidget):
    """A picture: its value is what is said of the point that is read, or of the whole."""

    def __init__(self, picture: ReadOut) -> None:
        """Speak for a picture."""
        super().__init__(picture, Role.Chart, picture.accessibleName())
        self._picture = picture

    def text(self, t: QAccessible.Text) -> str:
        """Return its name and value."""
        if t in (Text.Value, Text.Description):
            return self._picture.said()
        return str(super().text(t))


class SliderSpoken(QAccessibleWidget):
    """A slider that says the value it stands for, with its unit."""

    def __init__(self, slider: QSlider) -> None:
        """Speak for a slider."""
        super().__init__(slider, Role.Slider, slider.accessibleName())
        self._slider = slider

    def text(self, t: QAccessible.Text) -> str:
        """Return its name, and the value it stands for."""
        if t == Text.Value:
            return slider_words(self._slider)
        return str(super().text(t))


class TabSpoken(QAccessibleWidget):
    """A name in a row of pages: one of them is chosen."""

    def __init__(self, button: QAbstractButton) -> None:
        """Speak for a name."""
        super().__init__(button, Role.PageTab, button.text())
        self._button = button

    def state(self) -> QAccessible.State:
        """Return whether it is chosen."""
        state = super().state()
        state.selectable = True
        if self._button.isChecked():
            state.selected = True
        return state


def _made(_key: str, what: QObject | None) -> QAccessibleInterface | None:
    """Return the interface of a widget the program speaks for itself; None leaves it to Qt."""
    made: QAccessibleInterface | None = None
    if isinstance(what, RailView):
        made = RailSpoken(what)
        what.session.selection_changed.connect(lambda: _tell_picked(what))
    elif isinstance(what, ReadOut):
        made = PictureSpoken(what)
    elif isinstance(what, QSlider):
        made = SliderSpoken(what)
    elif isinstance(what, QAbstractButton) and what.property("tab") == "true":
        made = TabSpoken(what)
    if made is not None and isinstance(what, QWidget):
        # The widget holds it: else Python would let go of it at once.
        what.spoken_by = made  # type: ignore[attr-defined]
    return made


def _tell_picked(rail: RailView) -> None:
    """Say that another part or joint is picked."""
    places, picked = rail.places, rail.session.selection
    if QAccessible.isActive() and shiboken6.isValid(rail) and picked in places:
        for kind in (QAccessible.Event.Focus, QAccessible.Event.Selection):
            event = QAccessibleEvent(rail, kind)
            event.setChild(places.index(picked))
            QAccessible.updateAccessibility(event)


def speak() -> None:
    """Have the program speak for what it paints itself; call once."""
    QAccessible.installFactory(_made)
