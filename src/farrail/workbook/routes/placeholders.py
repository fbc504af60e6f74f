"""What a route puts on the shelf: blank parts with names and ids of their own, called by what is known of them."""

from pydantic import ValidationError

from farrail.complaints import complaint
from farrail.errors import EditRefused
from farrail.language import begun_large, say
from farrail.parts.blank import blank
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.telescopes import Telescope
from farrail.parts.provenance import Span
from farrail.parts.registry import KINDS, Part
from farrail.workbook.edits.trains import free_id
from farrail.workbook.workbook import Workbook


def new_part(workbook: Workbook, kind: str, **fields: object) -> Part:
    """Return a blank part of a kind with a name and an id no other part of the shelf has, and some fields shown.

    Raises:
        EditRefused: one of the fields cannot be what it is shown to be.
    """
    part = blank(kind).model_copy(update=fields)
    name = free_name(workbook, part.name, "")
    named = part.model_copy(update={"name": name, "id": free_id(name, set(workbook.by_id))})
    try:
        return type(part).model_validate(named.model_dump(warnings=False))
    except ValidationError as error:
        message = complaint(error.errors()[0])
        raise EditRefused(f"{begun_large(str(KINDS[kind].kind_name))}: {message}.") from None


def free_name(workbook: Workbook, name: str, own: str) -> str:
    """Return a name, with a number behind it where another part than `own` has it already."""
    taken = {part.name for part in workbook.shelf if part.id != own}
    number = 2
    tried = name[:110]
    while tried in taken:
        tried, number = f"{name[:110]} {number}", number + 1
    return tried


def called(part: Part) -> str:
    """Return what a part is called by what is known of it, until a person gives it a name."""
    word = begun_large(str(KINDS[part.kind].kind_name))
    if isinstance(part, Camera) and not isinstance(part.sensor_width_mm.in_use, Span):
        return say(
            "{word} {value:g} × {value_2:g}",
            word=word,
            value=part.sensor_width_mm.value,
            value_2=part.sensor_height_mm.value,
        )
    if isinstance(part, CameraLens) and not isinstance(part.focal_length_mm.in_use, Span):
        far = "" if part.longest_focal_mm is None else say("-{value:g}", value=part.longest_focal_mm.value)
        return say(
            "Lens {value:g}{far} mm f/{value_2:g}",
            value=part.focal_length_mm.value,
            far=far,
            value_2=part.f_number.value,
        )
    if isinstance(part, Telescope) and not isinstance(part.focal_length_mm.in_use, Span):
        ratio = part.focal_length_mm.value / part.aperture_mm.value
        return say("{word} {value:g} mm f/{ratio:.3g}", word=word, value=round(part.aperture_mm.value, 1), ratio=ratio)
    return word
