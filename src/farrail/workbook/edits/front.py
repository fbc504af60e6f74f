"""Edits to a front stack: sheets in their slots, what is dropped in, a lens carried flipped."""

from dataclasses import dataclass

from farrail.errors import EditRefused
from farrail.language import N_, Text, say
from farrail.parts.connections import why_not
from farrail.parts.inventory_item import PartId
from farrail.parts.kinds.ahead import FilterHolder, Hood
from farrail.parts.kinds.closer import ReversingRing
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.registry import Part
from farrail.train.layout import Layout
from farrail.train.train import Conditions, MountedPart, Side, Train
from farrail.workbook.edits.laying import laid_anew
from farrail.workbook.edits.rows import change_laid, with_bought, with_row
from farrail.workbook.edits.trains import change_train
from farrail.workbook.workbook import Workbook


@dataclass(frozen=True)
class SetSheet:
    """Slide a sheet into a holder's slot; None takes it out."""

    train_id: str
    index: int
    slot: int
    sheet: PartId | None
    label: Text = N_("Change the filter in a slot")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the slot filled."""

        def update(laid: MountedPart) -> dict[str, object]:
            holder = _holder_with(workbook, laid, self.slot)
            filters = [*laid.filters, *(None,) * holder.slots][: holder.slots]
            filters[self.slot] = self.sheet
            return {"filters": tuple(filters)}

        return change_laid(workbook, self.train_id, Side.FRONT, self.index, update)


def _holder_with(workbook: Workbook, laid: MountedPart, slot: int) -> FilterHolder:
    """Return the holder placed there.

    Raises:
        EditRefused: it is none, or has no such slot.
    """
    holder = workbook.by_id.get(laid.part)
    if not isinstance(holder, FilterHolder) or not 0 <= slot < holder.slots:
        raise EditRefused("There is no such slot; choose another.")
    return holder


@dataclass(frozen=True)
class SlideSheet:
    """Slide a holder's sheet up or down."""

    train_id: str
    index: int
    slot: int
    shift_mm: float
    label: Text = N_("Slide a filter")

    @property
    def merge_key(self) -> str | None:
        """Sliding on is one step."""
        return f"slide:{self.train_id}:{self.index}:{self.slot}"

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the sheet there."""
        if not -500.0 <= self.shift_mm <= 500.0:
            raise EditRefused("A filter cannot be slid {shift_mm:g} mm.", shift_mm=self.shift_mm)

        def update(laid: MountedPart) -> dict[str, object]:
            _holder_with(workbook, laid, self.slot)
            shifts = [*laid.shifts_mm, *(0.0,) * (self.slot + 1)][: max(self.slot + 1, len(laid.shifts_mm))]
            shifts[self.slot] = round(self.shift_mm, 2)
            return {"shifts_mm": tuple(shifts)}

        return change_laid(workbook, self.train_id, Side.FRONT, self.index, update)


@dataclass(frozen=True)
class SetDropIn:
    """Drop a round filter into a holder behind its sheets; None takes it out."""

    train_id: str
    index: int
    filter: PartId | None
    label: Text = N_("Change the drop-in filter")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the filter there."""
        return change_laid(workbook, self.train_id, Side.FRONT, self.index, lambda _: {"drop_in": self.filter})


@dataclass(frozen=True)
class CarryLens:
    """Screw a lens, flipped, on a front stack's reversing ring; None takes it off."""

    train_id: str
    index: int
    lens: PartId | None
    label: Text = N_("Change the lens on the ring")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the lens there."""

        def update(laid: MountedPart) -> dict[str, object]:
            ring, lens = workbook.by_id.get(laid.part), workbook.by_id.get(self.lens or "")
            if not isinstance(ring, ReversingRing):
                raise EditRefused("Only a reversing ring holds a lens; add one to the lens first.")
            if self.lens is not None and (not isinstance(lens, CameraLens) or not lens.can_be_reversed):
                name = lens.name if lens is not None else say("That part")
                raise EditRefused("{name} has no filter thread, so it cannot be reversed.", name=name)
            return {"lens": self.lens}

        return change_laid(workbook, self.train_id, Side.FRONT, self.index, update)


@dataclass(frozen=True)
class LayStack:
    """Place a front stack as a fix proposes it, in one step; what is still to be bought comes on to the shelf.

    Attributes:
        train_id: the train.
        front_stack: the stack.
        bought: parts that are not on the shelf.
        conditions: how the train is then used; None leaves that.
        label: what undo calls it.
    """

    train_id: str
    front_stack: tuple[MountedPart, ...]
    bought: tuple[Part, ...] = ()
    conditions: Conditions | None = None
    label: Text = N_("Change the front stack")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the front stack replaced."""

        def change(train: Train) -> Train:
            then = with_row(train, Side.FRONT, list(self.front_stack))
            return then if self.conditions is None else then.model_copy(update={"conditions": self.conditions})

        return change_train(with_bought(workbook, self.bought), self.train_id, change)


@dataclass(frozen=True)
class SetHood:
    """Put a hood on the front of a stack, or take every hood off it.

    Attributes:
        train_id: the train.
        hood: the hood; None takes it off.
        label: what undo calls it.
    """

    train_id: str
    hood: PartId | None
    label: Text = N_("Hood on or off")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the stack changed."""
        shelf = workbook.by_id
        if self.hood is not None and not isinstance(shelf.get(self.hood), Hood):
            raise EditRefused("That hood is no longer on the shelf; choose another.")

        def change(train: Train) -> Train:
            row = [one for one in train.front_stack if not isinstance(shelf[one.part], Hood)]
            if self.hood is not None:
                row.append(laid_anew(shelf[self.hood]))
            return with_row(train, Side.FRONT, row)

        return change_train(workbook, self.train_id, change)


def hood_for(workbook: Workbook, layout: Layout) -> PartId | None:
    """Return the hood of a train: the one that is on it, or the first of the shelf that fits its front."""
    on = next((placed.part.id for placed in layout.front if isinstance(placed.part, Hood)), None)
    front = layout.front[-1].front if layout.front else layout.optic_ends[0]
    if on is not None or front is None:
        return on
    return next((p.id for p in workbook.shelf if isinstance(p, Hood) and why_not(p.rear, front) is None), None)
