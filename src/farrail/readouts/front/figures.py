"""The front stack's figures with what their working needs."""

from collections.abc import Iterator
from math import hypot

from farrail.readouts.figure import Figure
from farrail.readouts.front.figure_texts import (
    CleanFrom,
    DarkHeight,
    Drawn,
    FirstClean,
    FirstInvisible,
    FrontCornerLoss,
    FrontLimitingPart,
    HalfHeight,
    OnsetHeight,
    SheetSize,
    StackDepth,
    StepBack,
)
from farrail.readouts.front.model import Front
from farrail.readouts.front.polarised_sky import polarised_sky_figures
from farrail.readouts.front.sheets import sheets_in
from farrail.readouts.limits import CLEAN_STOPS, VISIBLE_STOPS


def front_figures(front: Front) -> Iterator[Figure]:
    """Yield the figures of a front stack; none where nothing is ahead of a lens."""
    if not front.judged:
        return
    layout, now, focal = front.layout, front.now, front.focal_mm
    loss = FrontCornerLoss(
        focal, layout.first_order.f_number.value, layout.first_order.entrance_pupil.value, len(front.placed),
        _drawn(front),
    )  # fmt: skip
    yield Figure(loss, front.corner_stops, front.origin)
    yield _clean(FirstClean, now.first_clean_mm, CLEAN_STOPS, front)
    yield _clean(FirstInvisible, now.visible_mm, VISIBLE_STOPS, front)
    lengths = tuple(p.length.value for p in layout.front)
    yield Figure(StackDepth(lengths_mm=lengths), front.depth_mm, front.origin)
    limiting = front.limiting
    name = None if limiting is None else limiting.part.name
    yield Figure(FrontLimitingPart(aperture=limiting), name, front.origin)
    heights = front.heights_of(limiting) if limiting is not None else None
    if heights is not None:
        for text, height in zip((OnsetHeight(), HalfHeight(), DarkHeight()), heights, strict=True):
            yield Figure(text, height, front.origin)
    if now.first_clean_mm is not None and now.first_clean_mm > focal:
        yield Figure(
            StepBack(first_clean_mm=now.first_clean_mm, focal_mm=focal), now.first_clean_mm / focal, front.origin,
        )  # fmt: skip
    for item in sheets_in(front):
        yield Figure(
            SheetSize(slot=item.slot, ahead_mm=item.ahead_mm, focal_mm=focal), item.needed_mm, front.origin,
            which=f"{item.placed.index}.{item.slot + 1}",
        )  # fmt: skip
    yield from polarised_sky_figures(front)


def _drawn(front: Front) -> Drawn | None:
    """Return what the geometry of the corner is drawn from, where an opening shows in it."""
    limiting = front.limiting
    if limiting is None:
        return None
    corner = max(hypot(*at) for at in front.corners)
    return Drawn(front.images[front.placed.index(limiting)], front.pupil, corner)


def _clean(text: type[CleanFrom], value: float | None, limit: float, front: Front) -> Figure:
    low, high = front.range_mm
    band = front.band if text is FirstClean else None
    ends: tuple[float | None, float | None] = (None, None)
    never = band is not None and None in band and band != (None, None)
    if band is not None and band[0] is not None:
        most = [end for end in (*band, value) if end is not None]
        ends = (min(most), max(most))
    lost = front.loss_at(high if value is None else value)
    said = text(limit, low, high, lost, _drawn(front))
    return Figure(said, value, front.origin, *ends, or_never=never)
