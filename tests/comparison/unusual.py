"""Trains no one would build, drawn at random from the demo's parts with other values: every path is gone through."""

import random
from typing import Any

from pydantic import ValidationError

from farrail.demo.hallan_skerry import demo_workbook
from farrail.parts.base import PartBase
from farrail.parts.inventory_item import PartId
from farrail.parts.kinds.cameras import Camera
from farrail.train.train import MountedPart, Train
from farrail.workbook.edits.laying import can_lie, laid_anew

COUNT = 90


def _stretched(value: Any, dice: random.Random) -> Any:
    """Return a part's data with some of its figures a little or much other than they were."""
    if isinstance(value, dict):
        if "readings" in value and dice.random() < 0.35:
            factor = dice.choice((0.55, 0.8, 0.97, 1.04, 1.3, 1.9))
            readings = [
                {**one, "value": round(one["value"] * factor, 3)} if "value" in one else one
                for one in value["readings"]
            ]
            return {**value, "readings": readings}
        return {key: _stretched(one, dice) for key, one in value.items()}
    if isinstance(value, list | tuple):
        return [_stretched(one, dice) for one in value]
    return value


def shelf_of(dice: random.Random) -> dict[PartId, PartBase]:
    """Return the demo's shelf, its figures stretched where the part still can be so."""
    found: dict[PartId, PartBase] = {}
    for part in demo_workbook().shelf:
        found[part.id] = part
        try:
            found[part.id] = type(part).model_validate(_stretched(part.model_dump(), dice))
        except ValidationError:
            continue
    return found


def _laid(
    part: PartBase, shelf: dict[PartId, PartBase], dice: random.Random, old: MountedPart | None = None
) -> MountedPart:
    laid = laid_anew(part) if old is None else old
    filters = [one.id for one in shelf.values() if one.kind in ("round_filter", "square_filter", "filter")]
    update: dict[str, object] = {}
    if dice.random() < 0.3:
        update["flipped"] = not laid.flipped
    if dice.random() < 0.4:
        update["turned_deg"] = dice.choice((-135.0, -30.0, 12.5, 45.0, 90.0, 180.0))
    if laid.filters and dice.random() < 0.5:
        update["in_beam"] = dice.randrange(len(laid.filters))
        update["shifts_mm"] = tuple(dice.choice((0.0, -18.0, 9.5, 30.0)) for _ in laid.filters)
    if laid.filters and filters and dice.random() < 0.3:
        update["filters"] = tuple(dice.choice((one, dice.choice(filters))) for one in laid.filters)
    if dice.random() < 0.1:
        update["standoff_mm"] = dice.choice((0.0, 1.5, 6.0))
    if laid.setting_mm is not None and dice.random() < 0.5:
        update["setting_mm"] = laid.setting_mm * dice.choice((0.5, 1.1, 2.0))
    return laid.model_copy(update=update)


def _row(
    row: tuple[MountedPart, ...], usual: list[PartId], shelf: dict[PartId, PartBase], dice: random.Random
) -> list[MountedPart]:
    made = [_laid(shelf[laid.part], shelf, dice, laid) for laid in row if dice.random() > 0.15]
    for _ in range(dice.choice((0, 0, 1, 2))):
        made.insert(dice.randrange(len(made) + 1), _laid(shelf[dice.choice(usual)], shelf, dice))
    return made


def unusual() -> dict[str, tuple[Train, dict[PartId, PartBase]]]:
    """Return the trains, each with the shelf it is read with, by a name of each."""
    book, found = demo_workbook(), {}
    laid_in_front = sorted({one.part for train in book.trains for one in train.front_stack})
    laid_behind = sorted({one.part for train in book.trains for one in train.rear_train})
    cameras = sorted(part.id for part in book.shelf if isinstance(part, Camera))
    loose = sorted(part.id for part in book.shelf if can_lie(part))
    for number in range(COUNT):
        dice = random.Random(number)
        shelf, train = shelf_of(dice), book.trains[number % len(book.trains)]
        conditions = train.conditions.model_copy(
            update={
                "f_number": dice.choice((None, 1.4, 2.8, 4.0, 5.6, 11.0, 22.0)),
                "focus_mm": dice.choice((None, None, 210.0, 450.0, 1500.0, 40_000.0)),
                "focal_mm": dice.choice((train.conditions.focal_mm, train.conditions.focal_mm, 18.0, 24.0, 55.0)),
                "metered_s": dice.choice((None, 0.01, 2.0)),
                "guide_number_m": dice.choice((None, 24.0)),
                "subject_width_mm": dice.choice((None, 12.0, 60.0)),
                "subject_depth_mm": dice.choice((None, 4.0)),
            }
        )
        found[f"{number} {train.name}"] = (
            train.model_copy(
                update={
                    "front_stack": tuple(_row(train.front_stack, laid_in_front or loose, shelf, dice)),
                    "rear_train": tuple(_row(train.rear_train, laid_behind, shelf, dice)),
                    "camera": dice.choice((train.camera, train.camera, dice.choice(cameras), None)),
                    "camera_turned_deg": dice.choice((None, None, 90.0, 33.0)),
                    "camera_bare": dice.random() < 0.1,
                    "optic_reversed": train.optic_reversed != (dice.random() < 0.05),
                    "conditions": conditions,
                }
            ),
            shelf,
        )
    return found
