"""Findings about the front stack: what shows, slots, sheets, polarisers; rules of thumb where numbers are assumed."""

from collections.abc import Iterator

from farrail.parts.kinds.ahead import (
    THICKNESS_PLAY_MM,
    WIDTH_PLAY_MM,
    CouplingRing,
    FilterHolder,
    HolderRing,
)
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.closer import CloseUpLens, ReversingRing
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.tubes import Adapter
from farrail.parts.origin import Origin
from farrail.readouts.finding import Finding, FindingText, Severity
from farrail.readouts.front.holder_messages import (
    DropInTooWide,
    FreeSlots,
    GasketAway,
    NoGasket,
    NoSolarFilter,
    PolariserPlace,
    SheetEdge,
    SheetsOverlap,
    SheetTooThick,
    SheetWidth,
    SlotOutside,
    SquarePolariserWithGrad,
    TransitionOutside,
)
from farrail.readouts.front.messages import (
    CoupledOnWide,
    DarkensCorners,
    FieldTooWide,
    FocalOutside,
    FrontClean,
    NoLens,
    NothingHolds,
    OwnVignetting,
    ProtectionFilter,
    PupilAssumed,
    PupilShift,
    StandardRingOnWide,
)
from farrail.readouts.front.model import Front
from farrail.readouts.front.polarised_sky import polarised_sky_findings
from farrail.readouts.front.polariser import polarisers_in
from farrail.readouts.front.sheets import sheets_in
from farrail.readouts.limits import CLEAN_STOPS, VISIBLE_STOPS

# Rules of thumb on a 43 mm diagonal (common practice, no source); scaled with the frame's own.
WIDE_MM, PROTECTION_MM, NORMAL_MM, RULE_DIAGONAL_MM = 35.0, 20.0, 43.0, 43.27
# What brings a lens closer, and what carries it.
CLOSE_UP = (CloseUpLens, ReversingRing, Adapter)
DENSE = 1.5


# Stopped down by less than this a lens's own rim still cuts its corner's bundle; common practice, no source.
OWN_FROM_OPEN = 2.0

# A filter that takes so much makes exposures long enough for stray light to show; common practice, no source.
LONG_STOPS = 5.5


def front_findings(front: Front) -> Iterator[Finding]:
    """Yield the findings about a front stack."""
    lens, camera = front.lens, front.layout.camera
    if lens is None:
        if front.layout.front and not front.layout.reversed:
            first = front.layout.front[0]
            yield Finding(NoLens(), Severity.LOOK, place=first.place, part=first.part.id)
        return
    yield from _focal(front, lens)
    if lens.front is None and front.layout.front:
        held = front.layout.front[0].part.name
        yield Finding(NothingHolds(lens=lens.name, part=held), Severity.STOP, part=lens.id, value="front")
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
    yield from polarised_sky_findings(front)


def _focal(front: Front, lens: CameraLens) -> Iterator[Finding]:
    low, high = front.range_mm
    wanted = front.layout.train.conditions.focal_mm
    if wanted is not None and lens.longest_focal_mm is not None and not low - 1e-9 <= wanted <= high + 1e-9:
        yield Finding(
            FocalOutside(lens=lens.name, wanted_mm=wanted, low_mm=low, high_mm=high), Severity.STOP, part=lens.id
        )
    if front.layout.camera is not None and front.field_angle_deg >= 89.0:
        yield Finding(FieldTooWide(angle_deg=front.field_angle_deg), Severity.LOOK, part=lens.id)


def _shows(front: Front) -> Iterator[Finding]:
    stops, limiting, now = front.corner_stops, front.limiting, front.now
    if stops > CLEAN_STOPS and limiting is not None:
        severity = Severity.STOP if stops > VISIBLE_STOPS else Severity.LOOK
        yield Finding(
            DarkensCorners(
                aperture=limiting, focal_mm=front.focal_mm, lost_stops=stops, first_clean_mm=now.first_clean_mm
            ),
            severity,
            limiting.place,
            limiting.part.id,
            figure="front.corner_loss_stops",
        )
    elif front.placed:
        last = front.layout.front[-1]
        yield Finding(
            FrontClean(focal_mm=front.focal_mm, first_clean_mm=now.first_clean_mm),
            Severity.NOTE,
            last.place,
            last.part.id,
            figure="front.first_clean_mm",
        )
    if front.band is not None and front.band != (None, None):
        assumed = front.pupil_origin is Origin.ASSUMED
        said = PupilAssumed(front.band, front.walk_unknown) if assumed else PupilShift(front.band)
        yield Finding(
            said, Severity.NOTE, part=front.layout.optic.id, figure="front.first_clean_mm",
            value="entrance_pupil_depth_mm" if assumed else "",
        )  # fmt: skip
    lens = front.lens
    if lens is not None and front.own_glass is None and lens.corner_loss_stops is None and stops > CLEAN_STOPS / 2.0:
        opened = front.f_number / front.layout.first_order.own_f_number.value
        if opened < OWN_FROM_OPEN:
            yield Finding(
                OwnVignetting(lens=lens.name, f_number=front.f_number), Severity.NOTE, part=lens.id,
                figure="front.corner_loss_stops", value="corner_loss_stops",
            )  # fmt: skip


def _thumb(front: Front, camera: Camera) -> Iterator[Finding]:
    """Rules of thumb speak only where the numbers rest on assumptions: a computed result outranks them."""
    scale = camera.diagonal_mm / RULE_DIAGONAL_MM
    focal, assumed = front.focal_mm, front.origin is Origin.ASSUMED
    standard = [p for p in front.layout.front if isinstance(p.part, HolderRing) and p.length.value >= 0.0]
    if assumed and standard and focal <= WIDE_MM * scale + 1e-9:
        ring = standard[0]
        yield Finding(
            StandardRingOnWide(ring=ring.part.name, limit_mm=WIDE_MM * scale), Severity.NOTE, ring.place, ring.part.id
        )
    first = front.layout.front[0]
    protects = isinstance(first.part, RoundFilter) and not first.part.polariser and len(front.layout.front) > 1
    if protects and focal <= PROTECTION_MM * scale + 1e-9 and (assumed or front.corner_stops > CLEAN_STOPS):
        yield Finding(
            ProtectionFilter(filter=first.part.name, limit_mm=PROTECTION_MM * scale, length_mm=first.length.value),
            Severity.LOOK,
            first.place,
            first.part.id,
        )
    coupled = [p for p in front.layout.front if isinstance(p.part, CouplingRing)]
    if coupled and focal < NORMAL_MM * scale - 1e-9:
        yield Finding(
            CoupledOnWide(limit_mm=NORMAL_MM * scale), Severity.LOOK, coupled[0].place,
            coupled[0].part.id,
        )  # fmt: skip


def _holders(front: Front) -> Iterator[Finding]:
    for placed in front.layout.front:
        holder = placed.part
        if not isinstance(holder, FilterHolder):
            continue
        free = holder.slots - sum(f is not None for f in placed.laid.filters)
        yield Finding(
            FreeSlots(holder=holder.name, free=free), Severity.NOTE, placed.place, holder.id,
            which=f"{placed.index}",
        )  # fmt: skip
        dropped = front.layout.parts.get(placed.laid.drop_in or "")
        if isinstance(dropped, RoundFilter) and (
            holder.drop_in_mm is None or dropped.cell_mm > holder.drop_in_mm.value + THICKNESS_PLAY_MM
        ):
            accepts = None if holder.drop_in_mm is None else holder.drop_in_mm.value
            yield Finding(
                DropInTooWide(filter=dropped.name, holder=holder.name, wide_mm=dropped.cell_mm, accepts_mm=accepts),
                Severity.STOP,
                placed.place,
                dropped.id,
                which=f"{placed.index}",
            )


def _sheets(front: Front) -> Iterator[Finding]:
    for item in sheets_in(front):
        sheet, holder, slot = item.sheet, item.placed.part, item.slot + 1
        assert isinstance(holder, FilterHolder)
        thick_mm, slot_mm = sheet.glass.drawn_thickness_mm, holder.slot_thick_mm(item.slot)
        accepts_mm = holder.sheet_width_mm.value
        found: list[tuple[FindingText, Severity]] = []
        if thick_mm > slot_mm + THICKNESS_PLAY_MM:
            found.append((SheetTooThick(sheet.name, slot, thick_mm, slot_mm), Severity.STOP))
        if abs(sheet.slides_mm - accepts_mm) > WIDTH_PLAY_MM:
            found.append((SheetWidth(sheet.name, holder.name, sheet.slides_mm, accepts_mm), Severity.STOP))
        if sheet.gasket and (slot != 1 or not holder.baffle or item.placed.index != _first_holder(front)):
            found.append((GasketAway(sheet.name, holder.name, holder.baffle), Severity.LOOK))
        loss = sheet.light_loss()
        if not sheet.gasket and not sheet.graded and loss is not None and (loss.stops or 0.0) >= LONG_STOPS:
            found.append((NoGasket(sheet.name, loss.stops or 0.0), Severity.LOOK))
        if item.uncovered:
            edge = SheetEdge(
                sheet.name, item.needed_mm[:2], item.need.corners, sheet.slides_mm, sheet.height_mm.value, item.shift_mm
            )
            found.append((edge, Severity.LOOK))
        if item.line is not None and abs(item.line) > 1.0:
            found.append((TransitionOutside(sheet.name, item.line > 0.0, item.slide_mm), Severity.LOOK))
        for said, severity in found:
            yield Finding(said, severity, item.place, sheet.id, which=f"{item.placed.index}.{slot}")
    yield from _slots_apart(front)
    dense = _dense(front)
    if dense is not None:
        yield Finding(NoSolarFilter(filter=dense), Severity.NOTE)


def _slots_apart(front: Front) -> Iterator[Finding]:
    """Yield sheets that would overlap in their slots, and slots that are outside their holder's body."""
    for placed in front.layout.front:
        holder = placed.part
        if not isinstance(holder, FilterHolder):
            continue
        sheets = {item.slot: item.sheet for item in sheets_in(front) if item.placed is placed}
        for slot, sheet in sheets.items():
            ahead = sheets.get(slot + 1)
            both = 0.0 if ahead is None else (sheet.glass.drawn_thickness_mm + ahead.glass.drawn_thickness_mm) / 2.0
            if ahead is not None and both > holder.slot_pitch_mm.value + THICKNESS_PLAY_MM:
                yield Finding(
                    SheetsOverlap(
                        sheet=sheet.name,
                        other=ahead.name,
                        overlap_mm=both - holder.slot_pitch_mm.value,
                        pitch_mm=holder.slot_pitch_mm.value,
                    ),
                    Severity.STOP,
                    placed.place,
                    holder.id,
                    which=f"{placed.index}.{slot + 1}",
                )
        long = placed.length.value
        outside = next((n for n in range(holder.slots) if not -1e-9 <= holder.slot_at_mm(n, long) <= long + 1e-9), None)
        if outside is not None:
            at = holder.slot_at_mm(outside, long)
            said = SlotOutside(holder.name, outside + 1, max(-at, at - long), long)
            yield Finding(said, Severity.LOOK, placed.place, holder.id, which=f"{placed.index}")


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
    grads = [s for s in sheets if s.sheet.graded]
    for polariser in square:
        behind = [g for g in grads if (g.placed.index, g.slot) > (polariser.placed.index, polariser.slot)]
        if grads:
            yield Finding(
                SquarePolariserWithGrad(polariser=polariser.sheet.name, order_right=behind == grads),
                Severity.LOOK,
                polariser.place,
                polariser.sheet.id,
            )
    found = polarisers_in(front.layout)
    if found:
        name, place = found[0]
        yield Finding(PolariserPlace(polariser=name, at=place, depth_mm=front.depth_mm), Severity.NOTE)
