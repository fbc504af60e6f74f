"""Frames of each kind as the simulated bench camera takes them, something hidden in each. A are-in, no device."""

from dataclasses import replace

import numpy as np

from farrail.errors import BadInput
from farrail.frames.kinds import FrameKind
from farrail.frames.picture import Picture
from farrail.readouts.read import Readout
from farrail.simulated.bench_camera import DARK_E, FULL_E, Truth, bench_flat, bench_ruler, bench_sky, bench_stars
from farrail.simulated.hidden import hidden_truth

COLUMNS = 900
# Of stars a whole frame first, then a run through focus.
FOCUS_UM = (0.0, -600.0, -360.0, -120.0, 120.0, 360.0, 600.0)


def bench_light(readout: Readout, kind: FrameKind, truth: Truth, columns: int = COLUMNS) -> np.ndarray:
    """Return a frame in electrons, (rows, columns), the picture's first row on top.

    Raises:
        BadInput: the train has no camera.
    """
    camera = readout.layout.camera
    if camera is None:
        raise BadInput(
            "Train “{name}” has no camera, so no frame belongs to it; add one.", name=readout.layout.train.name
        )
    if kind is FrameKind.STARS:
        return bench_stars(readout, truth, columns)
    if kind is FrameKind.SKY:
        return bench_sky(readout, truth, columns)
    if kind is FrameKind.RULER:
        high = round(columns * camera.sensor_height_mm.value / camera.sensor_width_mm.value)
        return bench_ruler(truth.rule_mm, columns, max(high, 1), seed=truth.seed)
    return bench_flat(readout, truth, columns)


def bench_frames(readout: Readout, kind: FrameKind, seed: int) -> list[Picture]:
    """Return what the simulated bench camera takes with something hidden; of stars a run through focus."""
    frames = []
    for focus_um in FOCUS_UM if kind is FrameKind.STARS else (None,):
        truth = hidden_truth(readout, kind, seed, focus_um or 0.0)
        if focus_um is None:
            truth = replace(truth, seed=seed)
        light = (bench_light(readout, kind, truth) - DARK_E).astype(np.float32)
        frames.append(Picture(light, FULL_E - DARK_E, name="simulated bench camera", focus_um=focus_um))
    return frames
