"""Commands about trains: start, copy, rename, remove, stop down, turn the camera; asked in small popovers."""

from typing import Protocol

from PySide6.QtCore import QObject, QPoint
from PySide6.QtWidgets import QMenu, QWidget

from farrail.errors import FarRailError
from farrail.language import say
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.origin import Origin
from farrail.train.train import Side
from farrail.ui.session import Session
from farrail.ui.widgets.ask import AskLine, AskTrain
from farrail.ui.widgets.plain import plain_title
from farrail.workbook.edits.laying import BareCamera, ReverseOptic, TurnPart
from farrail.workbook.edits.shelf import parse_reading
from farrail.workbook.edits.trains import DuplicateTrain, RemoveTrain, RenameTrain, SetFNumber


class HasTitles(Protocol):
    """Where the questions are asked: under the train's name, and under the aperture."""

    @property
    def train(self) -> QWidget:
        """The train's name."""

    @property
    def aperture(self) -> QWidget:
        """The aperture."""


class TrainCommands(QObject):
    """What the train menu and the header's aperture do."""

    def __init__(self, session: Session, header: HasTitles, window: QWidget) -> None:
        """Serve one window."""
        super().__init__(window)
        self.session, self.header, self._window = session, header, window

    def say(self, text: str) -> None:
        """Say of a trouble in one sentence."""
        self.session.message.emit(text, True)

    def list_trains(self, menu: QMenu) -> None:
        """Put every train into a menu, the one in view marked."""
        current = self.session.train
        for train in self.session.workbook.trains:
            action = menu.addAction(plain_title(train.name))
            action.setCheckable(True)
            action.setChecked(current is not None and train.id == current.id)
            action.triggered.connect(lambda _=False, key=train.id: self.session.show_train(key))

    def offer_front_ring(self, menu: QMenu) -> None:
        """Offer the camera without its front ring, where it has one."""
        train = self.session.train
        camera = self.session.workbook.by_id.get(train.camera or "") if train is not None else None
        if train is None or not isinstance(camera, Camera) or camera.front_ring is None:
            return
        edit = BareCamera(train.id, not train.camera_bare)
        action = menu.addAction(say("Camera without its front ring"))
        action.setCheckable(True)
        action.setChecked(train.camera_bare)
        action.triggered.connect(lambda: self.session.do(edit))

    def offer_turned_lens(self, menu: QMenu) -> None:
        """Offer the train's lens flipped, where it is one with a filter thread."""
        train = self.session.train
        lens = self.session.workbook.by_id.get(train.optic) if train is not None else None
        if train is None or not isinstance(lens, CameraLens) or not lens.can_be_reversed:
            return
        edit = ReverseOptic(train.id, not train.optic_reversed)
        action = menu.addAction(say("Lens reversed"))
        action.setCheckable(True)
        action.setChecked(train.optic_reversed)
        action.triggered.connect(lambda: self.session.do(edit))

    def ask_train(self) -> None:
        """Ask with which optic and camera a train is to start."""
        AskTrain(self.session, self._window).show_at(self._under(self.header.train))

    def ask_train_name(self) -> None:
        """Ask for another name of the train in view."""
        train = self.session.train
        if train is not None:
            ask = AskLine(
                say("Rename train"), train.name, say("Enter to take it, Escape to leave it."),
                lambda text: self.session.do(RenameTrain(train.id, text)), self._window,
            )  # fmt: skip
            ask.show_at(self._under(self.header.train))

    def ask_aperture(self, at: QPoint | None) -> None:
        """Ask for the f-number the train is used at."""
        train = self.session.train
        if train is None:
            return
        known = train.conditions.f_number

        def take(text: str) -> None:
            try:
                value = parse_reading(text.lower().removeprefix("f/"), Origin.MEASURED).value if text.strip() else None
            except FarRailError:
                self.say(say("“{text}” is not an f-number; enter one such as 5.6, or leave it empty.", text=text[:30]))
                return
            self.session.do(SetFNumber(train.id, value))

        hint = say("The f-number this train is used at. Leave it empty for the optic's own.")
        ask = AskLine(say("Aperture"), "" if known is None else say("{known:g}", known=known), hint, take, self._window)
        ask.show_at(at if at is not None else self._under(self.header.aperture))

    def _under(self, widget: QWidget) -> QPoint:
        return widget.mapToGlobal(QPoint(0, widget.height()))

    def copy_train(self) -> None:
        """Copy the train in view and show the copy."""
        train = self.session.train
        if train is not None and self.session.do(DuplicateTrain(train.id)):
            ids = [t.id for t in self.session.workbook.trains]
            self.session.show_train(ids[ids.index(train.id) + 1])

    def remove_train(self) -> None:
        """Take the train in view out of the workbook."""
        train = self.session.train
        if train is not None and self.session.do(RemoveTrain(train.id)):
            self.session.train_changed.emit()
            self.session.message.emit(say("“{name}” is removed; undo brings it back.", name=train.name), False)

    def turn_picked(self) -> None:
        """Ask how far the picked part is turned."""
        picked = self.session.selection
        if picked.empty or picked.joint:
            self.say(say("Pick a part on the rail first."))
        else:
            self.ask_turn(picked.index, picked.side)

    def ask_turn(self, index: int | None, side: Side = Side.REAR) -> None:
        """Ask how far a part, or the camera (None), is turned about the axis."""
        train = self.session.train
        if train is None:
            return
        place = len(train.rear_train) if index is None else index
        known = train.camera_turned_deg if index is None else train.row(side)[place].turned_deg

        def take(text: str) -> None:
            try:
                angle = parse_reading(text.replace("°", ""), Origin.MEASURED).value if text.strip() else None
            except FarRailError:
                self.say(say("“{text}” is not an angle; enter degrees such as 90, or leave it empty.", text=text[:30]))
                return
            self.session.do(TurnPart(train.id, place, angle, side))

        hint = say("Degrees about the axis, clockwise as seen from the camera. Leave it empty for as it comes.")
        ask = AskLine(
            say("Turned by"), "" if known is None else say("{known:g}", known=known), hint, take, self._window
        )
        ask.show_at(self._under(self.header.train))
