"""The front stack's figures with what their working needs."""

from collections.abc import Iterator
from math import hypot

from farrail.readouts.figure import Figure
from farrail.readouts.front.model import Front
from farrail.readouts.front.polarised_sky import polarised_sky_figures
from farrail.readouts.front.sheets import sheets_in
from farrail.readouts.limits import CLEAN_STOPS, VISIBLE_STOPS


def front_figures(front: Front) -> Iterator[Figure]:
    """Yield the figures of a front stack; none where nothing stands ahead of a lens."""
    if not front.judged:
        return
    layout, now, focal = front.layout, front.now, front.focal_mm
    values = {
        "focal_mm": focal, "f_number": layout.first_order.f_number.value,
        "depth_mm": layout.first_order.entrance_pupil.value, "apertures": len(front.placed), **_drawn(front),
    }  # fmt: skip
    yield Figure("front.corner_loss_stops", front.corner_stops, front.origin, values)
    yield _clean("front.first_clean_mm", now.first_clean_mm, CLEAN_STOPS, front)
    yield _clean("front.visible_mm", now.visible_mm, VISIBLE_STOPS, front)
    lengths = tuple(p.length.value for p in layout.front)
    yield Figure("front.depth_mm", front.depth_mm, front.origin, {"lengths_mm": lengths})
    limiting = front.limiting
    name = None if limiting is None else limiting.part.name
    yield Figure("front.limiting_part", name, front.origin, {"aperture": limiting})
    heights = front.heights_of(limiting) if limiting is not None else None
    if heights is not None:
        for kind, height in zip(("front.onset_mm", "front.half_mm", "front.dark_mm"), heights, strict=True):
            yield Figure(kind, height, front.origin)
    if now.first_clean_mm is not None and now.first_clean_mm > focal:
        yield Figure(
            "front.step_back", now.first_clean_mm / focal, front.origin,
            {"first_clean_mm": now.first_clean_mm, "focal_mm": focal},
        )  # fmt: skip
    for item in sheets_in(front):
        yield Figure(
            "front.sheet.*_mm", item.needed_mm, front.origin,
            {"slot": item.slot, "ahead_mm": item.ahead_mm, "focal_mm": focal},
            which=f"{item.placed.index}.{item.slot + 1}",
        )  # fmt: skip
    yield from polarised_sky_figures(front)


def _drawn(front: Front) -> dict[str, object]:
    """Return what the geometry of the corner is drawn from, where an opening shows in it."""
    limiting = front.limiting
    if limiting is None:
        return {}
    corner = max(hypot(*at) for at in front.corners)
    return {"image": front.images[front.placed.index(limiting)], "pupil": front.pupil, "corner_mm": corner}


def _clean(kind: str, value: float | None, limit: float, front: Front) -> Figure:
    low, high = front.range_mm
    band = front.band if kind == "front.first_clean_mm" else None
    ends: tuple[float | None, float | None] = (None, None)
    never = band is not None and None in band and band != (None, None)
    if band is not None and band[0] is not None:
        most = [end for end in (*band, value) if end is not None]
        ends = (min(most), max(most))
    lost = front.loss_at(high if value is None else value)
    values = {"limit_stops": limit, "low_mm": low, "high_mm": high, "lost_stops": lost, **_drawn(front)}
    return Figure(kind, value, front.origin, values, *ends, or_never=never)
