"""Questions about what hangs on an off-axis guider: its camera, the spacers between, and how deep the port is."""

from collections.abc import Callable

from farrail.errors import BadInput
from farrail.language import say
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.guiders import OffAxisGuider
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, Reading
from farrail.parts.registry import Part
from farrail.parts.written import read_pair, read_written, shown
from farrail.train.train import GuidePort, Side
from farrail.workbook.edits.laying import SetGuide
from farrail.workbook.routes.common import FORMATS_MM, NOTHING_MORE, usual_formats
from farrail.workbook.routes.placeholders import new_part
from farrail.workbook.routes.question import FROM_SHELF, Question, RouteContext, picked, present, value_question

Place = Callable[[RouteContext], int]


def guide_questions(number: int, place: Place) -> list[Question]:
    """Return the questions about a guider that is the piece of a number.

    Args:
        number: which piece, from 1.
        place: returns its place in the rear train.
    """

    def guider(stand: RouteContext) -> Part | None:
        part = stand.part(Side.REAR, place(stand))
        return part if isinstance(part, OffAxisGuider) else None

    def port(stand: RouteContext) -> GuidePort | None:
        return None if guider(stand) is None else stand.row(Side.REAR)[place(stand)].guide

    def camera(stand: RouteContext) -> Part | None:
        hung = port(stand)
        return None if hung is None else stand.part_of(hung.camera)

    def tell_camera(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        present(guider(stand))
        old, hung = camera(stand), port(stand)
        if text.strip().casefold() in ("", NOTHING_MORE, "no"):
            stand = stand.after(SetGuide(stand.train_id, place(stand), None))
            for part_id in () if hung is None else (*hung.between, hung.camera):
                stand = stand.without_unused(part_id)
            return stand
        if text.startswith(FROM_SHELF):
            found = picked(stand, text, ("camera",))
        elif old is not None:
            return _sized(stand, old, text, origin)
        else:
            found = new_part(stand.workbook, "camera", name=say("Guide camera"))
            stand = _sized(stand.with_part(found), found, text, origin)
        between = () if hung is None else hung.between
        return stand.after(SetGuide(stand.train_id, place(stand), GuidePort(camera=found.id, between=between)))

    def told_camera(stand: RouteContext) -> str:
        found = camera(stand)
        if not isinstance(found, Camera):
            return ""
        wide, high = found.sensor_width_mm, found.sensor_height_mm
        return say("{value:g} x {value_2:g}", value=wide.value, value_2=high.value)

    def tell_spacer(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        hung = port(stand)
        present(camera(stand))
        assert hung is not None
        long = read_written(text).low if text.strip() else 0.0
        if long < 0.0:
            raise BadInput("“{shown}” is not a length; write 5, or leave it empty.", shown=shown(text))
        stand = stand.after(SetGuide(stand.train_id, place(stand), hung.model_copy(update={"between": ()})))
        for part_id in hung.between:
            stand = stand.without_unused(part_id)
        if not long:
            return stand
        length = Quantity(readings=(Reading(value=long, origin=origin),))
        spacer = new_part(
            stand.workbook,
            "spacer",
            name=say("Guide spacer {long:g}", long=long),
            path_length_mm=length,
            status="owned",
        )
        hung = hung.model_copy(update={"between": (spacer.id,)})
        return stand.with_part(spacer).after(SetGuide(stand.train_id, place(stand), hung))

    def told_spacer(stand: RouteContext) -> str:
        hung = port(stand)
        parts = [] if hung is None else [stand.part_of(part_id) for part_id in hung.between]
        long = sum(part.length_at(None).value for part in parts if part is not None and hasattr(part, "length_at"))
        return say("{long:g}", long=long) if long else ""

    def hangs(stand: RouteContext) -> bool:
        return camera(stand) is not None

    def with_camera(stand: RouteContext) -> Part | None:
        return guider(stand) if hangs(stand) else None

    return [
        Question(f"guide.{number}", tell_camera, told_camera, lambda s: guider(s) is not None, usual=usual_formats,
                 kinds=("camera",)),
        value_question(f"guide_flange.{number}", camera, "flange_to_sensor_mm", usual=lambda _: ("17.5", "12.5")),
        value_question(f"guide_port.{number}", with_camera, "guide_port_mm"),
        value_question(f"guide_prism.{number}", with_camera, "prism_edge_mm"),
        Question(f"guide_spacer.{number}", tell_spacer, told_spacer, hangs),
    ]  # fmt: skip


def _sized(stand: RouteContext, camera: Part, text: str, origin: Origin) -> RouteContext:
    named = FORMATS_MM.get(" ".join(text.casefold().split()))
    sizes = read_pair(text) if named is None else named
    for path, mm in zip(("sensor_width_mm", "sensor_height_mm"), sizes, strict=True):
        stand = stand.with_value(camera.id, path, Quantity(readings=(Reading(value=mm, origin=origin),)))
    return stand.with_value(camera.id, "status", "owned") if origin is not Origin.ASSUMED else stand
