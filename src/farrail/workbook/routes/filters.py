"""My lens and filters: the lens, the frame, then what is ahead of the lens, one in front of another."""

import re

from farrail.errors import BadInput
from farrail.language import N_, say
from farrail.parts.base import TubePart
from farrail.parts.blank import blank
from farrail.parts.connections import Connection, Gender, OnlyFits, Thread
from farrail.parts.fields import value_at
from farrail.parts.kinds.ahead import FilterHolder, HolderRing
from farrail.parts.kinds.filters import Gradation, RoundFilter
from farrail.parts.kinds.lenses import CameraLens, PupilAt
from farrail.parts.kinds.tubes import Adapter
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, Span
from farrail.parts.registry import Part
from farrail.parts.usual import FILTER_THREADS_MM
from farrail.parts.written import plain_text, shown
from farrail.train.train import Side
from farrail.workbook.edits.shelf import parse_figure
from farrail.workbook.edits.typed import parse_value
from farrail.workbook.routes.common import (
    Beginning,
    filter_thread,
    focal_question,
    format_question,
    lens_of,
    piece_length,
    piece_question,
    thread_question,
)
from farrail.workbook.routes.holders import (
    at_front,
    drop_in_question,
    first_slot_question,
    place_of,
    sheets_question,
    slots_question,
    system_question,
    window_question,
)
from farrail.workbook.routes.lens_questions import (
    aperture_question,
    gelatin_question,
    hood_question,
    projection_question,
    shift_question,
)
from farrail.workbook.routes.magnetic import MAGNETIC, magnet, magnetic_question, on_magnet
from farrail.workbook.routes.question import Question, RouteContext, present, value_question

BEGINNING = Beginning(N_("My lens and filters"), "camera_lens")
PIECES = ("adapter", "holder_ring", "round_filter", "filter_holder", "coupling_ring", "hood")
MOST_PIECES = 7
SYSTEM_WIDTHS = ("75", "85", "100", "130", "150", "165")
_PUPIL = re.compile(r"\s*(?P<focal>[^:]+?)\s*:\s*(?P<depth>[^:]+?)\s*")
_SIZE = re.compile(r"\b\d+(?:[.,]\d+)?\s*[x×]\s*\d+(?:[.,]\d+)?\b(?:\s*mm)?", re.IGNORECASE)
_GRADS = {"hard": Gradation.HARD, "medium": Gradation.MEDIUM, "soft": Gradation.SOFT, "reverse": Gradation.REVERSE}


def _tell_pupil(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
    """Take one depth, a range, or depths by focal length: `17: 27, 35: 30`."""
    lens = present(lens_of(stand))
    if not text.strip():
        stand = stand.with_value(lens.id, "entrance_pupils", ())
        empty = value_at(blank("camera_lens"), "entrance_pupil_depth_mm")[1]
        return stand.with_value(lens.id, "entrance_pupil_depth_mm", empty)
    if ":" not in text:
        depth = parse_value("entrance_pupil_depth_mm", text, origin)
        stand = stand.with_value(lens.id, "entrance_pupils", ())
        return stand.with_value(lens.id, "entrance_pupil_depth_mm", Quantity(readings=(depth,)))
    rows = []
    for word in re.split(r"\s*[;,]\s*(?=[^:,;]*:)", text):
        match = _PUPIL.fullmatch(word)
        if match is None:
            raise BadInput("“{shown}” is no list of pupils; write 17: 27, 35: 30.", shown=shown(text))
        focal = parse_figure(match["focal"], origin).value
        rows.append(PupilAt(focal_mm=focal, depth_mm=Quantity(readings=(parse_figure(match["depth"], origin),))))
    rows.sort(key=lambda row: row.focal_mm)
    stand = stand.with_value(lens.id, "entrance_pupil_depth_mm", rows[0].depth_mm)
    return stand.with_value(lens.id, "entrance_pupils", tuple(rows))


def _told_pupil(stand: RouteContext) -> str:
    lens = lens_of(stand)
    if not isinstance(lens, CameraLens):
        return ""
    if lens.entrance_pupils:
        return ", ".join(
            say("{focal_mm:g}: {value:g}", focal_mm=row.focal_mm, value=row.depth_mm.value)
            for row in lens.entrance_pupils
        )
    empty = value_at(blank("camera_lens"), "entrance_pupil_depth_mm")[1]
    depth = lens.entrance_pupil_depth_mm
    if depth == empty:
        return ""
    return (
        say("{low:g} to {high:g}", low=depth.low, high=depth.high)
        if isinstance(depth.in_use, Span)
        else say("{value:g}", value=depth.value)
    )


def _thread_behind(stand: RouteContext, number: int) -> float | None:
    """Return the thread a piece is screwed into: the front of what is behind it, as far as that is known."""
    behind = stand.part(Side.FRONT, place_of(number) - 1) if number > 1 else lens_of(stand)
    end = None if behind is None else behind.ends[0]
    return end.standard.diameter_mm if end is not None and isinstance(end.standard, Thread) else None


def _sizes(number: int) -> Question:
    """Return the question for a step ring's two threads, the lens's first."""

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        ring = present(at_front(stand, number, Adapter))
        if not text.strip():
            for path in ("front", "rear"):
                stand = stand.with_value(ring.id, path, value_at(blank("adapter"), path)[1])
            return stand
        words = re.split(r"\s*(?:\b(?:to|bis|auf)\b|-|–|→|/|,)\s*", plain_text(text), maxsplit=1)
        if len(words) != 2:
            raise BadInput(
                "“{shown}” names one thread; write the lens's first, then the larger: 77 to 82.", shown=shown(text)
            )
        rear = filter_thread(words[0], Gender.EXTERNAL)
        if words[1].casefold().split()[0] in MAGNETIC:
            front = Connection(standard=magnet(rear.standard.size_mm), gender=Gender.EXTERNAL)
        else:
            front = filter_thread(words[1], Gender.INTERNAL)
        across = max(rear.standard.size_mm, front.standard.size_mm)
        stand = stand.with_value(ring.id, "outer_diameter_mm", across + 3.0)
        return stand.with_value(ring.id, "rear", rear).with_value(ring.id, "front", front)

    def told(stand: RouteContext) -> str:
        ring = at_front(stand, number, Adapter)
        if ring is None or not all(end is not None and end.known for end in ring.ends):
            return ""
        return say(" to ").join(
            say("{size_mm:g}", size_mm=end.standard.size_mm) if isinstance(end.standard, Thread) else "magnetic"
            for end in reversed(ring.ends) if end is not None
        )  # fmt: skip

    def usual(stand: RouteContext) -> tuple[str, ...]:
        lens = _thread_behind(stand, number)
        known = FILTER_THREADS_MM if lens is None else (say("{lens:g}", lens=lens),)
        magnetic = tuple(say("{one_} to {other}", one_=one, other="magnetic") for one in known)
        return magnetic[: 1 if lens is not None else 0] + tuple(
            say("{one_} to {other}", one_=one, other=other)
            for one in known
            for other in FILTER_THREADS_MM
            if float(one) < other
        )

    return Question(f"sizes.{number}", tell, told, lambda s: at_front(s, number, Adapter) is not None, usual=usual)


def _screws(number: int) -> Question:
    """Return the question into which thread a ring, filter or hood screws; the one behind it is offered."""

    def whose(stand: RouteContext) -> Part | None:
        part = stand.part(Side.FRONT, place_of(number))
        return part if isinstance(part, TubePart) and part.kind in ("holder_ring", "round_filter", "hood") else None

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        part = present(whose(stand))
        if not text.strip():
            return stand.with_value(part.id, "rear", value_at(blank(part.kind), "rear")[1])
        words = text.strip().casefold()
        if words == "bayonet":
            return _on_bayonet(stand, part, number)
        if words.split()[0] in MAGNETIC:
            return on_magnet(stand, part, number)
        rear = filter_thread(text, Gender.EXTERNAL)
        stand = stand.with_value(part.id, "rear", rear)
        if isinstance(part, RoundFilter):
            front = filter_thread(text, Gender.INTERNAL)
            stand = stand.with_value(part.id, "front", front)
        behind = stand.part(Side.FRONT, place_of(number) - 1) if number > 1 else None
        if isinstance(behind, FilterHolder) and not isinstance(behind.front.standard, Thread):
            # Whoever screws a filter on a holder's front has a holder with that thread.
            mate = filter_thread(text, Gender.INTERNAL)
            stand = stand.with_value(behind.id, "front", mate)
        across = max(part.outer_diameter_mm, rear.standard.size_mm + 3.0)
        return stand.with_value(part.id, "outer_diameter_mm", across)

    def told(stand: RouteContext) -> str:
        part = whose(stand)
        rear = None if part is None else part.ends[1]
        if rear is None or not rear.known:
            return ""
        if isinstance(rear.standard, Thread):
            return say("{size_mm:g}", size_mm=rear.standard.size_mm)
        magnetic = isinstance(rear.standard, OnlyFits) and rear.standard.name.startswith("magnetic")
        return "magnetic" if magnetic else "bayonet"

    def usual(stand: RouteContext) -> tuple[str, ...]:
        behind = _thread_behind(stand, number)
        first = () if behind is None else (say("{behind:g}", behind=behind),)
        return (*first, "bayonet", "magnetic", *(f"{across}" for across in FILTER_THREADS_MM))

    return Question(f"screws.{number}", tell, told, lambda s: whose(s) is not None, usual=usual)


def _on_bayonet(stand: RouteContext, part: Part, number: int) -> RouteContext:
    """Return where the route is with a piece on a bayonet made for the ring behind it."""
    behind = stand.part(Side.FRONT, place_of(number) - 1) if number > 1 else stand.optic
    if number == 1 and behind is not None and part.kind == "hood":
        own = OnlyFits(name=f"hood bayonet of {behind.name}"[:60], diameter_mm=behind.outer_diameter_mm)
        carried = behind.ends[0]
        if carried is None or not carried.known:
            stand = stand.with_value(behind.id, "front", Connection(standard=own, gender=Gender.EXTERNAL))
        return stand.with_value(part.id, "rear", Connection(standard=own, gender=Gender.INTERNAL))
    if not isinstance(behind, HolderRing):
        raise BadInput("A bayonet needs the ring it goes on: answer with a thread, or put the holder's ring before it.")
    fitting = OnlyFits(name=f"bayonet of {behind.name}"[:60], diameter_mm=max(behind.outer_diameter_mm - 6.0, 10.0))
    stand = stand.with_value(behind.id, "front", Connection(standard=fitting, gender=Gender.EXTERNAL))
    stand = stand.with_value(part.id, "rear", Connection(standard=fitting, gender=Gender.INTERNAL))
    across = max(part.outer_diameter_mm, behind.outer_diameter_mm)
    return stand.with_value(part.id, "outer_diameter_mm", across)


def _clear(number: int) -> Question:
    """Return the question how wide a piece is inside."""

    def whose(stand: RouteContext) -> Part | None:
        part = stand.part(Side.FRONT, place_of(number))
        return part if isinstance(part, TubePart) and not isinstance(part, FilterHolder) else None

    return value_question(f"clear.{number}", whose, "clear_aperture_mm")


def _polariser(number: int) -> Question:
    """Return the question what a round filter is."""

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        part = present(at_front(stand, number, RoundFilter))
        return stand.with_value(part.id, "polariser", text == "polariser")

    def told(stand: RouteContext) -> str:
        part = at_front(stand, number, RoundFilter)
        return "polariser" if isinstance(part, RoundFilter) and part.polariser else ""

    asked = lambda s: at_front(s, number, RoundFilter) is not None  # noqa: E731 (one expression, read in place)
    return Question(f"filter_is.{number}", tell, told, asked, ("polariser", "other"))


def _piece(number: int) -> list[Question]:
    return [
        piece_question(Side.FRONT, number, 0, PIECES, BEGINNING),
        _sizes(number),
        _screws(number),
        _polariser(number),
        slots_question(number),
        system_question(number),
        piece_length(Side.FRONT, number, 0, "depth"),
        magnetic_question(number),
        _clear(number),
        window_question(number),
        first_slot_question(number),
        sheets_question(number),
        drop_in_question(number),
    ]


QUESTIONS: tuple[Question, ...] = (
    focal_question("lens.focal", BEGINNING),
    value_question("lens.f_number", lens_of, "f_number"),
    aperture_question(),
    projection_question(),
    thread_question("lens.thread"),
    hood_question(),
    Question("lens.pupil", _tell_pupil, _told_pupil, lambda s: lens_of(s) is not None),
    format_question("camera.format", BEGINNING),
    shift_question(),
    gelatin_question(),
    *(question for number in range(1, MOST_PIECES + 1) for question in _piece(number)),
)
