"""How a lens is mounted for close-ups: on the camera, reversed, coupled, on bellows, or without focusing by itself."""

import re

from farrail.errors import BadInput
from farrail.language import say
from farrail.parts.blank import blank
from farrail.parts.connections import Connection, Gender, Thread
from farrail.parts.kinds.closer import Bellows, ReversingRing
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, Reading, Span
from farrail.parts.registry import Part
from farrail.parts.written import plain_text, read_written, shown
from farrail.train.train import MountedPart, Side, Train
from farrail.workbook.edits.laying import laid_anew
from farrail.workbook.edits.typed import parse_value
from farrail.workbook.routes.common import filter_thread, lens_of
from farrail.workbook.routes.placeholders import new_part
from farrail.workbook.routes.question import Question, RouteContext, present, value_question

NORMAL, REVERSED, COUPLED = "mount_normal", "mount_reversed", "mount_coupled"
BELLOWS, REVERSED_BELLOWS, NO_FOCUS = "mount_bellows", "mount_reversed_bellows", "mount_no_focus"
MOUNTS = (NORMAL, REVERSED, COUPLED, BELLOWS, REVERSED_BELLOWS, NO_FOCUS)
_SECOND = re.compile(
    r"(?P<focal>[^f,;]+?)\s*(?:mm\s*)?(?:f\s*/?\s*(?P<number>[\d.,]+))?\s*(?:[,;]\s*(?P<thread>.+))?", re.I
)


def mounted_question() -> Question:
    """Return the question how the lens is mounted."""

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        wanted = text or NORMAL
        if wanted not in MOUNTS:
            raise BadInput("“{shown}” is not one of the choices here.", shown=shown(text))
        if wanted == _told(stand):
            return stand
        lens = present(lens_of(stand))
        if wanted in (REVERSED, REVERSED_BELLOWS, COUPLED) and _thread(lens) is None:
            raise BadInput("A lens is held by its filter thread when it is reversed: answer that question first.")
        stand = _taken_apart(stand)
        if wanted in (REVERSED, REVERSED_BELLOWS):
            stand = _with_ring_behind(stand, lens)
        if wanted in (BELLOWS, REVERSED_BELLOWS):
            stand = _with_bellows(stand, lens)
        if wanted == COUPLED:
            stand = _with_second_lens(stand, lens)
        return stand.with_value(lens.id, "focuses_itself", wanted not in (NO_FOCUS, BELLOWS))

    return Question("lens.mounted", tell, _told, lambda s: lens_of(s) is not None, MOUNTS)


def ring_question() -> Question:
    """Return the question how long the reversing ring is."""
    return value_question("reversing.length", _ring, "path_length_mm")


def bellows_question() -> Question:
    """Return the question between which lengths bellows draw, and to what they are set: `35 to 140, at 90`."""

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        part = present(_bellows(stand))
        reach, _, setting = re.sub(r"\bbei\b", "at", plain_text(text).casefold()).partition("at ")
        reach, setting = reach.strip(" ,;"), setting.strip()
        empty = blank("bellows")
        assert isinstance(empty, Bellows)
        assert isinstance(part, Bellows)
        ends = empty.shortest_mm, empty.longest_mm
        if reach:
            found = read_written(reach)
            if found.low >= found.high:
                raise BadInput("“{shown}” lacks one end; write 35 to 140, or 35 to 140, at 90.", shown=shown(text))
            low, high = (Quantity(readings=(Reading(value=mm, origin=origin),)) for mm in (found.low, found.high))
            ends = low, high
        at = read_written(setting).low if setting else None
        if at is not None and not ends[0].value <= at <= ends[1].value:
            raise BadInput(
                "{at:g} mm is not between {low:g} and {high:g} mm.", at=at, low=ends[0].value, high=ends[1].value
            )
        for path, end in zip(("shortest_mm", "longest_mm"), ends, strict=True):
            stand = stand.with_value(part.id, path, end)

        def change(train: Train) -> Train:
            row = [
                laid.model_copy(update={"setting_mm": at}) if laid.part == part.id else laid
                for laid in train.rear_train
            ]
            return train.model_copy(update={"rear_train": tuple(row)})

        return stand.with_train(change)

    def told(stand: RouteContext) -> str:
        part = _bellows(stand)
        if not isinstance(part, Bellows) or isinstance(part.shortest_mm.in_use, Span):
            return ""
        reach = say("{low:g} to {high:g}", low=part.shortest_mm.value, high=part.longest_mm.value)
        setting = next((laid.setting_mm for laid in stand.row(Side.REAR) if laid.part == part.id), None)
        return reach if setting is None else say("{reach}, at {setting:g}", reach=reach, setting=setting)

    return Question("bellows.reach", tell, told, lambda s: _bellows(s) is not None, usual=lambda _: ("35 to 140",))


def second_lens_question() -> Question:
    """Return the question which lens is coupled, reversed, to the front of the first: `50 f/1.8, 52`."""

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        lens = present(_second(stand))
        match = _SECOND.fullmatch(plain_text(text))
        if match is None:
            raise BadInput("“{shown}” is not a lens; write 50 f/1.8, and its filter thread behind a comma.",
                           shown=shown(text))  # fmt: skip
        focal = parse_value("focal_length_mm", match["focal"], origin)
        stand = stand.with_value(lens.id, "focal_length_mm", Quantity(readings=(focal,)))
        if match["number"]:
            number = parse_value("f_number", match["number"], origin)
            stand = stand.with_value(lens.id, "f_number", Quantity(readings=(number,)))
        if match["thread"]:
            end = filter_thread(match["thread"], Gender.INTERNAL)
            stand = stand.with_value(lens.id, "front", end)
            mate = filter_thread(match["thread"], Gender.EXTERNAL)
            stand = stand.with_value(present(_ring(stand)).id, "front", mate)
        return stand.with_value(lens.id, "status", "owned") if origin is not Origin.ASSUMED else stand

    def told(stand: RouteContext) -> str:
        lens = _second(stand)
        if not isinstance(lens, CameraLens) or isinstance(lens.focal_length_mm.in_use, Span):
            return ""
        told = say("{focal:g} f/{number:g}", focal=lens.focal_length_mm.value, number=lens.f_number.value)
        thread = _thread(lens)
        return told if thread is None else say("{lens}, {mm:g}", lens=told, mm=thread.diameter_mm)

    return Question("second_lens", tell, told, lambda s: _second(s) is not None, needed=True)


def _thread(lens: Part) -> Thread | None:
    front = lens.ends[0]
    return front.standard if front is not None and isinstance(front.standard, Thread) else None


def _ring(stand: RouteContext) -> Part | None:
    return _first(stand, Side.REAR, ReversingRing) or _first(stand, Side.FRONT, ReversingRing)


def _bellows(stand: RouteContext) -> Part | None:
    return _first(stand, Side.REAR, Bellows)


def _first(stand: RouteContext, side: Side, kind: type[Part]) -> Part | None:
    parts = (stand.part_of(laid.part) for laid in stand.row(side))
    return next((part for part in parts if isinstance(part, kind)), None)


def _second(stand: RouteContext) -> Part | None:
    row = stand.row(Side.FRONT)
    return next((stand.part_of(laid.lens) for laid in row if laid.lens is not None), None)


def _told(stand: RouteContext) -> str:
    lens, train = lens_of(stand), stand.train
    if not isinstance(lens, CameraLens) or train is None:
        return ""
    on_bellows = _bellows(stand) is not None
    if train.optic_reversed:
        return REVERSED_BELLOWS if on_bellows else REVERSED
    if _second(stand) is not None:
        return COUPLED
    return BELLOWS if on_bellows else NORMAL if lens.focuses_itself else NO_FOCUS


def _taken_apart(stand: RouteContext) -> RouteContext:
    """Return the route with the lens on the camera again: what another mounting brought goes."""
    for side, kinds in ((Side.REAR, (ReversingRing, Bellows)), (Side.FRONT, (ReversingRing,))):
        gone = [laid for laid in stand.row(side) if isinstance(stand.part_of(laid.part), kinds)]
        kept = tuple(laid for laid in stand.row(side) if laid not in gone)
        stand = stand.with_train(lambda t, side=side, kept=kept: t.model_copy(update={side.value: kept}))  # type: ignore[misc]
        for laid in gone:
            for part_id in (laid.part, laid.lens):
                stand = stand if part_id is None else stand.without_unused(part_id)
    return stand.with_train(lambda t: t.model_copy(update={"optic_reversed": False}))


def _placed(stand: RouteContext, side: Side, laid: MountedPart, *, last: bool = False) -> RouteContext:
    row = (*stand.row(side), laid) if last else (laid, *stand.row(side))
    return stand.with_train(lambda t: t.model_copy(update={side.value: row}))


def _with_ring_behind(stand: RouteContext, lens: Part) -> RouteContext:
    """Return the route with a ring between the lens's filter thread and the camera, and the lens reversed on it."""
    thread, mount = _thread(lens), lens.ends[1]
    assert thread is not None
    ends = {"front": Connection(standard=thread, gender=Gender.EXTERNAL)}
    if mount is not None and mount.known:
        ends["rear"] = Connection(standard=mount.standard, gender=Gender.EXTERNAL)
    ring = new_part(stand.workbook, "reversing_ring", status="owned", **ends)
    stand = _placed(stand.with_part(ring), Side.REAR, laid_anew(ring))
    return stand.with_train(lambda t: t.model_copy(update={"optic_reversed": True}))


def _with_bellows(stand: RouteContext, lens: Part) -> RouteContext:
    """Return the route with bellows behind the lens, or behind the ring that carries it reversed."""
    mount = lens.ends[1]
    ends = {}
    if mount is not None and mount.known:
        ends = {"front": Connection(standard=mount.standard, gender=Gender.INTERNAL),
                "rear": Connection(standard=mount.standard, gender=Gender.EXTERNAL)}  # fmt: skip
    part = new_part(stand.workbook, "bellows", status="owned", **ends)
    return _placed(stand.with_part(part), Side.REAR, laid_anew(part), last=True)


def _with_second_lens(stand: RouteContext, lens: Part) -> RouteContext:
    """Return the route with a second lens, reversed, on the front of the first."""
    thread = _thread(lens)
    assert thread is not None
    end = Connection(standard=thread, gender=Gender.EXTERNAL)
    name = say("Coupling ring for lenses")
    ring = new_part(stand.workbook, "reversing_ring", name=name, status="owned", rear=end)
    stand = stand.with_part(ring)
    second = new_part(stand.workbook, "camera_lens", name=say("Second lens"))
    stand = stand.with_part(second)
    return _placed(stand, Side.FRONT, laid_anew(ring).model_copy(update={"lens": second.id}))
