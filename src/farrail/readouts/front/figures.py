"""The front stack's figures with their working."""

from collections.abc import Iterator

from farrail.readouts.figure import Figure, Working
from farrail.readouts.front.model import CLEAN_STOPS, VISIBLE_STOPS, Front
from farrail.readouts.front.sheets import SIZE_SOURCE, sheets_in
from farrail.readouts.names import aperture_name

SOURCE = "apertures projected along the corner's rays on to the entrance pupil"


def front_figures(front: Front) -> Iterator[Figure]:
    """Yield the figures of a front stack; none where nothing stands ahead of a lens."""
    if not front.judged:
        return
    layout, now, focal = front.layout, front.now, front.focal_mm
    n, depth = layout.first_order.f_number.value, layout.first_order.entrance_pupil
    yield Figure(
        "front.corner_loss_stops", "corner loss added by the front stack", front.corner_stops, "stops",
        Working("−log2 of the pupil left open, darkest corner", f"f {focal:g} mm, f/{n:.3g}, E {depth.value:.1f} mm, "
                f"{len(front.placed)} apertures: {front.corner_stops:.2f}", SOURCE), front.origin,
    )  # fmt: skip
    yield _clean("front.first_clean_mm", "first clean focal length", now.first_clean_mm, CLEAN_STOPS, front)
    yield _clean("front.visible_mm", "shortest focal length without visible loss", now.visible_mm, VISIBLE_STOPS, front)
    yield Figure(
        "front.depth_mm", "depth of the front stack", front.depth_mm, "mm",
        Working("Σ lengths ahead of the thread seat",
                " + ".join(f"{p.length.value:.1f}" for p in layout.front) + f" = {front.depth_mm:.1f} mm",
                "sum of the parts' lengths"), front.origin,
    )  # fmt: skip
    limiting = front.limiting
    name = "none" if limiting is None else f"{limiting.part.name}, {aperture_name(limiting)}"
    yield Figure(
        "front.limiting_part", "darkens the corner most", name, "",
        Working("largest loss of one aperture alone", name, SOURCE), front.origin,
    )  # fmt: skip
    heights = front.heights_of(limiting) if limiting is not None else None
    if heights is not None:
        for word, height in zip(("onset", "half", "dark"), heights, strict=True):
            yield Figure(
                f"front.{word}_mm", f"image height of its {word}", height, "mm",
                Working("(E + z)·h/f + k·f/2N = r, k 1, 0, −1", f"{word} at h {height:.3f} mm", SOURCE), front.origin,
            )  # fmt: skip
    if now.first_clean_mm is not None and now.first_clean_mm > focal:
        factor = now.first_clean_mm / focal
        yield Figure(
            "front.step_back", "stand as far away, for the same framing clean", factor, "×",
            Working("first clean focal length / focal length now", f"{now.first_clean_mm:.1f}/{focal:g} = {factor:.2f}",
                    "magnification of a far subject goes as the focal length"), front.origin,
        )  # fmt: skip
    for item in sheets_in(front):
        wide, high, free = item.needed_mm
        yield Figure(
            f"front.sheet.{item.placed.index}.{item.slot + 1}_mm", f"sheet needed in slot {item.slot + 1}",
            f"{wide:.1f} × {high:.1f} mm, {free:.1f} to turn freely", "",
            Working("2[(E + z)·d/2f + f/2N]", f"E + z {item.ahead_mm:.1f} mm, f {focal:g} mm: {wide:.1f} × {high:.1f}",
                    SIZE_SOURCE), front.origin,
        )  # fmt: skip


def _clean(key: str, label: str, value: float | None, limit: float, front: Front) -> Figure:
    low, high = front.range_mm
    words = f"loss stays at or below {limit:g} stops from there to {high:g} mm"
    band = front.band if key == "front.first_clean_mm" else None
    ends = (None, None)
    if band is not None and band[0] is not None and band[1] is not None:
        ends = (min(band), max(band))  # type: ignore[type-var, assignment]
    if value is None:
        lost = front.loss_at(high)
        told = "dark" if lost == float("inf") else f"{lost:.2f} stops"
        numbers = f"at {high:g} mm it still loses {told}"
        return Figure(key, label, "none", "", Working(words, numbers, SOURCE), front.origin)
    numbers = f"{value:.1f} mm, of {low:g} to {high:g} mm; at {value:.1f}: {front.loss_at(value):.2f} stops"
    return Figure(key, label, value, "mm", Working(words, numbers, SOURCE), front.origin, *ends)


def loss_words(stops: float) -> str:
    """Return a loss in words."""
    if stops == float("inf"):
        return "dark"
    return "clean" if stops <= CLEAN_STOPS else f"{stops:.2f} stops darker"
