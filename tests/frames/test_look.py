"""One order of looking: the spacing by corner stars, the difference from the prediction, how far the work is."""

from dataclasses import replace

import numpy as np
import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import BadInput
from farrail.frames.kinds import FrameKind
from farrail.frames.look import ByHand, look
from farrail.frames.picture import Picture
from farrail.frames.report import looked_words
from farrail.frames.watch import Watch
from farrail.parts.kinds.telescopes import Corrector, ShortStars
from farrail.readouts.read import Readout, read
from farrail.simulated.bench_camera import DARK_E, FULL_E, Truth, bench_flat, bench_stars
from farrail.simulated.bench_frames import bench_frames
from farrail.simulated.hidden import hidden_truth, truth_words
from farrail.train.rows import Shelf
from farrail.workbook.edits.laying import ReplacePart
from farrail.workbook.workbook import Workbook

TRAIN = "lantern-apsc"


def telescope(rule: ShortStars | None = None, workbook: Workbook | None = None) -> tuple[Readout, Shelf]:
    """The demo's Newtonian, its corrector known to draw stars out as given."""
    workbook = workbook or demo_workbook()
    shelf = {
        key: part.model_copy(update={"short_stars": rule}) if isinstance(part, Corrector) else part
        for key, part in workbook.by_id.items()
    }
    return read(workbook.train(TRAIN), shelf), shelf


def picture(light: np.ndarray) -> Picture:
    return Picture((light - DARK_E).astype(np.float32), FULL_E - DARK_E, name="one.fits")


@pytest.mark.parametrize(
    ("rule", "truth", "said"),
    [
        # The trade's rule in words: where short is drawn out from the middle, long is drawn out around it.
        (ShortStars.RADIAL, Truth(spacing_mm=-0.8, short_is_radial=True), "the spacing is too short"),
        (ShortStars.RADIAL, Truth(spacing_mm=0.8, short_is_radial=True), "the spacing is too long"),
        (ShortStars.TANGENTIAL, Truth(spacing_mm=-0.8, short_is_radial=False), "the spacing is too short"),
        (ShortStars.TANGENTIAL, Truth(spacing_mm=0.8, short_is_radial=False), "the spacing is too long"),
        (ShortStars.RADIAL, Truth(), "no spacing error"),
        (None, Truth(spacing_mm=0.8), "is not known: log"),
    ],
)
def test_corner_stars_say_which_way_the_spacing_is_off(rule: ShortStars | None, truth: Truth, said: str) -> None:
    readout, shelf = telescope(rule)
    told = looked_words(look(FrameKind.STARS, [picture(bench_stars(readout, truth, 900))], readout, shelf))
    assert said in " ".join(told)
    assert "The current spacing is 0.08 mm short." in " ".join(told)


def test_a_lens_has_no_spacing_to_be_told_by_stars() -> None:
    workbook = demo_workbook()
    readout = read(workbook.train("sea-stacks"), workbook.by_id)
    looked = look(FrameKind.STARS, [picture(bench_stars(readout, Truth(), 900))], readout, workbook.by_id)
    assert looked.stars is not None
    assert looked.spaced is None


def test_the_difference_is_what_was_taken_away() -> None:
    """A flat as predicted, its left third darkened by 0.4 stop: shown there, and nowhere else."""
    readout, shelf = telescope()
    light = (bench_flat(readout, Truth(exposed=0.7), 900) - DARK_E).astype(np.float32)
    columns = light.shape[1]
    light[:, : columns // 3] *= 2.0**-0.4
    flat = look(FrameKind.FLAT, [Picture(light, FULL_E)], readout, shelf).flat
    assert flat is not None
    assert flat.worst is not None
    stops, (right, _) = flat.worst
    assert (round(stops, 1), right) == (-0.4, -1)
    grid = flat.difference_stops.reshape(flat.cells.shape)
    assert float(np.abs(grid[:, grid.shape[1] // 2 :]).max()) < 0.05
    assert "at the left: 0.4" in looked_words(look(FrameKind.FLAT, [Picture(light, FULL_E)], readout, shelf))[-1]


def test_the_newtonian_with_its_filter_in_a_drawer_that_sits_askew() -> None:
    workbook = demo_workbook()
    wheel = next(n for n, one in enumerate(workbook.train(TRAIN).rear_train) if one.part == "kittiwake-wheel")
    workbook = ReplacePart(TRAIN, "kittiwake-drawer", wheel).apply(workbook)
    readout, shelf = telescope(workbook=workbook)
    filter_ = next(n for n, one in enumerate(readout.light.imaged) if one.placed.part.name == "Luminance 31")
    light = bench_flat(readout, Truth(apertures=((filter_, 29.0, -1.6, 0.0),), seed=3), 900)
    told = looked_words(look(FrameKind.FLAT, [picture(light)], readout, shelf))
    assert told[0].startswith("Luminance 31 in Kittiwake drawer explains it: ")
    assert "to the left as seen from behind the camera: is the drawer pushed home until it snaps" in told[1]


def test_places_of_the_focuser_by_hand_tell_the_tilt() -> None:
    readout, shelf = telescope()
    frames = bench_frames(readout, FrameKind.STARS, 3)
    given = tuple(float(one.focus_um or 0.0) for one in frames)
    silent = [replace(one, focus_um=None) for one in frames]
    untold = look(FrameKind.STARS, silent, readout, shelf)
    assert (untold.tilt, untold.unplaced) == (None, len(frames))
    assert "lack the focuser position" in looked_words(untold)[-1]
    by_hand = look(FrameKind.STARS, silent, readout, shelf, by_hand=ByHand(focus_um=given))
    by_file = look(FrameKind.STARS, frames, readout, shelf)
    assert by_hand.tilt == by_file.tilt
    assert by_hand.tilt is not None
    with pytest.raises(BadInput, match="2 places of the focuser are given for 7 frames"):
        look(FrameKind.STARS, silent, readout, shelf, by_hand=ByHand(focus_um=(0.0, 100.0)))


def test_the_bench_camera_hides_spacings_and_tells_them() -> None:
    readout, _ = telescope()
    hidden = [hidden_truth(readout, FrameKind.STARS, seed) for seed in range(40)]
    off = [one for one in hidden if one.spacing_mm]
    assert 10 < len(off) < 35
    side = "short" if off[0].spacing_mm < 0.0 else "long"
    assert truth_words(off[0], readout, FrameKind.STARS)[-1] == (
        f"The spacing is {abs(off[0].spacing_mm):.2f} mm {side}."
    )


@pytest.mark.parametrize("kind", list(FrameKind))
def test_work_tells_how_far_it_is_and_ends_when_it_is_not_wanted(kind: FrameKind) -> None:
    readout, shelf = telescope()
    frames = bench_frames(readout, kind, 2)
    shares: list[float] = []
    assert look(kind, frames, readout, shelf, Watch(told=shares.append, begin=0.4)).kind is kind
    assert shares == sorted(shares)
    assert all(0.4 <= share <= 1.0 for share in shares)
    if kind in (FrameKind.FLAT, FrameKind.STARS, FrameKind.DUST):
        assert shares
    assert look(kind, frames, readout, shelf, Watch(stopped=lambda: True)).kind is kind


def test_a_train_without_a_camera_takes_no_frames() -> None:
    workbook = demo_workbook()
    train = workbook.train(TRAIN).model_copy(update={"camera": None})
    readout = read(train, workbook.by_id)
    if readout.layout.camera is not None:
        pytest.skip("the camera lies in the rear row")
    light = Picture(np.arange(64 * 64, dtype=np.float32).reshape(64, 64), 1e6)
    with pytest.raises(BadInput, match="has no camera"):
        look(FrameKind.FLAT, [light], readout, workbook.by_id)
