"""What a photo frame has done in the background; it holds nothing of the interface."""

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from farrail.cancel import Cancel
from farrail.preview.model import CornerLoss, PreviewSettings, corner_losses, frame_preview
from farrail.readouts.read import read
from farrail.train.rows import Shelf
from farrail.train.train import Train


@dataclass(frozen=True)
class Pictures:
    """What was made in the background.

    Attributes:
        shown: the picture for a screen, (rows, columns, 3).
        bare: the same without the front stack; None where there is none.
        clipped: where it is blown out.
        lost: where it is lost in noise.
        clipped_share: how much of it is blown out.
        lost_share: how much is lost in noise; None where the pixel size is not entered.
        losses: what each corner loses, and to which part.
        fine: whether the scene is drawn as finely as at rest.
    """

    shown: np.ndarray
    bare: np.ndarray | None
    clipped: np.ndarray
    lost: np.ndarray
    clipped_share: float
    lost_share: float | None
    losses: tuple[CornerLoss, ...]
    fine: bool


def making(
    train: Train, shelf: Shelf, settings: PreviewSettings, columns: int, *, fine: bool
) -> Callable[[Cancel], object]:
    """Return the work that makes a train's pictures; it holds nothing of the interface."""

    def make(cancel: Cancel) -> object:
        readout = read(train, shelf)
        whole = frame_preview(readout, settings, columns, quick=not fine, stopped=cancel.is_set)
        return Pictures(
            whole.shown, None, whole.clipped, whole.lost, whole.clipped_share, whole.lost_share,
            corner_losses(readout), fine,
        )  # fmt: skip

    return make


def baring(
    train: Train, shelf: Shelf, settings: PreviewSettings, columns: int, made: Pictures
) -> Callable[[Cancel], object]:
    """Return the work that adds to a train's pictures the one without its front stack."""

    def bare(cancel: Cancel) -> object:
        without = read(train.model_copy(update={"front_stack": ()}), shelf)
        return replace(made, bare=frame_preview(without, settings, columns, stopped=cancel.is_set).shown)

    return bare
