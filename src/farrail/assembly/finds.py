"""What the rules look for in a placed train: joints of a kind, filters in seats, sheets in slots, what is ahead."""

from collections.abc import Callable, Iterator

from farrail.assembly.model import Hit, StepValues
from farrail.parts.base import Adjustable, TubePart
from farrail.parts.connections import Bayonet, Connection, OnlyFits, Standard, Thread
from farrail.parts.kinds.ahead import FilterHolder, Hood
from farrail.parts.kinds.filters import RoundFilter, SheetFilter
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.seats import FilterDrawer, FilterSeat, FilterWheel
from farrail.parts.kinds.telescopes import Telescope
from farrail.parts.kinds.tubes import Adapter, TiltPlate
from farrail.parts.registry import Part
from farrail.train.layout import Layout
from farrail.train.placed import Place, Placed
from farrail.train.train import Side
from farrail.units import mm_to_micrometres

# A thread as wide as this crosses easily; common practice, no source.
LARGE_THREAD_MM = 86.0
# Filters that take so many stops make long exposures, for which the viewfinder is covered; common practice, no source.
DENSE_STOPS = 6.0

# What one screw of a tilt plate is moved to show how far it tilts.
SCREW_STEP_MM = 0.1
# What the name of a magnetic fitting begins with.
MAGNETIC = "magnetic"

Find = Callable[[Layout], Iterator[Hit]]


def always(layout: Layout) -> Iterator[Hit]:
    """Every train."""
    yield Hit(values={"train": layout.train.name})


def when(test: Callable[[Layout], bool]) -> Find:
    """Return what finds the train as a whole where a test holds."""

    def find(layout: Layout) -> Iterator[Hit]:
        if test(layout):
            yield Hit(values={"train": layout.train.name, "optic": layout.optic.name,
                              "camera": layout.camera.name if layout.camera is not None else ""})  # fmt: skip

    return find


def _any(layout: Layout, placed: Placed) -> bool:
    """Any."""
    return True


def members(side: Side, kind: type[Part], test: Callable[[Layout, Placed], bool] = _any) -> Find:
    """Return what finds the parts of a kind on a side."""

    def find(layout: Layout) -> Iterator[Hit]:
        for placed in layout.rear if side is Side.REAR else layout.front:
            if isinstance(placed.part, kind) and test(layout, placed):
                yield Hit(placed.place, part=placed.part.id, values=_about(layout, placed))

    return find


def _about(layout: Layout, placed: Placed) -> StepValues:
    part = placed.part
    values: StepValues = {"part": part.name, "length_mm": placed.length.value}
    if isinstance(part, Adjustable):
        values["set_mm"] = placed.length.value
    if isinstance(part, FilterSeat):
        low, high = placed.on_rail_mm(part.seat_mm.low), placed.on_rail_mm(part.seat_mm.high)
        middle = (low + high) / 2.0
        values["nearer_sensor"] = middle > placed.middle_mm
        values["empty"] = sum(f is None for f in placed.laid.filters)
    return values


def rear_joints(standard: type[Standard]) -> Find:
    """Return what finds the joints of the rear train of a kind, from the optic's own on to the camera's."""

    def find(layout: Layout) -> Iterator[Hit]:
        for joint in layout.joints:
            if joint.side is not Side.REAR or joint.index == 0 or joint.left is None or joint.right is None:
                continue
            if isinstance(joint.left.standard, standard) and not _passes(layout, joint.index):
                yield Hit(
                    Place(Side.REAR, joint.index),
                    joint=True,
                    values=_joint(joint.left, _threaded_before(layout, joint.index), joint.right_name),
                )

    return find


def _passes(layout: Layout, index: int) -> bool:
    """Whether what is behind a joint has no thread of its own: its step is shown with the joint behind it."""
    return index < len(layout.rear) and layout.rear[index].passes_thread


def _threaded_before(layout: Layout, index: int) -> str:
    """Return the name of the part whose thread makes a joint: shims and held glass before it have none."""
    while index > 0 and layout.rear[index - 1].passes_thread:
        index -= 1
    return layout.rear[index - 1].part.name if index > 0 else layout.optic.name


def _joint(end: Connection, left: str, right: str) -> StepValues:
    return {"left": left, "right": right, "thread": end.standard.label}


def onto_optic(layout: Layout) -> Iterator[Hit]:
    """Find the joint at the optic's rear, where a train follows it."""
    for joint in layout.joints if layout.rear else ():
        if joint.side is Side.REAR and joint.index == 0 and joint.left is not None and joint.right is not None:
            values = _joint(joint.left, joint.left_name, joint.right_name)
            values["telescope"] = isinstance(layout.optic, Telescope)
            values["threaded"] = isinstance(joint.left.standard, Thread)
            yield Hit(Place(Side.REAR, 0), joint=True, values=values)


def filters_in_seats(test: Callable[[RoundFilter], bool]) -> Find:
    """Return what finds the filters in drawers and wheels of which something holds, each once."""

    def find(layout: Layout) -> Iterator[Hit]:
        for placed in layout.rear:
            if not isinstance(placed.part, FilterSeat):
                continue
            for slot, filter_id in enumerate(placed.laid.filters):
                part = layout.parts.get(filter_id or "")
                if isinstance(part, RoundFilter) and test(part):
                    yield Hit(
                        Place(Side.REAR, placed.index, slot), part=part.id,
                        values={"part": part.name, "seat": placed.part.name, "slot": slot + 1,
                                "wheel": isinstance(placed.part, FilterWheel)},
                    )  # fmt: skip

    return find


def held_filters(layout: Layout) -> Iterator[Hit]:
    """Find filters held between two rings."""
    for placed in layout.rear:
        if placed.held is not None:
            values: StepValues = {
                "part": placed.part.name,
                "before": placed.held.before.part.name,
                "after": placed.held.after.part.name,
            }
            yield Hit(placed.place, part=placed.part.id, values=values)


def out_of_cells(layout: Layout) -> Iterator[Hit]:
    """Find filters whose glass is taken out of its cell."""
    for placed in layout.rear:
        if placed.laid.out_of_cell:
            yield Hit(placed.place, part=placed.part.id, values={"part": placed.part.name})


def sheets(test: Callable[[SheetFilter, FilterHolder, int], bool]) -> Find:
    """Return what finds the sheets in a holder's slots of which something holds, the rearmost first."""

    def find(layout: Layout) -> Iterator[Hit]:
        for placed in layout.front:
            holder = placed.part
            if not isinstance(holder, FilterHolder):
                continue
            for slot, sheet_id in enumerate(placed.laid.filters):
                sheet = layout.parts.get(sheet_id or "")
                if isinstance(sheet, SheetFilter) and test(sheet, holder, slot):
                    yield Hit(
                        Place(Side.FRONT, placed.index, slot), part=sheet.id,
                        values={"part": sheet.name, "holder": holder.name, "slot": slot + 1},
                    )  # fmt: skip

    return find


def dropped_in(layout: Layout) -> Iterator[Hit]:
    """Find the round filters that are dropped into a holder behind its sheets."""
    for placed in layout.front:
        part = layout.parts.get(placed.laid.drop_in or "")
        if isinstance(part, RoundFilter):
            values: StepValues = {"part": part.name, "holder": placed.part.name, "polariser": part.polariser}
            yield Hit(placed.place, part=part.id, values=values)


def is_slip_on(layout: Layout, placed: Placed) -> bool:
    """Whether a front part is slipped over a lens that has no thread."""
    lens = layout.optic
    bulbous = isinstance(lens, CameraLens) and (lens.front is None or isinstance(lens.front.standard, OnlyFits))
    return bulbous and placed.index == 0 and isinstance(placed.rear.standard, OnlyFits)


def on_thread(layout: Layout, placed: Placed) -> bool:
    """Whether a front part screws on what is behind it."""
    return isinstance(placed.rear.standard, Thread)


def steps_thread(layout: Layout, placed: Placed) -> bool:
    """Whether an adapter ahead of a lens goes from one filter thread to another."""
    ends = (placed.front.standard, placed.rear.standard)
    return isinstance(placed.part, Adapter) and all(isinstance(end, Thread) for end in ends) and ends[0] != ends[1]


def after_a_step_ring(layout: Layout, placed: Placed) -> bool:
    """Whether a holder's ring goes on a step-up ring."""
    behind = layout.front[placed.index - 1] if placed.index else None
    return on_thread(layout, placed) and behind is not None and steps_thread(layout, behind)


def is_polariser(layout: Layout, placed: Placed) -> bool:
    """Whether a round filter polarises."""
    return isinstance(placed.part, RoundFilter) and placed.part.polariser


def is_magnetic(end: Connection) -> bool:
    """Whether a connection is held by magnets."""
    return isinstance(end.standard, OnlyFits) and end.standard.name.startswith(MAGNETIC)


def on_magnets(layout: Layout, placed: Placed) -> bool:
    """Whether a filter is held by magnets."""
    return is_magnetic(placed.rear)


def carries_magnets(layout: Layout, placed: Placed) -> bool:
    """Whether a ring carries magnetic filters."""
    return is_magnetic(placed.front) and on_thread(layout, placed)


def has_hood_to_take_off(layout: Layout) -> bool:
    """Whether the lens's own hood is in the way of what goes on its front."""
    lens = layout.optic
    ahead = layout.front and not any(isinstance(placed.part, Hood) for placed in layout.front)
    return bool(ahead) and isinstance(lens, CameraLens) and lens.hood == "hood_comes_off"


def guide_cameras(layout: Layout) -> Iterator[Hit]:
    """Find the guide cameras on guiders' ports, with what is between."""
    for placed in layout.rear:
        hung = placed.laid.guide
        camera = None if hung is None else layout.parts.get(hung.camera)
        if hung is not None and camera is not None:
            between = [layout.parts[part_id] for part_id in hung.between if part_id in layout.parts]
            long = sum(part.length_at(None).value for part in between if isinstance(part, TubePart))
            values: StepValues = {"guide": camera.name, "part": placed.part.name, "length_mm": long}
            yield Hit(placed.place, part=camera.id, values=values)


def tilt_plates(layout: Layout) -> Iterator[Hit]:
    """Find the tilt plates, with how far a tenth of a millimetre at one screw of three moves the corner beside it.

    The screws are taken at the rim: one of three tilts the plate about the line through the other two, which is one
    and a half radii away.
    """
    camera = layout.camera
    for placed in layout.rear if camera is not None else ():
        if isinstance(placed.part, TiltPlate) and camera is not None:
            angle = SCREW_STEP_MM / (1.5 * placed.part.outer_diameter_mm / 2.0)
            values: StepValues = {
                "part": placed.part.name, "corner_um": round(mm_to_micrometres(angle * camera.diagonal_mm / 2.0))
            }  # fmt: skip
            yield Hit(placed.place, part=placed.part.id, values=values)


def polariser_on_bayonet(layout: Layout, placed: Placed) -> bool:
    """Whether a round polariser goes on a bayonet instead of a thread."""
    on_bayonet = isinstance(placed.rear.standard, OnlyFits | Bayonet) and not is_magnetic(placed.rear)
    return is_polariser(layout, placed) and on_bayonet


def polariser_on_large_thread(layout: Layout, placed: Placed) -> bool:
    """Whether a polariser's thread is so wide that it crosses easily."""
    rear = placed.rear.standard
    return is_polariser(layout, placed) and isinstance(rear, Thread) and rear.diameter_mm >= LARGE_THREAD_MM


def holder_on_ring(layout: Layout, placed: Placed) -> bool:
    """Whether a holder goes on a ring of its own and not over the lens itself."""
    return isinstance(placed.part, FilterHolder) and not is_slip_on(layout, placed)


def has_slip_on(layout: Layout) -> bool:
    """Whether anything is slipped over the lens."""
    return any(is_slip_on(layout, placed) for placed in layout.front)


def has_glass_in_hand(layout: Layout) -> bool:
    """Whether filters are handled at all."""
    seats = any(isinstance(p.part, FilterSeat) and any(p.laid.filters) for p in layout.rear)
    ahead = any(isinstance(p.part, RoundFilter | FilterHolder) for p in layout.front)
    return seats or ahead or any(isinstance(p.part, RoundFilter) for p in layout.rear)


def has_open_housing(layout: Layout) -> bool:
    """Whether a drawer or wheel lets dust in when it is opened."""
    return any(isinstance(p.part, FilterDrawer | FilterWheel) for p in layout.rear)


def has_ring_off(layout: Layout) -> bool:
    """Whether the camera is used without its front ring."""
    return layout.train.camera_bare


def has_window_out(layout: Layout) -> bool:
    """Whether the camera's own window is not allowed for while other glass is before it."""
    window = None if layout.camera is None else layout.camera.window
    other = any(glass.part.id != (layout.camera.id if layout.camera else "") for glass in layout.glass)
    return window is not None and window.allowed_for is False and other


def is_telescope(layout: Layout) -> bool:
    """Whether the train hangs on a telescope."""
    return isinstance(layout.optic, Telescope)


def on_a_tripod(layout: Layout) -> bool:
    """Whether a lens, alone or with a train, is on a tripod."""
    return isinstance(layout.optic, CameraLens)


def is_close_up(layout: Layout) -> bool:
    """Whether a lens is brought close by what is on it or behind it."""
    parts = [placed.part for placed in (*layout.front, *layout.rear)]
    return isinstance(layout.optic, CameraLens) and (layout.reversed or any(part.brings_closer for part in parts))


def is_focused_far(layout: Layout) -> bool:
    """Whether a lens is focused on something far."""
    return isinstance(layout.optic, CameraLens) and not is_close_up(layout)


def has_sheets(layout: Layout) -> bool:
    """Whether a holder has filters in its slots."""
    return any(isinstance(layout.parts.get(one or ""), SheetFilter) for p in layout.front for one in p.laid.filters)


def polariser_ahead(layout: Layout, placed: Placed) -> bool:
    """Whether a polariser screws on ahead of a holder: it comes on when the picture is composed and metered."""
    held = any(isinstance(p.part, FilterHolder) and p.index < placed.index for p in layout.front)
    return held and on_thread(layout, placed) and isinstance(placed.part, RoundFilter) and placed.part.polariser


def screwed_before(layout: Layout, placed: Placed) -> bool:
    """Whether a filter screws on while the stack is put together."""
    return on_thread(layout, placed) and not polariser_ahead(layout, placed)


def large_polariser_before(layout: Layout, placed: Placed) -> bool:
    """Whether a polariser of a large thread screws on while the stack is put together."""
    return polariser_on_large_thread(layout, placed) and not polariser_ahead(layout, placed)


def is_reversed(layout: Layout) -> bool:
    """Whether the lens is flipped."""
    return layout.train.optic_reversed


def is_dense_ahead(layout: Layout) -> bool:
    """Whether what is ahead of the lens makes the exposure long."""
    stops = 0.0
    for placed in layout.front:
        parts = [placed.part, *(layout.parts.get(f or "") for f in placed.laid.filters)]
        losses = [part.light_loss() for part in parts if part is not None]
        stops += sum(loss.stops or 0.0 for loss in losses if loss is not None)
    return stops >= DENSE_STOPS


def has_neutral_or_polariser(layout: Layout) -> bool:
    """Whether neutral density or polarisers, which are no solar filters, are in the train."""
    return any(
        isinstance(part, RoundFilter | SheetFilter) and (part.polariser or part.density is not None)
        for part in (layout.parts[one] for one in layout.train.part_ids())
    )


def has_camera_behind_lens(layout: Layout) -> bool:
    """Whether a lens goes straight on a camera body."""
    return isinstance(layout.optic, CameraLens) and not layout.rear and layout.camera is not None
