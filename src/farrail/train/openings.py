"""Which clear apertures and which glass a laid part puts into the beam."""

from collections.abc import Mapping

from farrail.parts.connections import default_clear_diameter_mm
from farrail.parts.kinds import (
    Camera,
    FilterDrawer,
    FilterHolder,
    FilterWheel,
    OffAxisGuider,
    Part,
    PartId,
    RoundFilter,
    Shim,
    Telescope,
)
from farrail.parts.provenance import Origin, Quantity, Span, assumed, weakest
from farrail.train.placed import Placed, PlacedGlass, PlacedOpening
from farrail.train.train import Side


def openings_of(placed: Placed, shelf: Mapping[PartId, Part]) -> list[PlacedOpening]:
    """Return a laid part's clear apertures, toward the scene first.

    A tube is as wide as its clear aperture from end to end, so both ends are judged; without a known clear
    aperture each end takes the default of its connection, flagged assumed.
    """
    part = placed.part
    if isinstance(part, Shim):
        return []
    if isinstance(part, RoundFilter):
        middle = (placed.z_front_mm + placed.z_rear_mm) / 2.0
        return [_fixed(placed, "clear aperture", clear_aperture_of_filter(part), middle)]
    if isinstance(part, FilterHolder):
        return _holder(placed, part, shelf)
    ends = [
        _fixed(placed, "front opening", _bore(placed, front=True), placed.z_front_mm),
        _fixed(placed, "rear opening", _bore(placed, front=False), placed.z_rear_mm),
    ]
    if isinstance(part, OffAxisGuider):
        return [ends[0], *_prism(placed, part), ends[1]]
    if not isinstance(part, (FilterDrawer, FilterWheel)):
        return ends
    return [ends[0], *_seat_openings(placed, part, shelf), ends[1]]


def _seat_openings(
    placed: Placed, seat: FilterDrawer | FilterWheel, shelf: Mapping[PartId, Part]
) -> list[PlacedOpening]:
    found = []
    filter_part = filter_in_beam(placed, shelf)
    low, high = seat_span_mm(placed, seat, filter_part)
    origin = weakest([seat.seat_mm.origin, placed.length.origin])
    centre = (0.0, seat.seat_offset_mm.value if seat.seat_offset_mm is not None else 0.0)
    if seat.seat_aperture_mm is not None:
        found.append(
            PlacedOpening(
                seat, "filter seat", seat.seat_aperture_mm, (low + high) / 2, low, high, placed.side, origin,
                seat.seat_aperture_height_mm, centre, None, placed.index,
            )
        )  # fmt: skip
    if filter_part is not None:
        # The cone is wider at the surface that faces the light; that one decides.
        clear = clear_aperture_of_filter(filter_part)
        found.append(
            PlacedOpening(
                filter_part, "in the beam", clear, (low + high) / 2, low, high, placed.side, origin, None, centre,
                None, placed.index,
            )
        )  # fmt: skip
    return found


# What a holder's rails cover of a sheet at each side where nobody has measured it; common practice, no source.
RAIL_MM = 2.5
# A window open above and below is taken as this high.
OPEN_MM = 600.0


def slot_z_mm(placed: Placed, holder: FilterHolder, slot: int) -> float:
    """Return where the middle of a holder's slot lies on the rail."""
    return placed.z_rear_mm - holder.first_slot_mm.value - slot * holder.slot_pitch_mm.value


def _holder(placed: Placed, holder: FilterHolder, shelf: Mapping[PartId, Part]) -> list[PlacedOpening]:
    """Return a holder's openings, toward the scene first: its window where the slots end, the drop-in, its rear."""
    rails = assumed(max(holder.sheet_width_mm.value - 2.0 * RAIL_MM, 0.1), note="the sheet's width less its rails")
    width = holder.window_width_mm if holder.window_width_mm is not None else rails
    height = holder.window_height_mm if holder.window_height_mm is not None else assumed(OPEN_MM, note="open above")
    found = []
    places = [("window, front", placed.z_front_mm)]
    places += [(f"slot {n + 1}", slot_z_mm(placed, holder, n)) for n in reversed(range(holder.slots))]
    for label, z in places:
        found.append(
            PlacedOpening(holder, label, width, z, z, z, placed.side, placed.length.origin, height, index=placed.index)
        )
    dropped = shelf.get(placed.laid.drop_in or "")
    if isinstance(dropped, RoundFilter):
        at = holder.drop_in_at_mm.value if holder.drop_in_at_mm is not None else holder.first_slot_mm.value / 2.0
        z = placed.z_rear_mm - at
        clear = clear_aperture_of_filter(dropped)
        found.append(
            PlacedOpening(dropped, "dropped in", clear, z, z, z, placed.side, clear.origin, index=placed.index)
        )
    if holder.clear_aperture_mm is not None:
        found.append(_fixed(placed, "rear opening", holder.clear_aperture_mm, placed.z_rear_mm))
    return found


def _prism(placed: Placed, guider: OffAxisGuider) -> list[PlacedOpening]:
    """Return the guider's prism as what covers part of the light; nothing where its edge is not known.

    Unknown sizes are taken as 8 mm and its place as the middle (common practice, no source).
    """
    edge = guider.prism_edge_mm
    if edge is None:
        return []
    width, height = (
        q if q is not None else assumed(8.0, note="a usual prism")
        for q in (guider.prism_width_mm, guider.prism_height_mm)
    )  # fmt: skip
    at = guider.prism_at_mm.value if guider.prism_at_mm is not None else placed.length.value / 2.0
    z = placed.z_rear_mm - at if placed.laid.flipped else placed.z_front_mm + at
    centre = (0.0, edge.value + height.value / 2.0)
    origin = weakest([edge.origin, width.origin, height.origin])
    return [PlacedOpening(guider, "prism", width, z, z, z, placed.side, origin, height, centre, 0.0, placed.index)]


def drawtube_openings(telescope: Telescope, rear_mm: float) -> list[PlacedOpening]:
    """Return both ends of a telescope's drawtube, nothing where its width is not known."""
    clear, length = telescope.drawtube_clear_mm, telescope.drawtube_length_mm
    if clear is None:
        return []
    ends = [("drawtube's rear", rear_mm)]
    if length is not None:
        ends.insert(0, ("drawtube's front", rear_mm - length.value))
    return [PlacedOpening(telescope, label, clear, z, z, z, Side.REAR, clear.origin) for label, z in ends]


def glass_of(placed: Placed, shelf: Mapping[PartId, Part]) -> list[PlacedGlass]:
    """Return the glass a laid part holds in the beam: its own, or that of the filter in its seat."""
    part = placed.part
    if isinstance(part, RoundFilter):
        middle = (placed.z_front_mm + placed.z_rear_mm) / 2.0
        z = middle - part.glass.drawn_thickness_mm / 2.0
        return [PlacedGlass(part, part.name, part.glass, z, clear_aperture_of_filter(part).value, "filter")]
    if isinstance(part, (FilterDrawer, FilterWheel)):
        filter_part = filter_in_beam(placed, shelf)
        if filter_part is not None:
            low, high = seat_span_mm(placed, part, filter_part)
            diameter = filter_part.outer_diameter_mm
            z = (low + high) / 2.0
            return [PlacedGlass(filter_part, filter_part.name, filter_part.glass, z, diameter, "filter")]
    return []


def window_glass(camera: Camera, sensor_mm: float) -> PlacedGlass:
    """Return a camera's window at its place before the sensor."""
    window = camera.window
    assert window is not None
    z = sensor_mm - window.sensor_gap_mm.value - window.glass.drawn_thickness_mm
    diagonal = (camera.sensor_width_mm.value**2 + camera.sensor_height_mm.value**2) ** 0.5
    return PlacedGlass(camera, "camera window", window.glass, z, diagonal * 1.15, "window")


def filter_in_beam(placed: Placed, shelf: Mapping[PartId, Part]) -> RoundFilter | None:
    """Return the filter that stands in the beam in a laid drawer or wheel, if any."""
    filter_id = placed.laid.filter_in_beam
    part = None if filter_id is None else shelf.get(filter_id)
    return part if isinstance(part, RoundFilter) else None


def seat_span_mm(
    placed: Placed, seat: FilterDrawer | FilterWheel, filter_part: RoundFilter | None
) -> tuple[float, float]:
    """Return the two ends between which the surface that faces the light lies, on the rail.

    In a flipped part the filter's other surface faces the light: one thickness nearer the scene.
    """
    if not placed.laid.flipped:
        return placed.z_front_mm + seat.seat_mm.low, placed.z_front_mm + seat.seat_mm.high
    thickness = filter_part.glass.drawn_thickness_mm if filter_part is not None else 0.0
    return placed.z_rear_mm - seat.seat_mm.high - thickness, placed.z_rear_mm - seat.seat_mm.low - thickness


def clear_aperture_of_filter(part: RoundFilter) -> Quantity:
    """Return a filter's clear aperture, or an assumed one from its size.

    An unmounted filter is usually usable to within 1 mm of its edge; common practice, no source.
    """
    if part.clear_aperture_mm is not None:
        return part.clear_aperture_mm
    return assumed(max(part.outer_diameter_mm - 2.0, 0.1), note="its size less 1 mm all round")


def _bore(placed: Placed, *, front: bool) -> Quantity:
    part = placed.part
    if part.clear_aperture_mm is not None:
        return part.clear_aperture_mm
    connection = placed.front if front else placed.rear
    return assumed(default_clear_diameter_mm(connection), note=f"minor diameter of {connection.label} less a wall")


def _fixed(placed: Placed, label: str, diameter: Quantity, z_mm: float) -> PlacedOpening:
    origin = Origin.ASSUMED if isinstance(placed.length.in_use, Span) else placed.length.origin
    return PlacedOpening(placed.part, label, diameter, z_mm, z_mm, z_mm, placed.side, origin, index=placed.index)
