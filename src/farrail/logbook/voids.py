"""Whether the light of a train has moved: what makes its flat frames no longer valid."""

import math
from collections.abc import Mapping

from farrail.parts.inventory_item import PartId
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.registry import Part
from farrail.train.train import MountedPart, Side, Train
from farrail.units import nm_to_mm

# Light in the middle of the visible range, by which the depth of focus is judged; and an f-number where none is set.
LIGHT_MM, USUAL_F_NUMBER = nm_to_mm(550.0), 4.0


def moved(before: Train, after: Train, shelf: Mapping[PartId, Part]) -> bool:
    """Return whether anything the light passes is otherwise than before: parts, order, turns, lengths, camera.

    Which filter of a wheel is in the beam is no move: flats are taken of each; nor is a filter in a slot that was
    empty. With a camera lens its zoom, its aperture and a refocus beyond the depth of focus count as well.

    Args:
        before: the train as it was.
        after: the train as it is.
        shelf: parts by id.
    """
    if (before.optic, before.optic_reversed) != (after.optic, after.optic_reversed):
        return True
    if any(_rows_differ(before.row(side), after.row(side)) for side in Side) or _camera(before) != _camera(after):
        return True
    return isinstance(shelf.get(after.optic or ""), CameraLens) and _set_otherwise(before, after)


def _set_otherwise(before: Train, after: Train) -> bool:
    then, now = before.conditions, after.conditions
    if (then.focal_mm, then.f_number) != (now.focal_mm, now.f_number):
        return True
    focal = now.focal_mm
    if then.focus_mm == now.focus_mm or focal is None:
        return then.focus_mm != now.focus_mm
    # By how much the image plane moves, f²/u of a thin lens, against ±2λN² (Smith, Modern Optical Engineering).
    at = [0.0 if one is None else 1.0 / max(one, focal) for one in (then.focus_mm, now.focus_mm)]
    number = now.f_number or USUAL_F_NUMBER
    return not math.isclose(at[0] * focal**2, at[1] * focal**2, abs_tol=4.0 * LIGHT_MM * number**2)


def _rows_differ(before: tuple[MountedPart, ...], after: tuple[MountedPart, ...]) -> bool:
    return len(before) != len(after) or any(
        _as_flats_see(one) != _as_flats_see(other) or _slot_changed(one, other)
        for one, other in zip(before, after, strict=True)
    )


def _as_flats_see(laid: MountedPart) -> MountedPart:
    """Return a member as far as flats care: not which filter is in the beam, nor what its slots hold."""
    return laid.model_copy(update={"in_beam": 0, "kept": False, "guide": None, "filters": ()})


def _slot_changed(before: MountedPart, after: MountedPart) -> bool:
    """Whether a filter that was there is gone or another; a slot that was empty may have been filled."""
    now = dict(enumerate(after.filters))
    return any(part is not None and now.get(slot) != part for slot, part in enumerate(before.filters))


def _camera(train: Train) -> tuple[object, ...]:
    return train.camera, train.camera_bare, train.camera_standoff_mm, train.camera_turned_deg
