"""Questions about filter holders: slots, system, window, sheets, and a polariser dropped in behind them."""

import re

from farrail.errors import BadInput
from farrail.language import say
from farrail.parts.connections import Connection, Gender, OnlyFits
from farrail.parts.kinds.ahead import FilterHolder, HolderRing
from farrail.parts.kinds.filters import Gradation, RoundFilter
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, Reading
from farrail.parts.registry import Part
from farrail.parts.usual import rim
from farrail.parts.written import plain_text, read_pair, read_written, shown
from farrail.train.train import Side
from farrail.workbook.edits.front import SetDropIn, SetSheet
from farrail.workbook.edits.typed import parse_value
from farrail.workbook.routes.placeholders import new_part
from farrail.workbook.routes.question import FROM_SHELF, Question, RouteContext, picked, present, value_question

SYSTEM_WIDTHS = ("75", "85", "100", "130", "150", "165")
_SIZE = re.compile(r"\b\d+(?:[.,]\d+)?\s*[x×]\s*\d+(?:[.,]\d+)?\b(?:\s*mm)?", re.IGNORECASE)
_GRADS = {"hard": Gradation.HARD, "medium": Gradation.MEDIUM, "soft": Gradation.SOFT, "reverse": Gradation.REVERSE}


def place_of(number: int) -> int:
    """Return the place in the front stack of a piece, counted from 1."""
    return number - 1


def at_front(stand: RouteContext, number: int, kind: type[Part]) -> Part | None:
    """Return a piece of the front stack where it is of a kind."""
    part = stand.part(Side.FRONT, place_of(number))
    return part if isinstance(part, kind) else None


def slots_question(number: int) -> Question:
    """Return the question how many slots a holder has."""

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        holder = present(at_front(stand, number, FilterHolder))
        count = int(text) if text in ("1", "2", "3", "4") else 2
        stand = stand.with_value(holder.id, "slots", count)

        def change(train):  # type: ignore[no-untyped-def]
            row = list(train.front_stack)
            laid = row[place_of(number)]
            filters = (*laid.filters, *(None,) * count)[:count]
            row[place_of(number)] = laid.model_copy(update={"filters": filters})
            return train.model_copy(update={"front_stack": tuple(row)})

        return stand.with_train(change)

    def told(stand: RouteContext) -> str:
        holder = at_front(stand, number, FilterHolder)
        return f"{holder.slots}" if isinstance(holder, FilterHolder) else ""

    asked = lambda s: at_front(s, number, FilterHolder) is not None  # noqa: E731
    return Question(f"slots.{number}", tell, told, asked, ("1", "2", "3", "4"))


def system_question(number: int) -> Question:
    """Return the question for which sheets a holder is made; it goes on the ring behind it, no matter what that is."""

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        holder = present(at_front(stand, number, FilterHolder))
        if not text.strip():
            return stand
        wide = parse_value("sheet_width_mm", text, origin)
        stand = stand.with_value(holder.id, "sheet_width_mm", Quantity(readings=(wide,)))
        stand = stand.with_value(holder.id, "outer_diameter_mm", wide.value + 12.0)
        return _joined(stand, number, holder, wide.value)

    def told(stand: RouteContext) -> str:
        holder = at_front(stand, number, FilterHolder)
        # A blank holder is made for some width; it is shown once the holder is joined to what is behind it.
        return (
            say("{value:g}", value=holder.sheet_width_mm.value)
            if isinstance(holder, FilterHolder) and holder.rear.known
            else ""
        )

    asked = lambda s: at_front(s, number, FilterHolder) is not None  # noqa: E731
    return Question(f"system.{number}", tell, told, asked, usual=lambda _: SYSTEM_WIDTHS, needed=True)


def _joined(stand: RouteContext, number: int, holder: Part, system_mm: float) -> RouteContext:
    """Return where the route is with a holder seated on what is behind it, where that one's front is not known yet.

    On a lens without a filter thread it slips over the rim, or over the hood that cannot come off.
    """
    behind = stand.part(Side.FRONT, place_of(number) - 1) if number > 1 else stand.optic
    carried = None if behind is None else behind.ends[0]
    seat = OnlyFits(name=f"{system_mm:g} mm holder", diameter_mm=round(0.86 * system_mm, 3))
    ring = any(at_front(stand, n + 1, HolderRing) is not None for n in range(place_of(number)))
    if carried is not None and isinstance(carried.standard, OnlyFits) and carried.gender is Gender.EXTERNAL:
        seat = carried.standard
    elif isinstance(behind, CameraLens) and (carried is None or not carried.known):
        slip = OnlyFits(
            name=f"{system_mm:g} mm slip-on holder", diameter_mm=max(behind.outer_diameter_mm, seat.diameter_mm)
        )
        seat = slip
        stand = stand.with_value(behind.id, "front", Connection(standard=slip, gender=Gender.EXTERNAL))
    elif behind is not None and carried is not None and (not carried.known or behind.kind == "hood"):
        stand = stand.with_value(behind.id, "front", Connection(standard=seat, gender=Gender.EXTERNAL))
    elif ring and isinstance(behind, RoundFilter):
        # A polariser on the ring's bayonet is inside the holder's seat: its rim carries the holder as the ring would.
        stand = stand.with_value(behind.id, "front", Connection(standard=seat, gender=Gender.EXTERNAL))
    return stand.with_value(holder.id, "rear", Connection(standard=seat, gender=Gender.INTERNAL))


def first_slot_question(number: int) -> Question:
    """Return the question how far a holder's rearmost slot is ahead of its rear face."""

    def whose(stand: RouteContext) -> Part | None:
        return at_front(stand, number, FilterHolder)

    return value_question(f"first_slot.{number}", whose, "first_slot_mm")


def sheets_question(number: int) -> Question:
    """Return the question which sheets are in a holder, the one nearest the lens first."""

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        holder = present(at_front(stand, number, FilterHolder))
        assert isinstance(holder, FilterHolder)
        words = [word for word in re.split(r"\s*[;,]\s*(?![\d]*\s*(?:mm|stops?)\b$)", text) if word.strip()]
        if len(words) > holder.slots:
            raise BadInput(
                "{count} filters do not fit into {slots} slots; remove some, or add slots.",
                count=len(words),
                slots=holder.slots,
            )
        held = [stand.part_of(s) for s in stand.row(Side.FRONT)[place_of(number)].filters]
        for slot in range(holder.slots):
            stand = _emptied(stand, number, slot)
        for part in held:
            stand = stand if part is None else stand.without_unused(part.id)
        for slot, word in enumerate(words):
            sheet = _sheet(stand, word, holder, origin)
            stand = stand.with_part(sheet)
            stand = stand.after(SetSheet(stand.train_id, place_of(number), slot, sheet.id))
        return stand

    def told(stand: RouteContext) -> str:
        if at_front(stand, number, FilterHolder) is None:
            return ""
        held = [stand.part_of(s) for s in stand.row(Side.FRONT)[place_of(number)].filters]
        return "; ".join(part.name for part in held if part is not None)

    asked = lambda s: at_front(s, number, FilterHolder) is not None  # noqa: E731
    usual = lambda _: (say("10 stops"), say("6 stops"), say("3 stops soft"), say("2 stops hard"), "polariser", "clear")  # noqa: E731
    return Question(f"sheets.{number}", tell, told, asked, usual=usual)


def _emptied(stand: RouteContext, number: int, slot: int) -> RouteContext:
    return stand.after(SetSheet(stand.train_id, place_of(number), slot, None))


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


def window_question(number: int) -> Question:
    """Return the question how much of a holder is free between its rails: a width, or a width and a height."""

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        holder = present(at_front(stand, number, FilterHolder))
        wide: Quantity | None = None
        high: Quantity | None = None
        if text.strip():
            plain = plain_text(text)
            if any(mark in plain.casefold() for mark in ("x", "×")):
                sides = [Quantity(readings=(Reading(value=mm, origin=origin),)) for mm in read_pair(plain)]
                wide, high = sides
            else:
                wide = Quantity(readings=(parse_value("window_width_mm", plain, origin),))
        stand = stand.with_value(holder.id, "window_width_mm", wide)
        return stand.with_value(holder.id, "window_height_mm", high)

    def told(stand: RouteContext) -> str:
        holder = at_front(stand, number, FilterHolder)
        if not isinstance(holder, FilterHolder) or holder.window_width_mm is None:
            return ""
        wide = say("{value:g}", value=holder.window_width_mm.value)
        high = holder.window_height_mm
        return wide if high is None else say("{wide} x {value:g}", wide=wide, value=high.value)

    asked = lambda s: at_front(s, number, FilterHolder) is not None  # noqa: E731 (one expression, read in place)
    return Question(f"window.{number}", tell, told, asked)


def drop_in_question(number: int) -> Question:
    """Return the question how wide a polariser is that drops into a holder behind its sheets."""

    def inside(stand: RouteContext) -> Part | None:
        if at_front(stand, number, FilterHolder) is None:
            return None
        return stand.part_of(stand.row(Side.FRONT)[place_of(number)].drop_in)

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        holder, old = present(at_front(stand, number, FilterHolder)), inside(stand)
        stand = stand.after(SetDropIn(stand.train_id, place_of(number), None))
        stand = stand if old is None else stand.without_unused(old.id)
        if text.strip().casefold() in ("", "none", "no"):
            return stand.with_value(holder.id, "drop_in_mm", None)
        if text.startswith(FROM_SHELF):
            glass = picked(stand, text, ("round_filter",))
            wide = glass.outer_diameter_mm
        else:
            wide = read_written(text).low
            if not 30.0 <= wide <= 200.0:
                raise BadInput("“{shown}” is no diameter of a filter; write 86.", shown=shown(text))
            glass = new_part(
                stand.workbook, "round_filter", name=say("Drop-in polariser {wide:g}", wide=wide), polariser=True,
                front=rim(wide), rear=rim(wide), outer_diameter_mm=wide,
                status="owned" if origin is not Origin.ASSUMED else "example",
            )  # fmt: skip
            stand = stand.with_part(glass)
        size = Quantity(readings=(Reading(value=wide, origin=origin),))
        stand = stand.with_value(holder.id, "drop_in_mm", size)
        return stand.after(SetDropIn(stand.train_id, place_of(number), glass.id))

    def told(stand: RouteContext) -> str:
        glass = inside(stand)
        return "" if glass is None else say("{value:g}", value=glass.outer_diameter_mm)

    asked = lambda s: at_front(s, number, FilterHolder) is not None  # noqa: E731
    return Question(f"drop_in.{number}", tell, told, asked, usual=lambda _: ("82", "86", "95", "105"),
                    kinds=("round_filter",))  # fmt: skip
