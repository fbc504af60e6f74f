"""What the Front station says: sentences and rows."""

from collections.abc import Mapping, Sequence
from math import isinf

from farrail.language import say
from farrail.parts.registry import Part
from farrail.planning.remedies import Remedy
from farrail.planning.ring_cost import RingCost
from farrail.planning.ring_words import price_words, purchases, sizes_name
from farrail.planning.rings import RingPlan
from farrail.planning.turning import Turning
from farrail.quantities import between, typed_text
from farrail.readouts.front.messages import darkens
from farrail.readouts.front.model import Front
from farrail.readouts.front.sheets import SheetInSlot, sheet_need
from farrail.readouts.interval_words import reason_words
from farrail.readouts.limits import CLEAN_STOPS
from farrail.readouts.names import loss_name
from farrail.readouts.range_findings import RangeReport
from farrail.ui.widgets.ledger_rows import Cell, Row
from farrail.ui.widgets.row_keys import Nth, SheetKey, TermKey

DEPTHS_MM = (10.0, 20.0, 30.0, 40.0)


def sentences(front: Front, ranges: RangeReport, *, with_band: bool = True) -> tuple[str, str]:
    """Return the headline and the detail, with intervals; the band costs two more sweeps, too many under a hand."""
    if front.layout.reversed:
        return say("The lens is reversed."), say("Filters on its mount side are not judged; see Close-up.")
    if front.lens is None:
        return say("Filters in front need a camera lens as the optic."), say("Choose a camera lens as the optic.")
    if front.layout.camera is None:
        return say("Vignetting not judged: no camera."), say("Add a camera to this train.")
    if not front.layout.front:
        return say("No filters in front of the lens."), say(
            "Select the joint at its front; add an adapter ring, then a holder."
        )
    where = f"{_clean_from(front, ranges, with_band=with_band)} {_stack_words(front)}"
    limiting, stops = front.limiting, front.corner_stops
    spread = ranges.spread_of("front.corner_loss_stops")
    if spread is not None and spread.high > CLEAN_STOPS and spread.high - spread.low >= 0.05:
        between = say("{low:.2f} to {high}", low=spread.low, high=loss_name(spread.high))
        reason = reason_words(spread, ranges.shelf)
        return say(
            "Corners at {focal_mm:g} mm: {between}. Depends on: {reason}.",
            focal_mm=front.focal_mm,
            between=between,
            reason=reason,
        ), where
    if limiting is None or stops <= CLEAN_STOPS:
        return say("The front stack is free of vignetting at {focal_mm:g} mm.", focal_mm=front.focal_mm), where
    return darkens(limiting.part.name, front.focal_mm, stops), where


def _clean_from(front: Front, ranges: RangeReport, *, with_band: bool) -> str:
    """Return from which focal length on the stack is free of vignetting, with its interval."""
    first, band = front.now.first_clean_mm, front.band if with_band else None
    spread = ranges.spread_of("front.first_clean_mm")
    finite = [end for end in (*(band or ()), first) if end is not None]
    never = (band is not None and None in band) or (spread is not None and spread.or_never)
    if spread is not None and not isinf(spread.low):
        finite += [spread.low, spread.high]
    if not finite:
        return say("It vignettes over its whole range.")
    low, high = min(finite), max(finite)
    if first is None:
        return say("Free of vignetting from {low:.1f} mm at best, or never.", low=low)
    if never:
        return say("Free of vignetting from {first:.1f} mm on ({low:.1f} mm, or never).", first=first, low=low)
    if high - low < 0.05:
        return say("Free of vignetting from {first:.1f} mm on.", first=first)
    return say(
        "Free of vignetting from {first:.1f} mm on ({low:.1f} to {high:.1f} mm).", first=first, low=low, high=high
    )


def _stack_words(front: Front) -> str:
    """Return how deep the stack is, and how far to step back for the same framing without vignetting."""
    depth = say("Stack depth {depth_mm:.1f mm}.", depth_mm=front.depth_mm)
    first = front.now.first_clean_mm
    if first is None or first <= front.focal_mm + 0.05:
        return depth
    back = say("There, {factor:.2f}× the distance gives the same framing.", factor=first / front.focal_mm)
    return f"{depth} {back}"


def _focal(value: float | None) -> str:
    return say("nowhere") if value is None else say("{value:.1f}", value=value)


def _from(value: float | None) -> str:
    return say("nowhere") if value is None else say("{value:.1f} mm", value=value)


def _stops(value: float) -> str:
    return say("dark") if value == float("inf") else say("{value:.2f}", value=value)


def remedy_row(remedy: Remedy, number: int) -> Row:
    """Return a remedy's row."""
    words = _with_price(remedy)
    role = "good" if remedy.helps else "steel"
    cells = (
        Cell(
            words,
            "" if remedy.helps else "steel",
            tip=words if remedy.helps else say("{words}: no gain", words=words),
        ),
        Cell(_from_between(remedy), role, strong=remedy.helps),
        # Green only where the corners are free now: dark is not good.
        Cell(_stops(remedy.corner_stops), "good" if remedy.corner_stops <= CLEAN_STOPS else "steel"),
        Cell(say("{depth_mm:.1f length}", depth_mm=remedy.depth_mm), "steel"),
    )
    return Row(cells, Nth(number))


def _from_between(remedy: Remedy) -> str:
    """Return from which focal length (mm) a fix is clean: an interval while the entrance pupil is not known."""
    if remedy.open_band is None:
        return _focal(remedy.first_clean_mm)
    low, high = remedy.open_band
    if high is None:
        return say("{low:.1f} to never", low=low)
    return between(_focal(low), _focal(high))


def _with_price(remedy: Remedy) -> str:
    """Return what a fix is, what it gives up, and what must be paid for it."""
    words, loses = f"{remedy.words[0].upper()}{remedy.words[1:]}", remedy.change.loses
    if loses:
        words = say("{words} – gives up {loses}", words=words, loses=loses)
    return words if remedy.cost is None else say("{words}, price {cost:g}", words=words, cost=remedy.cost)


def sheet_rows(front: Front, sheets: tuple[SheetInSlot, ...]) -> list[Row]:
    """Return a row for each sheet, and how large a sheet this lens needs at all."""
    rows = []
    for item in sheets:
        wide, high, free = item.needed_mm
        if item.line is None:
            line, soft = "–", ""
        else:
            place = say("above") if item.line > 0 else say("below")
            line = (
                say("in the middle")
                if abs(item.line) < 0.02
                else say("{line:.0f} % {place}", line=abs(50 * item.line), place=place)
            )
            soft = say(", {value:.0f} % soft", value=100 * (item.blur or 0.0))
        cells = (
            Cell(
                f"{item.slot + 1}  {item.sheet.name}",
                tip=say("{ahead_mm:.1f mm} ahead of the entrance pupil", ahead_mm=item.ahead_mm),
            ),
            Cell(
                say("{shift_mm:g length}", shift_mm=item.shift_mm),
                edit=typed_text(item.shift_mm),
                tip=say("shift upward"),
            ),
            Cell(f"{line}{soft}", "steel", tip=say("where its line falls in the picture, and how soft it looks")),
            Cell(
                say("{wide:.0f length} × {high:.0f length}", wide=wide, high=high),
                "stop" if item.uncovered else "",
                tip=say("{free:.1f mm} to turn freely", free=free),
            ),
        )
        rows.append(Row(cells, SheetKey(item.placed.index, item.slot)))
    camera = front.layout.camera
    if camera is not None and front.lens is not None:
        heading = Cell(say("Filter size needed at a given depth"), strong=True)
        rows.append(
            Row(
                (heading, Cell(""), Cell(say("to turn freely"), "steel"), Cell(say("w × h"), "steel")),
                None,
                heavy=True,
            )
        )
        depth = (
            front.images[0].distance_mm - (front.layout.front_seat_mm - front.placed[0].z_mm) if front.placed else 0.0
        )
        for ahead in DEPTHS_MM:
            need = sheet_need(front, max(depth, 0.0) + ahead)
            wide, high, free = need.sizes_mm
            cells = (
                Cell(say("{ahead:g mm} ahead of the seat", ahead=ahead)), Cell(""),
                Cell(say("{free:.0f length}", free=free) if need.corners else say("none reaches the corners"), "steel"),
                Cell(say("{wide:.0f length} × {high:.0f length}", wide=wide, high=high) if need.sides else say("none")),
            )  # fmt: skip
            rows.append(Row(cells, TermKey(f"ahead-{ahead:g}")))
    return rows


def ring_row(plan: RingPlan, costs: Sequence[RingCost], number: int, shelf: Mapping[str, Part]) -> Row:
    """Return a ring plan's row; `costs` with the worst lens first, `shelf` for the lenses' names."""
    buy = purchases(plan)
    chains = "\n".join(
        f"{shelf[lens].name if lens in shelf else lens}: {' + '.join(r.name for r in rings) or say('no ring')}"
        for lens, rings in plan.chains
    )
    lost = "\n".join(
        say(
            "{name} at {focal_mm:g} mm, f/{f_number:g}: {loss_name}, no vignetting from {focal}",
            name=c.name,
            focal_mm=c.focal_mm,
            f_number=c.f_number,
            loss_name=loss_name(c.stops),
            focal=_from(c.first_clean_mm),
        )
        for c in costs
    )
    worst = _stops(costs[0].stops) if costs else "–"
    clean = bool(costs) and costs[0].stops <= CLEAN_STOPS
    told = say("Behind its rings and one filter of its main size, darkest corner:\n{lost}", lost=lost) if costs else ""
    cells = (
        Cell(sizes_name(plan), strong=number == 0, tip=chains),
        Cell(", ".join(buy) or say("nothing to buy"), "" if buy else "good", tip=f"{', '.join(buy)}\n{chains}"),
        Cell(price_words(plan), "steel"),
        Cell(f"{plan.rings}", "steel"),
        Cell(worst, "good" if clean else "", tip=told or say("No camera you own fits inside a lens's image circle.")),
        Cell(
            say("widest") if clean else _from(costs[0].first_clean_mm) if costs else "–",
            "good" if clean else "",
            tip=told,
        ),
    )
    return Row(cells, Nth(number))


def turning_words(turning: Turning | None) -> str:
    """Return what turning the holder does, in a sentence."""
    if turning is None:
        return ""
    if max(turning.stops) <= 0.1:
        return say("Turns freely: free of vignetting at every angle.")
    if min(turning.stops) == float("inf"):
        return say("Turned, it is dark at every angle.")
    clean = ", ".join(
        say("{a:.0f}°", a=a) if a == b else say("{a:.0f}° to {b:.0f}°", a=a, b=b) for a, b in turning.clean_deg
    ) or say("at no angle")
    return say(
        "Rotated, it is worst at {worst_deg:.0f}°; free of vignetting {clean}.",
        worst_deg=turning.worst_deg,
        clean=clean,
    )
