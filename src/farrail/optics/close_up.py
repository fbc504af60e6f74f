"""Close-up: extension, close-up lenses, reversed lenses; magnification, distances and the cost in f-number.

Thin lenses at their principal planes throughout: 1/u + 1/v = 1/f and m = v/f − 1 (Smith, *Modern Optical Engineering*;
cited from memory). Distances to the subject run from the front principal plane unless a function says otherwise.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from farrail.errors import BadInput
from farrail.language import N_, say
from farrail.optics.plates import check_f_number
from farrail.units import MM_PER_METRE

CONJUGATES_SOURCE = N_("thin lens: 1/u + 1/v = 1/f, m = v/f − 1")
CLOSE_UP_SOURCE = N_("thin close-up lens ahead of the lens: 1/d = 1/a + D")
REVERSED_SOURCE = N_("reversed lens: m = v/f − 1; two lenses front to front: m = f of the main one / f of the other")
BELLOWS_SOURCE = N_("effective f-number N(1 + m/p), reversed N(1/p + m)")
MOST_DIOPTRES = 100.0


def _above_zero(name: str, value: float) -> None:
    if not (math.isfinite(value) and 0.0 < value <= 1e6):
        raise BadInput("A {name} of {value:g} mm cannot be used; give a length above 0.", name=name, value=value)


def extended_magnification(focal_mm: float, extension_mm: float, magnification: float = 0.0) -> float:
    """Return the magnification of a lens set to `magnification` on its own and moved out by `extension_mm`.

    Args:
        focal_mm: f of the lens as it is focused, above zero.
        extension_mm: tubes or bellows behind it, zero or more.
        magnification: what its own focusing gives, zero at infinity.

    Raises:
        BadInput: an argument outside its range.
    """
    _above_zero(say("focal length"), focal_mm)
    if not (math.isfinite(extension_mm) and 0.0 <= extension_mm <= 1e5):
        raise BadInput(
            "An extension of {extension_mm:g} mm cannot be used; give a length of 0 or more.",
            extension_mm=extension_mm,
        )
    if not (math.isfinite(magnification) and 0.0 <= magnification <= 100.0):
        raise BadInput(
            "A magnification of {magnification:g} cannot be used; give 0 (infinity) to 100.",
            magnification=magnification,
        )
    return magnification + extension_mm / focal_mm


def subject_distance_mm(focal_mm: float, magnification: float) -> float:
    """Return how far the subject is ahead of the front principal plane, ``f (1 + 1/m)``; infinite for m = 0.

    Raises:
        BadInput: a focal length or magnification outside its range.
    """
    _above_zero(say("focal length"), focal_mm)
    if not (math.isfinite(magnification) and magnification >= 0.0):
        raise BadInput(
            "A magnification of {magnification:g} cannot be used; give 0 (infinity) or more.",
            magnification=magnification,
        )
    return math.inf if magnification == 0.0 else focal_mm * (1.0 + 1.0 / magnification)


def subject_to_sensor_mm(focal_mm: float, magnification: float, hiatus_mm: float = 0.0) -> float:
    """Return ``f (2 + m + 1/m) + hiatus``, the distance that a lens's focus scale counts; infinite for m = 0.

    `hiatus_mm` is between the two principal planes; it is negative where they are crossed.
    """
    ahead = subject_distance_mm(focal_mm, magnification)
    return ahead + focal_mm * (1.0 + magnification) + hiatus_mm


@dataclass(frozen=True)
class ThroughCloseUp:
    """What close-up lenses make of a lens's own focus.

    Attributes:
        distance_mm: from the outermost close-up lens to the subject.
        gain: magnification with them over that without.
    """

    distance_mm: float
    gain: float


def through_close_up(ahead_mm: float, lenses: Sequence[tuple[float, float]]) -> ThroughCloseUp:
    """Return what close-up lenses make of a focus `ahead_mm` in front of the innermost one.

    Light is followed backward: what the lens would see at a is seen at ``d = 1/(1/a + D)``, smaller by d/a, so the
    subject put there is larger by a/d.

    Args:
        ahead_mm: where the lens itself is focused, ahead of the innermost close-up lens; infinity is allowed.
        lenses: (dioptres, gap in mm to the one behind it) each, innermost first; the first one's gap is not used.

    Raises:
        BadInput: a lens that does not converge, a gap below zero, or a focus inside the stack.
    """
    if not ahead_mm > 0.0:
        raise BadInput(
            "The lens is focused {ahead_mm:.1f} mm behind the close-up lens, inside itself; "
            "focus farther or shorten the gap.",
            ahead_mm=abs(ahead_mm),
        )
    gain, at = 1.0, ahead_mm
    for number, (dioptres, gap_mm) in enumerate(lenses):
        check_dioptres(dioptres)
        if not (math.isfinite(gap_mm) and gap_mm >= 0.0):
            raise BadInput(
                "A gap of {gap_mm:g} mm between close-up lenses cannot be used; give 0 or more.", gap_mm=gap_mm
            )
        if number:
            at -= gap_mm
            if at <= 0.0:
                raise BadInput(
                    "The subject would be {at:.1f} mm behind the front of the close-up lenses; remove "
                    "one or bring them closer together.",
                    at=abs(at),
                )
        seen = 1.0 / (1.0 / at + dioptres / MM_PER_METRE)
        # From infinity the gain over nothing has no meaning; `magnification_at_infinity` says what it comes to.
        gain = math.inf if math.isinf(at) else gain * at / seen
        at = seen
    return ThroughCloseUp(at, gain)


def check_dioptres(dioptres: float) -> None:
    """Refuse what is no converging close-up lens.

    Raises:
        BadInput: zero, negative, or beyond 100 dioptres.
    """
    if math.isfinite(dioptres) and dioptres < 0.0:
        raise BadInput(
            "A lens of {dioptres:g} dioptres spreads light and moves the closest focus away. Enter a number above 0.",
            dioptres=dioptres,
        )
    if not (math.isfinite(dioptres) and 0.0 < dioptres <= MOST_DIOPTRES):
        raise BadInput(
            "A close-up lens of {dioptres:g} dioptres cannot be used; give above 0 and at most 100.",
            dioptres=dioptres,
        )


def magnification_at_infinity(focal_mm: float, lenses: Sequence[tuple[float, float]]) -> float:
    """Return the magnification with the lens itself set to infinity: its focal length times the stack's power.

    Args:
        focal_mm: f of the lens, above zero.
        lenses: as in `through_close_up`, at least one.
    """
    _above_zero(say("focal length"), focal_mm)
    return focal_mm * stack_dioptres(lenses) / MM_PER_METRE


def stack_matrix(lenses: Sequence[tuple[float, float]]) -> tuple[float, float, float, float]:
    """Return A, B, C, D of close-up lenses from the outermost to the innermost plane; unity for none.

    Args:
        lenses: (dioptres, gap in mm to the one behind it) each, innermost first; the first one's gap is not used.

    Raises:
        BadInput: a lens that does not converge.
    """
    a, b, c, d = 1.0, 0.0, 0.0, 1.0
    for number in range(len(lenses) - 1, -1, -1):
        dioptres, gap = lenses[number]
        check_dioptres(dioptres)
        power = dioptres / MM_PER_METRE
        c, d = c - power * a, d - power * b
        if number:
            a, b = a + gap * c, b + gap * d
    return a, b, c, d


def stack_dioptres(lenses: Sequence[tuple[float, float]]) -> float:
    """Return the power of close-up lenses one ahead of the other; in contact it is their sum.

    From the system matrix, lenses as in `through_close_up`. Below zero light crosses between them.

    Raises:
        BadInput: no lens, or one that cannot be used.
    """
    if not lenses:
        raise BadInput("Give at least one close-up lens.")
    return -MM_PER_METRE * stack_matrix(lenses)[2]


def reversed_magnification(focal_mm: float, image_distance_mm: float) -> float:
    """Return ``v/f − 1`` of a lens flipped, the sensor v behind the principal plane that now faces it.

    Raises:
        BadInput: a sensor within the focal length, where nothing comes to a focus.
    """
    _above_zero(say("focal length"), focal_mm)
    _above_zero(say("image distance"), image_distance_mm)
    if image_distance_mm <= focal_mm:
        raise BadInput(
            "The sensor is {image_distance_mm:g} mm behind a lens of {focal_mm:g} mm, closer "
            "than its focal length; add extension.",
            image_distance_mm=image_distance_mm,
            focal_mm=focal_mm,
        )
    return image_distance_mm / focal_mm - 1.0


def coupled_magnification(main_focal_mm: float, reversed_focal_mm: float) -> float:
    """Return m of a lens flipped on the front of another set to infinity: ``f_main / f_reversed``."""
    _above_zero(say("focal length"), main_focal_mm)
    _above_zero(say("focal length of the reversed lens"), reversed_focal_mm)
    return main_focal_mm / reversed_focal_mm


def effective_f_number(
    f_number: float, magnification: float, pupil_ratio: float = 1.0, *, reversed_round: bool = False
) -> float:
    """Return the f-number the sensor sees: ``N (1 + m/p)``, of a lens flipped ``N (1/p + m)``.

    Args:
        f_number: N, as engraved.
        magnification: of the lens and its extension; a close-up lens costs no light.
        pupil_ratio: p, exit pupil over entrance pupil.
        reversed_round: whether its front faces the sensor.

    Raises:
        BadInput: an argument outside its range.
    """
    check_f_number(f_number)
    if not (math.isfinite(magnification) and magnification >= 0.0):
        raise BadInput(
            "A magnification of {magnification:g} cannot be used; give 0 (infinity) or more.",
            magnification=magnification,
        )
    if not (math.isfinite(pupil_ratio) and 0.05 <= pupil_ratio <= 20.0):
        raise BadInput("A pupil ratio of {pupil_ratio:g} cannot be used; give 0.05 to 20.", pupil_ratio=pupil_ratio)
    if reversed_round:
        return f_number * (1.0 / pupil_ratio + magnification)
    return f_number * (1.0 + magnification / pupil_ratio)


def stops_between(f_number: float, other: float) -> float:
    """Return the stops from one f-number to another, ``2 log2(other/N)``: positive where the other is darker."""
    check_f_number(f_number)
    check_f_number(other)
    return 2.0 * math.log2(other / f_number)
