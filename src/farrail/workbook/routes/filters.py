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
from farrail.parts.provenance import Quantity, Reading, Span
from farrail.parts.registry import Part
from farrail.parts.usual import FILTER_THREADS_MM
from farrail.parts.written import plain_text, read_pair, shown
from farrail.train.train import Side
from farrail.workbook.edits.front import SetSheet
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
from farrail.workbook.routes.placeholders import new_part
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


def _place(number: int) -> int:
    return number - 1


def _at(stand: RouteContext, number: int, kind: type[Part]) -> Part | None:
    part = stand.part(Side.FRONT, _place(number))
    return part if isinstance(part, kind) else None


def _thread_behind(stand: RouteContext, number: int) -> float | None:
    """Return the thread a piece is screwed into: the front of what is behind it, as far as that is known."""
    behind = stand.part(Side.FRONT, _place(number) - 1) if number > 1 else lens_of(stand)
    end = None if behind is None else behind.ends[0]
    return end.standard.diameter_mm if end is not None and isinstance(end.standard, Thread) else None


def _sizes(number: int) -> Question:
    """Return the question for a step ring's two threads, the lens's first."""

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        ring = present(_at(stand, number, Adapter))
        if not text.strip():
            for path in ("front", "rear"):
                stand = stand.with_value(ring.id, path, value_at(blank("adapter"), path)[1])
            return stand
        words = re.split(r"\s*(?:\b(?:to|bis|auf)\b|-|–|→|/|,)\s*", plain_text(text), maxsplit=1)
        if len(words) != 2:
            raise BadInput(
                "“{shown}” names one thread; write the lens's first, then the larger: 77 to 82.", shown=shown(text)
            )
        rear, front = filter_thread(words[0], Gender.EXTERNAL), filter_thread(words[1], Gender.INTERNAL)
        across = max(rear.standard.size_mm, front.standard.size_mm)
        stand = stand.with_value(ring.id, "outer_diameter_mm", across + 3.0)
        return stand.with_value(ring.id, "rear", rear).with_value(ring.id, "front", front)

    def told(stand: RouteContext) -> str:
        ring = _at(stand, number, Adapter)
        if ring is None or not all(end is not None and end.known for end in ring.ends):
            return ""
        return say(" to ").join(
            say("{size_mm:g}", size_mm=end.standard.size_mm) for end in reversed(ring.ends) if end is not None
        )

    def usual(stand: RouteContext) -> tuple[str, ...]:
        lens = _thread_behind(stand, number)
        known = FILTER_THREADS_MM if lens is None else (say("{lens:g}", lens=lens),)
        return tuple(
            say("{one_} to {other}", one_=one, other=other)
            for one in known
            for other in FILTER_THREADS_MM
            if float(one) < other
        )

    return Question(f"sizes.{number}", tell, told, lambda s: _at(s, number, Adapter) is not None, usual=usual)


def _screws(number: int) -> Question:
    """Return the question into which thread a ring, filter or hood screws; the one behind it is offered."""

    def whose(stand: RouteContext) -> Part | None:
        part = stand.part(Side.FRONT, _place(number))
        return part if isinstance(part, TubePart) and part.kind in ("holder_ring", "round_filter", "hood") else None

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        part = present(whose(stand))
        if not text.strip():
            return stand.with_value(part.id, "rear", value_at(blank(part.kind), "rear")[1])
        if text.strip().casefold() == "bayonet":
            return _on_bayonet(stand, part, number)
        rear = filter_thread(text, Gender.EXTERNAL)
        stand = stand.with_value(part.id, "rear", rear)
        if isinstance(part, RoundFilter):
            front = filter_thread(text, Gender.INTERNAL)
            stand = stand.with_value(part.id, "front", front)
        across = max(part.outer_diameter_mm, rear.standard.size_mm + 3.0)
        return stand.with_value(part.id, "outer_diameter_mm", across)

    def told(stand: RouteContext) -> str:
        part = whose(stand)
        rear = None if part is None else part.ends[1]
        if rear is None or not rear.known:
            return ""
        return say("{size_mm:g}", size_mm=rear.standard.size_mm) if isinstance(rear.standard, Thread) else "bayonet"

    def usual(stand: RouteContext) -> tuple[str, ...]:
        behind = _thread_behind(stand, number)
        first = () if behind is None else (say("{behind:g}", behind=behind),)
        return (*first, "bayonet", *(f"{across}" for across in FILTER_THREADS_MM))

    return Question(f"screws.{number}", tell, told, lambda s: whose(s) is not None, usual=usual)


def _on_bayonet(stand: RouteContext, part: Part, number: int) -> RouteContext:
    """Return the are with a piece on a bayonet made for the ring behind it."""
    behind = stand.part(Side.FRONT, _place(number) - 1)
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
        part = stand.part(Side.FRONT, _place(number))
        return part if isinstance(part, TubePart) and not isinstance(part, FilterHolder) else None

    return value_question(f"clear.{number}", whose, "clear_aperture_mm")


def _polariser(number: int) -> Question:
    """Return the question what a round filter is."""

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        part = present(_at(stand, number, RoundFilter))
        return stand.with_value(part.id, "polariser", text == "polariser")

    def told(stand: RouteContext) -> str:
        part = _at(stand, number, RoundFilter)
        return "polariser" if isinstance(part, RoundFilter) and part.polariser else ""

    asked = lambda s: _at(s, number, RoundFilter) is not None  # noqa: E731 (one expression, read in place)
    return Question(f"filter_is.{number}", tell, told, asked, ("polariser", "other"))


def _slots(number: int) -> Question:
    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        holder = present(_at(stand, number, FilterHolder))
        count = int(text) if text in ("1", "2", "3", "4") else 2
        stand = stand.with_value(holder.id, "slots", count)

        def change(train):  # type: ignore[no-untyped-def]
            row = list(train.front_stack)
            laid = row[_place(number)]
            filters = (*laid.filters, *(None,) * count)[:count]
            row[_place(number)] = laid.model_copy(update={"filters": filters})
            return train.model_copy(update={"front_stack": tuple(row)})

        return stand.with_train(change)

    def told(stand: RouteContext) -> str:
        holder = _at(stand, number, FilterHolder)
        return f"{holder.slots}" if isinstance(holder, FilterHolder) else ""

    asked = lambda s: _at(s, number, FilterHolder) is not None  # noqa: E731
    return Question(f"slots.{number}", tell, told, asked, ("1", "2", "3", "4"))


def _system(number: int) -> Question:
    """Return the question for which sheets a holder is made; it goes on the ring behind it, no matter what that is."""

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        holder = present(_at(stand, number, FilterHolder))
        if not text.strip():
            return stand
        wide = parse_value("sheet_width_mm", text, origin)
        stand = stand.with_value(holder.id, "sheet_width_mm", Quantity(readings=(wide,)))
        stand = stand.with_value(holder.id, "outer_diameter_mm", wide.value + 12.0)
        return _joined(stand, number, holder, wide.value)

    def told(stand: RouteContext) -> str:
        holder = _at(stand, number, FilterHolder)
        # A blank holder is made for some width; it is shown once the holder is joined to what is behind it.
        return (
            say("{value:g}", value=holder.sheet_width_mm.value)
            if isinstance(holder, FilterHolder) and holder.rear.known
            else ""
        )

    asked = lambda s: _at(s, number, FilterHolder) is not None  # noqa: E731
    return Question(f"system.{number}", tell, told, asked, usual=lambda _: SYSTEM_WIDTHS, needed=True)


def _joined(stand: RouteContext, number: int, holder: Part, system_mm: float) -> RouteContext:
    """Return the are with a holder seated on the piece behind it, where that piece's front is not known yet."""
    behind = stand.part(Side.FRONT, _place(number) - 1)
    carried = None if behind is None else behind.ends[0]
    seat = OnlyFits(name=f"{system_mm:g} mm holder", diameter_mm=round(0.86 * system_mm, 3))
    ring = next((stand.part(Side.FRONT, n) for n in range(_place(number)) if _at(stand, n + 1, HolderRing)), None)
    if carried is not None and isinstance(carried.standard, OnlyFits) and carried.gender is Gender.EXTERNAL:
        seat = carried.standard
    elif behind is not None and carried is not None and not carried.known:
        stand = stand.with_value(behind.id, "front", Connection(standard=seat, gender=Gender.EXTERNAL))
    elif ring is not None and isinstance(behind, RoundFilter):
        # A polariser on the ring's bayonet is inside the holder's seat: its rim carries the holder as the ring would.
        stand = stand.with_value(behind.id, "front", Connection(standard=seat, gender=Gender.EXTERNAL))
    return stand.with_value(holder.id, "rear", Connection(standard=seat, gender=Gender.INTERNAL))


def _first_slot(number: int) -> Question:
    def whose(stand: RouteContext) -> Part | None:
        return _at(stand, number, FilterHolder)

    return value_question(f"first_slot.{number}", whose, "first_slot_mm")


def _sheets(number: int) -> Question:
    """Return the question which sheets are in a holder, the one nearest the lens first."""

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        holder = present(_at(stand, number, FilterHolder))
        assert isinstance(holder, FilterHolder)
        words = [word for word in re.split(r"\s*[;,]\s*(?![\d]*\s*(?:mm|stops?)\b$)", text) if word.strip()]
        if len(words) > holder.slots:
            raise BadInput(
                "{count} filters do not fit into {slots} slots; remove some, or add slots.",
                count=len(words),
                slots=holder.slots,
            )
        held = [stand.part_of(s) for s in stand.row(Side.FRONT)[_place(number)].filters]
        for slot in range(holder.slots):
            stand = _emptied(stand, number, slot)
        for part in held:
            stand = stand if part is None else stand.without_unused(part.id)
        for slot, word in enumerate(words):
            sheet = _sheet(stand, word, holder, origin)
            stand = stand.with_part(sheet)
            stand = stand.after(SetSheet(stand.train_id, _place(number), slot, sheet.id))
        return stand

    def told(stand: RouteContext) -> str:
        if _at(stand, number, FilterHolder) is None:
            return ""
        held = [stand.part_of(s) for s in stand.row(Side.FRONT)[_place(number)].filters]
        return "; ".join(part.name for part in held if part is not None)

    asked = lambda s: _at(s, number, FilterHolder) is not None  # noqa: E731
    usual = lambda _: (say("10 stops"), say("6 stops"), say("3 stops soft"), say("2 stops hard"), "polariser", "clear")  # noqa: E731
    return Question(f"sheets.{number}", tell, told, asked, usual=usual)


def _emptied(stand: RouteContext, number: int, slot: int) -> RouteContext:
    return stand.after(SetSheet(stand.train_id, _place(number), slot, None))


def _sheet(stand: RouteContext, text: str, holder: FilterHolder, origin: Origin) -> Part:
    """Return a sheet by what is written of it: stops or a density, hard, medium, soft or reverse, a size."""
    words, wide = plain_text(text), holder.sheet_width_mm.value
    high = wide
    size = _SIZE.search(words)
    if size:
        wide, high = read_pair(size[0])
        words = f"{words[: size.start()]} {words[size.end() :]}"
    kept, gradation, polariser = [], Gradation.NONE, False
    for word in words.split():
        bare = word.casefold().strip(",")
        if bare in _GRADS:
            gradation = _GRADS[bare]
        elif bare in ("polariser", "polarizer"):
            polariser = True
        elif bare not in ("grad", "graduated", "edge", "clear", "sheet"):
            kept.append(word)
    density = None if not kept else Quantity(readings=(parse_value("density", " ".join(kept), origin),))
    if gradation is not Gradation.NONE and not size:
        high = wide * 1.5
    sides = {"width_mm": wide, "height_mm": high}
    told = {path: Quantity(readings=(Reading(value=value, origin=origin),)) for path, value in sides.items()}
    return new_part(
        stand.workbook, "sheet_filter",
        name=say("Filter {words}", words=plain_text(text))[:110],
        density=density, gradation=gradation,
        polariser=polariser, outer_diameter_mm=wide, status="example" if origin is Origin.ASSUMED else "owned", **told,
    )  # fmt: skip


def _piece(number: int) -> list[Question]:
    return [
        piece_question(Side.FRONT, number, 0, PIECES, BEGINNING),
        _sizes(number),
        _screws(number),
        _polariser(number),
        _slots(number),
        _system(number),
        piece_length(Side.FRONT, number, 0, "depth"),
        _clear(number),
        _first_slot(number),
        _sheets(number),
    ]


QUESTIONS: tuple[Question, ...] = (
    focal_question("lens.focal", BEGINNING),
    value_question("lens.f_number", lens_of, "f_number"),
    thread_question("lens.thread"),
    Question("lens.pupil", _tell_pupil, _told_pupil, lambda s: lens_of(s) is not None),
    format_question("camera.format", BEGINNING),
    *(question for number in range(1, MOST_PIECES + 1) for question in _piece(number)),
)
