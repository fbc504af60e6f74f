"""The photo of a train, 960 pixels wide: each at an aperture of its own, so nothing of the one before helps."""

from typing import Any

import numpy as np

from benchmarks.yardstick import measured
from farrail.demo.hallan_skerry import demo_workbook
from farrail.preview.model import PreviewSettings, Scene, frame_preview
from farrail.readouts.read import read

WIDTH_PX, STEPS, WISH_Y = 960, 12, 0.8
TAKEN = (("sea-stacks", Scene.DUSK), ("lantern-wheel", Scene.NIGHT))


def photos_of_a_train() -> list[dict[str, Any]]:
    """Time the photo of a dusk landscape with filters, and of a night field through a telescope's filter wheel."""
    workbook, rows = demo_workbook(), []
    for name, scene in TAKEN:
        train = workbook.train(name)
        settings = PreviewSettings(scene=scene)

        def take(number: int, train: Any = train, settings: PreviewSettings = settings) -> None:
            conditions = train.conditions.model_copy(update={"f_number": 8.0 + 0.01 * number})
            stopped = train.model_copy(update={"conditions": conditions})
            shown = frame_preview(read(stopped, workbook.by_id), settings, WIDTH_PX).shown
            assert np.ptp(shown) > 0

        take(STEPS)  # the scene is looked up from disk once, by whoever opens the page first
        rows.append(measured(f"photo {WIDTH_PX} px wide, {name}", STEPS, take, WISH_Y))
    return rows
