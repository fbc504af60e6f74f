"""What the values that a log calibrates are called, with the part they belong to."""

from collections.abc import Mapping

from farrail.language import N_, Message, begun_small, say
from farrail.parts.fields import field_at
from farrail.parts.inventory_item import PartId
from farrail.parts.registry import Part

Names = Mapping[PartId, Part]
FIGURE_WORDS = {
    "spacing.error_mm": N_("the spacing"),
    "light.corner_stops": N_("the light in the corner"),
    "front.corner_loss_stops": N_("whether the front stack shows"),
    "front.first_clean_mm": N_("from which focal length on the front stack stays clear"),
}
# Fields with another name than in Parts, or in a zoom's table.
PATHS: dict[str, Message] = {
    "entrance_pupils": N_("entrance pupil behind the seat"),
    "entrance_pupils.walk_mm": N_("walk of the entrance pupil"),
    "near_points.magnification": N_("magnification at closest focus"),
    "near_points.nearest_mm": N_("minimum focus distance, from the sensor"),
    "nearest_magnification": N_("magnification at closest focus"),
    "pair_distance_mm": N_("ruler at closest focus, from the filter thread"),
    "pair_width_mm": N_("width of ruler in frame at closest focus"),
    "pair_frame_mm": N_("frame it was seen on"),
}


def part_name(part_id: str, names: Names) -> str:
    """Return a part's name; its id where it is gone."""
    part = names.get(part_id)
    return part_id if part is None else part.name


def value_name(part: Part | None, path: str, focal_mm: float | None = None) -> str:
    """Return what a value of a part is called."""
    label = PATHS.get(path, "")
    if not label and part is not None:
        field = field_at(type(part), path)
        label = "" if field is None else begun_small(field.label)
    at = "" if focal_mm is None else say(" at {focal_mm:g} mm", focal_mm=focal_mm)
    return f"{label or path}{at}"
