"""Spacing: does the sensor land where the optic needs it.

placed = Σ path lengths from the datum to the flange + flange-to-sensor; required = published + Σ glass shift;
error = placed − required, negative when the sensor is too near. See docs/models.md.
"""

from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property

from farrail.optics.focus import depth_of_focus_mm, farthest_focus_mm
from farrail.parts.base import Adjustable
from farrail.parts.glass import Glass
from farrail.parts.in_beam import Extends, GlassRole
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.seats import FilterSeat
from farrail.parts.kinds.telescopes import Corrector, Telescope
from farrail.parts.lens_defaults import MOST_MAGNIFICATION, Basis, near_magnification_default, near_point_of
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, weakest
from farrail.parts.registry import Part
from farrail.train.first_order import Extension
from farrail.train.layout import Layout
from farrail.train.near_focus import near_focus_of
from farrail.train.placed import PlacedGlass
from farrail.train.seating import Cause, JointGap

# What every lens reaches at its nearest, where nothing was entered: hardly one does less; common practice, no source.
LEAST_MAGNIFICATION = 0.03


class Counted(StrEnum):
    """Whether and why the shift of a piece of glass is counted."""

    IN_BEAM = "in_beam"
    NOT_ALLOWED_FOR = "not_allowed_for"
    ALLOWED_FOR = "allowed_for"
    # The camera's maker does not say; it is taken as allowed for.
    MAKER_SILENT = "maker_silent"


class LineKind(StrEnum):
    """What one line of the running total is."""

    PART = "part"
    GAP = "gap"
    CAMERA = "camera"


@dataclass(frozen=True)
class Line:
    """One line of the running total: a part, its length, and the sum up to its end.

    `path` names the part's field that holds the length, `index` the part's place in the rear train (None for the
    camera); an adjustable spacer's length is its setting in the train. A joint whose shoulders stay apart has a line of
    its own, `gap` or `standoff`, before the part behind it; `held` is what is between two rings and adds nothing.
    """

    kind: LineKind
    part: str
    name: str
    length: Quantity
    to_here_mm: float
    path: str
    index: int | None = None
    gap: JointGap | None = None


@dataclass(frozen=True)
class GlassLine:
    """One piece of glass and what it asks for; `why` says whether its shift is counted.

    `path` names the part's field that holds the glass.
    """

    part: str
    name: str
    role: GlassRole
    glass: Glass
    why: "Counted"
    path: str

    @property
    def counted(self) -> bool:
        """Whether the requirement grows by its shift."""
        return self.why in (Counted.IN_BEAM, Counted.NOT_ALLOWED_FOR)


@dataclass(frozen=True)
class FilterError:
    """The error with one filter of a wheel or set in the beam.

    Attributes:
        slot: its number, from 0.
        part: the filter's id.
        label: its name.
        shift_mm: its glass shift.
        error_mm: placed less required with this filter.
        refocus_mm: how far the focus moves from the filter now in the beam.
        in_beam: whether it is the one in the beam.
    """

    slot: int
    part: str
    label: str
    shift_mm: float
    error_mm: float
    refocus_mm: float
    in_beam: bool


class Asks(StrEnum):
    """Which distance a datum asks for."""

    BACK_FOCUS = "back_focus"
    FLANGE = "flange"


@dataclass(frozen=True)
class Requirement:
    """What the datum asks for: which distance, whose, from which surface, its tolerance, and its own glass.

    `path` names the part's field that holds the distance.
    """

    asks: "Asks"
    owner: str
    datum: str
    distance: Quantity
    tolerance: Quantity | None
    part: str
    included_glass: Glass | None
    is_lens: bool
    path: str


@dataclass(frozen=True)
class Loosest:
    """The input that spreads the error most: whose, the line or requirement it is in, and its half width."""

    part: str
    of: "Line | GlassLine | Requirement"
    half_width_mm: float


@dataclass(frozen=True)
class Focusing:
    """What a camera lens's own focusing can make up for.

    Attributes:
        travel_mm: how far its ring draws it out: its nearest magnification times its focal length (unit focusing), or a
            little where it is not entered how near it focuses.
        focal_mm: its focal length as set.
        nearest: its magnification at closest focus; None where that was not entered.
        largest_mm: the longest travel it can have.
    """

    travel_mm: float
    focal_mm: float
    nearest: float | None
    largest_mm: float

    def mark_mm(self, short_mm: float) -> float:
        """Return the distance on whose mark the ring is when it makes up for so much: f²/s (Newton's equation)."""
        return self.focal_mm**2 / max(short_mm, 1e-6)

    def left(self, short_mm: float) -> float | None:
        """Return the nearest magnification left when so much of the travel goes into reaching infinity."""
        return None if self.nearest is None else self.nearest - short_mm / self.focal_mm


def requirement_of(layout: Layout) -> Requirement | None:
    """Return the requirement that holds from the datum to the sensor, or None when nothing fixes it."""
    if layout.corrector is not None:
        corrector = layout.corrector.part
        assert isinstance(corrector, Corrector)
        return Requirement(
            Asks.BACK_FOCUS, corrector.name, corrector.datum, corrector.back_focus_mm,
            corrector.spacing_tolerance_mm, corrector.id, corrector.included_glass, False, "back_focus_mm",
        )  # fmt: skip
    optic = layout.optic
    if layout.reversed:
        return None
    if isinstance(optic, CameraLens) and not optic.focuses_itself:
        # On bellows every extension focuses somewhere: no back focus is required.
        return None
    if isinstance(optic, CameraLens):
        return Requirement(
            Asks.FLANGE, optic.name, "", optic.flange_focal_distance_mm,
            None, optic.id, optic.included_glass, True, "flange_focal_distance_mm",
        )  # fmt: skip
    if isinstance(optic, Telescope) and optic.back_focus_mm is not None:
        return Requirement(
            Asks.BACK_FOCUS, optic.name, "", optic.back_focus_mm,
            optic.spacing_tolerance_mm, optic.id, None, False, "back_focus_mm",
        )  # fmt: skip
    return None


@dataclass(frozen=True)
class Spacing:
    """The spacing readout of a placed train; every length in mm."""

    layout: Layout

    @cached_property
    def requirement(self) -> Requirement | None:
        """What the datum asks for, if anything does."""
        return requirement_of(self.layout)

    @cached_property
    def lines(self) -> tuple[Line, ...]:
        """The running total from the datum to the sensor."""
        lines, total = [], 0.0
        gaps = {gap.index: gap for gap in self.layout.gaps}
        for placed in self.layout.behind_datum:
            if placed.index in gaps:
                total += gaps[placed.index].length.value
                lines.append(_gap_line(gaps[placed.index], placed.part, total))
            total += placed.length.value
            # What is held between two rings adds nothing: that is not its thickness, and is not typed over.
            typed = "setting" if isinstance(placed.part, Adjustable) else "path_length_mm"
            path = typed if placed.held is None else "held"
            part = placed.part
            lines.append(Line(LineKind.PART, part.id, part.name, placed.length, total, path, placed.index))
        camera = self.layout.camera
        last = len(self.layout.rear)
        if camera is not None and last in gaps:
            total += gaps[last].length.value
            lines.append(_gap_line(gaps[last], camera, total))
        if camera is not None:
            total += camera.flange_to_sensor_mm.value
            own = camera.flange_to_sensor_mm
            lines.append(Line(LineKind.CAMERA, camera.id, camera.name, own, total, "flange_to_sensor_mm"))
        return tuple(lines)

    @cached_property
    def actual_mm(self) -> float:
        """Placed distance from the datum to the sensor."""
        return self.lines[-1].to_here_mm if self.lines else 0.0

    @cached_property
    def glass_lines(self) -> tuple[GlassLine, ...]:
        """Every piece of glass between datum and sensor, counted or not, and the optic's own as a credit."""
        lines = []
        for placed in self.layout.glass:
            why = _counted(placed)
            path = _GLASS_PATHS.get(placed.role, "glass")
            lines.append(GlassLine(placed.part.id, placed.part.name, placed.role, placed.glass, why, path))
        return tuple(lines)

    @cached_property
    def shift_mm(self) -> float:
        """Σ glass shift that the requirement grows by, with what the optic's figure includes credited."""
        counted = sum(line.glass.shift_mm for line in self.glass_lines if line.counted)
        return counted - self.credit_mm

    @cached_property
    def credit_mm(self) -> float:
        """Shift of the glass that the published distance already includes."""
        need = self.requirement
        return 0.0 if need is None or need.included_glass is None else need.included_glass.shift_mm

    @cached_property
    def extension(self) -> Extension:
        """What is behind a lens on purpose."""
        return self.layout.first_order.extension

    @cached_property
    def required_mm(self) -> float | None:
        """Published distance plus glass shift, and the extension that is meant."""
        if self.requirement is None:
            return None
        return self.requirement.distance.value + self.shift_mm + self.extension.whole_mm

    @property
    def nothing_entered(self) -> bool:
        """Whether every distance the error rests on is assumed: nothing is known of the train yet."""
        need = self.requirement
        measured = [line.length.origin for line in self.lines]
        return need is not None and all(origin is Origin.ASSUMED for origin in (need.distance.origin, *measured))

    @cached_property
    def error_mm(self) -> float | None:
        """Placed less required; None without a camera or a requirement."""
        if self.required_mm is None or self.layout.camera is None:
            return None
        # Lengths are written to a thousandth; sums of binary fractions are brought back to it.
        return round(self.actual_mm - self.required_mm, 9)

    @cached_property
    def error_range_mm(self) -> tuple[float, float] | None:
        """The error at both ends of everything unknown."""
        error, need = self.error_mm, self.requirement
        if error is None or need is None:
            return None
        # What is meant as extension is in the requirement as well: of unknown length it misses nothing.
        kept = {p.index for p in self.layout.behind_datum if self._meant(p.part)}
        lines = [line for line in self.lines if line.kind is not LineKind.PART or line.index not in kept]
        low = sum(line.length.low - line.length.value for line in lines)
        high = sum(line.length.high - line.length.value for line in lines)
        spread = need.distance
        low -= spread.high - spread.value
        high += spread.value - spread.low
        for item in self.glass_lines:
            if item.counted:
                least, most = item.glass.shift_span_mm
                low -= most - item.glass.shift_mm
                high += item.glass.shift_mm - least
        if need.included_glass is not None:
            least, most = need.included_glass.shift_span_mm
            low -= need.included_glass.shift_mm - least
            high += most - need.included_glass.shift_mm
        return error + low, error + high

    def _meant(self, part: Part) -> bool:
        lens = isinstance(self.layout.optic, CameraLens) and self.layout.corrector is None
        return lens and getattr(part, "extends", Extends.NOTHING) is not Extends.NOTHING

    @cached_property
    def tolerance_mm(self) -> float | None:
        """How far the error may be from zero; None when nothing says so (a camera lens, or no requirement)."""
        need = self.requirement
        return None if need is None or need.tolerance is None else need.tolerance.value

    @cached_property
    def focusing(self) -> Focusing | None:
        """How far a camera lens's own ring draws it out; None for what is no lens."""
        need, lens = self.requirement, self.layout.optic
        if need is None or not need.is_lens or not isinstance(lens, CameraLens):
            return None
        order = self.layout.first_order
        depth, focal = order.entrance_pupil, order.own_focal_length.value
        near = near_focus_of(lens, focal, depth.value, depth.origin, self.layout.diagonal_mm)
        if near.basis is Basis.USUAL:
            return Focusing(LEAST_MAGNIFICATION * focal, focal, None, MOST_MAGNIFICATION * focal)
        if near.basis is Basis.DISTANCE:
            # The distance alone leaves a range of magnifications; only the least of it is certain.
            found = near_magnification_default(near_point_of(lens, focal), focal, self.layout.diagonal_mm)
            return Focusing(found.low * focal, focal, found.low, found.high * focal)
        travel = near.magnification * focal
        return Focusing(travel, focal, near.magnification, travel)

    @cached_property
    def allowed_mm(self) -> tuple[float, float] | None:
        """Between which errors the sensor may be; None when nothing says so.

        A camera lens is judged by side: its focusing ring makes up for a flange too near as far as it travels, and
        never for one too far. A tolerance of which only two ends are known is taken at its narrower one.
        """
        need, focusing = self.requirement, self.focusing
        if need is None:
            return None
        if focusing is not None:
            return -focusing.travel_mm, depth_of_focus_mm(self.f_number)
        return None if need.tolerance is None else (-need.tolerance.low, need.tolerance.low)

    @cached_property
    def within_tolerance(self) -> bool | None:
        """Whether the error is tolerable at its worst end; None when it cannot be judged."""
        span, allowed = self.error_range_mm, self.allowed_mm
        if span is None or allowed is None:
            return None
        return span[0] >= allowed[0] - 1e-9 and span[1] <= allowed[1] + 1e-9

    @cached_property
    def f_number(self) -> float:
        """The f-number the train is used at."""
        return self.layout.first_order.effective_f_number.value

    @cached_property
    def tolerances_mm(self) -> tuple[float, ...]:
        """Half widths of everything that stacks up: lengths, glass, and the published distance."""
        stack = [line.length.tolerance for line in self.lines]
        stack += [g.glass.tolerance_mm for g in self.glass_lines if g.counted]
        if self.requirement is not None:
            stack.append(self.requirement.distance.tolerance)
        return tuple(stack)

    @cached_property
    def loosest(self) -> "Loosest | None":
        """What spreads the error most; None when all is exact. An unknown span counts with half its width."""
        shares = [
            Loosest(line.part, line, max(line.length.tolerance, (line.length.high - line.length.low) / 2))
            for line in self.lines
        ]
        shares += [
            Loosest(g.part, g, max(g.glass.tolerance_mm, (g.glass.shift_span_mm[1] - g.glass.shift_span_mm[0]) / 2.0))
            for g in self.glass_lines
            if g.counted
        ]
        need = self.requirement
        if need is not None:
            band = need.distance.published_band
            spread = (band[1] - band[0]) / 2.0 if band is not None else 0.0
            shares.append(Loosest(need.part, need, max(need.distance.tolerance, spread)))
        most = max(shares, key=lambda share: share.half_width_mm, default=None)
        return most if most is not None and most.half_width_mm > 0.0 else None

    @cached_property
    def provenance(self) -> Origin:
        """The weakest input of the error."""
        origins = [line.length.origin for line in self.lines]
        for glass in self.glass_lines:
            origins.append(glass.glass.origin)
            if glass.why is Counted.MAKER_SILENT:
                origins.append(Origin.ASSUMED)
        if self.requirement is not None:
            origins.append(self.requirement.distance.origin)
        return weakest(origins)

    @cached_property
    def shortest_mm(self) -> float:
        """Placed distance if every spacer and shim were taken out: what the fixed parts alone need."""
        loose = sum(p.length.value for p in self.layout.behind_datum if p.part.only_length)
        return self.actual_mm - loose

    @cached_property
    def filters(self) -> tuple[FilterError, ...]:
        """The error for every filter of each wheel or drawer set behind the datum."""
        found: list[FilterError] = []
        for placed in self.layout.behind_datum:
            if not isinstance(placed.part, FilterSeat):
                continue
            current = self.layout.parts.get(placed.laid.filter_in_beam or "")
            now = current.glass.shift_mm if isinstance(current, RoundFilter) else 0.0
            for slot, filter_id in enumerate(placed.laid.filters):
                part = self.layout.parts.get(filter_id or "")
                if not isinstance(part, RoundFilter):
                    continue
                change = part.glass.shift_mm - now
                error = float("nan") if self.error_mm is None else self.error_mm - change
                in_beam = slot == placed.laid.in_beam
                found.append(FilterError(slot, part.id, part.name, part.glass.shift_mm, error, change, in_beam))
        return tuple(found)

    @cached_property
    def telescope_error_mm(self) -> float | None:
        """Error of the corrector's own distance from the telescope, where it has a requirement."""
        corrector = self.layout.corrector
        if corrector is None or not isinstance(corrector.part, Corrector):
            return None
        need = corrector.part.telescope_distance_mm
        return None if need is None else round(corrector.z_front_mm - self.layout.optic_rear_mm - need.value, 9)

    @cached_property
    def farthest_focus_mm(self) -> float | None:
        """For a camera lens placed too long: the farthest subject it still focuses; None where it does not apply."""
        if self.requirement is None or not self.requirement.is_lens or self.error_mm is None or self.error_mm <= 0:
            return None
        if self.extension.tubes_mm > 0.0:
            return None
        return farthest_focus_mm(self.layout.first_order.own_focal_length.value, self.error_mm)


# Where a piece of glass that is not a filter is entered.
_GLASS_PATHS = {GlassRole.WINDOW: "window.glass", GlassRole.GELATIN: "gelatin_slot"}


def _gap_line(gap: JointGap, behind: Part, to_here_mm: float) -> Line:
    path = "standoff" if gap.cause in (Cause.DRAWN_OUT, Cause.UNKNOWN_PLACE) else "gap"
    return Line(LineKind.GAP, behind.id, behind.name, gap.length, to_here_mm, path, gap.index, gap)


def _counted(glass: PlacedGlass) -> Counted:
    """Return whether a piece of glass adds to the requirement, and why."""
    if glass.included is None:
        return Counted.MAKER_SILENT
    if glass.included:
        return Counted.ALLOWED_FOR
    return Counted.NOT_ALLOWED_FOR if glass.role is GlassRole.WINDOW else Counted.IN_BEAM
