"""Answers that were wrong once, each against a sum by hand, ray matrices or rays thrown here."""

import math
from collections.abc import Iterator
from typing import Any

import numpy as np
import pytest

from farrail.parts.connections import Gender, thread
from farrail.parts.glass import Plate
from farrail.parts.in_beam import GlassPiece, GlassRole, Installation
from farrail.parts.kinds.ahead import FilterHolder
from farrail.parts.kinds.cameras import Camera, Window
from farrail.parts.kinds.closer import Bellows, ExtensionTube, ReversingRing, Teleconverter
from farrail.parts.kinds.filters import Gradation, SheetFilter
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.telescopes import Corrector
from farrail.parts.kinds.tubes import Adapter, Shim, Spacer
from farrail.parts.provenance import Quantity, measured, published, unknown
from farrail.parts.registry import Part
from farrail.planning.turning import turning_of
from farrail.readouts.finding import Severity
from farrail.readouts.front.holder_messages import TransitionOutside
from farrail.readouts.light.messages import Clips
from farrail.readouts.ranges import EVERY, MAIN, ranges_of
from farrail.readouts.read import Readout, read
from farrail.readouts.spacing.grounds import NoOwnFocus
from farrail.train.train import Conditions, MountedPart, Train
from tests.readouts.front.test_front import holder, ring, stack
from tests.readouts.not_entered.test_two_groups import BODY, CAMERA, REAR
from tests.reference.rays import conjugate, lens, travel
from tests.train.gear import ENDS, bare_filter, guider, laid, spacer

SEAT = thread(52, 0.75, Gender.INTERNAL)
APSC: dict[str, Any] = {"sensor_width_mm": published(23.5), "sensor_height_mm": published(15.7)}
CORNER_MM = math.hypot(18.0, 12.0)


def prime(key: str, focal: float, f_number: float, **more: Any) -> CameraLens:
    """Return a lens of which pupil and planes are known: a thin one unless something else is given."""
    values: dict[str, Any] = {
        "entrance_pupil_depth_mm": measured(20.0), "pupil_ratio": measured(1.0), "hiatus_mm": measured(0.0),
        "flange_focal_distance_mm": measured(44.0), "front": SEAT, "rear": REAR, **more,
    }  # fmt: skip
    return CameraLens(id=key, name=key, outer_diameter_mm=70, focal_length_mm=measured(focal),
                      f_number=measured(f_number), **values)  # fmt: skip


def focusing_to(focal: float, m0: float) -> dict[str, Quantity]:
    """Return the data sheet of a thin lens that focuses as a whole."""
    return {"nearest_magnification": measured(m0), "nearest_mm": measured(focal * (2.0 + m0 + 1.0 / m0))}


def of(optic: CameraLens, *parts: Part, ahead: tuple[MountedPart, ...] = (), behind: tuple[MountedPart, ...] = (),
       camera: Camera = CAMERA, **conditions: Any) -> Readout:  # fmt: skip
    shelf = {part.id: part for part in (optic, *parts, camera)}
    train = Train(id="t", name="t", optic=optic.id, front_stack=ahead, rear_train=behind, camera=camera.id,
                  conditions=Conditions(**conditions))  # fmt: skip
    return read(train, shelf)


def between(kind: type[ExtensionTube], key: str, length: float) -> ExtensionTube:
    return kind(id=key, name=key, outer_diameter_mm=62, front=BODY, rear=REAR, path_length_mm=measured(length))


# 1 Aperture stop


@pytest.mark.parametrize("behind_seat_mm", [0.5, 20.0, 45.0])
def test_a_ring_narrower_than_the_beam_is_the_aperture_stop(behind_seat_mm: float) -> None:
    """models.md 11: 105 mm f/2.4 with 37 mm close ahead: T0 .7152, N 2.838, .48 stop; the corner by rays."""
    narrow = Adapter(
        id="ring", name="ring", outer_diameter_mm=60, front=thread(37, 0.75, Gender.INTERNAL),
        rear=thread(52, 0.75, Gender.EXTERNAL), path_length_mm=measured(1.0), clear_aperture_mm=measured(37.0),
    )  # fmt: skip
    optic = prime("lens", 105.0, 2.4, entrance_pupil_depth_mm=measured(behind_seat_mm))
    found = of(optic, narrow, ahead=(MountedPart(part="ring"),))
    order = found.layout.first_order
    assert order.stop is not None
    assert order.stop.share == pytest.approx(0.7152, abs=1e-4)
    assert order.effective_f_number.value == pytest.approx(2.838, abs=1e-3)
    assert found.exposure.total_stops == pytest.approx(0.4835, abs=1e-3)
    # Depth of focus 2 λ N² follows the effective f-number.
    assert found.figures["spacing.depth_of_focus_mm"].value == pytest.approx(2.0 * 0.00055 * 2.83784**2, rel=1e-4)
    dice = np.random.default_rng(7)
    radius = 105.0 / 2.4 / 2.0
    x, y = dice.uniform(-radius, radius, (2, 400_000))
    lit = np.hypot(x, y) <= radius

    def passed(tangent: float) -> float:
        open_ = np.ones_like(lit)
        for ahead in (behind_seat_mm, behind_seat_mm + 1.0):
            open_ &= np.hypot(x - ahead * tangent, y) <= 18.5
        return float((lit & open_).sum() / lit.sum())

    relative = passed(CORNER_MM / 105.0) / passed(0.0)
    assert 2.0**-found.front.corner_stops == pytest.approx(relative, abs=4e-3)
    assert not found.stops
    assert any(f.kind == "light.stop" for f in found.findings)


# 2 Order of tube and teleconverter


@pytest.mark.parametrize("ratio", [0.7, 1.0, 1.8])
@pytest.mark.parametrize("near", [480.0, 430.0])
@pytest.mark.parametrize("row", [("tc",), ("tc", "tube"), ("tube", "tc"), ("tube", "tc", "more")])
def test_light_and_close_up_agree_on_the_cone_behind_a_teleconverter(
    ratio: float, near: float, row: tuple[str, ...]
) -> None:
    """The cone at the sensor from the exit pupil by ray matrices, to 1e-9, a lens that focuses inside included."""
    given = {"nearest_magnification": measured(0.3), "nearest_mm": measured(near), "hiatus_mm": measured(4.0)}
    optic = prime("lens", 100.0, 2.8, pupil_ratio=measured(ratio), **given)
    converter = Teleconverter(id="tc", name="tc", outer_diameter_mm=60, front=BODY, rear=REAR,
                              path_length_mm=measured(20.0), factor=measured(1.4))  # fmt: skip
    tubes = between(ExtensionTube, "tube", 25.0), between(ExtensionTube, "more", 12.0)
    found = of(optic, converter, *tubes, behind=tuple(MountedPart(part=one) for one in row), f_number=5.6,
               focus_mm=60.0)  # fmt: skip
    close, pupil = found.close_up, found.light.pupil
    assert pupil.f_number == pytest.approx(close.effective_f_number, rel=1e-9)
    # By hand: the pupil f_t·p ahead of the lens's own image for m = 0, D = f_t·p/N wide; through the thin converter.
    assert close.system is not None
    focal = close.system.near.focal_at(close.focus_position)
    m_lens, engraved = close.now.of_lens, 5.6 / 1.4
    to_image, wide = focal * (ratio + m_lens), focal * ratio / engraved
    native = 10.0 + 44.0
    diverging = -native / 0.4
    behind = 44.0 + 10.0 + sum({"tube": 25.0, "more": 12.0}.get(one, 0.0) for one in row[row.index("tc") + 1 :])
    # The object of the converter, for a sensor `behind` it.
    takes = 1.0 / (1.0 / behind - 1.0 / diverging)
    pupil_ahead = to_image - takes
    seen = 1.0 / (1.0 / diverging - 1.0 / pupil_ahead)
    scale = abs(seen / pupil_ahead)
    assert pupil.exit_distance_mm == pytest.approx(behind - seen, rel=1e-9)
    assert pupil.f_number == pytest.approx((behind - seen) / (wide * scale), rel=1e-9)


# 3 Two lenses face to face


COUPLED_STOPS = {2.8: 0.08, 4.0: 0.70, 5.6: 0.83, 8.0: 0.60, 11.0: 0.39, 16.0: 0.16}


@pytest.mark.parametrize(("f_number", "stops"), COUPLED_STOPS.items())
def test_the_pupil_of_a_coupled_lens_darkens_corners_and_narrows_the_cone(f_number: float, stops: float) -> None:
    """50 f/1.8 reversed on 135 f/2.8 at its closest: models.md 11's table to .03 stop, and rays thrown here."""
    m0, gap = 0.12, 78.0
    main = prime("main", 135.0, 2.8, entrance_pupil_depth_mm=measured(30.0), **focusing_to(135.0, m0))
    other = prime("other", 50.0, 1.8, entrance_pupil_depth_mm=measured(43.0))
    joins = ReversingRing(
        id="ring", name="ring", outer_diameter_mm=60, front=thread(52, 0.75, Gender.EXTERNAL),
        rear=thread(52, 0.75, Gender.EXTERNAL), path_length_mm=measured(gap - 73.0), clear_aperture_mm=measured(200.0),
    )  # fmt: skip
    found = of(main, other, joins, ahead=(MountedPart(part="ring", lens="other"),), f_number=f_number)
    # Thin lenses: from the sensor back, the field point's rays through the main pupil run toward its own object.
    object_mm = 135.0 * (1.0 + 1.0 / m0)
    own, carried = 135.0 / f_number / 2.0, 50.0 / 1.8 / 2.0
    dice = np.random.default_rng(11)
    x, y = dice.uniform(-own, own, (2, 300_000))
    lit = np.hypot(x, y) <= own

    def passed(height: float) -> float:
        target = height / m0  # where the ray would meet the main lens's own object, the other way up
        at = x + (target - x) * gap / object_mm, y * (1.0 - gap / object_mm)
        return float((lit & (np.hypot(*at) <= carried)).sum() / lit.sum())

    centre = passed(0.0)
    lost = -math.log2(passed(CORNER_MM) / centre)
    assert found.front.corner_stops == pytest.approx(lost, abs=0.012)
    assert found.front.corner_stops == pytest.approx(stops, abs=0.03)
    bare = f_number * (1.0 + m0)
    assert found.close_up.effective_f_number == pytest.approx(bare / math.sqrt(centre), rel=4e-3)


# 5 Lenses without a focus of their own


@pytest.mark.parametrize("setting_mm", [40.0, 100.0, 180.0])
def test_an_enlarging_lens_on_bellows_needs_no_distance(setting_mm: float) -> None:
    """models.md 11: f 75, flange 71.5, adapter 3, bellows 100, camera 44: v − f = 75.5, m 1.007; N (1 + m)."""
    optic = prime("lens", 75.0, 4.0, flange_focal_distance_mm=measured(71.5), focuses_itself=False)
    bellows = Bellows(id="bellows", name="bellows", outer_diameter_mm=80, front=BODY, rear=REAR,
                      shortest_mm=measured(35.0), longest_mm=measured(200.0))  # fmt: skip
    found = of(optic, between(ExtensionTube, "adapter", 3.0), bellows,
               behind=(MountedPart(part="adapter"), MountedPart(part="bellows", setting_mm=setting_mm)))  # fmt: skip
    m = (3.0 + setting_mm + 44.0 - 71.5) / 75.0
    assert found.close_up.now.magnification == pytest.approx(m, rel=1e-9)
    assert setting_mm != 100.0 or found.close_up.now.magnification == pytest.approx(1.0067, abs=1e-4)
    assert found.close_up.effective_f_number == pytest.approx(4.0 * (1.0 + m), rel=1e-9)
    distance, size = conjugate(lens(75.0), travel(75.0 * (1.0 + m)))
    assert size == pytest.approx(m)
    assert found.close_up.now.distance_mm == pytest.approx(distance - 20.0)
    assert isinstance(found.verdict.ground, NoOwnFocus)
    assert not found.stops


# 6, 7 Reducers


@pytest.mark.parametrize("allowed", [True, None, False])
def test_an_allowed_for_window_is_not_taken_off_a_reducers_distance(allowed: bool | None) -> None:
    """s' from thin lens to sensor 10 + 35 + 20 mm; only a window that comes on top shortens it by t/3."""
    part = Corrector(id="reducer", name="reducer", back_focus_mm=published(55.0), spacing_tolerance_mm=published(1.0),
                     lens_focal_mm=published(250.0), path_length_mm=measured(30.0), principal_mm=measured(20.0),
                     **ENDS)  # fmt: skip
    window = Window(glass=Plate(thickness_mm=measured(3.0), index=measured(1.5)), sensor_gap_mm=measured(5.0),
                    allowed_for=allowed)  # fmt: skip
    found = laid(
        MountedPart(part="reducer"), MountedPart(part="a"), parts=(part, spacer("a", 35.0)), window=window, **APSC
    )
    distance = 65.0 - (1.0 if allowed is False else 0.0)
    assert found.layout.first_order.focal_length.value == pytest.approx(600.0 * (1.0 - distance / 250.0), rel=1e-9)


def factor_reducer(**more: Any) -> Corrector:
    values: dict[str, Any] = {"path_length_mm": measured(30.0), "principal_mm": measured(15.0), **ENDS, **more}
    return Corrector(id="reducer", name="reducer", back_focus_mm=published(80.0), spacing_tolerance_mm=published(1.0),
                     reduction_factor=published(0.62), **values)  # fmt: skip


def test_a_reducer_known_by_its_factor_makes_it_at_its_back_focus() -> None:
    """models.md 11: b 80, thin lens 15 ahead of the datum, F .62: f_r 250, f' = F·f, N' = F·N."""
    part = factor_reducer()
    power = part.thin_lens()
    assert power is not None
    assert power.focal is not None
    assert power.focal.value == pytest.approx(250.0)
    found = laid(MountedPart(part="reducer"), MountedPart(part="a"), parts=(part, spacer("a", 60.0)), **APSC)
    order = found.layout.first_order
    assert order.focal_length.value == pytest.approx(0.62 * 600.0)
    assert order.f_number.value == pytest.approx(0.62 * 4.0)
    closer = laid(MountedPart(part="reducer"), MountedPart(part="a"), parts=(part, spacer("a", 50.0)), **APSC)
    assert closer.layout.first_order.focal_length.value == pytest.approx(600.0 * (1.0 - 85.0 / 250.0))
    # Where its power acts was not entered: off its back focus the focal length is a range, with f_r for every place.
    blank = laid(
        MountedPart(part="reducer"),
        MountedPart(part="a"),
        parts=(factor_reducer(principal_mm=None), spacer("a", 50.0)),
        **APSC,
    )
    spread = ranges_of(blank.layout.train, blank.layout.parts, EVERY)["light.focal_length_mm"]
    ends = [600.0 * (1.0 - (70.0 + p) * 0.38 / (80.0 + p)) for p in (0.0, 30.0)]
    assert (spread.low, spread.high) == pytest.approx((min(ends), max(ends)), abs=1e-6)


# 8 Circular fisheye


def test_the_field_of_a_circular_fisheye_ends_at_its_circle() -> None:
    """models.md 11: equisolid 8 mm, circle 22.5: 2 × 2·asin(11.25/16) = 178.7°; shown 360° × 194° once."""
    found = of(prime("eye", 8.0, 4.0, projection="equisolid", image_circle_mm=published(22.5)))
    angle = 4.0 * math.degrees(math.asin(11.25 / 16.0))
    assert angle == pytest.approx(178.7, abs=0.05)
    assert found.figures["light.field_of_view"].value == pytest.approx((angle, angle))
    assert found.figures["light.field_diagonal_deg"].value == pytest.approx(angle)


# 9 Inner steps, and windows elsewhere than in a camera


@pytest.mark.parametrize("kind", ["guider", "shim", "bare"])
def test_a_measured_inner_step_counts_in_every_part(kind: str) -> None:
    step = {"step_clear_mm": measured(21.0), "step_at_mm": measured(0.2)}
    part: Part
    if kind == "guider":
        part = guider().model_copy(update=step)
    elif kind == "shim":
        part = Shim(id="shim", name="shim", path_length_mm=measured(0.5), **ENDS, **step)
    else:
        part = bare_filter().model_copy(update=step)
    found = laid(MountedPart(part=part.id), MountedPart(part="a"), parts=(part, spacer("a", 40.0)), **APSC)
    assert [c.has_mm for c in found.light.clearances if c.placed.role.value == "inner_step"] == [21.0]


class _Windowed(Spacer):
    """A spacer with a window of its own."""

    def glass_pieces(self, filled: Installation) -> Iterator[GlassPiece]:
        yield GlassPiece(self, GlassRole.WINDOW, Plate(thickness_mm=measured(3.0), index=measured(1.5)), 2.0, 40.0)


def test_a_window_in_any_part_is_counted_and_raises_nothing() -> None:
    part = _Windowed(id="a", name="a", path_length_mm=measured(30.0), **ENDS)
    found = laid(MountedPart(part="a"), parts=(part,), scope={"back_focus_mm": published(50.0)}, **APSC)
    assert found.spacing.required_mm == pytest.approx(51.0)
    assert [line.name for line in found.spacing.glass_lines] == ["a"]


# 11, 12


def test_a_teleconverter_at_infinity_has_no_magnification() -> None:
    converter = Teleconverter(id="tc", name="tc", outer_diameter_mm=60, front=BODY, rear=REAR,
                              path_length_mm=measured(21.7), factor=measured(1.7))  # fmt: skip
    found = of(prime("lens", 100.0, 2.8), converter, behind=(MountedPart(part="tc"),))
    assert found.close_up.now.magnification == 0.0
    assert not any(key.startswith("closeup.") for key in found.figures)


def test_a_closest_distance_alone_is_enough_for_close_up() -> None:
    assert of(prime("lens", 50.0, 2.0, nearest_mm=published(450.0))).close_up.active
    assert not of(prime("lens", 50.0, 2.0)).close_up.active


# 13, 14 Holders and sheets


@pytest.mark.parametrize("turned", [0.0, 25.0, -40.0])
def test_the_angles_of_a_holder_are_counted_from_the_frame(turned: float) -> None:
    """Free angles are the same wherever the holder is turned now: each one is tried by itself."""
    parts = (
        ring("r", 8.0, 140.0),
        holder("h", 20, 7, 8, window_width_mm=measured(88.0), window_height_mm=measured(84.0)),
    )

    def front(angle: float) -> Any:
        return stack("r", MountedPart(part="h", turned_deg=angle), parts=parts, focal=30.0, f_number=2.8).front

    told = turning_of(front(turned), 0.1)
    assert told is not None
    for angle, stops in list(zip(told.angles_deg, told.stops, strict=True))[::6]:
        assert stops == pytest.approx(front(angle).corner_stops, abs=2e-3)


def slid(shift_mm: float, gradation: Gradation, focal: float = 16.0) -> Readout:
    sheet = SheetFilter(
        id="sheet", name="sheet", outer_diameter_mm=100, width_mm=measured(100.0), height_mm=measured(150.0),
        glass=Plate(thickness_mm=measured(2.0), index=measured(1.5168)), density=published(0.9), gradation=gradation,
    )  # fmt: skip
    taking = holder("h", 14, 5, 5)
    assert isinstance(taking, FilterHolder)
    row = MountedPart(part="h", filters=("sheet", None), shifts_mm=(shift_mm, 0.0))
    return stack("r", row, parts=(ring("r", -1.5, 90.0), taking, sheet), focal=focal)


@pytest.mark.parametrize("gradation", [Gradation.NONE, Gradation.SOFT])
@pytest.mark.parametrize("shift_mm", [0.0, 50.0, -50.0])
def test_an_edge_of_a_sheet_inside_the_light_is_noticed(gradation: Gradation, shift_mm: float) -> None:
    """By hand: the frame's light reaches so far up and down; a sheet of 150 slid by 50 leaves 25 on one side."""
    found = slid(shift_mm, gradation)
    wide, reach, _ = next(f.value for k, f in found.figures.items() if k.startswith("front.sheet."))  # type: ignore[misc,str-unpack]
    told = any(f.kind == "front.sheet_edge" for f in found.findings)
    assert isinstance(wide, float)
    assert isinstance(reach, float)
    assert told == (75.0 - abs(shift_mm) < reach / 2.0 or wide > 100.0)
    assert shift_mm == 0.0 or told


def test_a_transition_outside_the_picture_says_where_and_how_far_to_slide() -> None:
    found = slid(45.0, Gradation.HARD, focal=24.0)
    (outside,) = (f for f in found.findings if f.kind == "front.line_outside")
    assert isinstance(outside.text, TransitionOutside)
    assert outside.text.above
    assert outside.text.slide_mm == pytest.approx(-45.0)
    assert not any(f.kind == "front.line_outside" for f in slid(0.0, Gradation.HARD, focal=24.0).findings)


# 15 A corrector of unknown exit pupil


def test_light_behind_a_corrector_of_unknown_pupil_is_a_range_and_stops_nothing() -> None:
    """d_min = 2h·|1 − x/L| + x/N with 1/L from 0 to 4/f: both ends by hand; a loss at one end only is no stop."""
    part = Corrector(id="c", name="c", back_focus_mm=published(80.0), spacing_tolerance_mm=published(1.0),
                     path_length_mm=measured(30.0), clear_aperture_mm=measured(60.0), **ENDS)  # fmt: skip
    long, narrow = spacer("a", 30.0, 60.0), spacer("b", 30.0, 33.0)
    found = laid(
        MountedPart(part="c"), MountedPart(part="b"), MountedPart(part="a"), parts=(part, long, narrow), **APSC
    )
    spreads = ranges_of(found.layout.train, found.layout.parts, EVERY)
    number = next(n for n, c in enumerate(found.light.clearances, 1) if c.placed.part.id == "b" and c.has_mm == 33.0)
    needed = spreads[f"light.needed.{number}.b_mm"]
    diagonal, x = math.hypot(23.5, 15.7), 80.0
    by_hand = [diagonal * abs(1.0 - x * inverse) + x / 4.0 for inverse in (0.0, 4.0 / 600.0)]
    assert needed.high == pytest.approx(max(by_hand), abs=0.05)
    assert needed.low == pytest.approx(min(by_hand), abs=0.05)


def test_what_may_be_clear_of_a_corner_stops_no_train() -> None:
    from farrail.readouts.range_findings import range_report

    part = Corrector(id="c", name="c", back_focus_mm=published(80.0), spacing_tolerance_mm=published(1.0),
                     path_length_mm=measured(30.0), clear_aperture_mm=measured(60.0), **ENDS)  # fmt: skip
    narrow = Spacer(id="b", name="b", path_length_mm=measured(60.0), clear_aperture_mm=unknown(20.0, 60.0), **ENDS)
    found = laid(MountedPart(part="c"), MountedPart(part="b"), parts=(part, narrow), **APSC)
    report = range_report(found.layout.train, found.layout.parts, EVERY)
    judged = report.judged(found.findings)
    clips = [f for f in judged if f.kind == "light.clip"]
    assert clips
    assert all(f.severity is not Severity.STOP for f in clips)
    assert all(isinstance(f.text, Clips) and f.text.over and f.text.over.low_stops <= 0.05 for f in clips)


def test_names_in_sentences_keep_their_hyphens() -> None:

    part = Spacer(id="b", name="H-alpha-ring", path_length_mm=measured(60.0), clear_aperture_mm=measured(15.0), **ENDS)
    found = laid(MountedPart(part="b"), parts=(part,), scope={"back_focus_mm": published(50.0)}, **APSC)
    told = " ".join(f"{f.title} {f.reason}" for f in found.findings)
    assert "H-alpha-ring" in told
    assert "H−alpha" not in told


@pytest.mark.parametrize("focal", [24.0, 50.0, 105.0])
@pytest.mark.parametrize("distance", [450.0, None])
def test_the_one_magnification_of_a_zoom_is_that_of_its_longest_focal_length(
    focal: float, distance: float | None
) -> None:
    """24-105 mm, 0.24x, behind 20 mm of tube: m0 + e/f_near, by brute force over f_near and H (models.md 11)."""
    zoom = prime("lens", 24.0, 4.0, longest_focal_mm=published(105.0), hiatus_mm=None, pupil_ratio=None,
                 nearest_magnification=published(0.24),
                 nearest_mm=None if distance is None else published(distance))  # fmt: skip
    tube = between(ExtensionTube, "tube", 20.0)
    shelf = {part.id: part for part in (zoom, tube, CAMERA)}
    train = Train(id="t", name="t", optic="lens", rear_train=(MountedPart(part="tube"),), camera="camera",
                  conditions=Conditions(focal_mm=focal))  # fmt: skip
    spread = ranges_of(train, shelf, MAIN)["closeup.magnification"]
    near = np.linspace(0.6, 1.02, 85) * focal
    if focal == 105.0:
        m0 = np.full_like(near, 0.24)
        near = near if distance is None else (distance - np.linspace(-30.0, 110.0, 85)) / (2.0 + 0.24 + 1.0 / 0.24)
    elif distance is None:
        m0 = np.full_like(near, 0.24 * focal / 105.0)
    else:
        near, hiatus = (grid.ravel() for grid in np.meshgrid(near, np.linspace(-30.0, 110.0, 141)))
        half = (distance - hiatus) / near / 2.0 - 1.0
        m0 = half - np.sqrt(half**2 - 1.0)
        m0, near = m0[m0 <= 0.24], near[m0 <= 0.24]
    true = m0 + 20.0 / near
    # The search for the ends stops within 1 % of an extreme between them.
    assert spread.low <= true.min() * 1.01
    assert spread.high >= true.max() * 0.99
    # Not as wide as 0.24x for every focal length would make it: the focal length at closest focus is above 0.4 f.
    assert spread.high <= 0.24 + 20.0 / (0.4 * focal) + 1e-9
