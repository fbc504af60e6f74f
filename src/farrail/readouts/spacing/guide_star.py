"""How far from the axis a guide star may be: between the two edges of the guider's prism, carried to the sensor.

The chief ray of a place h on the sensor comes from the exit pupil, E before the sensor. A prism d before the sensor
takes it where it passes at ``h·(E − d)/E`` from the axis (similar triangles).
"""

from collections.abc import Iterator
from dataclasses import dataclass

from farrail.parts.inventory_item import PartId
from farrail.parts.kinds.guiders import OffAxisGuider
from farrail.parts.origin import Origin
from farrail.parts.provenance import weakest, widest
from farrail.train.layout import Layout

Ends = tuple[float, float]


@dataclass(frozen=True)
class PrismView:
    """What a guider's prism takes of the field, each value as the ends between which it is.

    Attributes:
        part: the guider.
        scale: a height in the prism's plane over the height of the same star in the sensor's.
        prism_mm: how high the prism is.
        edge_mm: from the axis to its near edge; None where that is not entered.
        origin: weakest input.
    """

    part: PartId
    scale: Ends
    prism_mm: Ends
    edge_mm: Ends | None
    origin: Origin


@dataclass(frozen=True)
class GuideStarRange:
    """Where the stars are whose chief ray a prism may take: distance from the axis, in the plane of the sensor."""

    part: PartId
    low_mm: float
    high_mm: float
    origin: Origin


def prism_views(layout: Layout) -> Iterator[PrismView]:
    """Yield what the prism of each off-axis guider of a train takes of the field."""
    sensor, pupil = layout.sensor_mm, layout.first_order.exit_pupil
    if sensor is None or not pupil.low > 0.0:
        return
    for placed in layout.rear:
        part = placed.part
        if not isinstance(part, OffAxisGuider):
            continue
        ahead = [sensor - placed.on_rail_mm(at) for at in part.prism_place_mm]
        if not 0.0 < min(ahead) <= max(ahead) < pupil.low:
            continue
        height, edge = part.prism_height_mm, part.prism_edge_mm
        origins = [pupil.origin, Origin.ASSUMED if height is None else height.origin]
        yield PrismView(
            part.id, (1.0 - max(ahead) / pupil.low, 1.0 - min(ahead) / pupil.high), part.prism_high_mm,
            None if edge is None else widest(edge), weakest([*origins, *([] if edge is None else [edge.origin])]),
        )  # fmt: skip


def guide_star_mm(layout: Layout) -> Iterator[GuideStarRange]:
    """Yield where the guide stars of each guider are whose prism's edge is known."""
    for view in prism_views(layout):
        if view.edge_mm is not None:
            low, high = view.edge_mm[0] / view.scale[1], (view.edge_mm[1] + view.prism_mm[1]) / view.scale[0]
            yield GuideStarRange(view.part, low, high, view.origin)
