"""Parts of which was not entered yet: every end not known, every needed length between two far ends.

They are examples until a length is typed, so that nothing of them counts as owned.
"""

from farrail.language import begun_large, cached_by_language
from farrail.parts.connections import Gender, not_known
from farrail.parts.fields import Shape, fields_of, value_at
from farrail.parts.inventory_item import Status
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.provenance import Quantity, unknown
from farrail.parts.registry import KINDS, TEMPLATES, Part

# Between which ends a length is when nothing was entered, by kind and field; common practice, no source.
ENDS: dict[tuple[str, str], tuple[float, float]] = {
    ("camera", "sensor_width_mm"): (5.6, 44.0),
    ("camera", "sensor_height_mm"): (3.2, 33.0),
    ("camera", "flange_to_sensor_mm"): (6.5, 55.0),
    ("telescope", "focal_length_mm"): (200.0, 2000.0),
    ("telescope", "aperture_mm"): (50.0, 300.0),
    ("corrector", "path_length_mm"): (20.0, 80.0),
    ("corrector", "back_focus_mm"): (50.0, 110.0),
    ("camera_lens", "focal_length_mm"): (14.0, 200.0),
    ("camera_lens", "entrance_pupil_depth_mm"): (15.0, 45.0),
    ("filter_drawer", "path_length_mm"): (10.0, 30.0),
    ("filter_drawer", "seat_mm"): (2.0, 20.0),
    ("filter_wheel", "path_length_mm"): (15.0, 30.0),
    ("filter_wheel", "seat_mm"): (4.0, 20.0),
    ("off_axis_guider", "path_length_mm"): (10.0, 30.0),
    ("shim", "path_length_mm"): (0.1, 2.0),
    ("holder_ring", "path_length_mm"): (-3.0, 8.0),
    ("filter_holder", "path_length_mm"): (8.0, 30.0),
    ("round_filter", "path_length_mm"): (3.0, 9.0),
    ("hood", "path_length_mm"): (15.0, 60.0),
    ("reversing_ring", "path_length_mm"): (4.0, 12.0),
    ("bellows", "shortest_mm"): (30.0, 45.0),
    ("bellows", "longest_mm"): (120.0, 160.0),
    ("extension_tube", "path_length_mm"): (8.0, 50.0),
    ("close_up_lens", "dioptres"): (1.0, 10.0),
}
# Any other length between shoulders.
LENGTH_ENDS = (1.0, 40.0)


@cached_by_language
def blank(kind: str) -> Part:
    """Return a part of a kind of which nothing is known."""
    part = TEMPLATES[kind]()
    across = {"diameter_mm": max(part.outer_diameter_mm - 6.0, 1.0)}
    update: dict[str, object] = {"status": Status.EXAMPLE, "name": begun_large(str(KINDS[kind].kind_name))}
    for field in fields_of(KINDS[kind]):
        there, value = value_at(part, field.path)
        if not there or "." in field.path:
            continue
        if field.shape is Shape.CONNECTION and value is not None:
            update[field.path] = not_known(**across) if value.gender is not Gender.NONE else value
        elif field.shape is Shape.QUANTITY and isinstance(value, Quantity):
            ends = ENDS.get((kind, field.path)) or (LENGTH_ENDS if field.path == "path_length_mm" else None)
            update[field.path] = None if field.optional else value if ends is None else unknown(*ends)
    if isinstance(part, CameraLens):
        # Whether it has a filter thread at all is not known yet.
        update["front"] = not_known(**across)
    return part.model_copy(update=update)


def untold(part: Part, path: str) -> bool:
    """Whether a value is still the one a blank part of its kind has: nothing was entered of it."""
    there, value = value_at(part, path)
    if not there or value is None:
        return True
    known, blank_value = value_at(blank(part.kind), path)
    return known and value == blank_value
