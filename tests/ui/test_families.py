"""From an empty workbook to a true verdict with gear of every family, counted; in English and German, a small window.

Each verdict is checked by a sum made by hand beside it. The gear is invented.
"""

import math
from collections.abc import Callable, Iterator

import pytest
from PySide6.QtWidgets import QApplication
from tests.ui.counting import Hand

from farrail import language
from farrail.assembly.steps import steps_of
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.lenses import CameraLens
from farrail.preview.view import view_of
from farrail.readouts.finding import Severity
from farrail.readouts.read import Readout
from farrail.ui.window import MainWindow
from farrail.workbook.workbook import empty_workbook


@pytest.fixture(params=["en", "de"])
def hand(make_window: Callable[..., MainWindow], request: pytest.FixtureRequest) -> Iterator[Hand]:
    """A hand before the first page of an empty workbook, in a small window and either language."""
    language.choose(request.param)
    window = make_window(empty_workbook())
    window.resize(1040, 680)
    window.show_first()
    QApplication.processEvents()
    yield Hand(window)
    language.choose("en")


def readout_of(hand: Hand) -> Readout:
    readout = hand.window.session.readout
    assert readout is not None
    return readout


def stops(readout: Readout) -> list[str]:
    return [finding.kind for finding in readout.findings if finding.severity is Severity.STOP]


def lens_to_frame(hand: Hand, focal: str, number: str, thread: str, pupil: str) -> None:
    """Answer the first questions of the filter route; the aperture in use is left open."""
    hand.click("route_filters")
    hand.type(focal)
    hand.type(number)
    hand.skip()
    hand.type(thread)
    if thread != "none external":
        hand.type(pupil)
        hand.type("36x24")


def holder_of_100_mm(hand: Hand) -> None:
    """Answer up to a holder of two slots on a 77 mm zoom."""
    lens_to_frame(hand, "16-35", "f/4", "77", "27")
    hand.click("choose_piece.1_holder_ring")
    for text in ("77", "4"):
        hand.type(text)
    hand.click("choose_piece.2_filter_holder")
    hand.click("choose_slots.2_2")
    for text in ("100", "14"):
        hand.type(text)


def test_a_bulbous_ultra_wide_with_a_slip_on_holder(hand: Hand) -> None:
    """f = 14 mm, corner 21.63 mm: 57.1° out. 25 + 20 mm ahead of the pupil the corner's ray is 69.5 mm off the axis."""
    lens_to_frame(hand, "14-24", "f/2.8", "none external", "")
    hand.click("choose_lens.hood_hood_fixed")
    for text in ("25", "36x24"):
        hand.type(text)
    hand.click("choose_piece.1_filter_holder")
    hand.click("choose_slots.1_2")
    for text in ("150", "20"):
        hand.type(text)
    assert hand.count <= 14, hand.done
    readout = readout_of(hand)
    assert stops(readout) == []
    # The upright half of the window is open; across, the frame's edge is 18/14 · 45 = 57.9 mm off: 72.5 mm are free.
    assert readout.front.now.first_clean_mm == pytest.approx(14.0)
    assert math.hypot(18.0, 12.0) / 14.0 * 45.0 == pytest.approx(69.5, abs=0.1)
    keys = [step.rule for step in steps_of(readout.layout)]
    assert keys.index("slip_on") < keys.index("lens_on_body")
    lens = readout.layout.optic
    assert isinstance(lens, CameraLens)
    assert lens.hood == "hood_fixed"


def test_a_holder_with_a_polariser_on_its_front(hand: Hand) -> None:
    """The polariser's front rim is 27 + 4 + 14 + 5 = 50 mm ahead of the pupil and 93 mm clear: 46.5/50 = 21.63/f."""
    holder_of_100_mm(hand)
    hand.click("choose_piece.3_round_filter")
    hand.type("95")
    hand.click("choose_filter_is.3_polariser")
    hand.type("5")
    hand.type("93")
    assert hand.count <= 18 + 3, hand.done
    readout = readout_of(hand)
    assert "joint.mismatch" not in stops(readout)
    # Without the pupil's own width: the axis of the corner's bundle meets the rim at 21.63 · 50/46.5.
    by_hand = 21.633 * 50.0 / 46.5
    assert readout.front.now.first_clean_mm == pytest.approx(by_hand, rel=0.06)
    assert [f for f in readout.findings if f.kind == "front.polariser_place"]


def test_a_polariser_dropped_in_behind_the_sheets(hand: Hand) -> None:
    holder_of_100_mm(hand)
    hand.type("86", "answer_drop_in.2")
    assert hand.count <= 18, hand.done
    readout = readout_of(hand)
    train = hand.window.session.train
    assert train is not None
    assert train.front_stack[1].drop_in is not None
    assert [f.text for f in readout.findings if f.kind == "front.polariser_place"]
    assert "drop_in" in [step.rule for step in steps_of(readout.layout)]


def test_a_magnetic_stack_of_three(hand: Hand) -> None:
    """3 + 3 + 3 + 5 = 14 mm; every filter is in the steps."""
    lens_to_frame(hand, "35", "f/2", "67", "30")
    hand.click("choose_piece.1_adapter")
    for text in ("67 to magnetic", "3"):
        hand.type(text)
    hand.type("3, 3, 5 polariser")
    assert hand.count <= 14, hand.done
    readout = readout_of(hand)
    assert readout.front.depth_mm == pytest.approx(14.0)
    assert stops(readout) in ([], ["front.shows"])
    rules = [step.rule for step in steps_of(readout.layout)]
    assert rules.count("magnetic_filter") == 3
    assert rules.count("magnetic_base") == 1
    assert rules.index("magnetic_base") < rules.index("magnetic_filter")


def test_a_fisheye_is_taken_for_one(hand: Hand) -> None:
    """Equisolid: h = 2 f sin(θ/2), so the corner of 21.63 mm at 15 mm is 2·asin(21.63/30) = 92.3° out."""
    lens_to_frame(hand, "15 fisheye", "f/2.8", "none external", "")
    lens = readout_of(hand).layout.optic
    assert isinstance(lens, CameraLens)
    assert lens.projection == "equisolid"
    hand.type("36x24", "answer_camera.format")
    assert readout_of(hand).front.field_angle_deg == pytest.approx(
        2.0 * math.degrees(math.asin(21.633 / 30.0)), abs=0.1
    )


def test_a_shift_lens_shows_the_corner_it_shifts_to(hand: Hand) -> None:
    """8 mm up: the sensor's lower corners are 18 and 12 + 8 = 20 mm off, 26.9 mm in place of 21.6."""
    lens_to_frame(hand, "24 tilt-shift", "f/3.5", "82", "30")
    straight = max(math.hypot(*corner) for corner in readout_of(hand).front.corners)
    hand.type("8 up, at most 12")
    far = max(math.hypot(*corner) for corner in readout_of(hand).front.corners)
    assert straight == pytest.approx(math.hypot(18.0, 12.0))
    assert far == pytest.approx(math.hypot(18.0, 20.0))
    hand.type("20 up, at most 12", "answer_lens.shift")
    train = hand.window.session.train
    assert train is not None
    assert train.conditions.shift_up_mm == 8.0


def test_a_tilted_lens_says_where_its_plane_of_focus_is(hand: Hand) -> None:
    """24 mm tilted by 2°: hinge 24/sin 2° = 687.7 mm; the axis moves up by 24·tan 2° = 0.838 mm."""
    lens_to_frame(hand, "24 tilt-shift", "f/3.5", "82", "30")
    hand.type("tilt 2, at most 8")
    readout = readout_of(hand)
    assert readout.figures["light.hinge_mm"].number == pytest.approx(687.7, abs=0.1)
    assert min(corner[1] for corner in readout.front.corners) == pytest.approx(-12.0 - 0.838, abs=0.001)
    # Light through the principal point goes where it went: the picture itself does not move.
    assert view_of(readout, 160).up_mm == 0.0
    hand.type("tilt 9, at most 8", "answer_lens.shift")
    hand.type("tilt much", "answer_lens.shift")
    train = hand.window.session.train
    assert train is not None
    assert train.conditions.tilt_deg == 2.0


def test_gelatin_in_the_rear_slot_moves_the_focus(hand: Hand) -> None:
    """0.1 mm of index 1.5: the focus lies 0.1·(1 − 1/1.5) = 0.033 mm farther from the lens."""
    lens_to_frame(hand, "14", "f/2.8", "none external", "")
    before = readout_of(hand).spacing.required_mm
    hand.type("0.1", "answer_lens.gelatin")
    after = readout_of(hand).spacing.required_mm
    assert before is not None
    assert after is not None
    assert after - before == pytest.approx(0.1 / 3.0, abs=1e-6)
    hand.type("none", "answer_lens.gelatin")
    assert readout_of(hand).spacing.required_mm == before


def close_up(hand: Hand, *answers: str) -> None:
    hand.click("route_close_up")
    for text in answers:
        hand.type(text)


def test_a_lens_reversed_on_a_ring(hand: Hand) -> None:
    """The ring is behind the lens and the lens turned round, and nothing is asked of its own focusing."""
    close_up(hand, "50", "f/1.8", "44 mm SLR bayonet", "52")
    hand.click("choose_lens.mounted_mount_reversed")
    for text in ("7", "36x24"):
        hand.type(text)
    assert hand.count <= 16, hand.done
    readout = readout_of(hand)
    train = readout.layout.train
    assert train.optic_reversed
    assert len(train.rear_train) == 1
    assert stops(readout) == []
    assert readout.close_up.now.magnification > 0.4
    assert "answer_lens.nearest" not in visible(hand)


def test_two_lenses_coupled(hand: Hand) -> None:
    """At infinity of the first, m is the ratio of the focal lengths, 135/50 = 2.7; focused closer it is larger."""
    close_up(hand, "135", "f/2.8", "44 mm SLR bayonet", "58")
    hand.click("choose_lens.mounted_mount_coupled")
    hand.skip()
    for text in ("50 f/1.8, 52", "36x24"):
        hand.type(text)
    assert hand.count <= 16, hand.done
    readout = readout_of(hand)
    assert stops(readout) == []
    assert readout.close_up.far.magnification == pytest.approx(2.7, rel=1e-6)
    assert readout.close_up.near.magnification > 2.7


def test_an_enlarging_lens_on_bellows(hand: Hand) -> None:
    """90 mm of bellows on a lens of 75 mm that is at infinity on its flange distance: m = 90/75 = 1.2."""
    close_up(hand, "75 enlarging lens", "f/4", "44 mm SLR bayonet")
    hand.skip()
    hand.click("choose_lens.mounted_mount_bellows")
    hand.type("35 to 140, at 90")
    hand.type("36x24")
    assert hand.count <= 16, hand.done
    readout = readout_of(hand)
    assert stops(readout) == []
    assert readout.close_up.now.magnification == pytest.approx(1.2, rel=1e-6)


def night(hand: Hand) -> None:
    hand.click("route_night")
    for text in ("four thirds", "3.8", "17.5", "M54x0.75 internal"):
        hand.type(text)
    hand.click("choose_optic.what_telescope_corrector")
    hand.type("430 f/5.6")
    hand.type("55")


def test_a_reducer_with_its_factor(hand: Hand) -> None:
    """At its back focus a reducer of 0.8 makes 344 mm of 430 and f/4.48 of f/5.6."""
    night(hand)
    hand.type("0.8x")
    hand.type("M54x0.75 external", "answer_optic.rear")
    hand.click("choose_piece.1_spacer")
    hand.type("37.5")
    assert hand.count <= 20, hand.done
    order = readout_of(hand).layout.first_order
    assert order.focal_length.value == pytest.approx(0.8 * 430.0, rel=1e-6)
    assert order.f_number.value == pytest.approx(0.8 * 5.6, rel=1e-3)


def test_a_wheel_and_its_filters_in_one_answer(hand: Hand) -> None:
    """20 + 17.5 = 37.5 of 55 mm and a third of 2 mm of glass (n = 1.5168): 0.681."""
    night(hand)
    hand.click("choose_piece.1_filter_wheel")
    hand.type("20", "answer_length.1")
    hand.type("7 slots, 36 mm, 2 mm thick", "answer_glass.1")
    assert hand.count <= 20, hand.done
    train = hand.window.session.train
    assert train is not None
    assert len(train.rear_train[1].filters) == 7
    error = readout_of(hand).spacing.error_mm
    assert error == pytest.approx(37.5 - 55.0 - 2.0 * (1.0 - 1.0 / 1.5168), abs=1e-6)


def test_a_guide_camera_on_its_guider(hand: Hand) -> None:
    """From the prism to the main sensor 8.75 of the guider and 17.5 mm; the port takes 30 of them: 3.75 too many."""
    night(hand)
    hand.click("choose_piece.1_off_axis_guider")
    hand.type("17.5", "answer_length.1")
    for name, text in (("guide", "7.4 x 5"), ("guide_flange", "12.5"), ("guide_port", "30")):
        hand.type(text, f"answer_{name}.1")
    readout = readout_of(hand)
    needed = readout.figures["spacing.guide.off-axis-guider_mm"].number
    assert needed == pytest.approx(8.75 + 17.5 - 30.0, abs=0.01)
    hung = readout.layout.train.rear_train[1].guide
    assert hung is not None
    assert isinstance(hand.window.session.workbook.by_id[hung.camera], Camera)
    assert "guide_camera" in [step.rule for step in steps_of(readout.layout)]


def visible(hand: Hand) -> set[str]:
    from PySide6.QtWidgets import QLineEdit

    return {field.objectName() for field in hand.window.findChildren(QLineEdit) if field.isVisible()}
