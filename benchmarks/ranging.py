"""The ranges of a train of twelve parts with six unknowns, beside the yardstick."""

from typing import Any

from benchmarks.yardstick import measured

# 150 ms where a million additions take 246 ms.
WISH = 0.61
UNKNOWN = ("path_length_mm", "clear_aperture_mm", "focal_length_mm", "exit_pupil_distance_mm", "back_focus_mm",
           "seat_mm", "aperture_mm", "flange_to_sensor_mm")  # fmt: skip


def ranges_of_twelve_parts() -> list[dict[str, Any]]:
    """Time the ranges of a demo train made longer, six of its values known by their two ends only."""
    from farrail.demo.hallan_skerry import demo_workbook
    from farrail.parts.provenance import Quantity, unknown
    from farrail.readouts.ranges import Box, ranges_of
    from farrail.train.train import MountedPart

    book = demo_workbook()
    train, shelf = book.train("witch-broom"), dict(book.by_id)
    row = [*train.rear_train, *(MountedPart(part="spacer-2") for _ in range(12 - len(train.rear_train)))]
    train = train.model_copy(update={"rear_train": tuple(row)})
    left = 6
    for part_id in dict.fromkeys(train.part_ids()):
        for name in UNKNOWN:
            value = getattr(shelf[part_id], name, None)
            if left and isinstance(value, Quantity):
                span = unknown(value.value * 0.95, value.value * 1.05)
                shelf[part_id] = shelf[part_id].model_copy(update={name: span})
                left -= 1
                break

    def step(_: int) -> None:
        ranges_of(train, shelf)

    count = len(Box(train, shelf).unknowns)
    row_of = measured(f"ranges of 12 parts, {count} unknowns", 7, step, WISH)
    return [row_of]
