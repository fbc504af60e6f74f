"""The rules of putting a train together, one a row, in the order of the work; common practice, no source.

A rule says where it speaks (`finds.py`), when its step is done, how long it takes and what it needs. Its words are
under its key in `text/steps.py`. `tests/assembly` fires every rule on one train and keeps it silent on another.
"""

from farrail.assembly.finds import (
    after_a_step_ring,
    always,
    carries_magnets,
    dropped_in,
    filters_in_seats,
    guide_cameras,
    has_camera_behind_lens,
    has_glass_in_hand,
    has_hood_to_take_off,
    has_open_housing,
    has_ring_off,
    has_sheets,
    has_slip_on,
    has_window_out,
    held_filters,
    holder_on_ring,
    is_close_up,
    is_dense_ahead,
    is_focused_far,
    is_reversed,
    is_slip_on,
    is_telescope,
    large_polariser_before,
    members,
    on_a_tripod,
    on_magnets,
    on_thread,
    onto_optic,
    out_of_cells,
    polariser_ahead,
    polariser_on_bayonet,
    rear_joints,
    screwed_before,
    sheets,
    steps_thread,
    tilt_plates,
    when,
)
from farrail.assembly.model import Rule
from farrail.assembly.stages import Stage, Start, Tool
from farrail.parts.base import Adjustable
from farrail.parts.connections import Bayonet, Nosepiece, Thread
from farrail.parts.kinds.ahead import CouplingRing, FilterHolder, HolderRing, Hood
from farrail.parts.kinds.closer import CloseUpLens, ReversingRing
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.kinds.guiders import OffAxisGuider
from farrail.parts.kinds.seats import FilterDrawer, FilterWheel
from farrail.parts.kinds.tubes import Adapter, Rotator, Shim, TiltPlate
from farrail.train.train import Side

FRONT, REAR = Side.FRONT, Side.REAR
ALL = (Start.BENCH, Start.BAG, Start.SITE)
FILTERS = (Start.BENCH, Start.FILTER)
SHEETS = (*ALL, Start.FILTER)
THICK_PLAY_MM = 0.05

RULES: tuple[Rule, ...] = (
    # At the bench: what is ready before anything is screwed.
    Rule("table", Stage.PREPARE, always, 3.0, Tool.CLOTH),
    Rule("hands", Stage.PREPARE, when(has_glass_in_hand), 1.0, Tool.GLOVES, FILTERS),
    Rule("window_out", Stage.PREPARE, when(has_window_out), 5.0, Tool.SCREWDRIVER),
    Rule("front_ring_off", Stage.PREPARE, when(has_ring_off), 2.0, Tool.HEX_KEY),
    # Filters into their seats, while the housings are open.
    Rule("blow_housing", Stage.FILTERS, members(REAR, FilterWheel), 2.0, Tool.BLOWER, FILTERS),
    Rule("blow_drawer", Stage.FILTERS, members(REAR, FilterDrawer), 1.0, Tool.BLOWER, FILTERS),
    Rule("out_of_cell", Stage.FILTERS, out_of_cells, 6.0, Tool.SPANNER, FILTERS),
    Rule("bare_filter", Stage.FILTERS, filters_in_seats(lambda f: f.bare), 3.0, Tool.BLOWER, FILTERS),
    Rule("celled_filter", Stage.FILTERS, filters_in_seats(lambda f: not f.bare), 1.0, Tool.BLOWER, FILTERS),
    Rule("shiny_side", Stage.FILTERS, filters_in_seats(lambda f: f.passband_nm is not None), 0.5, None, FILTERS),
    Rule("empty_slots", Stage.FILTERS, members(REAR, FilterWheel, lambda _, p: None in p.laid.filters), 0.5, None,
         FILTERS),
    Rule("close_wheel", Stage.FILTERS, members(REAR, FilterWheel), 2.0, Tool.SCREWDRIVER, FILTERS),
    # The rear train, joint by joint from the optic's end toward the camera.
    Rule("shim_in", Stage.REAR, members(REAR, Shim), 1.0, Tool.CALIPER),
    Rule("held_filter", Stage.REAR, held_filters, 3.0, Tool.GLOVES),
    Rule("wheel_way", Stage.REAR, members(REAR, FilterWheel), 0.5),
    Rule("drawer_up", Stage.REAR, members(REAR, FilterDrawer), 1.0, None, (Start.BENCH, Start.FILTER)),
    Rule("set_length", Stage.REAR, members(REAR, Adjustable), 2.0, Tool.CALIPER),
    Rule("tilt_parallel", Stage.REAR, members(REAR, TiltPlate), 3.0, Tool.HEX_KEY),
    Rule("guider", Stage.REAR, members(REAR, OffAxisGuider), 3.0, Tool.HEX_KEY),
    Rule("guide_camera", Stage.REAR, guide_cameras, 4.0, Tool.CALIPER),
    Rule("screw", Stage.REAR, rear_joints(Thread), 1.0),
    Rule("bayonet", Stage.REAR, rear_joints(Bayonet), 0.5),
    Rule("nosepiece", Stage.REAR, rear_joints(Nosepiece), 1.0, Tool.CALIPER),
    # Its halves are squared once it hangs on what carries it.
    Rule("rotator_even", Stage.REAR, members(REAR, Rotator), 3.0, Tool.HEX_KEY),
    # A slip-on holder goes over the lens while it is off the body.
    Rule("slip_on", Stage.LENS_OFF, members(FRONT, FilterHolder, is_slip_on), 5.0, None, (Start.BENCH, Start.BAG)),
    Rule("slip_on_ring", Stage.LENS_OFF, members(FRONT, HolderRing, is_slip_on), 5.0, None, (Start.BENCH, Start.BAG)),
    Rule("rings_moved", Stage.LENS_OFF, when(has_slip_on), 1.0, None, (Start.BENCH, Start.BAG)),
    Rule("reversed_lens", Stage.LENS_OFF, when(is_reversed), 2.0),
    # Ahead of the lens, from the lens outward.
    Rule("hood_off", Stage.FRONT, when(has_hood_to_take_off), 0.5, None, ALL),
    Rule("magnetic_base", Stage.FRONT, members(FRONT, Adapter, carries_magnets), 1.0, None, ALL),
    Rule("magnetic_filter", Stage.FRONT, members(FRONT, RoundFilter, on_magnets), 0.5, None, ALL),
    Rule("step_ring", Stage.FRONT, members(FRONT, Adapter, steps_thread), 1.0, None, ALL),
    Rule("close_up_lens", Stage.FRONT, members(FRONT, CloseUpLens), 0.5, None, ALL),
    Rule("screw_filter", Stage.FRONT, members(FRONT, RoundFilter, screwed_before), 1.0, None, ALL),
    Rule("crossed_thread", Stage.FRONT, members(FRONT, RoundFilter, large_polariser_before), 0.5, None, ALL),
    Rule("main_ring", Stage.FRONT, members(FRONT, HolderRing, on_thread), 1.0, None, ALL),
    Rule("ring_after_step", Stage.FRONT, members(FRONT, HolderRing, after_a_step_ring), 0.0, None, ALL),
    Rule("bayonet_polariser", Stage.FRONT, members(FRONT, RoundFilter, polariser_on_bayonet), 1.0, None, ALL),
    Rule("reversing_ring", Stage.FRONT, members(FRONT, ReversingRing), 1.0, None, ALL),
    # Behind the sheets it is out of reach once the holder is.
    Rule("drop_in", Stage.FRONT, dropped_in, 1.0, Tool.CLOTH, SHEETS),
    Rule("holder", Stage.FRONT, members(FRONT, FilterHolder, holder_on_ring), 1.0, None, ALL),
    Rule("coupling", Stage.FRONT, members(FRONT, CouplingRing), 1.0, None, ALL),
    Rule("hood", Stage.FRONT, members(FRONT, Hood), 0.5, None, ALL),
    # On to what carries it.
    Rule("onto_optic", Stage.MOUNT, onto_optic, 3.0, None, (Start.BENCH, Start.BAG)),
    Rule("lens_on_body", Stage.MOUNT, when(has_camera_behind_lens), 0.5, None, (Start.BENCH, Start.BAG)),
    # Where the picture is made.
    Rule("balance", Stage.SITE, when(is_telescope), 5.0, None, ALL),
    Rule("tripod", Stage.SITE, when(on_a_tripod), 2.0, None, ALL),
    Rule("caps_off", Stage.SITE, always, 0.5, None, ALL),
    Rule("light_leaks", Stage.SITE, when(has_open_housing), 2.0, None, SHEETS),
    Rule("focus_star", Stage.SITE, when(is_telescope), 4.0, None, SHEETS),
    Rule("focus_subject", Stage.SITE, when(is_close_up), 4.0, None, SHEETS),
    Rule("focus_far", Stage.SITE, when(is_focused_far), 4.0, None, SHEETS),
    Rule("tilt_out", Stage.SITE, tilt_plates, 10.0, Tool.HEX_KEY, (Start.BENCH, Start.BAG)),
    Rule("guide_focus", Stage.SITE, guide_cameras, 4.0, None, SHEETS),
    Rule("flats", Stage.SITE, when(is_telescope), 10.0, None, SHEETS),
    # Composed, focused and metered while one still sees through: then the filters, the darkest last.
    Rule("meter", Stage.EXPOSE, when(has_sheets), 1.0, None, SHEETS),
    Rule("thick_slot", Stage.EXPOSE, sheets(
        lambda sheet, holder, _: sheet.glass.drawn_thickness_mm > holder.slot_thickness_mm.value + THICK_PLAY_MM),
        0.5, None, SHEETS),
    Rule("grad_sheet", Stage.EXPOSE, sheets(lambda sheet, *_: sheet.graded), 1.0, Tool.CLOTH, SHEETS),
    Rule("square_polariser", Stage.EXPOSE, sheets(lambda sheet, *_: sheet.polariser), 1.0, None, SHEETS),
    Rule("outer_polariser", Stage.EXPOSE, members(FRONT, RoundFilter, polariser_ahead), 1.0, None, SHEETS),
    Rule("plain_sheet", Stage.EXPOSE, sheets(lambda s, *_: not (s.gasket or s.polariser or s.graded)), 1.0, Tool.CLOTH,
         SHEETS),
    Rule("gasket_rear", Stage.EXPOSE, sheets(lambda sheet, *_: sheet.gasket), 1.0, Tool.CLOTH, SHEETS),
    Rule("cover_viewfinder", Stage.EXPOSE, when(is_dense_ahead), 1.0, Tool.CLOTH, SHEETS),
    # And back into the bag: what may stay together.
    Rule("cap_over_polariser", Stage.TEAR_DOWN, members(FRONT, RoundFilter, polariser_on_bayonet), 0.5, None,
         (Start.TEAR_DOWN,)),
    Rule("sheets_out", Stage.TEAR_DOWN, members(FRONT, FilterHolder), 2.0, Tool.CLOTH, (Start.TEAR_DOWN,)),
    Rule("drawer_loaded", Stage.TEAR_DOWN, members(REAR, FilterDrawer), 0.5, None, (Start.TEAR_DOWN,)),
    Rule("camera_on_wheel", Stage.TEAR_DOWN, members(REAR, FilterWheel), 0.5, None, (Start.TEAR_DOWN,)),
    Rule("rings_apart", Stage.TEAR_DOWN, members(FRONT, HolderRing, after_a_step_ring), 1.0, None, (Start.TEAR_DOWN,)),
    Rule("caps_on", Stage.TEAR_DOWN, always, 1.0, None, (Start.TEAR_DOWN,)),
)  # fmt: skip
