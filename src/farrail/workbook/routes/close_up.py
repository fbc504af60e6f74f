"""My close-up: the lens and how near it focuses, tubes, close-up lenses, and the subject."""

import re
from collections.abc import Callable

from farrail.errors import BadInput
from farrail.language import N_, say
from farrail.parts.connections import Connection, Gender, Thread, thread
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.closer import CloseUpLens, ExtensionTube
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, Reading, Span
from farrail.parts.registry import Part
from farrail.parts.written import read_written, shown
from farrail.train.train import Side
from farrail.workbook.edits.laying import laid_anew
from farrail.workbook.edits.trains import SetSubject
from farrail.workbook.edits.typed import parse_value
from farrail.workbook.routes.common import (
    Beginning,
    focal_question,
    format_question,
    lens_of,
    mount_question,
    thread_question,
)
from farrail.workbook.routes.lens_questions import aperture_question
from farrail.workbook.routes.mounting import bellows_question, mounted_question, ring_question, second_lens_question
from farrail.workbook.routes.placeholders import new_part
from farrail.workbook.routes.question import Question, RouteContext, present, value_question

BEGINNING = Beginning(N_("My close-up"), "camera_lens")
# Between the answers of a list; a comma with a figure on both sides is a decimal comma.
_LIST = re.compile(r"\s*(?:;|,\s+|,(?=\s*\+)|\band\b|\s\+\s)\s*")


def focusing_lens_of(stand: RouteContext) -> Part | None:
    """The lens, where it is on the camera the usual way round and focuses by itself."""
    lens, train = lens_of(stand), stand.train
    plain = isinstance(lens, CameraLens) and lens.focuses_itself and train is not None and not train.optic_reversed
    return lens if plain else None


def _words(text: str) -> list[str]:
    return [word for word in _LIST.split(text.strip()) if word]


def _laid_list(
    key: str, side: Side, kind: type[Part], path: str, make: Callable[[RouteContext, Reading | Span], Part],
    told_as: Callable[[Quantity], str], usual: tuple[str, ...],
) -> Question:  # fmt: skip
    """Return the question for several parts of one kind, placed one behind another."""

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        present(lens_of(stand))
        # Read all of it before anything is changed.
        readings = [parse_value(path, word, origin) for word in _words(text)]
        if len(readings) > 8:
            raise BadInput(
                "“{shown}” names {count} parts; at most 8 go on one rail here.",
                shown=shown(text),
                count=len(readings),
            )
        old = [laid for laid in stand.row(side) if isinstance(stand.workbook.by_id[laid.part], kind)]
        kept = [laid for laid in stand.row(side) if laid not in old]
        stand = stand.with_train(lambda t: t.model_copy(update={side.value: tuple(kept)}))
        for laid in old:
            stand = stand.without_made(laid.part, kind)
        # The strongest nearest the lens keeps the gaps small where they count.
        for reading in sorted(readings, key=lambda r: -r.value) if side is Side.FRONT else readings:
            part = make(stand, reading)
            stand = stand.with_part(part)
            row = (*stand.row(side), laid_anew(part))
            stand = stand.with_train(lambda t, r=row: t.model_copy(update={side.value: r}))  # type: ignore[misc]
        return stand

    def told(stand: RouteContext) -> str:
        parts = [stand.workbook.by_id[laid.part] for laid in stand.row(side)]
        return ", ".join(told_as(getattr(part, path)) for part in parts if isinstance(part, kind))

    return Question(key, tell, told, lambda s: lens_of(s) is not None, usual=lambda _: usual)


def _tube(stand: RouteContext, reading: Reading | Span) -> Part:
    lens = present(lens_of(stand))
    rear = lens.ends[1]
    assert rear is not None
    ends: dict[str, object] = {}
    if rear.known:
        ends = {"front": Connection(standard=rear.standard, gender=Gender.INTERNAL),
                "rear": Connection(standard=rear.standard, gender=Gender.EXTERNAL)}  # fmt: skip
    return new_part(
        stand.workbook, "extension_tube", name=say("Extension tube {value:g}", value=reading.value), status="owned",
        path_length_mm=Quantity(readings=(reading,)), **ends,
    )  # fmt: skip


def _glass(stand: RouteContext, reading: Reading | Span) -> Part:
    lens = present(lens_of(stand))
    front = lens.ends[0]
    ends: dict[str, object] = {}
    if front is not None and isinstance(front.standard, Thread):
        size, pitch = front.standard.diameter_mm, front.standard.pitch_mm
        ends = {"front": thread(size, pitch, Gender.INTERNAL), "rear": thread(size, pitch, Gender.EXTERNAL),
                "outer_diameter_mm": size + 3.0}  # fmt: skip
    return new_part(
        stand.workbook, "close_up_lens", name=say("Close-up lens +{value:g}", value=reading.value), status="owned",
        dioptres=Quantity(readings=(reading,)), path_length_mm=Quantity.of(5.0, Origin.ASSUMED), **ends,
    )  # fmt: skip


def _tell_subject(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
    train = stand.train
    if train is None:
        present(None)
    assert train is not None
    wide = read_written(text).low if text.strip() else None
    return stand.after(SetSubject(train.id, wide, train.conditions.subject_depth_mm, train.conditions.blur_um))


def _told_subject(stand: RouteContext) -> str:
    wide = None if stand.train is None else stand.train.conditions.subject_width_mm
    return "" if wide is None else say("{wide:g}", wide=wide)


def _tell_ruler(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
    """Take a ruler seen at the nearest focus: `36 mm at 180 mm`, its width in the frame and how far from the seat."""
    lens = present(lens_of(stand))
    paths = ("pair_width_mm", "pair_distance_mm", "pair_frame_mm")
    if not text.strip():
        for path in paths:
            stand = stand.with_value(lens.id, path, None)
        return stand
    words = re.split(r"\s+(?:at|from)\s+", text.strip(), maxsplit=1)
    if len(words) != 2:
        raise BadInput("“{shown}” lacks one of the two: write how much of the ruler is seen at which "
"distance, 36 mm at 180 mm.", shown=shown(text))  # fmt: skip
    camera = stand.camera
    if not isinstance(camera, Camera) or isinstance(camera.sensor_width_mm.in_use, Span):
        raise BadInput("The sensor size is needed first: answer that question above.")
    values = [parse_value("pair_mm", word, origin) for word in words]
    for path, value in zip(paths, (*values, camera.sensor_width_mm.in_use), strict=True):
        stand = stand.with_value(lens.id, path, Quantity(readings=(value,)))
    return stand


def _told_ruler(stand: RouteContext) -> str:
    lens = lens_of(stand)
    if not isinstance(lens, CameraLens) or lens.pair_width_mm is None or lens.pair_distance_mm is None:
        return ""
    return say("{value:g} mm at {value_2:g} mm", value=lens.pair_width_mm.value, value_2=lens.pair_distance_mm.value)


QUESTIONS: tuple[Question, ...] = (
    focal_question("lens.focal", BEGINNING),
    value_question("lens.f_number", lens_of, "f_number"),
    mount_question("lens.mount"),
    thread_question("lens.thread"),
    mounted_question(),
    ring_question(),
    second_lens_question(),
    bellows_question(),
    format_question("camera.format", BEGINNING),
    aperture_question(),
    value_question("lens.nearest", focusing_lens_of, "nearest_mm"),
    value_question("lens.nearest_scale", focusing_lens_of, "nearest_magnification"),
    Question("lens.ruler", _tell_ruler, _told_ruler, lambda s: focusing_lens_of(s) is not None),
    _laid_list(
        "tubes",
        Side.REAR,
        ExtensionTube,
        "path_length_mm",
        _tube,
        lambda q: say("{value:g}", value=q.value),
        ("12, 20, 36",),
    ),
    _laid_list(
        "close_up_lenses",
        Side.FRONT,
        CloseUpLens,
        "dioptres",
        _glass,
        lambda q: say("+{value:g}", value=q.value),
        ("+1, +2, +4",),
    ),
    Question("subject", _tell_subject, _told_subject, lambda s: s.train is not None),
)
