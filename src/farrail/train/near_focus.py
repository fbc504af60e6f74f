"""How near a lens focuses by itself, at the focal length it is set to, and what that rests on."""

from dataclasses import dataclass
from enum import StrEnum

from farrail.errors import BadInput
from farrail.optics.close_up import effective_focal_mm
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.provenance import Origin, weakest

# How large a lens images at its own nearest focus where nobody has said; common practice, no source.
USUAL_MAGNIFICATION = 0.12


class Basis(StrEnum):
    """What a lens's nearest focus was taken from."""

    RULER = "ruler"
    TABLE = "table"
    PUBLISHED = "published"
    DISTANCE = "distance"
    USUAL = "usual"
    REVERSED = "reversed"


@dataclass(frozen=True)
class NearFocus:
    """A lens's own focusing.

    Attributes:
        far_focal_mm: f at infinity.
        near_focal_mm: f at its nearest.
        magnification: m0 at its nearest.
        principal_mm: front principal plane behind the thread seat.
        pupil_ratio: exit over entrance pupil.
        origin: the weakest input.
        basis: what the nearest focus was taken from.
    """

    far_focal_mm: float
    near_focal_mm: float
    magnification: float
    principal_mm: float
    pupil_ratio: float
    origin: Origin
    basis: Basis

    def focal_at(self, focus_position: float) -> float:
        """Return f at a place of the focus window, 0 at infinity and 1 at its nearest."""
        return self.far_focal_mm + (self.near_focal_mm - self.far_focal_mm) * focus_position


def near_focus_of(lens: CameraLens, focal_mm: float, pupil_depth_mm: float, depth_origin: Origin) -> NearFocus:
    """Return how near a lens focuses, from what is best known.

    A pair seen through a ruler outranks what the maker gives, and that the usual magnification. With a pair the
    principal plane is put where the lens then sees the ruler; else it follows from the entrance pupil,
    ``s = E + f (1 − 1/p)``.

    Args:
        lens: the lens.
        focal_mm: what it is set to.
        pupil_depth_mm: entrance pupil behind the thread seat at that focal length.
        depth_origin: where that came from.
    """
    ratio = lens.pupil_ratio.value if lens.pupil_ratio is not None else 1.0
    hiatus = lens.hiatus_mm.value if lens.hiatus_mm is not None else 0.0
    nearest, m0, origin, basis = _published(lens, focal_mm)
    pair = _pair(lens)
    if pair is not None:
        m0, origin, basis = pair[1], pair[2], Basis.RULER
    near_focal = focal_mm
    if nearest is not None and m0 > 0.0:
        try:
            near_focal = effective_focal_mm(nearest, m0, hiatus)
        except BadInput:
            # A nearest distance within the hiatus says nothing; the lens then keeps its focal length.
            near_focal = focal_mm
    # A lens does not shrink or grow to just anything: what is beyond this is a slip in one of the figures.
    near_focal = min(max(near_focal, 0.3 * focal_mm), 1.3 * focal_mm)
    principal = pupil_depth_mm + focal_mm * (1.0 - 1.0 / ratio)
    if pair is not None:
        principal = near_focal * (1.0 + 1.0 / m0) - pair[0]
        return NearFocus(focal_mm, near_focal, m0, principal, ratio, origin, basis)
    return NearFocus(focal_mm, near_focal, m0, principal, ratio, weakest([origin, depth_origin]), basis)


def _pair(lens: CameraLens) -> tuple[float, float, Origin] | None:
    """Return distance, magnification and origin of a measured pair; None where it is not whole."""
    distance, width, frame = lens.pair_distance_mm, lens.pair_width_mm, lens.pair_frame_mm
    if distance is None or width is None or frame is None:
        return None
    return distance.value, frame.value / width.value, weakest([distance.origin, width.origin, frame.origin])


def _published(lens: CameraLens, focal_mm: float) -> tuple[float | None, float, Origin, Basis]:
    """Return nearest distance, magnification, origin and basis as the maker gives them."""
    table = sorted(lens.near_points, key=lambda at: at.focal_mm)
    if table:
        low = max((at for at in table if at.focal_mm <= focal_mm), key=lambda at: at.focal_mm, default=table[0])
        high = min((at for at in table if at.focal_mm >= focal_mm), key=lambda at: at.focal_mm, default=table[-1])
        span = high.focal_mm - low.focal_mm
        share = (focal_mm - low.focal_mm) / span if span else 0.0

        def between(one: float, other: float) -> float:
            return one + share * (other - one)

        origin = weakest(q.origin for at in (low, high) for q in (at.nearest_mm, at.magnification))
        return (
            between(low.nearest_mm.value, high.nearest_mm.value),
            between(low.magnification.value, high.magnification.value),
            origin, Basis.TABLE,
        )  # fmt: skip
    nearest = None if lens.nearest_mm is None else lens.nearest_mm.value
    if lens.nearest_magnification is not None:
        origins = [lens.nearest_magnification.origin]
        if lens.nearest_mm is not None:
            origins.append(lens.nearest_mm.origin)
        return nearest, lens.nearest_magnification.value, weakest(origins), Basis.PUBLISHED
    if nearest is not None and lens.nearest_mm is not None:
        hiatus = lens.hiatus_mm.value if lens.hiatus_mm is not None else 0.0
        m = _magnification_at(nearest - hiatus, focal_mm)
        if m is not None:
            return nearest, m, lens.nearest_mm.origin, Basis.DISTANCE
    return None, USUAL_MAGNIFICATION, Origin.ASSUMED, Basis.USUAL


def _magnification_at(between_mm: float, focal_mm: float) -> float | None:
    """Return m of a lens that keeps f with subject and sensor so far apart: f (2 + m + 1/m); None where too near."""
    half = between_mm / focal_mm / 2.0 - 1.0
    return None if half < 1.0 else half - (half * half - 1.0) ** 0.5
