"""The cut section of a train: what is drawn where, in mm on the rail, before any pixel is thought of.

Round parts are the same above and below the axis, so only the upper half is drawn: x is z on the rail, y the
distance from the axis, upward.
"""

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from farrail.language import say
from farrail.parts.base import Housing, TubePart
from farrail.parts.connections import Connection, Gender, Thread
from farrail.parts.in_beam import GlassRole, Measure, Outline
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.telescopes import Telescope
from farrail.parts.origin import Origin
from farrail.parts.registry import Part
from farrail.readouts.close_up.rays import CloseRays, close_rays
from farrail.readouts.light.bundles import Bundle, Notch, bundle_to, notches
from farrail.readouts.read import Readout
from farrail.train.layout import Layout
from farrail.train.placed import Placed, PlacedAperture, PlacedGlass
from farrail.train.trace import met_in
from farrail.train.train import MountedPart, Side, Train
from farrail.ui.rail.shapes import Point, barrel, lens_elements

# How much of a long optic or camera is shown before the break line, and how far beyond that the drawing reaches.
STUB_MM = 16.0
BODY_MM = 30.0
# What a joint that cannot mate is drawn apart by, on each side.
APART_MM = 1.1
# Parts taller than this are cut by a wave line rather than making everything else small; holders are taller.
FITTED_RADIUS_MM, FRONT_RADIUS_MM = 35.0, 62.0
# The least wall drawn where the aperture and the outer diameter leave none.
WALL_MM = 1.2


@dataclass(frozen=True, eq=False)
class Shape:
    """One part's cut wall and what belongs to it, counted from its own end toward the scene; the same for every place.

    A shape is made once for a part as it is placed and kept, so that what is painted of it can be kept too.
    """

    outline: tuple[Point, ...]
    outer_mm: float
    bore_mm: float
    long_mm: float
    elements: tuple[tuple[Point, ...], ...] = ()
    threads: tuple[tuple[float, float, float], ...] = ()  # z from, z to, radius
    cavity: tuple[float, float, float, float] | None = None  # z from, z to, radius from, radius to
    prisms: tuple[tuple[float, float, float, float], ...] = ()  # the same
    skirts: tuple[tuple[float, float, float, float], ...] = ()  # the same: where the body reaches over its neighbours
    text: str = ""
    thin: bool = False


# Shapes by part and how it is placed, each with its part: an id is not one once its part is gone.
Kept = dict[tuple[object, ...], tuple[Part, Shape]]


@dataclass(frozen=True)
class Body:
    """One part of the section at its place, and where it may be picked."""

    side: Side
    index: int
    name: str
    length_text: str
    origin: Origin
    shape: Shape
    z0: float
    z1: float
    kind: str
    part: str = ""
    ghost: bool = False
    break_left: bool = False

    @property
    def outer_mm(self) -> float:
        """How far from the axis it reaches."""
        return self.shape.outer_mm

    @property
    def bore_mm(self) -> float:
        """How far from the axis its wall begins."""
        return self.shape.bore_mm


@dataclass(frozen=True)
class GlassBlock:
    """A piece of glass in the beam."""

    z0: float
    z1: float
    radius_mm: float
    label: str
    holder_mm: float


@dataclass(frozen=True)
class FrontBundle:
    """The light ahead of a lens: where its entrance pupil is, how wide it is, and the corner's slope."""

    z_pupil_mm: float
    radius_mm: float
    tangent: float


@dataclass(frozen=True)
class Section:
    """Everything the rail shows of one train."""

    bodies: tuple[Body, ...]
    glass: tuple[GlassBlock, ...]
    joints: tuple[tuple[Side, int, float, bool], ...]  # side, index, z, mates
    axis_bundle: Bundle | None
    corner_bundle: Bundle | None
    notches: tuple[Notch, ...]
    sensor_mm: float | None
    half_diagonal_mm: float
    required_mm: float | None
    left_mm: float
    right_mm: float
    tallest_mm: float
    camera: tuple[str, str, float, float] | None  # name, size, flange z, body radius
    seat_spans: tuple[tuple[float, float, float], ...] = field(default=())  # z low, z high, radius
    front_bundle: FrontBundle | None = None
    fitted_radius_mm: float = 35.0
    close: CloseRays | None = None
    # What figures written on the drawing may be, by id, where something unknown moves them.
    ends: Mapping[str, tuple[float, float]] = field(default_factory=dict, hash=False)


def cut_section(readout: Readout, kept: Kept | None = None) -> Section:
    """Return the section of a placed train.

    Args:
        readout: the train.
        kept: shapes made before, added to; None makes all again.
    """
    kept = {} if kept is None else kept
    layout, light = readout.layout, readout.light
    apart = {(j.side, j.index) for j in layout.joints if j.mismatch is not None}
    bodies = [_optic_body(readout)]
    own = _own_apertures(layout)
    bodies += [_body_of(p, own.get((p.side, p.index), []), apart, kept) for p in (*layout.front, *layout.rear)]
    bodies += [body for p in layout.front if (body := _carried_body(p, layout)) is not None]
    close = close_rays(readout.close_up)
    glass = tuple(_glass_block(g, bodies) for g in layout.trace.glass)
    sensor, camera = layout.sensor_mm, layout.camera
    corner = light.corner_mm or 0.0
    camera_text = None
    if camera is not None:
        size = say(
            "{value:g} × {value_2:g} mm", value=camera.sensor_width_mm.value, value_2=camera.sensor_height_mm.value
        )
        camera_text = (camera.name, size, layout.flange_mm, camera.outer_diameter_mm / 2.0)
    left = min(b.z0 for b in bodies)
    if close is not None and close.shown:
        left = min(left, close.subject_mm)
    end = sensor if sensor is not None else layout.flange_mm
    required = readout.spacing.required_mm
    return Section(
        bodies=tuple(bodies),
        glass=glass,
        joints=tuple((j.side, j.index, j.z_mm, j.mismatch is None) for j in layout.joints),
        axis_bundle=bundle_to(light, (0.0, 0.0)) if sensor is not None else None,
        corner_bundle=bundle_to(light, light.worst_corner) if sensor is not None else None,
        notches=tuple(notches(light)),
        sensor_mm=sensor,
        half_diagonal_mm=corner,
        required_mm=required,
        left_mm=left,
        right_mm=max(end, required or end) + BODY_MM,
        tallest_mm=max((b.outer_mm for b in bodies), default=30.0),
        camera=camera_text,
        seat_spans=tuple((o.z_low_mm, o.z_high_mm, o.diameter.value / 2.0) for o in light.placed if o.place_unknown),
        front_bundle=_front_bundle(readout) if close is None else None,
        fitted_radius_mm=FRONT_RADIUS_MM if layout.front and not readout.close_up.equipped else FITTED_RADIUS_MM,
        close=close,
    )


def drawn_alike(one: Readout | None, other: Readout | None) -> bool:
    """Whether two readouts of the same parts have the same section: turning what is ahead changes nothing of it."""
    if one is None or other is None or one.layout.parts != other.layout.parts:
        return False
    before, after = one.layout.train, other.layout.train
    if before.front_stack == after.front_stack or len(before.front_stack) != len(after.front_stack):
        return before == after
    straight = tuple(
        laid.model_copy(update={"turned_deg": now.turned_deg})
        for laid, now in zip(before.front_stack, after.front_stack, strict=True)
    )
    return before.model_copy(update={"front_stack": straight}) == after


def _glass_name(glass: PlacedGlass) -> str:
    if glass.role is GlassRole.GELATIN:
        return say("gelatin filter")
    return say("camera window") if glass.of_camera else glass.part.name


def _glass_block(glass: PlacedGlass, bodies: list[Body]) -> GlassBlock:
    """Return a piece of glass, with the tray or carousel that holds it; a sheet as far up as it is slid."""
    around = 0.0
    if glass.role is GlassRole.FILTER and glass.place.side is Side.REAR:
        around = _holder_around(bodies, (glass.z_front_mm + glass.z_rear_mm) / 2.0)
    reach = max(glass.diameter_mm / 2.0 + glass.shift_mm, 1.0)
    label = _glass_name(glass)
    return GlassBlock(glass.z_front_mm, glass.z_rear_mm, reach, label, around)


def _front_bundle(readout: Readout) -> FrontBundle | None:
    front = readout.front
    if not front.judged:
        return None
    z, radius, tangent = front.bundle_mm
    return FrontBundle(z, radius, tangent)


def section_of_part(part: Part) -> Section | None:
    """Return the section of one part by itself; None for a kind that does not be between others."""
    if not isinstance(part, TubePart):
        return None
    laid = MountedPart(part=part.id)
    length = part.length_at(None)
    placed = Placed(Side.REAR, 0, part, laid, length, 0.0, length.value, part.front, part.rear)
    met = met_in(placed)
    body = _body_of(placed, [m for m in met if isinstance(m, PlacedAperture)], set(), {})
    glass = tuple(_glass_block(g, []) for g in met if isinstance(g, PlacedGlass))
    reaches = [body.z0 + z for z, _ in body.shape.outline]
    return Section(
        bodies=(body,), glass=glass, joints=(), axis_bundle=None, corner_bundle=None, notches=(), sensor_mm=None,
        half_diagonal_mm=0.0, required_mm=None, left_mm=min(reaches), right_mm=max(reaches),
        tallest_mm=body.outer_mm, camera=None,
    )  # fmt: skip


def ghosted(section: Section, train: Train | None) -> Section:
    """Return a proposal's section with the parts the train does not have yet as ghosts."""
    have = Counter(train.part_ids()) if train is not None else Counter()
    bodies = []
    for body in section.bodies:
        ghost = body.part != "" and have[body.part] < 1
        have[body.part] -= 1
        bodies.append(replace(body, ghost=ghost))
    return replace(section, bodies=tuple(bodies))


def _carried_body(placed: Placed, layout: Layout) -> Body | None:
    """Return a lens that a reversing ring carries, flipped ahead of it."""
    lens = layout.parts.get(placed.laid.lens or "")
    if not isinstance(lens, CameraLens):
        return None
    z1, outer = placed.z_front_mm, lens.outer_diameter_mm / 2.0
    z0 = z1 - lens.barrel_length_mm
    bore = outer - max(outer * 0.18, 3.0)
    text, long = say("{value:g} mm, reversed", value=lens.focal_length_mm.value), lens.barrel_length_mm
    wall = barrel(long, 0.0, outer, bore, lens.rear)
    shape = Shape(wall, outer, bore, long, lens_elements(long, 0.0, bore))
    return Body(
        placed.side, placed.index, lens.name, text, lens.focal_length_mm.origin, shape, z0, z1, lens.kind, lens.id
    )


def _optic_body(readout: Readout) -> Body:
    layout, optic = readout.layout, readout.layout.optic
    rear, long = layout.optic_rear_mm, optic.body_mm
    outer = optic.outer_diameter_mm / 2.0
    bore = max(min(optic.rear.standard.size_mm / 2.0 - 1.0, outer - WALL_MM), 1.0)
    elements: tuple[tuple[Point, ...], ...] = ()
    if isinstance(optic, CameraLens):
        bore = outer - max(outer * 0.18, 3.0)
        text = say("{value:g} mm f/{value_2:g}", value=optic.focal_length_mm.value, value_2=optic.f_number.value)
        ends = (long, 0.0) if layout.reversed else (0.0, long)
        outline, elements = barrel(*ends, outer, bore, optic.rear), lens_elements(*ends, bore)
        text += say(", reversed") if layout.reversed else ""
    else:
        assert isinstance(optic, Telescope)
        # The stub is long enough to show what reaches into it, such as a nosepiece.
        long = max(STUB_MM, optic.rear.drawn_engagement_mm + 8.0)
        text = say(
            "f {value:g} mm, f/{value_2:.1f}",
            value=optic.focal_length_mm.value,
            value_2=optic.focal_length_mm.value / optic.aperture_mm.value,
        )
        outline = _wall(long, outer, bore, None, optic.rear)
    shape = Shape(outline, outer, bore, long, elements, _threads(long, None, layout.optic_ends[1]))
    return Body(
        Side.REAR, -1, optic.name, text, optic.focal_length_mm.origin, shape, rear - long, rear, optic.kind, optic.id,
        break_left=not isinstance(optic, CameraLens),
    )  # fmt: skip


def _own_apertures(layout: Layout) -> dict[tuple[Side, int], list[PlacedAperture]]:
    """Return the apertures of each member."""
    found: dict[tuple[Side, int], list[PlacedAperture]] = {}
    for aperture in layout.trace.apertures:
        found.setdefault((aperture.side, aperture.index), []).append(aperture)
    return found


def _body_of(placed: Placed, apertures: list[PlacedAperture], apart: set[tuple[Side, int]], kept: Kept) -> Body:
    part = placed.part
    z0, z1 = sorted((placed.z_front_mm, placed.z_rear_mm))
    # On the front side joint i is behind part i; on the rear side before it.
    before, after = (placed.index + 1, placed.index) if placed.side is Side.FRONT else (placed.index, placed.index + 1)
    front, rear = (placed.side, before) not in apart, (placed.side, after) not in apart
    gap = min(APART_MM, (z1 - z0) / 3.0)
    z0, z1 = z0 + (0.0 if front else gap), z1 - (0.0 if rear else gap)
    # What is screwed into a joint apart is not drawn; everything else of the shape is the part's own.
    key = (id(part), placed.laid.flipped, placed.length.value, round(z1 - z0, 9), front, rear)
    found = kept.get(key)
    if found is None or found[0] is not part:
        found = kept[key] = (part, _shape_of(placed, apertures, z0, z1 - z0, front=front, rear=rear))
    shape = found[1]
    return Body(
        placed.side, placed.index, part.name, shape.text, placed.length.origin, shape, z0, z1, part.kind, part.id
    )


def _shape_of(
    placed: Placed, apertures: list[PlacedAperture], z0: float, long: float, *, front: bool, rear: bool
) -> Shape:
    part = placed.part
    outer = part.outer_diameter_mm / 2.0
    own = [a for a in apertures if a.part is part and a.passes is None]
    bore = min([(a.height or a.diameter).value / 2.0 for a in own], default=outer - 6.0)
    bore = max(min(bore, outer - WALL_MM), 0.5)
    drawn = part.outline(long, bore)
    if drawn.wall_mm is not None:
        bore = max(outer - drawn.wall_mm, 0.5)
    ends = placed.front if front else None, placed.rear if rear else None
    flipped = placed.laid.flipped
    return Shape(
        outline=_wall(long, outer, bore, *ends), outer_mm=outer, bore_mm=bore, long_mm=long,
        elements=tuple(tuple((long - z if flipped else z, y) for z, y in lens) for lens in drawn.elements),
        threads=_threads(long, *ends), cavity=_cavity(long, bore, outer) if drawn.hollow else None,
        prisms=tuple(_prism(a, z0) for a in apertures if a.passes is not None), skirts=_skirts(placed, z0),
        text=_measure(drawn, placed), thin=part.passes_thread,
    )  # fmt: skip


def _skirts(placed: Placed, z0: float) -> tuple[tuple[float, float, float, float], ...]:
    """Return where a body reaches over its neighbours, outside what is free inside."""
    part = placed.part
    if not isinstance(part, Housing):
        return ()
    outer = part.outer_diameter_mm / 2.0
    inner = part.overhang_clear_mm.value / 2.0 if part.overhang_clear_mm is not None else outer - 2.0
    if inner >= outer:
        return ()
    ahead, behind = part.overhang_front_mm, part.overhang_rear_mm
    if placed.laid.flipped:
        ahead, behind = behind, ahead
    found = []
    if ahead is not None:
        found.append((placed.z_front_mm - ahead.value - z0, placed.z_front_mm - z0, inner, outer))
    if behind is not None:
        found.append((placed.z_rear_mm - z0, placed.z_rear_mm + behind.value - z0, inner, outer))
    return tuple(found)


def _prism(cover: PlacedAperture, z0: float) -> tuple[float, float, float, float]:
    """Return a prism's section: as deep along the axis as it is high."""
    half = (cover.height or cover.diameter).value / 2.0
    z = cover.z_mm - z0
    return z - half, z + half, cover.centre_mm[1] - half, cover.centre_mm[1] + half


def _measure(drawn: Outline, placed: Placed) -> str:
    """Return what a part is labelled with."""
    if drawn.measure is Measure.POWER:
        return say("+{value:g} dpt", value=drawn.value)
    return (
        say("×{value:g}", value=drawn.value)
        if drawn.measure is Measure.FACTOR
        else say("{value:.2f length}", value=placed.length.value)
    )


def _cavity(long: float, bore: float, outer: float) -> tuple[float, float, float, float] | None:
    """Return the hollow of a filter housing, in which the tray or carousel runs."""
    plate = min(3.0, long * 0.2)
    if outer - bore < 6.0:
        return None
    return plate, long - plate, bore, outer - 2.5


def _reach(connection: Connection | None, length: float) -> tuple[float, float]:
    """Return how far a connection's peg reaches out (positive) or its recess in (negative), and its radius."""
    if connection is None or connection.gender is Gender.NONE:
        return 0.0, 0.0
    depth = min(connection.drawn_engagement_mm, length * 0.45 if connection.gender is Gender.INTERNAL else 60.0)
    return (depth if connection.gender is Gender.EXTERNAL else -depth), connection.standard.size_mm / 2.0


def _wall(
    long: float, outer: float, bore: float, front: Connection | None, rear: Connection | None
) -> tuple[Point, ...]:
    """Return the outline of a part's cut wall with its pegs and recesses."""
    length = max(long, 1e-6)
    points: list[Point] = [(0.0, outer), (long, outer)]
    reach, radius = _reach(rear, length)
    radius = min(radius, outer)
    if reach and radius > bore + 0.2:
        points += [(long, radius), (long + reach, radius), (long + reach, bore)]
    else:
        points.append((long, bore))
    reach, radius = _reach(front, length)
    radius = min(radius, outer)
    if reach and radius > bore + 0.2:
        points += [(-reach, bore), (-reach, radius), (0.0, radius)]
    else:
        points.append((0.0, bore))
    return tuple(points)


def _threads(long: float, front: Connection | None, rear: Connection | None) -> tuple[tuple[float, float, float], ...]:
    found = []
    for connection, z, sign in ((front, 0.0, -1.0), (rear, long, 1.0)):
        if connection is not None and isinstance(connection.standard, Thread) and connection.gender is Gender.EXTERNAL:
            reach, radius = _reach(connection, long)
            found.append((*sorted((z, z + sign * reach)), radius))
    return tuple((a, b, r) for a, b, r in found)


def _holder_around(bodies: list[Body], z: float) -> float:
    """Return the radius up to which the tray or carousel around a filter is drawn."""
    for body in bodies:
        if body.z0 <= z <= body.z1 and body.shape.cavity is not None:
            return body.shape.cavity[3] - 1.0
    return 0.0
