"""What the Front station says: sentences and rows."""

from collections.abc import Mapping, Sequence

from farrail.parts.registry import Part
from farrail.planning.remedies import Remedy, Turning
from farrail.planning.ring_cost import RingCost
from farrail.planning.rings import RingPlan
from farrail.readouts.front.model import CLEAN_STOPS, Front
from farrail.readouts.front.sheets import SheetInSlot, sheet_need
from farrail.text.names import loss_name
from farrail.ui.widgets.ledger_rows import Cell, Row
from farrail.ui.widgets.row_keys import Nth, SheetKey, TermKey

DEPTHS_MM = (10.0, 20.0, 30.0, 40.0)


def sentences(front: Front, *, with_band: bool = True) -> tuple[str, str]:
    """Return the headline and what stands under it; the band costs two more sweeps, too many under a moving hand."""
    if front.layout.reversed:
        return "The lens is turned round.", "What stands ahead of it is not judged; see the Close-up station."
    if front.lens is None:
        return "No lens to stand a front stack on.", "Choose a camera lens as the train's optic."
    if front.layout.camera is None:
        return "No sensor to judge by.", "Lay a camera at the end of the train."
    if not front.layout.front:
        return "Nothing stands ahead of the lens.", "Pick the joint at its front and lay a ring, then a holder."
    now, limiting = front.now, front.limiting
    where = (
        "It vignettes over its whole range."
        if now.first_clean_mm is None
        else f"Free of vignetting from {now.first_clean_mm:.1f} mm on"
    )
    if now.first_clean_mm is not None:
        band = front.band if with_band else None
        spread = "" if band is None or None in band or band[0] == band[1] else (
            f" ({min(band):.1f} to {max(band):.1f}, the pupil not known exactly)"  # type: ignore[type-var]
        )  # fmt: skip
        where += f"{spread}; {front.depth_mm:.1f} mm deep."
    if now.first_clean_mm is not None and now.first_clean_mm > front.focal_mm + 0.05:
        factor = now.first_clean_mm / front.focal_mm
        where += f" There, stand {factor:.2f}× as far away for the same framing."
    if limiting is None or front.corner_stops <= 0.1:
        return f"The front stack is free of vignetting at {front.focal_mm:g} mm.", where
    return f"{limiting.part.name} vignettes at {front.focal_mm:g} mm: corners {loss_name(front.corner_stops)}.", where


def _focal(value: float | None) -> str:
    return "nowhere" if value is None else f"{value:.1f}"


def _stops(value: float) -> str:
    return "dark" if value == float("inf") else f"{value:.2f}"


def remedy_row(remedy: Remedy, number: int) -> Row:
    """Return a remedy's row."""
    words = f"{remedy.words[0].upper()}{remedy.words[1:]}"
    role = "good" if remedy.helps else "steel"
    cells = (
        Cell(words, "" if remedy.helps else "steel", tip=words if remedy.helps else f"{words}: gains nothing"),
        Cell(_focal(remedy.first_clean_mm), role, strong=remedy.helps),
        Cell(_stops(remedy.corner_stops), role),
        Cell(f"{remedy.depth_mm:.1f}", "steel"),
    )
    return Row(cells, Nth(number))


def sheet_rows(front: Front, sheets: tuple[SheetInSlot, ...]) -> list[Row]:
    """Return a row for each sheet, and how large a sheet this lens needs at all."""
    rows = []
    for item in sheets:
        wide, high, free = item.needed_mm
        if item.line is None:
            line, soft = "–", ""
        else:
            place = "above" if item.line > 0 else "below"
            line = "in the middle" if abs(item.line) < 0.02 else f"{abs(50 * item.line):.0f} % {place}"
            soft = f", {100 * (item.blur or 0.0):.0f} % soft"
        cells = (
            Cell(f"{item.slot + 1}  {item.sheet.name}", tip=f"{item.ahead_mm:.1f} mm ahead of the entrance pupil"),
            Cell(f"{item.shift_mm:g}", edit=f"{item.shift_mm:g}", tip="how far it is slid up, mm"),
            Cell(f"{line}{soft}", "steel", tip="where its line falls in the picture, and how soft it looks"),
            Cell(f"{wide:.0f} × {high:.0f}", "stop" if item.uncovered else "", tip=f"{free:.1f} mm to turn freely"),
        )
        rows.append(Row(cells, SheetKey(item.placed.index, item.slot)))
    camera = front.layout.camera
    if camera is not None and front.lens is not None:
        heading = Cell("How large at all", strong=True)
        rows.append(
            Row((heading, Cell(""), Cell("to turn freely", "steel"), Cell("wide × high", "steel")), None, heavy=True)
        )
        depth = (
            front.images[0].distance_mm - (front.layout.front_seat_mm - front.placed[0].z_mm) if front.placed else 0.0
        )
        for ahead in DEPTHS_MM:
            need = sheet_need(front, max(depth, 0.0) + ahead)
            wide, high, free = need.sizes_mm
            cells = (
                Cell(f"{ahead:g} mm ahead of the seat"), Cell(""),
                Cell(f"{free:.0f}" if need.corners else "none reaches the corners", "steel"),
                Cell(f"{wide:.0f} × {high:.0f}" if need.sides else "none"),
            )  # fmt: skip
            rows.append(Row(cells, TermKey(f"{ahead:g} mm ahead")))
    return rows


def ring_row(plan: RingPlan, costs: Sequence[RingCost], number: int, shelf: Mapping[str, Part]) -> Row:
    """Return a ring plan's row; `costs` with the worst lens first, `shelf` for the lenses' names."""
    buy = [f"{count} × {name}" if count > 1 else name for name, count in plan.buy] + [f"kit {kit}" for kit in plan.kits]
    chains = "\n".join(
        f"{shelf[lens].name if lens in shelf else lens}: {' + '.join(r.name for r in rings) or 'no ring'}"
        for lens, rings in plan.chains
    )
    lost = "\n".join(
        f"{c.name} at {c.focal_mm:g} mm, f/{c.f_number:g}: {loss_name(c.stops)}, clean from {_focal(c.first_clean_mm)}"
        for c in costs
    )
    worst = _stops(costs[0].stops) if costs else "–"
    clean = bool(costs) and costs[0].stops <= CLEAN_STOPS
    told = f"Behind its rings and one filter of its main size, darkest corner:\n{lost}" if costs else ""
    cells = (
        Cell(sizes_name(plan), strong=number == 0, tip=chains),
        Cell(", ".join(buy) or "nothing to buy", "" if buy else "good", tip=f"{', '.join(buy)}\n{chains}"),
        Cell(f"{plan.price:g}", "steel"),
        Cell(f"{plan.rings}", "steel"),
        Cell(worst, "good" if clean else "", tip=told or "No frame at hand inside a lens's image circle."),
        Cell(
            "widest" if clean else _focal(costs[0].first_clean_mm) if costs else "–", "good" if clean else "", tip=told
        ),
    )
    return Row(cells, Nth(number))


def sizes_name(plan: RingPlan) -> str:
    """Return a ring plan's main sizes."""
    return f"{' + '.join(f'{size:g}' for size in plan.sizes)} mm"


def split_words(split: RingPlan | None, best: RingPlan) -> str:
    """Return what keeping two main sizes would cost, "" where there are no two."""
    if split is None:
        return ""
    less = "cheaper" if split.price < best.price else "no cheaper"
    rings = f"{split.price:g} for {split.rings} rings, {less}"
    return f" Two sizes kept, {sizes_name(split)}: {rings}, and two sets of filters."


def cost_words(costs: Sequence[RingCost]) -> str:
    """Return what a plan's rings cost the lens that suffers most, "" where nothing is known."""
    if not costs:
        return ""
    worst = costs[0]
    if worst.stops <= CLEAN_STOPS:
        return " Behind its rings and a filter every lens is free of vignetting at its widest."
    turn = "turn dark" if worst.stops == float("inf") else f"lose {worst.stops:.2f} stops"
    clean = "" if worst.first_clean_mm is None else f"; free of vignetting from {worst.first_clean_mm:.1f} mm"
    return f" The corners of {worst.name} {turn} at {worst.focal_mm:g} mm{clean}."


def turning_words(turning: Turning | None) -> str:
    """Return what turning the holder does, in a sentence."""
    if turning is None:
        return ""
    if max(turning.stops) <= 0.1:
        return "Turns freely: free of vignetting at every angle."
    if min(turning.stops) == float("inf"):
        return "Turned, it is dark at every angle."
    clean = ", ".join(f"{a:.0f}°" if a == b else f"{a:.0f}° to {b:.0f}°" for a, b in turning.clean_deg) or "at no angle"
    return f"Turned, it is worst at {turning.worst_deg:.0f}°; free of vignetting {clean}."
