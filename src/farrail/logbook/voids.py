"""Whether the light of a train has moved: what makes its flat frames no longer valid."""

from farrail.train.train import MountedPart, Side, Train


def moved(before: Train, after: Train) -> bool:
    """Return whether anything the light passes is otherwise than before: parts, order, turns, lengths, camera.

    Which filter of a wheel is in the beam is no move: flats are taken of each.
    """
    if (before.optic, before.optic_reversed) != (after.optic, after.optic_reversed):
        return True
    if any(_row(before, side) != _row(after, side) for side in Side):
        return True
    return _camera(before) != _camera(after)


def _row(train: Train, side: Side) -> tuple[MountedPart, ...]:
    """Return a row as far as flats care."""
    return tuple(laid.model_copy(update={"in_beam": 0, "kept": False, "guide": None}) for laid in train.row(side))


def _camera(train: Train) -> tuple[object, ...]:
    return train.camera, train.camera_bare, train.camera_standoff_mm, train.camera_turned_deg
