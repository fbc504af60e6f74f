"""A folder of frames: each matched to its train by what its file says, its entries proposed and accepted."""

import shutil
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from astropy.io import fits
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QComboBox, QPushButton, QTreeWidget
from pytestqt.qtbot import QtBot
from tests.command_line import far_rail
from tests.ui.hands import found

from farrail.demo.hallan_skerry import demo_workbook
from farrail.exchange.evening import as_used, propose, trains_of
from farrail.exchange.frame_headers import FrameHeader, frames_in, read_header
from farrail.frames.kinds import FrameKind
from farrail.logbook.kinds.evening import FilterFocus
from farrail.logbook.kinds.star_frames import TiltByStars
from farrail.readouts.read import read
from farrail.simulated.bench_frames import bench_frames
from farrail.ui.evening_sheet import EveningSheet
from farrail.ui.window import MainWindow
from farrail.workbook.edits.log import ImportObservations
from farrail.workbook.store import read_file

BOOK = demo_workbook()


@pytest.fixture(scope="module")
def evening(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Two flats and stars of one train, a flat that two trains may have taken, a dark, and two files that are none."""
    folder = tmp_path_factory.mktemp("evening")
    book = folder / "demo.farrail.json"
    far_rail("demo", "--save", str(book))
    frames = folder / "frames"
    (frames / "later").mkdir(parents=True)
    for name, kind, train in (("flat-1", "flat", "lantern-wheel"), ("later/flat-2", "flat", "lantern-wheel"),
                              ("stars", "stars", "lantern-wheel"), ("wall", "flat", "sea-stacks")):  # fmt: skip
        made = far_rail("bench", kind, str(frames / f"{name}.fits"), str(book), "--train", train, "--seed", "2",
                        "--columns", "700")  # fmt: skip
        assert made.returncode == 0, made.stderr
    with fits.open(frames / "later" / "flat-2.fits", mode="update") as file:
        file[0].header.update(
            {"DATE-OBS": "2026-11-07T20:15:00", "FILTER": "Red 31", "CCD-TEMP": -10.0, "ROTATANG": 31.5}
        )
    noise = np.random.default_rng(1).normal(100.0, 3.0, (64, 85)).astype(np.float32)
    fits.PrimaryHDU(noise, fits.Header({"IMAGETYP": "Dark Frame"})).writeto(frames / "dark.fits")
    (frames / "broken.fits").write_bytes(b"SIMPLE  =  no")
    (frames / "notes.txt").write_text("no frame")
    return folder


def test_what_a_file_says_is_read_without_its_pixels(evening: Path) -> None:
    header = read_header(evening / "frames" / "later" / "flat-2.fits")
    assert (header.columns, header.kind, header.filter, header.day) == (700, FrameKind.FLAT, "Red 31", "2026-11-07")
    assert (header.temperature_c, header.rotator_deg, header.focal_mm) == (-10.0, 31.5, 600.0)
    assert header.pixel_um == pytest.approx(17_300.0 / 700.0, rel=1e-3)


def test_trains_are_told_by_sensor_focal_length_and_filter() -> None:
    """By hand: 4/3 sensor of 17.3 × 13 mm at 600 mm is one train; at 17 to 35 mm on 36 × 24 it may be two."""
    of = FrameHeader(Path("a.fits"), 3737, 2808, pixel_um=4.63, focal_mm=600.0)
    assert [one.id for one in trains_of(of, BOOK)] == ["lantern-wheel"]
    assert trains_of(FrameHeader(Path("a.fits"), 3737, 2808, pixel_um=3.0, focal_mm=600.0), BOOK) == ()
    assert trains_of(FrameHeader(Path("a.fits"), 3737, 2808, pixel_um=4.63, focal_mm=400.0), BOOK) == ()
    wide = trains_of(FrameHeader(Path("a.jpg"), 6000, 4000, focal_mm=20.0), BOOK)
    assert {"sea-stacks", "sea-stacks-slim"} <= {one.id for one in wide}
    red = FrameHeader(Path("a.fits"), 3737, 2808, filter="r")
    used = as_used(red, BOOK.train("lantern-wheel"), BOOK)
    assert "red-31" in [laid.filter_in_beam for laid in used.rear_train]


def test_entries_are_proposed_with_the_day_and_the_evening_s_facts(evening: Path) -> None:
    proposed = {one.path.name: one for one in propose(frames_in(evening / "frames"), BOOK)}
    assert set(proposed) == {"flat-1.fits", "flat-2.fits", "stars.fits", "wall.fits", "dark.fits", "broken.fits"}
    second = proposed["flat-2.fits"]
    assert second.train is not None
    assert second.train.id == "lantern-wheel"
    (entry,) = second.entries
    assert entry.day == "2026-11-07"
    assert "Filter Red 31, sensor −10 °C, rotator 31.5°" in str(entry.values["note"]).replace("-10", "−10")
    assert proposed["stars.fits"].kind is FrameKind.STARS
    assert proposed["wall.fits"].train is None
    assert "Choose one" in proposed["wall.fits"].lines[0]
    assert "dark or bias" in proposed["dark.fits"].lines[0]
    assert "cannot be read" in proposed["broken.fits"].lines[0]
    assert not any(proposed[name].entries for name in ("wall.fits", "dark.fits", "broken.fits"))


def test_runs_through_focus_are_read_together_and_give_the_offset_of_a_filter(tmp_path: Path) -> None:
    """Two runs of six frames; the second filter's scale is 140 µm further out, so that is its offset."""
    readout = read(BOOK.train("lantern-wheel"), BOOK.by_id)
    for name, further in (("Luminance 31", 0.0), ("Red 31", 140.0)):
        for number, picture in enumerate(bench_frames(readout, FrameKind.STARS, 5)[1:]):
            assert picture.focus_um is not None
            header = fits.Header({
                "IMAGETYP": "Light Frame", "FILTER": name, "FOCALLEN": 600.0, "DATE-OBS": "2026-11-07T20:15:00",
                "XPIXSZ": 17_300.0 / picture.light.shape[1], "FOCUSPOS": picture.focus_um + further,
            })  # fmt: skip
            file = tmp_path / f"{name[:3]}-{number}.fits"
            fits.PrimaryHDU(np.clip(picture.light[::-1], 0, 65535).astype(np.uint16), header).writeto(file)
    first, second = propose(frames_in(tmp_path), BOOK)
    assert (len(first.paths), len(second.paths)) == (6, 6)
    assert (first.filter, second.filter) == ("luminance-31", "red-31")
    assert "Run through focus, 6 frames." in first.lines
    assert [entry.kind for entry in second.entries][:1] == [TiltByStars]
    assert FilterFocus not in [entry.kind for entry in first.entries]
    offset = second.entries[-1]
    assert offset.kind is FilterFocus
    assert offset.values["position_um"] - offset.values["beside_um"] == pytest.approx(140.0, abs=3.0)
    book = ImportObservations((*first.entries, *second.entries)).apply(BOOK)
    assert {one.kind for one in book.log[-4:]} >= {"tilt_by_stars", "filter_focus"}


def test_a_photo_that_does_not_say_what_it_shows_accuses_no_part(tmp_path: Path) -> None:
    """A picture brighter on one side, of the sea stacks' sensor: taken for a flat it would blame something."""
    from PIL import Image

    shade = np.linspace(20.0, 240.0, 600, dtype=np.float32)[None, :].repeat(400, axis=0).astype(np.uint8)
    Image.fromarray(np.stack([shade] * 3, axis=-1)).save(tmp_path / "coast.jpg")
    (one,) = propose([tmp_path / "coast.jpg"], BOOK, BOOK.train("sea-stacks"))
    assert not one.entries
    assert "does not say what it shows" in one.lines[0]


def test_the_command_line_writes_only_when_asked(evening: Path, tmp_path: Path) -> None:
    book = tmp_path / "mine.farrail.json"
    shutil.copy(evening / "demo.farrail.json", book)
    before = book.read_bytes()
    count = len(read_file(book).workbook.log)
    told = far_rail("log", str(book), "--frames", str(evening / "frames"))
    assert told.returncode == 1
    assert "--apply adds them to the log" in told.stdout
    assert book.read_bytes() == before
    assert far_rail("log", str(book), "--frames", str(evening / "frames"), "--apply").returncode == 1
    log = read_file(book).workbook.log[count:]
    assert len(log) == 3
    assert "2026-11-07" in {one.day for one in log}
    nothing = far_rail("log", str(book), "--frames", str(tmp_path / "none"))
    assert nothing.returncode == 2
    assert "holds no frames" in nothing.stderr.replace("\n", " ")


def test_the_sheet_shows_each_frame_and_adds_what_is_ticked(
    evening: Path, make_window: Callable[..., MainWindow], qtbot: QtBot
) -> None:
    window = make_window(train="lantern-wheel")
    before = window.session.workbook
    sheet = EveningSheet(window.session, evening / "frames", window)
    sheet.show()

    def settled() -> None:
        sheet.work.wait()
        QApplication.processEvents()

    settled()
    table: Any = found(sheet, QTreeWidget, "evening_frames")
    rows = {table.topLevelItem(n).text(0): n for n in range(table.topLevelItemCount())}
    assert set(rows) == {"flat-1.fits", "later/flat-2.fits", "stars.fits", "wall.fits", "dark.fits", "broken.fits"}
    assert window.session.workbook is before
    # The flat that two trains may have taken: choose one, and it has an entry too.
    table.setCurrentItem(table.topLevelItem(rows["wall.fits"]))
    box = found(sheet, QComboBox, "evening_train")
    box.setCurrentIndex(box.findData("sea-stacks"))
    qtbot.mouseClick(found(sheet, QPushButton, "evening_choose"), Qt.MouseButton.LeftButton)
    settled()
    assert table.topLevelItem(rows["wall.fits"]).text(1) == BOOK.train("sea-stacks").name
    table.topLevelItem(rows["stars.fits"]).setCheckState(0, Qt.CheckState.Unchecked)
    assert {one.path.name for one in sheet.accepted_frames()} >= {"flat-1.fits", "flat-2.fits"}
    qtbot.mouseClick(found(sheet, QPushButton, "evening_add"), Qt.MouseButton.LeftButton)
    added = window.session.workbook.log[len(before.log) :]
    assert "corner_stars" not in {one.kind for one in added}
    assert len(added) >= 2
    window.session.undo()
    assert window.session.workbook == before
