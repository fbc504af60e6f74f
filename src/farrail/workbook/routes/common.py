"""Questions that more than one route asks: the sensor, the lens, the pieces one behind another."""

import re
from collections.abc import Callable
from dataclasses import dataclass, replace

from farrail.errors import BadInput
from farrail.language import Text, say
from farrail.parts.base import FixedLength, TubePart
from farrail.parts.blank import blank, untold
from farrail.parts.connections import Bayonet, Connection, Gender, OnlyFits, Plain, Thread, thread
from farrail.parts.fields import value_at
from farrail.parts.kinds.cameras import SENSORS_MM, Camera
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.seats import FilterSeat
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, Reading, Span, unknown
from farrail.parts.registers import BAYONET_REGISTERS_MM
from farrail.parts.registry import Part
from farrail.parts.usual import FILTER_THREADS_MM
from farrail.parts.written import plain_text, read_pair, read_written, shown
from farrail.parts.written_ends import NAMED, parse_connection, parse_connections, says_gender
from farrail.train.train import MountedPart, Side, Train
from farrail.workbook.edits.laying import laid_anew
from farrail.workbook.edits.typed import parse_value
from farrail.workbook.routes.placeholders import new_part
from farrail.workbook.routes.question import (
    FROM_SHELF,
    Question,
    RouteContext,
    begin,
    picked,
    present,
    value_question,
)

# Sensors by the names they go by; common practice, no source.
FORMATS_MM: dict[str, tuple[float, float]] = {
    "full frame": (36.0, 24.0), "aps-c": (23.5, 15.7), "four thirds": (17.3, 13.0), "1 inch": (13.2, 8.8),
    "one inch": (13.2, 8.8), "2/3 inch": (8.8, 6.6), "medium format": (44.0, 33.0),
}  # fmt: skip
NOTHING_MORE = "none"
# What people write of a lens that has no filter thread.
NO_THREAD = (NOTHING_MORE, "no", "keins", "keine", "kein", "ohne", "without", "bulbous", "-", "–", "0")
_FISHEYE = re.compile(r"fish-?\s?eye", re.IGNORECASE)
_SORTS = re.compile(
    r"\b(?:circular\s+)?(?:fish-?\s?eye|zoom|macro|makro|tilt(?:\s*[-/]\s*|\s+and\s+)shift|shift|enlarging|vergrößerungs|lens|objektiv|prime)\b",
    re.IGNORECASE,
)


@dataclass(frozen=True)
class Beginning:
    """What a route's first answer places down: the train's name and the kind of its optic."""

    name: Text
    optic: str


def lens_of(stand: RouteContext) -> Part | None:
    """The optic, where it is a camera lens."""
    return stand.optic if isinstance(stand.optic, CameraLens) else None


def camera_of(stand: RouteContext) -> Part | None:
    """The camera a route asks about."""
    return stand.camera


def known_ends(stand: RouteContext) -> list[Connection]:
    """Return every connection the shelf shows."""
    ends = [end for part in stand.workbook.shelf for end in part.ends]
    return [end for end in dict.fromkeys(ends) if end is not None and end.known]


def usual_ends(stand: RouteContext) -> tuple[str, ...]:
    """Return connections to complete from: those on the shelf first, then the usual ones."""
    labels = [end.label for end in known_ends(stand) if not isinstance(end.standard, Plain)]
    threads = [
        Thread(diameter_mm=d, pitch_mm=p).label for d, p in ((42.0, 0.75), (48.0, 0.75), (54.0, 0.75), (68.0, 1.0))
    ]
    words = (say("internal"), say("external"))
    both = [f"{name} {gender}" for name in threads for gender in words]
    named = [f"{one.label} {gender}" if isinstance(one, Bayonet) else f"{word} {gender}"
             for word, one in NAMED.items() for gender in words]  # fmt: skip
    return tuple(dict.fromkeys([*labels, *both, *named]))


def usual_formats(stand: RouteContext) -> tuple[str, ...]:
    """Return the sensors to complete from."""
    sizes = [say("{width:g} x {height:g}", width=width, height=height) for width, height, _ in SENSORS_MM]
    return (*FORMATS_MM, *sizes)


def format_question(key: str, beginning: Beginning) -> Question:
    """Return the question for the sensor's size; it begins the train where there is none."""

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        stand = begin(stand, str(beginning.name), beginning.optic)
        if text.startswith(FROM_SHELF):
            camera, old = picked(stand, text, ("camera",)), stand.camera
            used = stand.with_train(lambda t: t.model_copy(update={"camera": camera.id}))
            return used.without_unused(old.id) if old is not None else used
        camera = present(stand.camera)
        if not text.strip():
            empty = blank("camera")
            assert isinstance(empty, Camera)
            wide, high = empty.sensor_width_mm, empty.sensor_height_mm
        else:
            named = FORMATS_MM.get(" ".join(text.casefold().split()))
            sizes = read_pair(text) if named is None else named
            wide, high = (Quantity(readings=(Reading(value=mm, origin=origin),)) for mm in sizes)
        stand = stand.with_value(camera.id, "sensor_width_mm", wide).with_value(camera.id, "sensor_height_mm", high)
        return (
            stand.with_value(camera.id, "status", "owned") if text.strip() and origin is not Origin.ASSUMED else stand
        )

    def told(stand: RouteContext) -> str:
        camera = stand.camera
        if not isinstance(camera, Camera) or untold(camera, "sensor_width_mm"):
            return ""
        return say("{value:g} x {value_2:g}", value=camera.sensor_width_mm.value, value_2=camera.sensor_height_mm.value)

    return Question(key, tell, told, usual=usual_formats, kinds=("camera",), needed=True)


def end_question(key: str, whose: Callable[[RouteContext], Part | None], path: str, gender: Gender) -> Question:
    """Return the question for one connection of a part; `gender` is taken where none is written."""

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        part = present(whose(stand))
        if not text.strip():
            return stand.with_value(part.id, path, value_at(blank(part.kind), path)[1])
        try:
            end = parse_connection(text, known_ends(stand))
        except BadInput:
            end = parse_connection(f"{text} {gender.value}", known_ends(stand))
        return stand.with_value(part.id, path, end)

    def told(stand: RouteContext) -> str:
        part = whose(stand)
        end = None if part is None else value_at(part, path)[1]
        return end.label if isinstance(end, Connection) and end.known else ""

    return Question(key, tell, told, lambda s: whose(s) is not None, usual=usual_ends)


def mount_question(key: str, *, needed: bool = False) -> Question:
    """Return the question for a lens's mount: its bayonet by name, or its flange focal distance alone."""

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        lens = present(lens_of(stand))
        assert isinstance(lens, CameraLens)
        if not text.strip():
            empty = blank("camera_lens")
            for path in ("rear", "flange_focal_distance_mm"):
                stand = stand.with_value(lens.id, path, value_at(empty, path)[1])
            return stand
        words = " ".join(text.casefold().split())
        name = next(
            (n for n in BAYONET_REGISTERS_MM if words in (n.casefold(), f"{n.casefold()} {say('external')}")), None
        )
        if name is None:
            return _with_flange(stand, lens, Quantity(readings=(parse_value("flange_mm", text, origin),)))
        register, throat = BAYONET_REGISTERS_MM[name]
        bayonet = Bayonet(name=name, throat_mm=throat)
        stand = stand.with_value(lens.id, "rear", Connection(standard=bayonet, gender=Gender.EXTERNAL))
        stand = _with_flange(stand, lens, Quantity(readings=(Reading(value=register, origin=origin),)))
        camera = stand.camera
        # A camera no one has shown anything of is taken as made for the lens; one that is shown keeps what it has.
        if (
            isinstance(camera, Camera)
            and not camera.front.known
            and (camera.flange_to_sensor_mm.origin is Origin.ASSUMED)
        ):
            stand = stand.with_value(camera.id, "front", Connection(standard=bayonet, gender=Gender.INTERNAL))
            own = Quantity(readings=(Reading(value=register, origin=Origin.ASSUMED),))
            stand = stand.with_value(camera.id, "flange_to_sensor_mm", own)
        return stand

    def told(stand: RouteContext) -> str:
        lens = lens_of(stand)
        if not isinstance(lens, CameraLens) or untold(lens, "flange_focal_distance_mm"):
            return ""
        return (
            lens.rear.standard.label if lens.rear.known else say("{value:g}", value=lens.flange_focal_distance_mm.value)
        )

    def usual(stand: RouteContext) -> tuple[str, ...]:
        return tuple(BAYONET_REGISTERS_MM)

    return Question(key, tell, told, lambda s: lens_of(s) is not None, usual=usual, needed=needed)


def _with_flange(stand: RouteContext, lens: Part, flange: Quantity) -> RouteContext:
    return stand.with_value(lens.id, "flange_focal_distance_mm", flange)


def focal_question(key: str, beginning: Beginning) -> Question:
    """Return the question for a lens's focal length, or both ends of a zoom; it begins the train."""

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        stand = begin(stand, str(beginning.name), beginning.optic)
        if text.startswith(FROM_SHELF):
            lens, old = picked(stand, text, ("camera_lens",)), present(stand.optic)
            return stand.with_train(lambda t: t.model_copy(update={"optic": lens.id})).without_unused(old.id)
        optic = present(lens_of(stand))
        if not text.strip():
            stand = stand.with_value(optic.id, "focal_length_mm", value_at(blank("camera_lens"), "focal_length_mm")[1])
            return stand.with_value(optic.id, "longest_focal_mm", None)
        words, fisheye = _lens_words(text)
        found = read_written(words)
        if fisheye:
            stand = stand.with_value(optic.id, "projection", "equisolid")
        near, far = (Quantity(readings=(Reading(value=mm, origin=origin),)) for mm in (found.low, found.high))
        stand = stand.with_value(optic.id, "longest_focal_mm", far if found.high > found.low else None)
        stand = stand.with_value(optic.id, "focal_length_mm", near)
        return stand.with_value(optic.id, "status", "owned") if origin is not Origin.ASSUMED else stand

    def told(stand: RouteContext) -> str:
        lens = lens_of(stand)
        if not isinstance(lens, CameraLens) or isinstance(lens.focal_length_mm.in_use, Span):
            return ""
        far = "" if lens.longest_focal_mm is None else say(" to {value:g}", value=lens.longest_focal_mm.value)
        return say("{value:g}{far}", value=lens.focal_length_mm.value, far=far)

    return Question(key, tell, told, kinds=("camera_lens",), needed=True)


def _lens_words(text: str) -> tuple[str, bool]:
    """Return a focal length without what people write of the lens beside it, and whether that says fisheye."""
    kept = _SORTS.sub("", plain_text(text)).strip()
    return kept, bool(_FISHEYE.search(text))


def thread_question(key: str) -> Question:
    """Return the question for a lens's filter thread: its size, a whole thread, or none."""

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        lens = present(lens_of(stand))
        words = text.strip().casefold()
        if not words:
            return stand.with_value(lens.id, "front", value_at(blank("camera_lens"), "front")[1])
        if words.split()[0].strip(",.") in NO_THREAD:
            return stand.with_value(lens.id, "front", None)
        end = filter_thread(text, Gender.INTERNAL)
        stand = stand.with_value(lens.id, "front", end)
        return stand.with_value(lens.id, "outer_diameter_mm", max(lens.outer_diameter_mm, end.standard.size_mm + 4.0))

    def told(stand: RouteContext) -> str:
        lens = lens_of(stand)
        if not isinstance(lens, CameraLens):
            return ""
        if lens.front is None or isinstance(lens.front.standard, OnlyFits):
            return NOTHING_MORE
        return lens.front.standard.label if lens.front.known else ""

    def usual(stand: RouteContext) -> tuple[str, ...]:
        return (NOTHING_MORE, *(f"{across}" for across in FILTER_THREADS_MM))

    return Question(key, tell, told, lambda s: lens_of(s) is not None, usual=usual)


def filter_thread(text: str, gender: Gender) -> Connection:
    """Read a filter thread: `77`, `77 mm` or a whole thread such as `M77x0.75`.

    Raises:
        BadInput: it is none.
    """
    try:
        across = read_written(text)
    except BadInput:
        return parse_connection(text if says_gender(text) else f"{text} {gender}")
    if not 10.0 <= across.low <= 200.0 or across.low != across.high:
        raise BadInput("“{shown}” is no filter thread; write its size such as 77, or M77x0.75.", shown=shown(text))
    return thread(across.low, 1.0 if across.low >= 105.0 else 0.75, gender)


def piece_question(side: Side, number: int, first: int, kinds: tuple[str, ...], beginning: Beginning) -> Question:
    """Return the question which part comes next on a side: a kind, a part of the shelf, or nothing more.

    Args:
        side: the row.
        number: which piece, from 1.
        first: how many parts of the row are before the first piece.
        kinds: tags to choose from.
        beginning: what to begin where no question was answered before.
    """
    place = first + number - 1

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        stand = begin(stand, str(beginning.name), beginning.optic)
        old = stand.part(side, place)
        if text in ("", NOTHING_MORE):
            if old is None:
                return stand
            gone = stand.with_train(lambda t: _with_row(t, side, [*t.row(side)[:place], *t.row(side)[place + 1 :]]))
            return gone.without_unused(old.id)
        if text.startswith(FROM_SHELF):
            part = picked(stand, text, kinds)
        elif text in kinds:
            if old is not None and old.kind == text:
                return stand
            part = new_part(stand.workbook, text)
            stand = stand.with_part(part)
        else:
            raise BadInput("“{shown}” is not one of the parts to choose from here.", shown=shown(text))
        laid = laid_anew(part)
        row = [*stand.row(side)]
        row[place : place + 1] = [laid]
        stand = stand.with_train(lambda t: _with_row(t, side, row))
        return stand.without_unused(old.id) if old is not None else stand

    def told(stand: RouteContext) -> str:
        part = stand.part(side, place)
        return "" if part is None else part.kind if part.kind in kinds else f"{FROM_SHELF}{part.id}"

    return Question(
        f"piece.{number}", tell, told, lambda s: s.train is not None and len(s.row(side)) >= place,
        choices=(*kinds, NOTHING_MORE), kinds=kinds,
    )  # fmt: skip


def _with_row(train: Train, side: Side, row: list[MountedPart]) -> Train:
    return train.model_copy(update={side.value: tuple(row)})


def piece_length(side: Side, number: int, first: int, key: str) -> Question:
    """Return the question for a piece's length."""
    place = first + number - 1

    def whose(stand: RouteContext) -> Part | None:
        part = stand.part(side, place)
        return part if isinstance(part, FixedLength) else None

    plain = value_question(f"{key}.{number}", whose, "path_length_mm", needed=True)

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        after = plain.tell(stand, text, origin)
        part = whose(after)
        if isinstance(part, FilterSeat) and isinstance(part.seat_mm.in_use, Span) and text.strip():
            # Nothing was entered where its filter sits: anywhere between its two walls.
            deep = part.path_length_mm.value
            return after.with_value(part.id, "seat_mm", unknown(min(2.0, deep / 2.0), max(deep - 3.0, deep / 2.0)))
        return after

    return replace(plain, tell=tell)


def piece_ends(side: Side, number: int, first: int) -> Question:
    """Return the question for both connections of a piece, front first."""
    place = first + number - 1

    def whose(stand: RouteContext) -> Part | None:
        part = stand.part(side, place)
        return part if isinstance(part, TubePart) and not part.passes_thread else None

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        part = present(whose(stand))
        empty = blank(part.kind)
        ends = parse_connections(text, known_ends(stand)) if text.strip() else empty.ends
        for path, end in zip(("front", "rear"), ends, strict=True):
            stand = stand.with_value(part.id, path, end)
        return stand

    def told(stand: RouteContext) -> str:
        part = whose(stand)
        if part is None or all(end is None or not end.known for end in part.ends):
            return ""
        return say(" to ").join(say("not known") if end is None or not end.known else end.label for end in part.ends)

    def usual(stand: RouteContext) -> tuple[str, ...]:
        ahead = stand.part(side, place - 1) if place > 0 else stand.optic
        entering = None if ahead is None or ahead.ends[1] is None else ahead.ends[1]
        usual = list(usual_ends(stand))
        if entering is None or not entering.known:
            return tuple(say("{one_} to {other}", one_=one, other=other) for one in usual[:8] for other in usual[:8])
        other = Gender.INTERNAL if entering.gender is Gender.EXTERNAL else Gender.EXTERNAL
        mate = Connection(standard=entering.standard, gender=other)
        return tuple(say("{label} to {one_}", label=mate.label, one_=one) for one in usual)

    return Question(f"threads.{number}", tell, told, lambda s: whose(s) is not None, usual=usual)
