"""How a lens is shifted and tilted, and what is in its rear slot."""

import math
from dataclasses import dataclass

from farrail.errors import EditRefused
from farrail.language import N_, Text
from farrail.parts.kinds.lenses import CameraLens
from farrail.workbook.edits.trains import change_train, with_conditions
from farrail.workbook.workbook import Workbook


@dataclass(frozen=True)
class SetShift:
    """Shift a train's lens, as seen from behind the camera; 0 and 0 put it back."""

    train_id: str
    right_mm: float
    up_mm: float
    label: Text = N_("Shift the lens")

    @property
    def merge_key(self) -> str | None:
        """Several settings in a row are one step."""
        return f"shift:{self.train_id}"

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the train's conditions changed."""
        train = workbook.train(self.train_id)
        lens = workbook.by_id.get(train.optic)
        most = lens.most_shift_mm if isinstance(lens, CameraLens) else None
        if most is None and (self.right_mm or self.up_mm):
            raise EditRefused("This lens does not shift; give it a greatest shift in Parts first.")
        if most is not None and math.hypot(self.right_mm, self.up_mm) > most.high + 1e-9:
            raise EditRefused("The lens shifts by at most {most:g} mm; give less.", most=most.high)
        shift: dict[str, object] = {"shift_right_mm": self.right_mm, "shift_up_mm": self.up_mm}
        return change_train(workbook, self.train_id, lambda t: with_conditions(t, shift))


@dataclass(frozen=True)
class SetTilt:
    """Tilt a train's lens: positive looks down; 0 puts it straight."""

    train_id: str
    down_deg: float
    label: Text = N_("Tilt the lens")

    @property
    def merge_key(self) -> str | None:
        """Several settings in a row are one step."""
        return f"tilt:{self.train_id}"

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the train's conditions changed."""
        lens = workbook.by_id.get(workbook.train(self.train_id).optic)
        most = lens.most_tilt_deg if isinstance(lens, CameraLens) else None
        if most is None and self.down_deg:
            raise EditRefused("This lens does not tilt; give it a greatest tilt in Parts first.")
        if most is not None and abs(self.down_deg) > most.high + 1e-9:
            raise EditRefused("The lens tilts by at most {most:g}°; give less.", most=most.high)
        return change_train(workbook, self.train_id, lambda t: with_conditions(t, {"tilt_deg": self.down_deg}))


@dataclass(frozen=True)
class SetGelatin:
    """Put a gelatin filter of a thickness into the lens's rear slot; None empties it."""

    train_id: str
    thick_mm: float | None
    label: Text = N_("Gelatin in the rear slot")

    @property
    def merge_key(self) -> str | None:
        """Several settings in a row are one step."""
        return f"gelatin:{self.train_id}"

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the train's conditions changed."""
        lens = workbook.by_id.get(workbook.train(self.train_id).optic)
        if self.thick_mm is not None and not (isinstance(lens, CameraLens) and lens.gelatin_slot):
            raise EditRefused("This lens has no rear slot; set that in Parts first.")
        if self.thick_mm is not None and not 0.0 < self.thick_mm <= 3.0:
            raise EditRefused("A gelatin filter is up to 3 mm thick; usual is 0.1.")
        return change_train(workbook, self.train_id, lambda t: with_conditions(t, {"gelatin_mm": self.thick_mm}))
