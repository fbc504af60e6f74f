"""Magnetic filters: a base ring in the lens, and filters that snap on it one on another."""

import re

from farrail.errors import BadInput
from farrail.language import say
from farrail.parts.connections import Connection, Gender, OnlyFits, Thread
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.kinds.tubes import Adapter
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity
from farrail.parts.registry import Part
from farrail.parts.written import shown
from farrail.train.train import Side
from farrail.workbook.edits.laying import laid_anew
from farrail.workbook.edits.typed import parse_value
from farrail.workbook.routes.holders import at_front, place_of
from farrail.workbook.routes.placeholders import new_part
from farrail.workbook.routes.question import Question, RouteContext, present

MAGNETIC = ("magnetic", "magnet", "magnetisch")
POLARISER = re.compile(r"\b(?:polari[sz]er|cpl|polfilter|pol)\b", re.IGNORECASE)
MOST_FILTERS = 5


def magnet(across_mm: float) -> OnlyFits:
    """Return what magnetic filters of a size snap on to."""
    return OnlyFits(name=f"magnetic {across_mm:g} mm", diameter_mm=across_mm)


def on_magnet(stand: RouteContext, part: Part, number: int) -> RouteContext:
    """Return where the route is with a piece held by magnets on the one behind it, which is screwed in or magnetic."""
    behind = stand.part(Side.FRONT, place_of(number) - 1) if number > 1 else None
    if behind is None:
        raise BadInput("A magnetic filter needs its base ring: put the ring that screws into the lens before it.")
    across = behind.outer_diameter_mm
    carried = behind.ends[0]
    seat = magnet(across)
    if carried is not None and isinstance(carried.standard, OnlyFits) and carried.gender is Gender.EXTERNAL:
        seat = carried.standard
    else:
        stand = stand.with_value(behind.id, "front", Connection(standard=seat, gender=Gender.EXTERNAL))
    stand = stand.with_value(part.id, "rear", Connection(standard=seat, gender=Gender.INTERNAL))
    # The next one snaps on its front in the same way.
    stand = stand.with_value(part.id, "front", Connection(standard=seat, gender=Gender.EXTERNAL))
    return stand.with_value(part.id, "outer_diameter_mm", max(part.outer_diameter_mm, across))


def magnetic_question(number: int) -> Question:
    """Return the question which filters are on a magnetic base ring, in one answer: `3, 3, 5 polariser`."""

    def base(stand: RouteContext) -> Part | None:
        ring = at_front(stand, number, Adapter)
        front = None if ring is None else ring.ends[0]
        magnetic = (
            front is not None and isinstance(front.standard, OnlyFits) and front.standard.name.startswith(MAGNETIC)
        )
        return ring if magnetic else None

    def snapped(stand: RouteContext) -> list[Part]:
        row = [stand.part_of(laid.part) for laid in stand.row(Side.FRONT)[place_of(number) + 1 :]]
        return [part for part in row if isinstance(part, RoundFilter) and not isinstance(part.rear.standard, Thread)]

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        ring = present(base(stand))
        words = [word for word in re.split(r"\s*[;,]\s+|\s*;\s*|\s+\+\s+", text.strip()) if word]
        if len(words) > MOST_FILTERS:
            raise BadInput("“{shown}” names {count} filters; at most {most} are taken here.",
                           shown=shown(text), count=len(words), most=MOST_FILTERS)  # fmt: skip
        depths = [parse_value("path_length_mm", POLARISER.sub("", word).strip(), origin) for word in words]
        old = snapped(stand)
        kept = tuple(laid for laid in stand.row(Side.FRONT) if laid.part not in {part.id for part in old})
        stand = stand.with_train(lambda t: t.model_copy(update={"front_stack": kept}))
        for part in old:
            stand = stand.without_unused(part.id)
        across = ring.outer_diameter_mm
        front = ring.ends[0]
        assert front is not None
        row = list(stand.row(Side.FRONT))
        for count, (word, depth) in enumerate(zip(words, depths, strict=True), start=1):
            polariser = POLARISER.search(word) is not None
            snapping = Connection(standard=front.standard, gender=Gender.INTERNAL)
            part = new_part(
                stand.workbook, "round_filter", name=say("Polariser") if polariser else say("Filter"),
                front=front, rear=snapping, outer_diameter_mm=across, polariser=polariser,
                path_length_mm=Quantity(readings=(depth,)),
                status="owned" if origin is not Origin.ASSUMED else "example",
            )  # fmt: skip
            stand = stand.with_part(part)
            row.insert(place_of(number) + count, laid_anew(part))
        return stand.with_train(lambda t: t.model_copy(update={"front_stack": tuple(row)}))

    def told(stand: RouteContext) -> str:
        if base(stand) is None:
            return ""
        words = []
        for part in snapped(stand):
            assert isinstance(part, RoundFilter)
            long = say("{value:g}", value=part.path_length_mm.value)
            words.append(say("{mm} polariser", mm=long) if part.polariser else long)
        return ", ".join(words)

    return Question(
        f"magnetic.{number}", tell, told, lambda s: base(s) is not None, usual=lambda _: ("3, 3, 5 polariser",)
    )
