"""Edits to what is on the rail: place, move, flip, remove, and what is in a filter seat."""

from dataclasses import dataclass

from farrail.errors import EditRefused
from farrail.language import N_, Text, say
from farrail.parts.base import Adjustable, TubePart
from farrail.parts.inventory_item import PartId
from farrail.parts.kinds.ahead import FilterHolder
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.guiders import OffAxisGuider
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.seats import FilterDrawer, FilterWheel
from farrail.parts.registry import Part
from farrail.train.train import GuidePort, MountedPart, Side, Train
from farrail.workbook.edits.rows import change_laid, laid_at, with_bought, with_row
from farrail.workbook.edits.trains import change_train
from farrail.workbook.workbook import Workbook


def laid_anew(part: Part) -> MountedPart:
    """Return how a part is when it is first put on a rail: a wheel with its slots empty."""
    slots = part.slot_count if isinstance(part, TubePart) else 0
    return MountedPart(part=part.id, filters=(None,) * slots)


def can_lie(part: Part) -> bool:
    """Whether a part can be between others."""
    return isinstance(part, TubePart)


@dataclass(frozen=True)
class LayPart:
    """Put a part of the shelf at a joint."""

    train_id: str
    part: PartId
    index: int
    side: Side = Side.REAR
    flipped: bool = False
    label: Text = N_("Add part")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the part placed before the row's part of that index."""
        part = workbook.by_id.get(self.part)
        if part is None:
            raise EditRefused("That part is no longer on the shelf; choose another.")
        if not can_lie(part):
            raise EditRefused(
                "{name} cannot be between other parts; it is the start or end of a train.", name=part.name
            )

        def change(train: Train) -> Train:
            row = list(train.row(self.side))
            laid = laid_anew(part).model_copy(update={"flipped": self.flipped})
            row.insert(max(0, min(self.index, len(row))), laid)
            return with_row(train, self.side, row)

        return change_train(workbook, self.train_id, change)


@dataclass(frozen=True)
class ReplacePart:
    """Put another part in the place of one that is on the rail."""

    train_id: str
    part: PartId
    index: int
    side: Side = Side.REAR
    label: Text = N_("Replace part")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the part exchanged; a filter set moves along into the new seat."""
        part = workbook.by_id.get(self.part)
        if part is None or not can_lie(part):
            raise EditRefused("Only a part with two ends can take that place.")

        def change(train: Train) -> Train:
            row, old = list(train.row(self.side)), laid_at(train, self.side, self.index)
            laid = laid_anew(part)
            if isinstance(part, FilterWheel):
                filters = (*old.filters, *laid.filters)[: part.slots]
                laid = laid.model_copy(update={"filters": filters, "in_beam": min(old.in_beam, part.slots - 1)})
            elif isinstance(part, FilterHolder):
                filters = (*old.filters, *laid.filters)[: part.slots]
                laid = laid.model_copy(update={"filters": filters, "drop_in": old.drop_in, "shifts_mm": old.shifts_mm})
            elif isinstance(part, FilterDrawer):
                laid = laid.model_copy(update={"filters": old.filters, "in_beam": old.in_beam})
            row[self.index] = laid
            return with_row(train, self.side, row)

        return change_train(workbook, self.train_id, change)


@dataclass(frozen=True)
class MovePart:
    """Move a part to another place of its row."""

    train_id: str
    index: int
    to: int
    side: Side = Side.REAR
    label: Text = N_("Move part")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the part standing at index `to`."""

        def change(train: Train) -> Train:
            row = list(train.row(self.side))
            laid = laid_at(train, self.side, self.index)
            row.pop(self.index)
            row.insert(max(0, min(self.to, len(row))), laid)
            return with_row(train, self.side, row)

        return change_train(workbook, self.train_id, change)


@dataclass(frozen=True)
class FlipPart:
    """Turn a part end for end."""

    train_id: str
    index: int
    side: Side = Side.REAR
    label: Text = N_("Flip part")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the part turned."""
        return change_laid(workbook, self.train_id, self.side, self.index, lambda laid: {"flipped": not laid.flipped})


@dataclass(frozen=True)
class RemovePart:
    """Take a part off the rail; it stays on the shelf."""

    train_id: str
    index: int
    side: Side = Side.REAR
    label: Text = N_("Remove part")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook without that place in the row."""

        def change(train: Train) -> Train:
            laid_at(train, self.side, self.index)
            row = list(train.row(self.side))
            row.pop(self.index)
            return with_row(train, self.side, row)

        return change_train(workbook, self.train_id, change)


@dataclass(frozen=True)
class SetInBeam:
    """Turn another filter of a wheel or set into the beam."""

    train_id: str
    index: int
    slot: int
    label: Text = N_("Change filter in the beam")

    @property
    def merge_key(self) -> str | None:
        """Turning the wheel past several filters is one step."""
        return f"in-beam:{self.train_id}:{self.index}"

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the slot in the beam."""

        def update(laid: MountedPart) -> dict[str, object]:
            if not 0 <= self.slot < max(len(laid.filters), 1):
                raise EditRefused(
                    "There is no slot {slot}; this one has {count}.", slot=self.slot + 1, count=len(laid.filters)
                )
            return {"in_beam": self.slot}

        return change_laid(workbook, self.train_id, Side.REAR, self.index, update)


@dataclass(frozen=True)
class SetFilter:
    """Put a filter into a slot of a wheel, or into a drawer's set; None empties the slot."""

    train_id: str
    index: int
    slot: int
    filter: PartId | None
    label: Text = N_("Change filter in a slot")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the slot filled; a drawer's set grows or shrinks by it."""

        def update(laid: MountedPart) -> dict[str, object]:
            wheel = isinstance(workbook.by_id.get(laid.part), FilterWheel)
            filters = list(laid.filters)
            if self.slot == len(filters) and not wheel and self.filter is not None and len(filters) < 24:
                return {"filters": (*filters, self.filter), "in_beam": self.slot}
            if not 0 <= self.slot < len(filters):
                raise EditRefused(
                    "There is no slot {slot}; this one has {count}.", slot=self.slot + 1, count=len(filters)
                )
            filters[self.slot] = self.filter
            if not wheel:
                filters = [f for f in filters if f is not None]
            return {"filters": tuple(filters), "in_beam": min(laid.in_beam, max(len(filters) - 1, 0))}

        return change_laid(workbook, self.train_id, Side.REAR, self.index, update)


@dataclass(frozen=True)
class SetSpacer:
    """Set an adjustable spacer."""

    train_id: str
    index: int
    setting_mm: float
    side: Side = Side.REAR
    label: Text = N_("Set adjustable spacer")

    @property
    def merge_key(self) -> str | None:
        """Turning it back and forth is one step."""
        return f"setting:{self.train_id}:{self.side}:{self.index}"

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the setting, which must be within the part's range."""

        def update(laid: MountedPart) -> dict[str, object]:
            part = workbook.by_id.get(laid.part)
            if not isinstance(part, Adjustable):
                raise EditRefused("Only an adjustable spacer or a bellows can be set.")
            low, high = part.shortest_mm.value, part.longest_mm.value
            if not low - 1e-9 <= self.setting_mm <= high + 1e-9:
                raise EditRefused(
                    "{name} cannot be set to {setting_mm:.2f} mm: it reaches {low:g} to {high:g}.",
                    name=part.name,
                    setting_mm=self.setting_mm,
                    low=low,
                    high=high,
                )
            return {"setting_mm": round(self.setting_mm, 4)}

        return change_laid(workbook, self.train_id, self.side, self.index, update)


@dataclass(frozen=True)
class ReverseOptic:
    """Turn a train's lens round, its filter thread toward the camera, or back."""

    train_id: str
    turned: bool
    merge_key: str | None = None

    @property
    def label(self) -> str:
        """What undo calls it."""
        return say("Turn the lens round") if self.turned else say("Turn the lens back")

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the lens turned; refused for what has no filter thread."""
        train = workbook.train(self.train_id)
        lens = workbook.by_id.get(train.optic)
        if self.turned and (not isinstance(lens, CameraLens) or not lens.can_be_reversed):
            name = lens.name if lens is not None else say("This optic")
            raise EditRefused("{name} has no filter thread, so it cannot be reversed.", name=name)
        return change_train(workbook, self.train_id, lambda t: t.model_copy(update={"optic_reversed": self.turned}))


@dataclass(frozen=True)
class SetStandoff:
    """Say how far a nosepiece held by a screw is out; an index one past the row means the camera's."""

    train_id: str
    index: int
    standoff_mm: float | None
    label: Text = N_("Measure how far the nosepiece sticks out")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the length in the train."""
        length = self.standoff_mm
        if length is not None and not 0.0 <= length <= 200.0:
            raise EditRefused("A nosepiece cannot stick out {length:g} mm; enter 0 to 200 mm.", length=length)
        train = next((t for t in workbook.trains if t.id == self.train_id), None)
        if train is not None and self.index == len(train.rear_train):
            update = {"camera_standoff_mm": length}
            return change_train(workbook, self.train_id, lambda t: t.model_copy(update=update))
        return change_laid(workbook, self.train_id, Side.REAR, self.index, lambda _: {"standoff_mm": length})


@dataclass(frozen=True)
class TurnPart:
    """Turn a part about the axis; an index one past the row means the camera. None: as it comes."""

    train_id: str
    index: int
    turned_deg: float | None
    side: Side = Side.REAR
    label: Text = N_("Turn part about the axis")

    @property
    def merge_key(self) -> str | None:
        """Turning it on is one step."""
        return f"turn:{self.train_id}:{self.side}:{self.index}"

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the part turned."""
        angle = self.turned_deg
        if angle is not None and not -180.0 <= angle <= 180.0:
            raise EditRefused("{angle:g}° is more than half a turn; give −180 to 180.", angle=angle)
        train = next((t for t in workbook.trains if t.id == self.train_id), None)
        if self.side is Side.REAR and train is not None and self.index == len(train.rear_train):
            update = {"camera_turned_deg": angle}
            return change_train(workbook, self.train_id, lambda t: t.model_copy(update=update))
        return change_laid(workbook, self.train_id, self.side, self.index, lambda _: {"turned_deg": angle})


@dataclass(frozen=True)
class BareCamera:
    """Use the camera without its front ring, or with it again."""

    train_id: str
    bare: bool

    @property
    def label(self) -> str:
        """What undo calls it."""
        return say("Take the camera's front ring off") if self.bare else say("Put the camera's front ring on")

    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the camera so."""
        return change_train(workbook, self.train_id, lambda t: t.model_copy(update={"camera_bare": self.bare}))


@dataclass(frozen=True)
class TakeFromCell:
    """Place a filter's glass without its cell, to be held between two rings, or with it again."""

    train_id: str
    index: int
    out: bool

    @property
    def label(self) -> str:
        """What undo calls it."""
        return say("Take the glass out of its cell") if self.out else say("Put the glass back into its cell")

    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the filter so."""
        return change_laid(workbook, self.train_id, Side.REAR, self.index, lambda _: {"out_of_cell": self.out})


@dataclass(frozen=True)
class LayPlan:
    """Place a rear train as a plan proposes it, in one step; what is still to be bought comes on to the shelf.

    `camera` and `camera_bare` are the planned ones; None leaves them.
    """

    train_id: str
    rear_train: tuple[MountedPart, ...]
    bought: tuple[Part, ...] = ()
    label: Text = N_("Apply the plan")
    camera: PartId | None = None
    camera_bare: bool | None = None
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the rear train replaced."""

        def change(train: Train) -> Train:
            update: dict[str, object] = {}
            if self.camera is not None:
                update["camera"] = self.camera
            if self.camera_bare is not None:
                update["camera_bare"] = self.camera_bare
            return with_row(train, Side.REAR, list(self.rear_train)).model_copy(update=update)

        return change_train(with_bought(workbook, self.bought), self.train_id, change)


@dataclass(frozen=True)
class SetGuide:
    """Hang a guide camera on an off-axis guider's port, or take it off."""

    train_id: str
    index: int
    guide: GuidePort | None
    label: Text = N_("Change the guide camera")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the camera there."""

        def update(laid: MountedPart) -> dict[str, object]:
            shelf, guide = workbook.by_id, self.guide
            if not isinstance(shelf.get(laid.part), OffAxisGuider):
                raise EditRefused("Only an off-axis guider has a port for a guide camera; add one first.")
            if guide is not None and guide.camera not in shelf:
                raise EditRefused("There is no part “{part}” for the guide port; choose one from the shelf.",
                                  part=guide.camera)  # fmt: skip
            if guide is not None and not isinstance(shelf[guide.camera], Camera):
                raise EditRefused("Only a camera can hang on a guide port; choose one from the shelf.")
            if guide is not None and not all(isinstance(shelf.get(part), TubePart) for part in guide.between):
                raise EditRefused("Between a guide port and its camera only parts with two ends fit.")
            return {"guide": guide}

        return change_laid(workbook, self.train_id, Side.REAR, self.index, update)


@dataclass(frozen=True)
class LayTogether:
    """Place several rear trains as one plan proposes them, in one step; what is bought comes on to the shelf."""

    trains: tuple[Train, ...]
    bought: tuple[Part, ...] = ()
    label: Text = N_("Apply the plan to all of them")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the rear trains replaced."""
        for train in self.trains:
            workbook = LayPlan(train.id, train.rear_train, self.bought).apply(workbook)
        return workbook


@dataclass(frozen=True)
class KeepPart:
    """Keep a loose part where it is and as it is set, no matter what a planner would do with it, or let it go again."""

    train_id: str
    index: int
    kept: bool
    merge_key: str | None = None

    @property
    def label(self) -> str:
        """What undo calls it."""
        return say("Keep the part in place") if self.kept else say("Let the planner move the part")

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the part kept or loose."""

        def update(laid: MountedPart) -> dict[str, object]:
            part = workbook.by_id.get(laid.part)
            if not isinstance(part, TubePart) or not part.fills:
                raise EditRefused("Only spacers, shims, adapters and adjustable spacers are moved by the planner.")
            return {"kept": self.kept}

        return change_laid(workbook, self.train_id, Side.REAR, self.index, update)
