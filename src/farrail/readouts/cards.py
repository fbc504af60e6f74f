"""The geometry behind a figure, in millimetres, to be drawn beside its working.

A card holds strokes and measures, with the symbols of the formula and this train's numbers. Its two directions may be
drawn at two scales; where rays cross, they cross at either.
"""

from dataclasses import dataclass
from enum import StrEnum
from math import isfinite

from farrail.optics.pupils import Pupil
from farrail.parts.glass import Plate
from farrail.readouts.close_up.figure_texts import Planes, SubjectToSensor, WorkingDistance
from farrail.readouts.close_up.model import Point
from farrail.readouts.figure import Figure
from farrail.readouts.front.figure_texts import Drawn, FirstClean, FrontCornerLoss
from farrail.readouts.light.figure_texts import NeededDiameter
from farrail.readouts.spacing.figure_texts import GlassShift

# How far a picture of straight lines may differ from the figure it is beside.
AGREES = 0.02
# How much of a far pupil's cone is drawn, in distances of the opening.
CONE = 1.6


class Role(StrEnum):
    """What a stroke stands for."""

    AXIS = "axis"
    RAY = "ray"
    CORNER_RAY = "corner_ray"
    WITHOUT = "without"
    GLASS = "glass"
    PART = "part"
    PUPIL = "pupil"
    SENSOR = "sensor"
    SUBJECT = "subject"


@dataclass(frozen=True)
class Stroke:
    """A line through some points, along the axis and across it, mm; closed ones are filled."""

    role: Role
    points: tuple[tuple[float, float], ...]
    closed: bool = False


@dataclass(frozen=True)
class Measure:
    """A length between two points, with its symbol and its value in mm."""

    symbol: str
    value_mm: float
    start: tuple[float, float]
    end: tuple[float, float]


@dataclass(frozen=True)
class Card:
    """What is drawn, from the scene at the left to the sensor at the right."""

    kind: str
    strokes: tuple[Stroke, ...]
    measures: tuple[Measure, ...]


def card_of(figure: Figure) -> Card | None:
    """Return the geometry behind a figure; None where there is none to draw.

    Args:
        figure: of any kind.
    """
    text = figure.text
    if isinstance(text, NeededDiameter):
        return _needed(figure, text)
    if isinstance(text, FrontCornerLoss | FirstClean):
        return _front(figure, text.drawn)
    if isinstance(text, GlassShift):
        return _shift(figure, text)
    if isinstance(text, WorkingDistance):
        return _near(figure, text.focus.point, text.planes)
    return _near(figure, text.point, text.planes) if isinstance(text, SubjectToSensor) else None


def _needed(figure: Figure, text: NeededDiameter) -> Card | None:
    """Return the cone from the pupil to the frame's corner through an opening: d = 2h·|1 − x/L| + x/N."""
    clearance, pupil, corner = text.clearance, text.pupil, text.corner_mm
    x = clearance.distance_mm
    if not text.centred or x <= 0.0 or pupil.exit_distance_mm <= x:
        return None
    if clearance.placed.side.value == "front_stack":
        return _ahead(figure, x, clearance.has_mm / 2.0, pupil, corner)
    far = pupil.exit_distance_mm
    # At a distance z before the sensor the cone's edges are at h(1 − z/L) ± z/(2N).
    whole = min(far, CONE * x)

    def edge(z: float, side: float) -> float:
        middle: float = corner * (1.0 - (z / far if isfinite(far) else 0.0))
        return middle + side * z / (2.0 * float(pupil.f_number))

    if abs(2.0 * edge(x, 1.0) / figure.number - 1.0) > AGREES:
        # Something bends the light between: straight edges do not say it.
        return None
    need, has = figure.number / 2.0, clearance.has_mm / 2.0
    rays = tuple(
        Stroke(Role.CORNER_RAY, ((-whole, edge(whole, side)), (0.0, corner))) for side in (1.0, -1.0)
    )  # fmt: skip
    high = 1.25 * max(need, has, corner, edge(whole, 1.0))
    return Card(
        figure.kind,
        (
            Stroke(Role.AXIS, ((-whole, 0.0), (0.05 * whole, 0.0))),
            *rays,
            *_opening(-x, has, high),
            Stroke(Role.SENSOR, ((0.0, -corner), (0.0, corner))),
        ),
        (
            Measure("d", 2.0 * need, (-x, -need), (-x, need)),
            Measure("x", x, (-x, -high), (0.0, -high)),
            Measure("h", corner, (0.0, 0.0), (0.0, corner)),
        ),
    )


def _opening(z: float, radius: float, high: float) -> tuple[Stroke, ...]:
    return tuple(Stroke(Role.PART, ((z, side * radius), (z, side * high))) for side in (1.0, -1.0))


def _ahead(figure: Figure, x: float, radius: float, pupil: Pupil, corner: float) -> Card | None:
    """Return the bundle toward the frame's corner, crossing an opening ahead of the entrance pupil."""
    focal = pupil.focal_length_mm
    half = focal / pupil.f_number / 2.0
    slope = corner / focal
    middle = x * slope
    high = 1.25 * max(radius, middle + half)
    rays = tuple(
        Stroke(Role.CORNER_RAY, ((-1.15 * x, 1.15 * x * slope + side * half), (0.0, side * half)))
        for side in (1.0, -1.0)
    )
    need = middle + half
    if isinstance(figure.text, NeededDiameter) and abs(2.0 * need / figure.number - 1.0) > AGREES:
        return None
    return Card(
        figure.kind,
        (
            Stroke(Role.AXIS, ((-1.2 * x, 0.0), (0.1 * x, 0.0))),
            *rays,
            *_opening(-x, radius, high),
            Stroke(Role.PUPIL, ((0.0, -half), (0.0, half))),
        ),
        (
            Measure("d", 2.0 * need, (-x, -need), (-x, need)),
            Measure("x", x, (-x, -high), (0.0, -high)),
            Measure("f/N", 2.0 * half, (0.0, -half), (0.0, half)),
        ),
    )


def _front(figure: Figure, drawn: Drawn | None) -> Card | None:
    """Return the corner's bundle at the opening of the front stack that takes most."""
    if drawn is None or not drawn.image.centred or drawn.image.distance_mm <= 0.0 or not drawn.corner_mm:
        return None
    return _ahead(figure, drawn.image.distance_mm, drawn.image.radius_mm, drawn.pupil, drawn.corner_mm)


def _shift(figure: Figure, text: GlassShift) -> Card | None:
    """Return a cone through the plate that shifts most: it comes to a focus t(1 − 1/n) farther."""
    plates = [glass for glass in text.glass if isinstance(glass, Plate)]
    if not plates:
        return None
    plate = max(plates, key=lambda glass: glass.shift_mm)
    thick, index = plate.thickness_mm.value, plate.index.value
    if thick <= 0.0 or index <= 1.0:
        return None
    shift = plate.shift_mm
    # The cone is drawn wide, so that what happens is seen; its angle changes nothing about the paraxial shift.
    ahead, behind, slope = 0.8 * thick, 1.6 * thick, 0.32
    front = ahead + thick + behind
    edge = front * slope
    entering = (front - ahead) * slope
    leaving = entering - thick * slope / index
    focus = front + shift
    high = 1.2 * edge
    rays: list[Stroke] = []
    for side in (1.0, -1.0):
        rays.append(Stroke(Role.WITHOUT, ((ahead, side * entering), (front, 0.0))))
        rays.append(
            Stroke(
                Role.RAY,
                ((0.0, side * edge), (ahead, side * entering), (ahead + thick, side * leaving), (focus, 0.0)),
            )
        )
    box = ((ahead, -high), (ahead + thick, -high), (ahead + thick, high), (ahead, high))
    return Card(
        figure.kind,
        (
            Stroke(Role.GLASS, box, closed=True),
            Stroke(Role.AXIS, ((-0.1 * thick, 0.0), (focus + 0.3 * thick, 0.0))),
            *rays,
        ),
        (
            Measure("t", thick, (ahead, -high), (ahead + thick, -high)),
            Measure("t(1 − 1/n)", shift, (front, -0.5 * high), (focus, -0.5 * high)),
        ),
    )


def _near(figure: Figure, point: Point, planes: Planes) -> Card | None:
    """Return subject, principal planes and sensor of a lens in air: image over subject is v over u."""
    if not point.magnification > 0.0:
        return None
    ahead, principal, hiatus = planes.ahead_mm, planes.principal_mm, planes.hiatus_mm
    behind, corner = planes.behind_mm, planes.corner_mm
    u = point.distance_mm + ahead + principal
    if not isfinite(u) or u <= 0.0 or behind <= 0.0 or not corner:
        return None
    if abs(behind / u / point.magnification - 1.0) > AGREES:
        # A close-up lens or a converter is between: two planes alone do not say it.
        return None
    subject, high = corner / point.magnification, 1.2 * max(corner, corner / point.magnification)
    first, second = 0.0, hiatus
    sensor = second + behind
    return Card(
        figure.kind,
        (
            Stroke(Role.AXIS, ((-1.05 * u, 0.0), (sensor + 0.05 * u, 0.0))),
            Stroke(Role.PUPIL, ((first, -high), (first, high))),
            Stroke(Role.PUPIL, ((second, -high), (second, high))),
            # Through the principal points nothing is bent; across between the planes, heights stay.
            Stroke(Role.CORNER_RAY, ((-u, subject), (first, 0.0), (second, 0.0), (sensor, -corner))),
            Stroke(Role.RAY, ((-u, subject), (first, subject), (second, subject), (sensor, -corner))),
            Stroke(Role.SUBJECT, ((-u, 0.0), (-u, subject))),
            Stroke(Role.SENSOR, ((sensor, -corner), (sensor, corner))),
        ),
        (
            Measure("u", u, (-u, -high), (first, -high)),
            Measure("v", behind, (second, -high), (sensor, -high)),
            Measure("h/m", subject, (-u, 0.0), (-u, subject)),
            Measure("h", corner, (sensor, 0.0), (sensor, -corner)),
        ),
    )
