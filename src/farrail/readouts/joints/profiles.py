"""Findings about outer profiles: a body that reaches over its neighbour needs room for what is there."""

from collections.abc import Iterator

from farrail.parts.base import Housing
from farrail.parts.kinds.lenses import CameraLens
from farrail.readouts.finding import Finding, Severity
from farrail.readouts.joints.messages import BodiesCollide
from farrail.readouts.joints.outer import Body, Outer
from farrail.train.layout import Layout
from farrail.train.placed import Placed

# The wall left when it is not entered how wide an overhang is inside; common practice, no source.
WALL_MM = 2.0
# How far behind its flange a camera's body is taken to reach, and how much of a telescope ahead of its shoulder.
BODY_MM = 60.0


def profile_findings(layout: Layout) -> Iterator[Finding]:
    """Yield a finding for each body that reaches over something too wide for it."""
    placed = [(-1 - p.index, p, _outer(p)) for p in layout.front] + [(1 + p.index, p, _outer(p)) for p in layout.rear]
    ends: list[tuple[int, Placed | None, Outer]] = [(0, None, _optic(layout))]
    if layout.camera is not None:
        camera, flange = layout.camera, layout.flange_mm
        body = Outer(camera.id, camera.name, flange, flange + BODY_MM, camera.outer_diameter_mm, Body.BODY)
        ends.append((len(layout.rear) + 1, None, body))
    # In the order the light meets them: what reaches ahead can only meet what is ahead.
    row = sorted([*placed, *ends], key=lambda item: item[0])
    for place, owner, _ in row:
        if owner is None:
            continue
        for z0, z1, ahead in _reaches(owner):
            for other_place, _, other in row:
                if (
                    (other_place < place) is ahead
                    and other_place != place
                    and min(z1, other.z1) - max(z0, other.z0) > 0.01
                ):
                    yield from _collision(owner, other)


def _optic(layout: Layout) -> Outer:
    optic = layout.optic
    start = layout.front_seat_mm if isinstance(optic, CameraLens) else layout.optic_rear_mm - BODY_MM
    what = Body.BARREL if isinstance(optic, CameraLens) else Body.FOCUSER
    return Outer(optic.id, optic.name, start, layout.optic_rear_mm, optic.outer_diameter_mm, what)


def _outer(placed: Placed) -> Outer:
    part, what = placed.part, Body.BODY
    wide = part.outer_diameter_mm
    handle = part.outline(placed.length.value, wide / 2.0).reach_mm
    if 2.0 * handle > wide:
        wide, what = 2.0 * handle, Body.HANDLE
    return Outer(part.id, part.name, placed.z_front_mm, placed.z_rear_mm, wide, what)


def _reaches(placed: Placed) -> Iterator[tuple[float, float, bool]]:
    """Yield the spans, beyond its own shoulders, over which a part's body reaches, and whether ahead of it."""
    part = placed.part
    if not isinstance(part, Housing):
        return
    ahead, behind = part.overhang_front_mm, part.overhang_rear_mm
    if placed.laid.flipped:
        ahead, behind = behind, ahead
    if ahead is not None:
        yield placed.z_front_mm - ahead.value, placed.z_front_mm, True
    if behind is not None:
        yield placed.z_rear_mm, placed.z_rear_mm + behind.value, False


def _collision(owner: Placed, other: Outer) -> Iterator[Finding]:
    part = owner.part
    assert isinstance(part, Housing)
    known = part.overhang_clear_mm
    clear = known.value if known is not None else part.outer_diameter_mm - 2.0 * WALL_MM
    if other.diameter_mm <= clear + 1e-9:
        return
    yield Finding(
        BodiesCollide(part=part.name, other=other, clear_mm=clear, known=known is not None), Severity.STOP,
        owner.place, part.id, which=f"{part.id}.{other.part}",
    )  # fmt: skip
