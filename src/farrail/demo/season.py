"""Hallan Skerry's season: what the keepers wrote down from August to November; all invented.

It calibrates three things. The wide zoom's entrance pupil is nearer its thread than was guessed. The coma corrector
wants half a millimetre more than its leaflet says, so that two trains that were thought to land do not. And the
ten-stop filter takes a little less than ten stops.
"""

from collections.abc import Mapping
from typing import Any

from farrail.logbook.kinds.front import Darkening, Judged
from farrail.logbook.kinds.keeping import Flats, FreeNote
from farrail.logbook.kinds.light import FilterStops
from farrail.logbook.kinds.near import FieldWidth
from farrail.logbook.kinds.stars import CornerStars, StarShape
from farrail.logbook.observation import Observation
from farrail.train.train import MountedPart, Train
from farrail.workbook.edits.log import WriteDown
from farrail.workbook.edits.states import KeepState
from farrail.workbook.workbook import Workbook

GALLERY, STACKS, SHED = "Gallery rail", "North stacks", "Boat shed"
Fields = Mapping[str, Any]

# Day, train, what is otherwise than in the demo's train, kind, what was seen.
SEASON: tuple[tuple[str, str, str, type[Observation], Fields], ...] = (
    ("2026-08-21", "lantern-wheel", "", CornerStars, {"shape": StarShape.RADIAL, "place": GALLERY, "off_mm": 0.15}),
    ("2026-08-22", "sea-stacks", "", Darkening,
     {"focal_mm": 27.9, "f_number": 8.0, "judged": Judged.MEASURED, "place": STACKS, "off_mm": 0.3}),
    ("2026-08-29", "lichen", "no tube", FieldWidth,
     {"width_mm": 248.0, "distance_mm": 335.0, "off_mm": 2.0, "place": SHED}),
    ("2026-09-12", "lantern-reversed", "", CornerStars,
     {"shape": StarShape.ROUND, "place": GALLERY, "off_mm": 0.15, "weather": "steady air"}),
    ("2026-09-19", "sea-stacks", "", FilterStops,
     {"part": "solid-3-0", "without_s": 0.02, "with_s": 14.6, "place": STACKS, "note": "an even sky"}),
    ("2026-09-26", "lantern-wheel", "longer by 1.2", CornerStars,
     {"shape": StarShape.TANGENTIAL, "place": GALLERY, "off_mm": 0.15}),
    ("2026-10-03", "witch-broom", "", CornerStars, {"shape": StarShape.ROUND, "place": GALLERY}),
    ("2026-10-03", "witch-broom", "", Flats, {"frames": 40, "place": GALLERY}),
    ("2026-10-17", "sea-stacks", "", FilterStops,
     {"part": "solid-3-0", "without_s": 0.04, "with_s": 28.5, "place": STACKS}),
    ("2026-10-24", "sea-stacks", "", Darkening,
     {"focal_mm": 27.4, "f_number": 11.0, "judged": Judged.MEASURED, "place": STACKS, "off_mm": 0.3,
      "weather": "wind, tripod low"}),
    ("2026-11-07", "sea-stacks-slim", "", FreeNote,
     {"note": "The recessed ring seized in the cold; warmed in a pocket it came off.", "place": STACKS}),
)  # fmt: skip


def with_season(workbook: Workbook) -> Workbook:
    """Return the demo with its log: each observation tied to its train as it place that evening."""
    book = workbook
    for day, train_id, otherwise, kind, told in SEASON:
        lain = _lain(workbook, workbook.train(train_id), otherwise)
        evening = book.model_copy(
            update={"trains": tuple(lain if one.id == train_id else one for one in workbook.trains)}
        )
        book = WriteDown(kind, train_id, day, told).apply(evening)
    book = KeepState("witch-broom", "October, round to the corners", "2026-10-03").apply(
        book.model_copy(update={"trains": workbook.trains})
    )
    return book.model_copy(update={"trains": workbook.trains})


def _lain(workbook: Workbook, train: Train, otherwise: str) -> Train:
    """Return a train as it place on an evening."""
    if otherwise == "no tube":
        return train.model_copy(update={"rear_train": (), "front_stack": ()})
    if otherwise.startswith("longer by"):
        shims = tuple(MountedPart(part=part.id) for part in workbook.shelf if part.id in ("shim-1-0", "shim-0-2"))
        return train.model_copy(update={"rear_train": (train.rear_train[0], *shims, *train.rear_train[1:])})
    return train
