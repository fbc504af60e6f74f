"""How close a lens focuses by itself at the focal length it is set to, and what that rests on."""

from dataclasses import dataclass

from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.lens_defaults import (
    Basis,
    NearPoint,
    hiatus_default,
    is_known,
    near_focal_mm,
    near_magnification_default,
    near_point_of,
    pupil_ratio_of,
    typical_near_principal_mm,
)
from farrail.parts.origin import Origin
from farrail.parts.provenance import weakest
from farrail.train.zoom_tables import f_number_at

# A focal length at closest focus beyond this share of the lens's own is an entry error; the focal length then stays.
LEAST_GIVEN, MOST_GIVEN = 0.3, 1.3


@dataclass(frozen=True)
class NearFocus:
    """A lens's own focusing.

    Attributes:
        far_focal_mm: f at infinity.
        near_focal_mm: f at its closest focus.
        magnification: m0 at its closest focus; 0 for a lens that does not focus by itself.
        principal_mm: front principal plane behind the thread seat, focused at infinity.
        pupil_ratio: exit over entrance pupil.
        origin: the weakest input.
        basis: what the closest focus is known from.
        near_principal_mm: front principal plane behind the thread seat at the closest focus.
        hiatus_mm: between the principal planes at the closest focus; None where neither it nor the distance from
            subject to sensor is known.
        near_cone: effective f-number at the closest focus over N(1 + m0/p).
    """

    far_focal_mm: float
    near_focal_mm: float
    magnification: float
    principal_mm: float
    pupil_ratio: float
    origin: Origin
    basis: Basis
    near_principal_mm: float
    hiatus_mm: float | None = None
    near_cone: float = 1.0

    def focal_at(self, focus_position: float) -> float:
        """Return f at a place of the focus range, 0 at infinity and 1 at its closest."""
        return self.far_focal_mm + (self.near_focal_mm - self.far_focal_mm) * focus_position

    def principal_at(self, focus_position: float) -> float:
        """Return the front principal plane behind the seat at a place of the focus range."""
        return self.principal_mm + (self.near_principal_mm - self.principal_mm) * focus_position


def near_focus_of(
    lens: CameraLens, focal_mm: float, pupil_depth_mm: float, depth_origin: Origin, diagonal_mm: float
) -> NearFocus:
    """Return how close a lens focuses, from what is known best.

    A ruler seen through the lens outranks what the maker publishes, and that the usual magnification. The front
    principal plane follows from the ruler; else, at the closest focus of a lens of unknown pupil magnification, from
    the published distance less flange distance and barrel; else from the entrance pupil, ``s = E + f (1 − 1/p)``.

    Args:
        lens: the lens.
        focal_mm: what it is set to.
        pupil_depth_mm: entrance pupil behind the thread seat at that focal length.
        depth_origin: where that came from.
        diagonal_mm: of the frame; typical values depend on it.
    """
    ratio = pupil_ratio_of(lens, focal_mm, diagonal_mm)
    principal = pupil_depth_mm + focal_mm * (1.0 - 1.0 / ratio)
    hiatus = None if lens.hiatus_mm is None else lens.hiatus_mm.value
    if not lens.focuses_itself:
        return NearFocus(
            focal_mm, focal_mm, 0.0, principal, ratio, depth_origin, Basis.NONE_OF_ITS_OWN, principal, hiatus
        )
    point, pair = near_point_of(lens, focal_mm), _pair(lens)
    m0, origin, basis = point.magnification, point.origin, point.basis
    if m0 is None:
        m0 = near_magnification_default(point, focal_mm, diagonal_mm).typical
    if pair is not None:
        m0, origin, basis = pair[1], pair[2], Basis.RULER
    near_focal = _near_focal(lens, point, m0, focal_mm, diagonal_mm)
    if point.distance_mm is not None:
        hiatus = point.distance_mm - near_focal * (2.0 + m0 + 1.0 / m0)
    near_principal = principal
    if pair is not None:
        near_principal = near_focal * (1.0 + 1.0 / m0) - pair[0]
        if is_known(lens.pupil_ratio):
            principal = near_principal
    else:
        origin = weakest([origin, depth_origin])
        if not is_known(lens.pupil_ratio) and point.distance_mm is not None:
            near_principal = typical_near_principal_mm(principal, near_focal, m0)
            if lens.barrel_mm is not None:
                ahead = point.distance_mm - lens.flange_focal_distance_mm.value - lens.barrel_mm.value
                near_principal = near_focal * (1.0 + 1.0 / m0) - ahead
    cone = 1.0
    if lens.near_f_number is not None:
        cone = lens.near_f_number.value / (f_number_at(lens, focal_mm).value * (1.0 + m0 / ratio))
    return NearFocus(focal_mm, near_focal, m0, principal, ratio, origin, basis, near_principal, hiatus, cone)


def _near_focal(lens: CameraLens, point: NearPoint, m0: float, focal_mm: float, diagonal_mm: float) -> float:
    """Return the focal length at the closest focus."""
    if lens.near_focal_mm is not None:
        return lens.near_focal_mm.value
    if point.distance_mm is None or m0 <= 0.0:
        return focal_mm
    if not is_known(lens.hiatus_mm):
        hiatus = hiatus_default(focal_mm, diagonal_mm).typical if lens.hiatus_mm is None else lens.hiatus_mm.value
        return near_focal_mm(point.distance_mm, hiatus, m0, focal_mm)
    left = point.distance_mm - lens.hiatus_mm.value
    if left <= 0.0:
        # A closest distance shorter than the hiatus is an entry error; the focal length then stays.
        return focal_mm
    return min(max(left / (2.0 + m0 + 1.0 / m0), LEAST_GIVEN * focal_mm), MOST_GIVEN * focal_mm)


def _pair(lens: CameraLens) -> tuple[float, float, Origin] | None:
    """Return distance, magnification and origin of a ruler seen; None where it is not whole."""
    distance, width, frame = lens.pair_distance_mm, lens.pair_width_mm, lens.pair_frame_mm
    if distance is None or width is None or frame is None:
        return None
    return distance.value, frame.value / width.value, weakest([distance.origin, width.origin, frame.origin])
