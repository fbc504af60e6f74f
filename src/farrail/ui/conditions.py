"""The conditions a train is used under, in one place: what it is set to, what is in the beam, what is taken off."""

from collections.abc import Callable
from dataclasses import replace
from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QCheckBox, QComboBox, QGridLayout, QWidget

from farrail.language import say
from farrail.parts.kinds.ahead import FilterHolder
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.seats import FilterSeat
from farrail.quantities import decimal
from farrail.readouts.read import Readout
from farrail.train.train import Side, Train
from farrail.ui.session import Session
from farrail.ui.widgets.number_field import NumberField
from farrail.ui.widgets.plain import Label, plain_title
from farrail.ui.widgets.popover import Popover
from farrail.workbook.edits.front import SetHood, SlideSheet, hood_for
from farrail.workbook.edits.laying import BareCamera, ReverseOptic, SetInBeam, TurnPart
from farrail.workbook.edits.lens_settings import SetGelatin, SetShift, SetTilt
from farrail.workbook.edits.trains import SetFNumber, SetFocal, SetFocus, SetSubject
from farrail.workbook.history import Edit


class Conditions(Popover):
    """Every condition of the train in view that can be changed."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        """Build the layout of what the train has."""
        super().__init__(say("Use of this train"), parent, 340)
        self._session = session
        self._grid = QGridLayout()
        self._grid.setHorizontalSpacing(14)
        self._grid.setVerticalSpacing(7)
        self._grid.setColumnStretch(1, 1)
        self.body.addLayout(self._grid)
        self._refreshers: list[Callable[[Readout], None]] = []
        train, readout = session.train, session.readout
        if train is None or readout is None:
            self.add_line(say("No train in view; start one from the first page or the train menu."), role="steel")
            return
        self._numbers(train, readout)
        self._seats(train, readout)
        self._switches(train, readout)
        session.changed.connect(self._refresh)
        self._refresh()

    # Rows

    def _row(self, caption: str, widget: QWidget) -> None:
        label = Label(caption)
        label.setProperty("role", "steel")
        row = self._grid.rowCount()
        self._grid.addWidget(label, row, 0)
        self._grid.addWidget(widget, row, 1, Qt.AlignmentFlag.AlignLeft)

    def _number(
        self, caption: str, name: str, path: str, step: float, make: Callable[[float | None], Edit | None],
        now: Callable[[Readout], tuple[float | None, str]],
    ) -> None:  # fmt: skip
        field = NumberField(self._session, name, caption, path, step, make, 120)
        self._row(caption, field)
        self._refreshers.append(lambda readout: field.say(*now(readout)))

    def _numbers(self, train: Train, readout: Readout) -> None:
        lens = readout.layout.optic
        zoom = isinstance(lens, CameraLens) and lens.longest_focal_mm is not None
        if zoom:
            self._number(
                say("Focal length"), "condition_focal", "focal_mm", 1.0,
                lambda value: None if value is None else SetFocal(train.id, value), _focal_of,
            )  # fmt: skip
        self._number(
            say("Aperture"),
            "condition_aperture",
            "f_number",
            0.1,
            lambda value: SetFNumber(train.id, value),
            _aperture_of,
        )
        if isinstance(lens, CameraLens):
            self._number(
                say("Focused at"),
                "condition_focus",
                "focus_mm",
                10.0,
                lambda value: SetFocus(train.id, value),
                _focus_of,
            )
            if lens.most_shift_mm is not None:
                self._number(
                    say("Shifted right by"), "condition_shift_right", "most_shift_mm", 0.5,
                    lambda value: SetShift(train.id, value or 0.0, self._shift()[1]), _shifted_right,
                )  # fmt: skip
                self._number(
                    say("Shifted up by"), "condition_shift_up", "most_shift_mm", 0.5,
                    lambda value: SetShift(train.id, self._shift()[0], value or 0.0), _shifted_up,
                )  # fmt: skip
            if lens.most_tilt_deg is not None:
                self._number(
                    say("Tilted down by"), "condition_tilt", "most_tilt_deg", 0.5,
                    lambda value: SetTilt(train.id, value or 0.0), _tilted,
                )  # fmt: skip
            if lens.gelatin_slot:
                self._number(
                    say("Gelatin in the rear slot"), "condition_gelatin", "gelatin_mm", 0.1,
                    lambda value: SetGelatin(train.id, value), _gelatin,
                )  # fmt: skip
        holder = next((p.index for p in readout.layout.front if isinstance(p.part, FilterHolder)), None)
        if holder is not None:
            self._number(
                say("Holder turned by"), "condition_holder", "turn_deg", 1.0,
                lambda value: TurnPart(train.id, holder, value, Side.FRONT, label=say("Turn the holder")),
                partial(_turned, Side.FRONT, holder),
            )  # fmt: skip
            self._sheets(train, holder)
        if isinstance(lens, CameraLens):
            self._subject(train)
        if train.camera is not None:
            self._number(
                say("Camera turned by"),
                "condition_camera",
                "turn_deg",
                1.0,
                lambda value: TurnPart(train.id, len(train.rear_train), value, label=say("Turn the camera")),
                _camera_turned,
            )

    def _sheets(self, train: Train, holder: int) -> None:
        """How far each filter in a holder's slots is slid up."""
        for slot, held in enumerate(train.front_stack[holder].filters):
            if held is not None:
                self._number(
                    say("Filter in slot {slot} slid up by", slot=slot + 1), f"condition_sheet_{slot + 1}",
                    "slide_mm", 1.0, partial(_slid_to, train.id, holder, slot), partial(_slid, holder, slot),
                )  # fmt: skip

    def _subject(self, train: Train) -> None:
        """What a close-up is of."""
        self._number(
            say("Subject width"), "condition_subject_width", "subject_width_mm", 1.0,
            lambda value: self._about_subject(train.id, width_mm=value),
            lambda readout: _of_subject(readout.layout.train.conditions.subject_width_mm),
        )  # fmt: skip
        self._number(
            say("Subject depth"), "condition_subject_depth", "subject_depth_mm", 0.5,
            lambda value: self._about_subject(train.id, depth_mm=value),
            lambda readout: _of_subject(readout.layout.train.conditions.subject_depth_mm),
        )  # fmt: skip

    def _about_subject(self, train_id: str, **given: float | None) -> Edit:
        now = self._session.workbook.train(train_id).conditions
        kept = SetSubject(train_id, now.subject_width_mm, now.subject_depth_mm, now.blur_um)
        return replace(kept, **given)  # type: ignore[arg-type] # lengths alone are given

    def _shift(self) -> tuple[float, float]:
        train = self._session.train
        return (0.0, 0.0) if train is None else (train.conditions.shift_right_mm, train.conditions.shift_up_mm)

    def _seats(self, train: Train, readout: Readout) -> None:
        for placed in readout.layout.rear:
            if not isinstance(placed.part, FilterSeat) or len(placed.laid.filters) < 2:
                continue
            box = QComboBox()
            box.setObjectName(f"condition_beam_{placed.index}")
            box.setAccessibleName(say("In the beam, {name}", name=placed.part.name))
            for slot, filter_id in enumerate(placed.laid.filters):
                name = "empty" if filter_id is None else self._session.workbook.by_id[filter_id].name
                box.addItem(f"{slot + 1}  {plain_title(name)}")
            box.activated.connect(partial(self._turn_wheel, train.id, placed.index))
            self._row(say("In the beam"), box)
            self._refreshers.append(partial(_show_slot, box, placed.index))

    def _turn_wheel(self, train_id: str, index: int, slot: int) -> None:
        self._session.do(SetInBeam(train_id, index, slot, label=say("Turn another filter into the beam")))

    def _switches(self, train: Train, readout: Readout) -> None:
        shelf = self._session.workbook.by_id
        camera, lens = shelf.get(train.camera or ""), shelf.get(train.optic)
        if isinstance(camera, Camera) and camera.front_ring is not None:
            self._switch(
                say("Camera's front ring is off"), "condition_ring", lambda on: BareCamera(train.id, on),
                lambda now: now.camera_bare,
            )  # fmt: skip
        hood = hood_for(self._session.workbook, readout.layout)
        if hood is not None:
            self._switch(
                say("Lens hood on"), "condition_hood", lambda on: SetHood(train.id, hood if on else None),
                lambda now: any(one.part == hood for one in now.front_stack),
            )  # fmt: skip
        if isinstance(lens, CameraLens) and lens.can_be_reversed:
            self._switch(
                say("Lens reversed"), "condition_reversed", lambda on: ReverseOptic(train.id, on),
                lambda now: now.optic_reversed,
            )  # fmt: skip

    def _switch(self, caption: str, name: str, make: Callable[[bool], Edit], now: Callable[[Train], bool]) -> None:
        box = QCheckBox(caption)
        box.setObjectName(name)
        box.clicked.connect(lambda on: self._session.do(make(on)))
        self._grid.addWidget(box, self._grid.rowCount(), 0, 1, 2)
        self._refreshers.append(lambda readout: box.setChecked(now(readout.layout.train)))

    def _refresh(self) -> None:
        """Show the conditions as they are."""
        readout = self._session.readout
        if readout is not None:
            for refresh in self._refreshers:
                refresh(readout)


def _focal_of(readout: Readout) -> tuple[float | None, str]:
    focal = readout.layout.first_order.focal_length.value
    return focal, say("{decimal} mm", decimal=decimal(focal))


def _aperture_of(readout: Readout) -> tuple[float | None, str]:
    number = readout.layout.first_order.f_number.value
    return number, f"f/{decimal(number)}"


def _focus_of(readout: Readout) -> tuple[float | None, str]:
    focus = readout.layout.train.conditions.focus_mm
    return focus, say("infinity") if focus is None else say("{decimal} mm", decimal=decimal(focus))


def _shifted_right(readout: Readout) -> tuple[float | None, str]:
    shift = readout.layout.train.conditions.shift_right_mm
    return shift, say("{shift:.1f mm}", shift=shift)


def _shifted_up(readout: Readout) -> tuple[float | None, str]:
    shift = readout.layout.train.conditions.shift_up_mm
    return shift, say("{shift:.1f mm}", shift=shift)


def _tilted(readout: Readout) -> tuple[float | None, str]:
    tilt = readout.layout.train.conditions.tilt_deg
    return tilt, say("{tilt:.1f}°", tilt=tilt)


def _gelatin(readout: Readout) -> tuple[float | None, str]:
    thick = readout.layout.train.conditions.gelatin_mm
    return thick, say("none") if thick is None else say("{thick:.2f mm}", thick=thick)


def _slid_to(train_id: str, holder: int, slot: int, value: float | None) -> Edit:
    return SlideSheet(train_id, holder, slot, value or 0.0)


def _slid(holder: int, slot: int, readout: Readout) -> tuple[float | None, str]:
    row = readout.layout.train.front_stack
    shift = row[holder].shift_mm(slot) if holder < len(row) else 0.0
    return shift, say("{shift:.1f mm}", shift=shift)


def _of_subject(value_mm: float | None) -> tuple[float | None, str]:
    return value_mm, say("not entered") if value_mm is None else say("{decimal} mm", decimal=decimal(value_mm))


def _turned(side: Side, index: int, readout: Readout) -> tuple[float | None, str]:
    row = readout.layout.train.row(side)
    turned = row[index].turned_deg if index < len(row) else None
    return turned or 0.0, f"{decimal(turned or 0.0)}°"


def _camera_turned(readout: Readout) -> tuple[float | None, str]:
    turned = readout.layout.train.camera_turned_deg
    return turned or 0.0, say("as it comes") if turned is None else f"{decimal(turned)}°"


def _show_slot(box: QComboBox, index: int, readout: Readout) -> None:
    row = readout.layout.train.rear_train
    if index < len(row):
        box.setCurrentIndex(row[index].in_beam)
