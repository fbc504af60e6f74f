"""Steps and cautions: every rule fires on one train and is silent on another; whole orders as written by hand."""

from collections.abc import Iterator

import numpy as np
import pytest

from farrail.assembly.cautions import CAUTIONS, cautions_of
from farrail.assembly.rules import RULES
from farrail.assembly.stages import Stage, Start
from farrail.assembly.steps import minutes_of, repeated, steps_of
from farrail.demo.hallan_skerry import demo_workbook
from farrail.parts.connections import Bayonet, Connection, Gender, Nosepiece, OnlyFits, Plain, thread
from farrail.parts.glass import Plate
from farrail.parts.kinds.ahead import CouplingRing, FilterHolder, HolderRing, Hood
from farrail.parts.kinds.cameras import Camera, FrontRing, Window
from farrail.parts.kinds.closer import ReversingRing
from farrail.parts.kinds.filters import Gradation, RoundFilter, SheetFilter
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.seats import FilterDrawer, FilterWheel
from farrail.parts.kinds.telescopes import Telescope
from farrail.parts.kinds.tubes import Adapter, AdjustableSpacer, Rotator, Shim, TiltPlate
from farrail.parts.provenance import measured
from farrail.text.steps import CAUTIONS as CAUTION_WORDS
from farrail.text.steps import STEPS, caution_words, step_words
from farrail.train.layout import Layout, build_layout
from farrail.train.train import GuidePort, MountedPart, Train
from farrail.workbook.edits.building import MarkBuilt

BOOK = demo_workbook()
IN, OUT = Gender.INTERNAL, Gender.EXTERNAL
GLASS = Plate(thickness_mm=measured(2), index=measured(1.5168))


def demo(train_id: str) -> Layout:
    return build_layout(BOOK.train(train_id), BOOK.by_id)


def _nose(gender: Gender) -> Connection:
    return Connection(standard=Nosepiece(diameter_mm=50.8), gender=gender)


def everything() -> Layout:
    """A night train of parts the demo has none of."""
    m42, m42_out = thread(42, 0.75, IN), thread(42, 0.75, OUT)
    rim = Connection(standard=Plain(diameter_mm=36), gender=Gender.NONE)
    common = {"outer_diameter_mm": 60, "front": m42, "rear": m42_out, "path_length_mm": measured(10)}
    celled = RoundFilter(id="celled", name="Celled", outer_diameter_mm=52, front=thread(48, 0.75, IN),
                         rear=thread(48, 0.75, OUT), path_length_mm=measured(6), glass=GLASS)  # fmt: skip
    bare = RoundFilter(id="bare", name="Bare", outer_diameter_mm=36, front=rim, rear=rim, path_length_mm=measured(2),
                       glass=GLASS, passband_nm=measured(6), line_nm=measured(656))  # fmt: skip
    parts = [
        Telescope(id="scope", name="Scope", outer_diameter_mm=90, rear=m42_out, focal_length_mm=measured(400),
                  aperture_mm=measured(80)),
        Rotator(id="rotator", name="Rotator", **common), TiltPlate(id="tilt", name="Tilt plate", **common),
        Shim(id="shim", name="Shim", outer_diameter_mm=50, front=rim, rear=rim, path_length_mm=measured(0.5)),
        AdjustableSpacer(id="set", name="Adjustable", outer_diameter_mm=56, front=m42, rear=m42_out,
                         shortest_mm=measured(10), longest_mm=measured(15)),
        FilterWheel(id="wheel", name="Wheel", seat_mm=measured(6), slots=3, **common),
        FilterDrawer(id="drawer", name="Drawer", seat_mm=measured(6), **common),
        Camera(id="camera", name="Camera", outer_diameter_mm=80, front=m42, flange_to_sensor_mm=measured(17.5),
               sensor_width_mm=measured(23.5), sensor_height_mm=measured(15.7),
               window=Window(glass=GLASS, sensor_gap_mm=measured(5), allowed_for=False),
               front_ring=FrontRing(length_mm=measured(5), behind=m42)),
        Adapter(id="nose", name="Nosepiece", **{**common, "rear": _nose(OUT)}),
        Adapter(id="socket", name="Socket", **{**common, "front": _nose(IN), "path_length_mm": measured(180)}),
        celled, bare,
    ]  # fmt: skip
    row = (
        MountedPart(part="rotator"),
        MountedPart(part="shim"),
        MountedPart(part="tilt"),
        MountedPart(part="set", setting_mm=12.3),
        MountedPart(part="nose"),
        MountedPart(part="socket"),
        MountedPart(part="wheel", filters=("bare", None, None)),
        MountedPart(part="drawer", filters=("celled",)),
    )
    train = Train(id="t", name="Everything", optic="scope", rear_train=row, camera="camera", camera_bare=True)
    return build_layout(train, {part.id: part for part in parts})


def ahead() -> Layout:
    """A lens with one of everything that may be ahead of it."""
    seat = OnlyFits(name="100 mm holder", diameter_mm=86)
    bayonet = Connection(standard=Bayonet(name="44 mm SLR bayonet", throat_mm=42), gender=OUT)
    rim = Connection(standard=Plain(diameter_mm=100), gender=Gender.NONE)
    parts = [
        CameraLens(id="lens", name="Lens", outer_diameter_mm=80, rear=bayonet, front=thread(77, 0.75, IN),
                   focal_length_mm=measured(24), f_number=measured(4), flange_focal_distance_mm=measured(44),
                   entrance_pupil_depth_mm=measured(25)),
        Camera(id="body", name="Body", outer_diameter_mm=90, flange_to_sensor_mm=measured(44),
               front=Connection(standard=Bayonet(name="44 mm SLR bayonet", throat_mm=42), gender=IN),
               sensor_width_mm=measured(36), sensor_height_mm=measured(24)),
        Adapter(id="step", name="Step ring", outer_diameter_mm=85, front=thread(82, 0.75, IN),
                rear=thread(77, 0.75, OUT), path_length_mm=measured(3)),
        HolderRing(id="ring", name="Main ring", outer_diameter_mm=92, front=Connection(standard=seat, gender=OUT),
                   rear=thread(82, 0.75, OUT), path_length_mm=measured(5)),
        RoundFilter(id="pol", name="Polariser", outer_diameter_mm=92, front=Connection(standard=seat, gender=OUT),
                    rear=Connection(standard=seat, gender=IN), path_length_mm=measured(4), glass=GLASS, polariser=True),
        FilterHolder(id="holder", name="Holder", outer_diameter_mm=112, front=rim, path_length_mm=measured(24), slots=4,
                     rear=Connection(standard=seat, gender=IN), sheet_width_mm=measured(100),
                     slot_thickness_mm=measured(2), slot_pitch_mm=measured(5), first_slot_mm=measured(5)),
        CouplingRing(id="couple", name="Coupling", outer_diameter_mm=112, front=rim, rear=rim,
                     path_length_mm=measured(6)),
        Hood(id="hood", name="Hood", outer_diameter_mm=112, front=rim, rear=rim, path_length_mm=measured(25)),
        *(SheetFilter(id=name, name=name, outer_diameter_mm=100, width_mm=measured(100), height_mm=measured(100),
                      glass=GLASS if name != "thick" else Plate(thickness_mm=measured(4), index=measured(1.5)), **more)
          for name, more in (("dense", {"gasket": True, "density": measured(3)}), ("square", {"polariser": True}),
                             ("thick", {}), ("grad", {"gradation": Gradation.SOFT, "density": measured(0.9)}))),
    ]  # fmt: skip
    front = (MountedPart(part="step"), MountedPart(part="ring"), MountedPart(part="pol"),
             MountedPart(part="holder", filters=("dense", "square", "thick", "grad")), MountedPart(part="couple"),
             MountedPart(part="hood"))  # fmt: skip
    train = Train(id="a", name="Ahead", optic="lens", front_stack=front, camera="body")
    return build_layout(train, {part.id: part for part in parts})


def reversed_ring() -> Layout:
    """A lens that carries another one, reversed, on a reversing ring."""
    layout = ahead()
    ring = ReversingRing(id="turn", name="Reversing ring", outer_diameter_mm=80, front=thread(77, 0.75, OUT),
                         rear=thread(77, 0.75, OUT), path_length_mm=measured(5))  # fmt: skip
    train = Train(id="r", name="Reversed", optic="lens", optic_reversed=True, front_stack=(MountedPart(part="turn"),),
                  camera="body")  # fmt: skip
    return build_layout(train, {**layout.parts, "turn": ring})


def slip_on_holder() -> Layout:
    layout = ahead()
    lens, holder = layout.parts["lens"], layout.parts["holder"]
    parts = {**layout.parts, "lens": lens.model_copy(update={"front": None}), "holder": holder}
    train = Train(id="s", name="Slip-on", optic="lens", front_stack=(MountedPart(part="holder", filters=("dense",)),),
                  camera="body")  # fmt: skip
    return build_layout(train, parts)


def magnets() -> Layout:
    """A lens whose hood comes off, a magnetic base ring and a filter on it."""
    layout = ahead()
    magnet = OnlyFits(name="magnetic 77 mm", diameter_mm=77)
    carrying, held = Connection(standard=magnet, gender=OUT), Connection(standard=magnet, gender=IN)
    base = Adapter(id="base", name="Base", outer_diameter_mm=80, front=carrying, rear=thread(77, 0.75, OUT),
                   path_length_mm=measured(3))  # fmt: skip
    snapped = RoundFilter(id="snapped", name="Snapped", outer_diameter_mm=80, front=carrying, rear=held,
                          path_length_mm=measured(4), glass=GLASS)  # fmt: skip
    lens = layout.parts["lens"].model_copy(update={"hood": "hood_comes_off"})
    front = (MountedPart(part="base"), MountedPart(part="snapped"))
    train = Train(id="m", name="Magnets", optic="lens", front_stack=front, camera="body")
    return build_layout(train, {**layout.parts, "lens": lens, "base": base, "snapped": snapped})


def with_guide_camera() -> Layout:
    """The wheel's train with a guide camera on its guider, a spacer before it."""
    train = BOOK.train("lantern-wheel")
    guide = GuidePort(camera="skua-apsc", between=("spacer-2",))
    row = tuple(
        laid.model_copy(update={"guide": guide}) if BOOK.by_id[laid.part].kind == "off_axis_guider" else laid
        for laid in train.rear_train
    )
    return build_layout(train.model_copy(update={"rear_train": row}), BOOK.by_id)


def all_layouts() -> Iterator[Layout]:
    yield from (build_layout(train, BOOK.by_id) for train in BOOK.trains)
    held = BOOK.train("brae-held")
    row = tuple(laid.model_copy(update={"out_of_cell": True}) if BOOK.by_id[laid.part].kind == "round_filter" else laid
                for laid in held.rear_train)  # fmt: skip
    yield build_layout(held.model_copy(update={"rear_train": row}), BOOK.by_id)
    yield from (everything(), ahead(), reversed_ring(), slip_on_holder(), magnets(), with_guide_camera())


def polariser_alone() -> Layout:
    """A large polariser with no holder behind it."""
    train = BOOK.train("sea-stacks")
    alone = tuple(laid for laid in train.front_stack if laid.part == "polariser-105")
    return build_layout(train.model_copy(update={"front_stack": alone}), BOOK.by_id)


LAYOUTS = [*all_layouts(), polariser_alone()]


def test_a_filter_goes_into_the_slot_it_is_drawn_in() -> None:
    """Slots are counted from 1, as engraved: the first of the wheel, and the holder's from the lens outward."""
    wheel = [step_words(step).what for step in steps_of(everything())]
    assert "Put Bare into slot 1 of Wheel." in wheel
    holder = [step_words(step).what for step in steps_of(ahead())]
    for number, name in enumerate(("dense", "square", "thick", "grad"), start=1):
        assert f"Slide {name} into slot {number} of Holder." in holder
    assert "Fit slot 3 of Holder with the thick spacer, for thick." in holder


@pytest.mark.parametrize("rule", RULES, ids=[rule.key for rule in RULES])
def test_a_rule_fires_on_one_train_and_is_silent_on_another(rule) -> None:  # type: ignore[no-untyped-def]
    fired = [bool(list(rule.find(layout))) for layout in LAYOUTS]
    assert any(fired), "fires on no train"
    if rule.find.__name__ != "always":
        assert not all(fired), "is silent on no train"


@pytest.mark.parametrize("caution", [key for key, _ in CAUTIONS])
def test_a_caution_is_told_of_one_train_and_not_of_another(caution: str) -> None:
    told_of = [caution in [one.key for one in cautions_of(layout)] for layout in LAYOUTS]
    assert any(told_of)
    assert not all(told_of)


def test_every_rule_and_caution_has_words_that_need_nothing_more() -> None:
    assert set(STEPS) == {rule.key for rule in RULES}
    assert set(CAUTION_WORDS) == {key for key, _ in CAUTIONS}
    for layout in LAYOUTS:
        for start in Start:
            for step in steps_of(layout, start):
                words = step_words(step)
                for text in (words.what, words.how, words.why):
                    assert text.endswith((".", "?")), (step.rule, text)
                    assert "{" not in text
        for caution in cautions_of(layout):
            assert all(text.endswith(".") for text in caution_words(caution))


# The order a person would write down, by the rules' keys.
BY_HAND = {
    "witch-broom": ["table", "hands", "blow_drawer", "bare_filter", "bare_filter", "screw", "drawer_up", "screw",
                    "screw", "screw", "screw", "onto_optic", "balance", "caps_off", "light_leaks", "focus_star",
                    "flats"],
    "sea-stacks": ["table", "hands", "screw_filter", "main_ring", "holder", "lens_on_body", "tripod", "caps_off",
                   "focus_far", "meter", "grad_sheet", "outer_polariser", "gasket_rear", "cover_viewfinder"],
    "bulbous": ["table", "hands", "slip_on_ring", "rings_moved", "holder", "lens_on_body", "tripod", "caps_off",
                "focus_far", "meter", "gasket_rear"],
    "brae-held": ["table", "hands", "screw", "held_filter", "screw", "screw", "screw", "screw", "onto_optic", "tripod",
                  "caps_off", "focus_far"],
    "witch-broom-short": ["table", "hands", "blow_drawer", "bare_filter", "bare_filter", "screw", "drawer_up", "screw",
                          "screw", "screw", "onto_optic", "balance", "caps_off", "light_leaks", "focus_star", "flats"],
    "lantern-wheel": ["table", "hands", "blow_housing", "bare_filter", "bare_filter", "bare_filter", "bare_filter",
                      "bare_filter", "shiny_side", "bare_filter", "shiny_side", "bare_filter", "shiny_side",
                      "close_wheel", "screw", "guider", "screw", "wheel_way", "screw", "screw", "onto_optic", "balance",
                      "caps_off", "light_leaks", "focus_star", "flats"],
    "lantern-apsc": ["table", "hands", "blow_housing", "bare_filter", "bare_filter", "bare_filter", "bare_filter",
                     "bare_filter", "shiny_side", "bare_filter", "shiny_side", "bare_filter", "shiny_side",
                     "close_wheel", "screw", "guider", "screw", "wheel_way", "screw", "screw", "screw", "onto_optic",
                     "balance", "caps_off", "light_leaks", "focus_star", "flats"],
    "lantern-reversed": ["table", "hands", "blow_housing", "bare_filter", "bare_filter", "bare_filter", "bare_filter",
                         "bare_filter", "shiny_side", "close_wheel", "guider", "screw", "wheel_way", "screw", "screw",
                         "screw", "screw", "onto_optic", "balance", "caps_off", "light_leaks", "focus_star", "flats"],
    "brae-cooled": ["table", "hands", "blow_drawer", "bare_filter", "drawer_up", "screw", "screw", "onto_optic",
                    "tripod", "caps_off", "light_leaks", "focus_far"],
    "sea-stacks-slim": ["table", "hands", "main_ring", "drop_in", "holder", "lens_on_body", "tripod", "caps_off",
                        "focus_far", "meter", "grad_sheet", "gasket_rear", "cover_viewfinder"],
    "barnacles": ["table", "bayonet", "bayonet", "bayonet", "close_up_lens", "onto_optic", "tripod", "caps_off",
                  "focus_subject"],
    "lichen": ["table", "bayonet", "close_up_lens", "close_up_lens", "onto_optic", "tripod", "caps_off",
               "focus_subject"],
}  # fmt: skip


def test_every_demo_train_is_written_by_hand() -> None:
    assert set(BY_HAND) == {train.id for train in BOOK.trains}


@pytest.mark.parametrize("train", BY_HAND)
def test_a_demo_train_goes_together_in_the_order_written_by_hand(train: str) -> None:
    steps = steps_of(demo(train))
    assert [step.rule for step in steps] == BY_HAND[train]
    assert [step.number for step in steps] == list(range(1, len(steps) + 1))
    assert len({step.key for step in steps}) == len(steps)


def test_a_step_ring_goes_on_the_lens_before_the_main_ring_and_the_dense_sheet_last() -> None:
    order = [step.rule for step in steps_of(ahead())]
    assert (
        order.index("step_ring") < order.index("main_ring") < order.index("bayonet_polariser") < order.index("holder")
    )
    # In the field: composed and metered first, then the graduated filter, the dense one last.
    assert order.index("holder") < order.index("meter") < order.index("grad_sheet") < order.index("gasket_rear")
    thick = next(step for step in steps_of(ahead()) if step.rule == "thick_slot")
    assert thick.hit.part == "thick"


def test_a_rotator_is_squared_once_it_hangs_where_it_belongs() -> None:
    layout = everything()
    train = layout.train.model_copy(
        update={"rear_train": (MountedPart(part="set", setting_mm=12.3), MountedPart(part="rotator"))}
    )
    order = [step.rule for step in steps_of(build_layout(train, layout.parts)) if step.stage is Stage.REAR]
    assert order[:3] == ["set_length", "screw", "rotator_even"]


def test_what_a_change_makes_necessary_again() -> None:
    train = BOOK.train("witch-broom")
    built_book = MarkBuilt("witch-broom", "2026-11-27").apply(BOOK)
    built = built_book.train("witch-broom")
    steps = steps_of(build_layout(built, built_book.by_id))
    assert repeated(steps, None, train) == steps  # never put together: all of it
    assert repeated(steps, built.built, built) == ()
    drawer = next(n for n, laid in enumerate(built.rear_train) if laid.filters)
    other = next(p.id for p in BOOK.shelf if isinstance(p, RoundFilter) and p.bare and p.id not in built.part_ids())
    row = tuple(laid.model_copy(update={"filters": (other,)}) if n == drawer else laid
                for n, laid in enumerate(built.rear_train))  # fmt: skip
    changed = built.model_copy(update={"rear_train": row})
    again = repeated(steps_of(build_layout(changed, BOOK.by_id)), built.built, changed)
    rules = [step.rule for step in again]
    assert "bare_filter" in rules
    assert {"focus_star", "flats"} <= set(rules)
    assert "table" not in rules
    assert minutes_of(again) < minutes_of(steps)


def test_the_starts_are_parts_of_the_whole_but_for_the_end() -> None:
    for layout in LAYOUTS:
        whole = {step.key for step in steps_of(layout)}
        for start in (Start.BAG, Start.FILTER, Start.SITE):
            assert {step.key for step in steps_of(layout, start)} <= whole
        down = steps_of(layout, Start.TEAR_DOWN)
        assert down
        assert {step.stage for step in down} == {Stage.TEAR_DOWN}


def test_one_screw_of_three_moves_the_corner_as_a_plane_through_three_points_does() -> None:
    """Three feet on a circle, one raised by 0.1 mm: the plane through them, at the corner beside that foot."""
    layout = everything()
    step = next(one for one in steps_of(layout, Start.BENCH) if one.rule == "tilt_out")
    plate = next(placed.part for placed in layout.rear if isinstance(placed.part, TiltPlate))
    camera = layout.camera
    assert camera is not None
    turns = np.radians([90.0, 210.0, 330.0])
    radius = plate.outer_diameter_mm / 2.0
    feet = np.stack([radius * np.cos(turns), radius * np.sin(turns), np.ones(3)], axis=1)
    plane = np.linalg.solve(feet, np.array([0.1, 0.0, 0.0]))
    corner = camera.diagonal_mm / 2.0 * plane[1]
    assert step.hit.values["corner_um"] == pytest.approx(1000.0 * corner, abs=0.5)
    assert f"about {step.hit.values['corner_um']} µm" in step_words(step).how


def test_a_focuser_that_may_sag_is_told_with_the_torque_or_what_to_weigh() -> None:
    heavy = {key: part.model_copy(update={"mass_g": 900.0}) for key, part in BOOK.by_id.items()}
    layout = build_layout(BOOK.train("lantern-wheel"), heavy)
    caution = next(one for one in cautions_of(layout) if one.key == "flexure")
    assert "N·m" in caution_words(caution)[1]
    light = {key: part.model_copy(update={"mass_g": 20.0}) for key, part in BOOK.by_id.items()}
    assert not any(one.key == "flexure" for one in cautions_of(build_layout(BOOK.train("lantern-wheel"), light)))
    unweighed = {key: part.model_copy(update={"mass_g": None}) for key, part in BOOK.by_id.items()}
    bare = build_layout(BOOK.train("lantern-wheel"), unweighed)
    caution = next(one for one in cautions_of(bare) if one.key == "flexure")
    assert "Weigh them to learn the torque:" in caution_words(caution)[1]
    assert layout.camera is not None
    assert layout.camera.name in caution.unweighed
