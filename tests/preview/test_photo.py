"""One's own photo as a scene: as it was taken, and what is no photo."""

import struct
import zlib
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import BadInput
from farrail.optics.oblique import Directions
from farrail.preview.model import PreviewSettings, Scene, frame_preview
from farrail.preview.photo import read_photo
from farrail.preview.view import View
from farrail.readouts.read import read


def photo(folder: Path, name: str, values: np.ndarray, focal_35: int | None = 24, turned: int = 1) -> Path:
    path, exif = folder / name, Image.Exif()
    exif[0x0112] = turned
    if focal_35:
        exif.get_ifd(0x8769)[0xA405] = focal_35
    Image.fromarray(values).save(path, exif=exif)
    return path


def quarters() -> np.ndarray:
    """Four quarters: red top left, green top right, blue bottom left, white bottom right."""
    values = np.zeros((200, 300, 3), dtype=np.uint8)
    values[:100, :150, 0], values[:100, 150:, 1], values[100:, :150, 2] = 255, 255, 255
    values[100:, 150:] = 255
    return values


def test_a_photo_is_seen_at_the_angle_it_was_taken_at(tmp_path: Path) -> None:
    """24 mm equivalent on its own diagonal: through 24 mm of a full frame it fills the picture, through 12 mm half."""
    taken = read_photo(photo(tmp_path, "coast.png", quarters()))
    same = View(300, 200, 36.0, 24.0, 0.0, 0.0, 24.0, Directions())
    light, missing = taken.over(same)
    assert missing.mean() < 0.01
    assert (light[20, 20], light[20, 280]) == (pytest.approx([1.0, 0.0, 0.0]), pytest.approx([0.0, 1.0, 0.0]))
    wider = View(300, 200, 36.0, 24.0, 0.0, 0.0, 12.0, Directions())
    assert taken.over(wider)[1].mean() == pytest.approx(0.75, abs=0.02)


def test_a_portrait_photo_is_turned_upright(tmp_path: Path) -> None:
    """Orientation 6: the camera was turned clockwise, its first column is the top."""
    taken = read_photo(photo(tmp_path, "tall.jpg", quarters(), turned=6))
    assert taken.light.shape[:2] == (300, 200)
    assert taken.light[20, 180, 0] > 0.8  # what was top left is top right now
    assert taken.light[20, 180, 1] < 0.2


def test_sixteen_bits_and_grey(tmp_path: Path) -> None:
    values = np.linspace(0, 65535, 100 * 80).reshape(80, 100).astype(np.uint16)
    Image.fromarray(values).save(tmp_path / "deep.png")
    taken = read_photo(tmp_path / "deep.png", 35.0, 36.0)
    assert taken.light.shape == (80, 100, 3)
    assert taken.light[-1, -1, 0] == pytest.approx(1.0, abs=0.01)
    # IEC 61966-2-1: half of full scale is 0.214 linear.
    assert taken.light[40, 0, 0] == pytest.approx(0.214, abs=0.01)
    assert taken.focal_px == pytest.approx(35.0 / 36.0 * 100.0)


def test_what_is_no_photo_is_refused_in_a_sentence(tmp_path: Path) -> None:
    small, text, cut = tmp_path / "dot.png", tmp_path / "words.jpg", tmp_path / "cut.jpg"
    Image.new("RGB", (1, 1)).save(small)
    text.write_text("not a picture")
    whole = photo(tmp_path, "whole.jpg", quarters()).read_bytes()
    cut.write_bytes(whole[: len(whole) // 3])
    huge = tmp_path / "huge.png"
    header = struct.pack(">IIBBBBB", 20_000, 10_000, 8, 2, 0, 0, 0)
    chunk = b"IHDR" + header
    data = b"IDAT" + zlib.compress(bytes(100))
    huge.write_bytes(
        b"\x89PNG\r\n\x1a\n"
        + b"".join(struct.pack(">I", len(one) - 4) + one + struct.pack(">I", zlib.crc32(one)) for one in (chunk, data))
    )
    for path, words in ((small, "1 × 1 pixels"), (text, "not a photo"), (cut, "not a photo"), (huge, "200 megapixels"),
                        (tmp_path / "gone.jpg", "cannot be read")):  # fmt: skip
        with pytest.raises(BadInput, match=words) as told:
            read_photo(path, 24.0, 36.0)
        assert path.name in str(told.value)
    with pytest.raises(BadInput, match="focal length and the width of its sensor"):
        read_photo(photo(tmp_path, "plain.png", quarters(), focal_35=None))


def test_a_photo_goes_through_the_train(tmp_path: Path) -> None:
    workbook = demo_workbook()
    path = photo(tmp_path, "grey.png", np.full((400, 600, 3), 118, dtype=np.uint8), focal_35=14)
    made = frame_preview(
        read(workbook.train("sea-stacks"), workbook.by_id), PreviewSettings(Scene.PHOTO, photo=path), 120
    )
    middle = made.shown[made.view.rows - 10, 60]
    assert abs(int(middle[0]) - 118) <= 12  # below the graduated filter a grey stays what it was
    assert made.shown[0, 0].max() == 0  # the corner is black


def test_trains_that_take_no_photo_say_what_is_missing() -> None:
    workbook = demo_workbook()
    bare = workbook.train("witch-broom").model_copy(update={"camera": None})
    with pytest.raises(BadInput, match="add a camera"):
        frame_preview(read(bare, workbook.by_id), PreviewSettings(Scene.FLAT), 100)
    with pytest.raises(BadInput, match="focused at infinity"):
        frame_preview(read(workbook.train("sea-stacks"), workbook.by_id), PreviewSettings(Scene.POOL), 100)
    with pytest.raises(BadInput, match="Choose a photo"):
        frame_preview(read(workbook.train("sea-stacks"), workbook.by_id), PreviewSettings(Scene.PHOTO), 100)
