"""One question of a route, and where a route is.

A route keeps nothing of its own: what was answered is read from the workbook, so that undo, another station or another
window's file can never disagree with it.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace

from farrail.errors import BadWorkbook, EditRefused
from farrail.language import say
from farrail.parts.blank import blank, untold
from farrail.parts.fields import value_at
from farrail.parts.inventory_item import PartId
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, Span
from farrail.parts.registry import Part
from farrail.train.train import MountedPart, Side, Train
from farrail.workbook.edits.shelf import SetReading, change_part, field_of
from farrail.workbook.edits.trains import change_train
from farrail.workbook.edits.typed import parse_value
from farrail.workbook.history import Edit
from farrail.workbook.routes.placeholders import called, free_name, new_part
from farrail.workbook.workbook import Workbook

# What a choice says when a part of the shelf is taken instead of a kind.
FROM_SHELF = "shelf:"
# Between two figures for one value.
_AND = (" and ", " or ", " und ", " oder ", ";")


@dataclass(frozen=True)
class RouteContext:
    """Where a route is: a workbook, and the train its answers are placed on (which may not be there yet)."""

    workbook: Workbook
    train_id: str

    @property
    def train(self) -> Train | None:
        """The train, or None before the first answer."""
        return next((t for t in self.workbook.trains if t.id == self.train_id), None)

    @property
    def optic(self) -> Part | None:
        """The train's optic."""
        return None if self.train is None else self.workbook.by_id[self.train.optic]

    @property
    def camera(self) -> Part | None:
        """The train's camera."""
        return None if self.train is None or self.train.camera is None else self.workbook.by_id[self.train.camera]

    def row(self, side: Side) -> tuple[MountedPart, ...]:
        """What is placed on a side."""
        return () if self.train is None else self.train.row(side)

    def part(self, side: Side, index: int) -> Part | None:
        """The part at a place of a row, or None."""
        row = self.row(side)
        return self.workbook.by_id[row[index].part] if 0 <= index < len(row) else None

    def with_train(self, change: Callable[[Train], Train]) -> "RouteContext":
        """Return where the route is with its train changed."""
        return replace(self, workbook=change_train(self.workbook, self.train_id, change))

    def with_part(self, part: Part) -> "RouteContext":
        """Return where the route is with one more part on the shelf."""
        return replace(self, workbook=self.workbook.model_copy(update={"shelf": (*self.workbook.shelf, part)}))

    def with_value(self, part_id: PartId, path: str, value: object) -> "RouteContext":
        """Return where the route is with one field of a part replaced."""
        return self.renamed(part_id, lambda stand: change_part(stand.workbook, part_id, path, value))

    def renamed(self, part_id: PartId, change: Callable[["RouteContext"], Workbook]) -> "RouteContext":
        """Return the route after a change to a part; one that no one named is called by what is known of it."""
        before = self.workbook.by_id[part_id]
        workbook = change(self)
        after = workbook.by_id[part_id]
        if before.name == free_name(self.workbook, called(before), part_id) and called(after) != called(before):
            workbook = change_part(workbook, part_id, "name", free_name(workbook, called(after), part_id))
        return replace(self, workbook=workbook)

    def part_of(self, part_id: PartId | None) -> Part | None:
        """Return a part of the shelf by its id, None for none."""
        return None if part_id is None else self.workbook.by_id.get(part_id)

    def after(self, edit: Edit) -> "RouteContext":
        """Return where the route is after an edit."""
        return replace(self, workbook=edit.apply(self.workbook))

    def without_made(self, part_id: PartId, kind: type[Part]) -> "RouteContext":
        """Return where the route is without a part that an earlier answer made and nothing uses now."""
        part = self.workbook.by_id.get(part_id)
        if not isinstance(part, kind) or self.workbook.uses_of(part_id):
            return self
        shelf = tuple(p for p in self.workbook.shelf if p.id != part_id)
        return replace(self, workbook=self.workbook.model_copy(update={"shelf": shelf}))

    def without_unused(self, part_id: PartId) -> "RouteContext":
        """Return where the route is without a part that was only a placeholder and is nowhere now."""
        part = self.workbook.by_id.get(part_id)
        if part is None or self.workbook.uses_of(part_id) or part.status is not blank(part.kind).status:
            return self
        shelf = tuple(p for p in self.workbook.shelf if p.id != part_id)
        return replace(self, workbook=self.workbook.model_copy(update={"shelf": shelf}))


Tell = Callable[[RouteContext, str, Origin], RouteContext]
Hint = Callable[[RouteContext], str]


def _always(stand: RouteContext) -> bool:
    return True


def _nothing(stand: RouteContext) -> tuple[str, ...]:
    return ()


@dataclass(frozen=True)
class Question:
    """One question of a route.

    Attributes:
        key: its identity; the words for it are found by its stem, what is before a number.
        tell: takes an answer; "" forgets it. Raises a FarRailError with the sentence to show.
        told: the answer as the workbook has it; "" where there is none.
        asked: whether it is asked at all as the route is.
        choices: identities to choose from; empty for what is typed.
        usual: answers to complete from.
        kinds: tags of the kinds of which a part of the shelf may be taken instead.
        needed: a first verdict needs it.
    """

    key: str
    tell: Tell
    told: Hint
    asked: Callable[[RouteContext], bool] = _always
    choices: tuple[str, ...] = ()
    usual: Callable[[RouteContext], tuple[str, ...]] = _nothing
    kinds: tuple[str, ...] = ()
    needed: bool = False
    # It has a usual answer from the start: a route goes past it, and it can be changed.
    preset: bool = False

    @property
    def stem(self) -> str:
        """Its key without the number of its piece."""
        return self.key.rstrip("0123456789").rstrip(".")


def value_question(
    key: str, whose: Callable[[RouteContext], Part | None], path: str, *, needed: bool = False,
    usual: Callable[[RouteContext], tuple[str, ...]] = _nothing, owns: bool = False,
) -> Question:  # fmt: skip
    """Return the question for one value of a part; two figures for it are both kept.

    Args:
        key: the question's identity.
        whose: the part.
        path: the value.
        needed: whether a first verdict needs it.
        usual: answers to complete from.
        owns: whether who gives it has the part.
    """

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        part = present(whose(stand))
        if not text.strip():
            there, empty = value_at(blank(part.kind), path)
            # What is in a record that was begun by the answer goes with the record.
            return (
                stand.with_value(part.id, path, empty) if there else stand.with_value(part.id, path.split(".")[0], None)
            )
        readings = [parse_value(path, word, origin) for word in several(text)]
        # A record such as a camera's front ring begins with its first value.
        _, old = value_at(part, path)
        # Typed again, an answer is in place of what was typed before; figures from elsewhere are kept.
        kept = () if not isinstance(old, Quantity) or untold(part, path) else tuple(
            r for r in old.readings if not isinstance(r, Span) and r.origin is not origin
        )  # fmt: skip
        first = SetReading(part.id, "path_length_mm" if owns else path, readings[0])

        def change(one: RouteContext) -> Workbook:
            made = change_part(one.workbook, part.id, path, Quantity(readings=(*kept, *readings), chosen=len(kept)))
            return first.owning(made)

        return stand.renamed(part.id, change)

    def told(stand: RouteContext) -> str:
        part = whose(stand)
        return "" if part is None or untold(part, path) else figures_text(field_of(part, path))

    return Question(key, tell, told, lambda s: whose(s) is not None, usual=usual, needed=needed)


def several(text: str) -> list[str]:
    """Return the figures one answer gives."""
    words = [text]
    if text.casefold().lstrip().startswith(("between ", "zwischen ")):
        return words
    for mark in _AND:
        words = [piece for word in words for piece in word.split(mark)]
    return [word for word in words if word.strip()] or [text]


def figures_text(quantity: Quantity) -> str:
    """Return every figure of a quantity as it can be typed again, the one in use first."""
    return say(" and ").join(_figure_text(r) for r in (quantity.in_use, *_others(quantity)))


def _others(quantity: Quantity) -> list[object]:
    return [r for number, r in enumerate(quantity.readings) if number != quantity.chosen]


def _figure_text(reading: object) -> str:
    if isinstance(reading, Span):
        return say("{low:g} to {high:g}", low=reading.low, high=reading.high)
    value, tolerance = getattr(reading, "value", 0.0), getattr(reading, "tolerance", 0.0)
    return say(
        "{value:.10g}{also}", value=value, also=say(" ± {tolerance:g}", tolerance=tolerance) if tolerance else ""
    )


def present(part: Part | None) -> Part:
    """Return a part that must be there.

    Raises:
        EditRefused: it was taken off the rail meanwhile.
    """
    if part is None:
        raise EditRefused("That part is not on the rail any more; answer the question before it first.")
    return part


def begin(stand: RouteContext, name: str, optic: str) -> RouteContext:
    """Return where the route is with its train begun: a blank optic and a blank camera, where there is none yet."""
    if stand.train is not None:
        return stand
    lens = new_part(stand.workbook, optic)
    with_lens = stand.with_part(lens)
    camera = new_part(with_lens.workbook, "camera")
    if isinstance(lens, CameraLens):
        # Whoever begins with a lens has a camera it fits: until something is said, they are at its flange distance.
        camera = camera.model_copy(update={"flange_to_sensor_mm": lens.flange_focal_distance_mm})
    both = with_lens.with_part(camera)
    train = Train(id=stand.train_id, name=name, optic=lens.id, camera=camera.id)
    trains = (*both.workbook.trains, train)
    return replace(both, workbook=both.workbook.model_copy(update={"trains": trains}))


def picked(stand: RouteContext, text: str, kinds: tuple[str, ...]) -> Part:
    """Return the part of the shelf an answer names.

    Raises:
        BadWorkbook: there is none of these kinds.
    """
    part = stand.workbook.by_id.get(text.removeprefix(FROM_SHELF))
    if part is None or part.kind not in kinds:
        raise BadWorkbook("That part is no longer on the shelf; choose another.")
    return part
