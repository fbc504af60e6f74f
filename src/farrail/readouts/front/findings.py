"""Findings about the front stack: what shows, slots, sheets, polarisers; rules of thumb where numbers are assumed."""

from collections.abc import Iterator

from farrail.parts.kinds.ahead import CouplingRing, FilterHolder, HolderRing
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.closer import CloseUpLens, ReversingRing
from farrail.parts.kinds.filters import Gradation, RoundFilter, SheetFilter
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.tubes import Adapter
from farrail.parts.provenance import Origin
from farrail.readouts.finding import Finding, Severity
from farrail.readouts.front.figures import loss_words
from farrail.readouts.front.model import CLEAN_STOPS, VISIBLE_STOPS, Front
from farrail.readouts.front.sheets import sheets_in
from farrail.readouts.names import aperture_name

# Rules of thumb on a 43 mm diagonal (common practice, no source); scaled with the frame's own.
WIDE_MM, PROTECTION_MM, NORMAL_MM, RULE_DIAGONAL_MM = 35.0, 20.0, 43.0, 43.27
# A sheet this much thicker than its slot does not go in.
PLAY_MM = 0.05
# What brings a lens closer, and what carries it.
CLOSE_UP = (CloseUpLens, ReversingRing, Adapter)
DENSE = 1.5


def front_findings(front: Front) -> Iterator[Finding]:
    """Yield the findings about a front stack."""
    lens, camera = front.lens, front.layout.camera
    if lens is None:
        if front.layout.front and not front.layout.reversed:
            yield Finding(
                "front.no_lens",
                Severity.LOOK,
                "A front stack stands ahead of a telescope.",
                "Its pupil is the objective itself: what is ahead of it is not judged here.",
                front.layout.front[0].part.id,
            )
        return
    yield from _focal(front, lens)
    if lens.front is None and front.layout.front:
        yield Finding(
            "front.nothing_holds",
            Severity.STOP,
            f"{lens.name} has no filter thread to hold {front.layout.front[0].part.name}.",
            "Give its front connection in Parts, or use a slip-on holder made for it.",
            lens.id,
        )
    if camera is None or not front.layout.front:
        return
    if front.corner_stops <= CLEAN_STOPS and all(isinstance(p.part, CLOSE_UP) for p in front.layout.front):
        # Close-up lenses in the clear: from which focal length on they would be is not the question.
        return
    yield from _shows(front)
    yield from _thumb(front, camera)
    yield from _holders(front)
    yield from _sheets(front)
    yield from _polarisers(front)


def _focal(front: Front, lens: CameraLens) -> Iterator[Finding]:
    low, high = front.range_mm
    wanted = front.layout.train.conditions.focal_mm
    if wanted is not None and lens.longest_focal_mm is not None and not low - 1e-9 <= wanted <= high + 1e-9:
        yield Finding(
            "front.focal_outside",
            Severity.STOP,
            f"{lens.name} cannot be set to {wanted:g} mm.",
            f"It reaches from {low:g} to {high:g} mm; set a focal length between.",
            lens.id,
        )
    if front.layout.camera is not None and front.field_angle_deg >= 89.0:
        yield Finding(
            "front.field_too_wide",
            Severity.LOOK,
            f"The corner looks {front.field_angle_deg:.0f}° to the side, beyond anything flat ahead of the lens.",
            "Any holder shows; crop, or judge by the part of the frame within 89°.",
            lens.id,
        )


def _shows(front: Front) -> Iterator[Finding]:
    stops, limiting, now = front.corner_stops, front.limiting, front.now
    where = "nowhere in its range" if now.first_clean_mm is None else f"from {now.first_clean_mm:.1f} mm on"
    if stops > CLEAN_STOPS and limiting is not None:
        severity = Severity.STOP if stops > VISIBLE_STOPS else Severity.LOOK
        yield Finding(
            "front.shows",
            severity,
            f"{limiting.part.name} shows in the corners at {front.focal_mm:g} mm: {loss_words(stops)}.",
            f"Its {aperture_name(limiting)} takes most. The stack is clean {where}.",
            limiting.part.id,
            figure="front.corner_loss_stops",
        )
    elif front.placed:
        yield Finding(
            "front.clean",
            Severity.NOTE,
            f"The front stack is clean at {front.focal_mm:g} mm.",
            f"It is clean {where}.",
            front.layout.front[-1].part.id,
            figure="front.first_clean_mm",
        )
    if front.pupil_origin is Origin.ASSUMED and front.band is not None and front.band != (None, None):
        low, high = front.band
        words = "whatever it is" if low == high else f"{_mm(low)} to {_mm(high)}"
        yield Finding(
            "front.pupil_assumed",
            Severity.NOTE,
            f"The entrance pupil is assumed: first clean focal length {words}.",
            "Turn the camera about a point under the lens until near and far things stop moving against each "
            "other: there it is. Or note at which focal length a known holder first shows.",
            front.layout.optic.id,
            figure="front.first_clean_mm",
        )


def _mm(value: float | None) -> str:
    return "none" if value is None else f"{value:.1f} mm"


def _thumb(front: Front, camera: Camera) -> Iterator[Finding]:
    """Rules of thumb speak only where the numbers rest on assumptions: a computed result outranks them."""
    scale = camera.diagonal_mm / RULE_DIAGONAL_MM
    focal, assumed = front.focal_mm, front.origin is Origin.ASSUMED
    rings = [p for p in front.layout.front if isinstance(p.part, (HolderRing, Adapter))]
    standard = [p for p in rings if isinstance(p.part, HolderRing) and p.length.value >= 0.0]
    if assumed and standard and focal <= WIDE_MM * scale:
        yield Finding(
            "front.standard_ring_on_wide",
            Severity.NOTE,
            f"{standard[0].part.name} is a standard ring on a wide lens.",
            f"At {WIDE_MM * scale:.0f} mm or less on this frame a recessed ring is usual; dimensions here are assumed.",
            standard[0].part.id,
        )
    first = front.layout.front[0]
    if isinstance(first.part, RoundFilter) and not first.part.polariser and len(front.layout.front) > 1:
        severity = (
            Severity.LOOK if focal < PROTECTION_MM * scale and (assumed or front.corner_stops > CLEAN_STOPS) else None
        )
        if severity is not None:
            yield Finding(
                "front.protection_filter",
                severity,
                f"{first.part.name} stays on the lens below {PROTECTION_MM * scale:.0f} mm.",
                f"It sets the holder {first.length.value:.1f} mm further out: take it off first.",
                first.part.id,
            )
    coupled = [p for p in front.layout.front if isinstance(p.part, CouplingRing)]
    if coupled and focal < NORMAL_MM * scale - 1e-9:
        yield Finding(
            "front.coupled_on_wide",
            Severity.LOOK,
            "Two coupled holders turn on their own on a lens wider than normal.",
            f"They stand deep: from about {NORMAL_MM * scale:.0f} mm on this frame they usually stay out of it.",
            coupled[0].part.id,
        )


def _holders(front: Front) -> Iterator[Finding]:
    for placed in front.layout.front:
        holder = placed.part
        if not isinstance(holder, FilterHolder):
            continue
        used = sum(f is not None for f in placed.laid.filters)
        free = holder.slots - used
        yield Finding(
            f"front.slots:{placed.index}",
            Severity.NOTE,
            f"{holder.name} has {'no slot' if free <= 0 else 'one slot' if free == 1 else f'{free} slots'} left.",
            "A further sheet needs another stage."
            if free <= 0
            else "Unused slots cost depth: a stage less is slimmer.",
            holder.id,
        )
        dropped = front.layout.parts.get(placed.laid.drop_in or "")
        if isinstance(dropped, RoundFilter) and (
            holder.drop_in_mm is None or dropped.outer_diameter_mm > holder.drop_in_mm.value + PLAY_MM
        ):
            takes = "none" if holder.drop_in_mm is None else f"{holder.drop_in_mm.value:.1f} mm"
            yield Finding(
                f"front.drop_in:{placed.index}",
                Severity.STOP,
                f"{dropped.name} does not drop into {holder.name}.",
                f"It is {dropped.outer_diameter_mm:.1f} mm wide and the holder takes {takes}.",
                dropped.id,
            )


def _sheets(front: Front) -> Iterator[Finding]:
    for item in sheets_in(front):
        sheet, holder, slot = item.sheet, item.placed.part, item.slot + 1
        assert isinstance(holder, FilterHolder)
        thick = sheet.glass.drawn_thickness_mm
        if thick > holder.slot_thickness_mm.value + PLAY_MM:
            yield Finding(
                f"front.thick_sheet:{item.placed.index}.{slot}",
                Severity.STOP,
                f"{sheet.name} is too thick for slot {slot}.",
                f"It measures {thick:.1f} mm and the slot takes {holder.slot_thickness_mm.value:.1f} mm; a thick-slot "
                "spacer makes one that does.",
                sheet.id,
            )
        wide, takes = sheet.width_mm.value, holder.sheet_width_mm.value
        if abs(wide - takes) > 0.5:
            word = "wider" if wide > takes else "narrower"
            yield Finding(
                f"front.sheet_width:{item.placed.index}.{slot}",
                Severity.STOP,
                f"{sheet.name} is {word} than {holder.name} takes.",
                f"{wide:.0f} mm against {takes:.0f} mm.",
                sheet.id,
            )
        if sheet.gasket and (slot != 1 or item.placed.index != _first_holder(front)):
            yield Finding(
                f"front.gasket:{item.placed.index}.{slot}",
                Severity.LOOK,
                f"{sheet.name} belongs in the rearmost slot.",
                "Its gasket seals against the plate behind it; further out stray light comes in from behind.",
                sheet.id,
            )
        if item.uncovered:
            yield Finding(
                f"front.sheet_edge:{item.placed.index}.{slot}",
                Severity.LOOK,
                f"The edge of {sheet.name} shows in the picture.",
                f"The frame needs {item.needed_mm[0]:.0f} × {item.needed_mm[1]:.0f} mm there and the sheet is "
                f"{wide:.0f} × {sheet.height_mm.value:.0f} mm, slid by {item.shift_mm:g} mm.",
                sheet.id,
            )
    dense = _dense(front)
    if dense is not None:
        yield Finding(
            "front.sun",
            Severity.NOTE,
            f"{dense} is no solar filter.",
            "Never point a lens or your eye at the Sun through neutral density or polarising filters; use a certified "
            "solar filter over the whole front.",
        )


def _dense(front: Front) -> str | None:
    for item in sheets_in(front):
        if item.sheet.density is not None and item.sheet.density.value >= DENSE:
            return item.sheet.name
    for placed in front.layout.front:
        inside = front.layout.parts.get(placed.laid.drop_in or "")
        for part in (placed.part, inside):
            if isinstance(part, RoundFilter) and part.density is not None and part.density.value >= DENSE:
                return part.name
    return None


def _first_holder(front: Front) -> int:
    return next((p.index for p in front.layout.front if isinstance(p.part, FilterHolder)), -1)


def _polarisers(front: Front) -> Iterator[Finding]:
    sheets = sheets_in(front)
    square = [s for s in sheets if s.sheet.polariser]
    grads = [s for s in sheets if s.sheet.gradation is not Gradation.NONE]
    for polariser in square:
        behind = [g for g in grads if (g.placed.index, g.slot) > (polariser.placed.index, polariser.slot)]
        if grads:
            extra = "" if behind == grads else " Put the graduated filter outermost, ahead of the polariser."
            yield Finding(
                "front.square_polariser_with_grad",
                Severity.LOOK,
                f"{polariser.sheet.name} turns with the holder: the graduated filter leaves it 0° and 90° only.",
                f"A square polariser has no turn of its own.{extra} A round one turns freely.",
                polariser.sheet.id,
            )
    found = _where_polarisers_are(front)
    if found:
        name, place = found[0]
        turns = "turns freely" if place != "in a slot" else "turns with the holder"
        yield Finding(
            "front.polariser_place",
            Severity.NOTE,
            f"{name} stands {place} and {turns}.",
            f"The stack is {front.depth_mm:.1f} mm deep with it. Outermost, light meets it first; behind the sheets it "
            "costs less depth. Both are done: compare the remedies.",
        )


def _where_polarisers_are(front: Front) -> list[tuple[str, str]]:
    layout, found = front.layout, []
    for placed in layout.front:
        if isinstance(placed.part, RoundFilter) and placed.part.polariser:
            outermost = placed.index == len(layout.front) - 1 and placed.index > 0
            found.append((placed.part.name, "outermost" if outermost else "on the lens"))
        dropped = layout.parts.get(placed.laid.drop_in or "")
        if isinstance(dropped, RoundFilter) and dropped.polariser:
            found.append((dropped.name, "behind the sheets"))
        for sheet_id in placed.laid.filters if isinstance(placed.part, FilterHolder) else ():
            sheet = layout.parts.get(sheet_id or "")
            if isinstance(sheet, SheetFilter) and sheet.polariser:
                found.append((sheet.name, "in a slot"))
    return found
