"""Walking along the rail by key: every joint and part of a train in the order they are on the screen."""

from collections.abc import Mapping

from PySide6.QtCore import Qt

from farrail.parts.registry import Part
from farrail.readouts.read import Readout
from farrail.train.train import Side, Train
from farrail.ui.selection import NOTHING, Selection

# Keys that only modify others: pressed alone they say nothing.
BARE = (Qt.Key.Key_Shift, Qt.Key.Key_Control, Qt.Key.Key_Alt, Qt.Key.Key_AltGr, Qt.Key.Key_Meta, Qt.Key.Key_CapsLock)


def places_of(train: Train, readout: Readout | None) -> list[Selection]:
    """Return the joints and parts of a train from left to right: the front stack, then what is behind the optic.

    Joints and parts alternate along a row; the optic between both rows is crossed.
    """
    places: list[Selection] = []
    front = train.row(Side.FRONT)
    if front or (readout is not None and any(joint.side is Side.FRONT for joint in readout.layout.joints)):
        # Front rows are counted outward: the outermost is leftmost.
        for index in range(len(front), 0, -1):
            places += [Selection(Side.FRONT, index, joint=True), Selection(Side.FRONT, index - 1)]
        places.append(Selection(Side.FRONT, 0, joint=True))
    rear = train.row(Side.REAR)
    for index in range(len(rear)):
        places += [Selection(Side.REAR, index, joint=True), Selection(Side.REAR, index)]
    return [*places, Selection(Side.REAR, len(rear), joint=True)]


def walked(places: list[Selection], picked: Selection, step: int) -> Selection:
    """Return the place so many steps to the right, or the left where negative, of what is picked; the ends stay."""
    if not places:
        return NOTHING
    if abs(step) >= len(places):
        return places[0 if step < 0 else -1]
    if picked.empty or picked not in places:
        # Behind the optic is where most begin; what has nothing there is entered at its other end.
        rear = [place for place in places if place.side is Side.REAR]
        start = rear if len(rear) > 1 else places
        return start[0 if step > 0 else -1]
    return places[min(max(places.index(picked) + step, 0), len(places) - 1)]


def by_letter(
    places: list[Selection], picked: Selection, letter: str, train: Train, shelf: Mapping[str, Part]
) -> Selection:
    """Return the next part to the right whose name begins with a letter, from the left again after the last one."""
    begin = places.index(picked) + 1 if picked in places else 0
    for place in [*places[begin:], *places[:begin]]:
        if not place.joint:
            part = shelf.get(train.row(place.side)[place.index].part)
            if part is not None and part.name.casefold().startswith(letter.casefold()):
                return place
    return picked
