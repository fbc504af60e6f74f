"""Frames from files: what other programs write is read, what is damaged or means harm is refused in one sentence."""

import io
import struct
import subprocess
import sys
import zlib
from pathlib import Path

import numpy as np
import pytest
import tifffile
from PIL import Image

from farrail.cancel import Cancelled
from farrail.errors import BadInput
from farrail.exchange.frame_files import read_frame, write_bench_fits
from farrail.frames.picture import Picture

ROWS, COLUMNS = 64, 96


def ramp(kind: type = np.uint16, most: float = 40_000.0) -> np.ndarray:
    """Bright at the top left, darker to the right and downward: no turn or mirror leaves it as it is."""
    y, x = np.mgrid[0:ROWS, 0:COLUMNS]
    return np.asarray(most * (1.0 - 0.5 * x / COLUMNS - 0.3 * y / ROWS)).astype(kind)


def fits_file(path: Path, data: np.ndarray, **header: object) -> Path:
    from astropy.io import fits

    made = fits.PrimaryHDU(data)
    for name, value in header.items():
        made.header[name] = value
    made.writeto(path)
    return path


def top_left_is_brightest(picture: Picture) -> bool:
    corners = {(0, 0), (0, -1), (-1, 0), (-1, -1)}
    return max(corners, key=lambda at: picture.light[at]) == (0, 0)


# FITS


def test_fits_of_every_depth_the_first_row_below_unless_said(tmp_path: Path) -> None:
    for kind in (np.uint8, np.int16, np.uint16, np.int32, np.float32, np.float64):
        most = 200.0 if kind is np.uint8 else 20_000.0
        data = ramp(kind, most)
        below = read_frame(fits_file(tmp_path / f"below-{kind.__name__}.fits", data[::-1]))
        above = read_frame(fits_file(tmp_path / f"above-{kind.__name__}.fit", data, ROWORDER="TOP-DOWN"))
        for picture in (below, above):
            assert picture.light == pytest.approx(data.astype(np.float32))
            assert top_left_is_brightest(picture)


def test_what_a_header_says_of_how_it_was_taken(tmp_path: Path) -> None:
    path = fits_file(
        tmp_path / "told.fits", ramp(), XPIXSZ=3.76, FOCALLEN=530.0, FOCRATIO=5.3, FOCUSPOS=-120.0, PEDESTAL=100.0,
        SATURATE=50_000.0,
    )  # fmt: skip
    picture = read_frame(path)
    assert (picture.pixel_um, picture.focal_mm, picture.f_number, picture.focus_um) == (3.76, 530.0, 5.3, -120.0)
    assert picture.saturated == 49_900.0
    assert float(picture.light.max()) == pytest.approx(39_900.0)


def test_a_mosaic_and_colours_become_light(tmp_path: Path) -> None:
    flat = np.full((ROWS, COLUMNS), 10_000.0, dtype=np.float32)
    flat[:, ::2] *= 0.6
    mosaic = read_frame(fits_file(tmp_path / "mosaic.fits", flat + ramp(np.float32, 1e-3), BAYERPAT="RGGB"))
    assert mosaic.shrunk == 2
    assert mosaic.light.shape == (ROWS // 2, COLUMNS // 2)
    assert float(np.ptp(mosaic.light)) < 1.0  # no pattern left
    cube = np.stack([ramp(np.float32), ramp(np.float32) * 2.0, ramp(np.float32) * 3.0])
    colours = read_frame(fits_file(tmp_path / "colours.fits", cube, ROWORDER="TOP-DOWN"))
    assert colours.light == pytest.approx(2.0 * ramp(np.float32), rel=1e-5)


def test_one_full_colour_of_a_mosaic_fills_the_pixel(tmp_path: Path) -> None:
    flat = ramp(np.float32, 10_000.0)
    flat[10, 20] = 60_000.0
    path = fits_file(tmp_path / "full.fits", flat, BAYERPAT="RGGB", SATURATE=60_000.0, ROWORDER="TOP-DOWN")
    picture = read_frame(path)
    assert picture.full_share == pytest.approx(1.0 / (ROWS * COLUMNS / 4))


def test_compressed_fits_is_read(tmp_path: Path) -> None:
    from astropy.io import fits

    path = tmp_path / "packed.fits"
    fits.HDUList([fits.PrimaryHDU(), fits.CompImageHDU(ramp(np.int16, 9000.0)[::-1])]).writeto(path)
    assert read_frame(path).light == pytest.approx(ramp(np.float32, 9000.0), abs=1.0)


def test_sample_data_of_other_programs_opens_without_complaint() -> None:
    """Real instruments' frames that astropy ships for its own tests; what holds no picture is refused in a sentence."""
    import astropy

    folder = Path(astropy.__file__).parent / "io" / "fits" / "tests" / "data"
    if not folder.is_dir():
        pytest.skip("this astropy ships no sample data")
    refused: dict[str, str] = {}
    opened = []
    for path in sorted(folder.glob("*.fits")):
        try:
            opened.append(read_frame(path).name)
        except BadInput as error:
            refused[path.name] = str(error)
    assert len(opened) >= 3, refused
    for name, told in refused.items():
        assert name in told
        assert "\n" not in told


def test_what_is_written_is_read_by_another_reader(tmp_path: Path) -> None:
    """The standard by hand: cards of 80 characters in blocks of 2880 bytes, big-endian words less 32768 (FITS 4.0)."""
    data = ramp(np.float64)
    path = tmp_path / "bench.fits"
    write_bench_fits(path, data, {"FOCUSPOS": 120.0, "OBJECT": "flat"})
    raw = path.read_bytes()
    assert len(raw) % 2880 == 0
    cards: dict[str, str] = {}
    at = 0
    while True:
        card = raw[at : at + 80].decode("ascii")
        at += 80
        if card.startswith("END"):
            break
        if card[8] == "=":
            cards[card[:8].strip()] = card[10:].split("/")[0].strip()
    at = -(-at // 2880) * 2880
    assert (cards["SIMPLE"], cards["BITPIX"], cards["NAXIS1"], cards["NAXIS2"]) == ("T", "16", str(COLUMNS), str(ROWS))
    words = np.frombuffer(raw, dtype=">i2", count=ROWS * COLUMNS, offset=at).reshape(ROWS, COLUMNS)
    assert words + float(cards["BZERO"]) == pytest.approx(np.round(data))
    assert "simulated" in cards["INSTRUME"]
    assert read_frame(path).focus_um == 120.0


# TIFF, PNG, JPEG


def test_tiff_of_every_depth(tmp_path: Path) -> None:
    for kind in (np.uint8, np.uint16, np.float32):
        data = ramp(kind, 200.0 if kind is np.uint8 else 20_000.0)
        path = tmp_path / f"{kind.__name__}.tif"
        tifffile.imwrite(path, data)
        assert read_frame(path).light == pytest.approx(data.astype(np.float32))
        colours = tmp_path / f"{kind.__name__}-colours.tiff"
        tifffile.imwrite(colours, np.stack([data] * 3, axis=-1), photometric="rgb")
        assert read_frame(colours).light == pytest.approx(data.astype(np.float32), rel=1e-5)


def test_eight_bits_come_back_from_their_curve(tmp_path: Path) -> None:
    """sRGB by its standard (IEC 61966-2-1): a coded 188 is half the light of 255, to 1 %."""
    coded = np.full((ROWS, COLUMNS, 3), 255, dtype=np.uint8)
    coded[:, COLUMNS // 2 :] = 188
    Image.fromarray(coded).save(tmp_path / "half.png")
    light = read_frame(tmp_path / "half.png").light
    assert float(light[0, -1] / light[0, 0]) == pytest.approx(0.5, abs=0.01)


@pytest.mark.parametrize("flag", range(1, 9))
def test_how_a_viewer_turns_it_does_not_matter(tmp_path: Path, flag: int) -> None:
    """The sensor place as the file stores it, no matter what the orientation flag says, right or wrong."""
    exif = Image.Exif()
    exif[274] = flag
    Image.fromarray(np.stack([ramp(np.uint8, 250.0)] * 3, axis=-1)).save(tmp_path / "o.jpg", exif=exif, quality=95)
    picture = read_frame(tmp_path / "o.jpg")
    assert picture.size == (COLUMNS, ROWS)
    assert top_left_is_brightest(picture)


def test_a_jpeg_says_focal_length_and_aperture(tmp_path: Path) -> None:
    exif = Image.Exif()
    inside = exif.get_ifd(0x8769)
    inside[37386], inside[33437] = 24.0, 8.0
    Image.fromarray(np.stack([ramp(np.uint8, 250.0)] * 3, axis=-1)).save(tmp_path / "e.jpg", exif=exif)
    picture = read_frame(tmp_path / "e.jpg")
    assert (picture.focal_mm, picture.f_number) == (24.0, 8.0)


# Damage and harm


def png_that_says(columns: int, rows: int) -> bytes:
    """A PNG whose header promises a size and whose data are a few bytes."""

    def chunk(name: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + name + data + struct.pack(">I", zlib.crc32(name + data))

    head = struct.pack(">IIBBBBB", columns, rows, 8, 0, 0, 0, 0)
    body = zlib.compress(b"\0" * 1000)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", body) + chunk(b"IEND", b"")


def bad_files(folder: Path) -> list[Path]:
    good = fits_file(folder / "good.fits", ramp(np.float32)).read_bytes()
    buffer = io.BytesIO()
    tifffile.imwrite(buffer, ramp(), compression="zlib")
    tiff = buffer.getvalue()
    flat = np.zeros((ROWS, COLUMNS), dtype=np.float32)

    def put(name: str, data: bytes) -> Path:
        (folder / name).write_bytes(data)
        return folder / name

    wide = good.replace(b"NAXIS1  =                   96", b"NAXIS1  =              9000000")
    many = good.replace(b"NAXIS   =                    2", b"NAXIS   =                  999")
    minus = good.replace(b"NAXIS2  =                   64", b"NAXIS2  =                  -64")
    bits = good.replace(b"BITPIX  =                  -32", b"BITPIX  =                   77")
    return [
        put("cut.fits", good[: len(good) // 2]), put("head-only.fits", good[:2880]), put("few.fits", good[:100]),
        put("wide.fits", wide), put("many.fits", many), put("minus.fits", minus), put("bits.fits", bits),
        put("empty.fits", b""), put("noise.fits", bytes(range(256)) * 40),
        fits_file(folder / "nan.fits", flat * np.nan), fits_file(folder / "zero.fits", flat),
        fits_file(folder / "line.fits", np.arange(500.0)), fits_file(folder / "tiny.fits", flat[:9, :9] + 1.0),
        fits_file(folder / "planes.fits", np.zeros((7, ROWS, COLUMNS))),
        put("cut.tif", tiff[: len(tiff) // 3]), put("noise.tif", b"II*\0" + bytes(range(256)) * 9),
        put("bomb.png", png_that_says(60_000, 60_000)), put("large.png", png_that_says(15_000, 12_000)),
        put("short.png", png_that_says(640, 480)), put("noise.jpg", b"\xff\xd8\xff" + bytes(900)),
        put("noise.dng", bytes(range(256)) * 50), put("words.txt", b"no frame"), folder / "missing.fits",
    ]  # fmt: skip


def test_bad_files_are_refused_in_one_sentence(tmp_path: Path) -> None:
    for path in bad_files(tmp_path):
        with pytest.raises(BadInput) as refused:
            read_frame(path)
        told = str(refused.value)
        assert path.name in told, path.name
        assert "\n" not in told
        assert told.endswith((".", "…")), told
        assert len(told) < 300


def test_a_tiff_that_swells_is_refused_before_it_is_unpacked(tmp_path: Path) -> None:
    """900 million bytes that pack into less than one: refused by the size they say, not by running out."""
    path = tmp_path / "swells.tif"
    strip = zlib.compress(bytes(30_000 * 100))
    with tifffile.TiffWriter(path) as file:
        file.write(
            iter([strip] * 300), shape=(30_000, 30_000), dtype=np.uint8, compression="zlib", rowsperstrip=100,
            photometric="minisblack",
        )  # fmt: skip
    assert path.stat().st_size < 2_000_000
    with pytest.raises(BadInput, match="more than any frame"):
        read_frame(path)


def test_a_frame_of_200_megapixels_is_read_within_a_gigabyte(tmp_path: Path) -> None:
    path = tmp_path / "vast.fits"
    rows, columns = 12_000, 17_000
    head = "".join(
        f"{name:8s}= {value:>20s}".ljust(80)
        for name, value in (("SIMPLE", "T"), ("BITPIX", "16"), ("NAXIS", "2"), ("NAXIS1", str(columns)),
                            ("NAXIS2", str(rows)))
    ) + "END".ljust(80)  # fmt: skip
    with path.open("wb") as file:
        file.write(head.ljust(-(-len(head) // 2880) * 2880).encode())
        row = np.linspace(2000, 9000, columns).astype(">i2").tobytes()
        for _ in range(rows):
            file.write(row)
        file.write(bytes(-file.tell() % 2880))
    script = (
        "import sys\n"
        "from pathlib import Path\n"
        "from farrail.exchange.frame_files import read_frame\n"
        "picture = read_frame(Path(sys.argv[1]))\n"
        "most = next(line for line in open('/proc/self/status') if line.startswith('VmHWM'))\n"
        "print(picture.size, picture.shrunk, most.split()[1])\n"
    )
    told = subprocess.run([sys.executable, "-c", script, str(path)], capture_output=True, text=True, check=True)
    most_kb = int(told.stdout.split()[-1])
    assert "(8500, 6000) 2" in told.stdout
    assert most_kb < 1_000_000, most_kb


def test_reading_stops_when_nobody_wants_it_any_more(tmp_path: Path) -> None:
    path = fits_file(tmp_path / "good.fits", ramp(np.float32))
    with pytest.raises(Cancelled):
        read_frame(path, lambda: True)


def test_a_raw_mosaic_is_read_less_its_black(tmp_path: Path) -> None:
    """A digital negative written here; each four pixels of its pattern are one, by hand, less the black of 256."""
    mosaic = np.full((96, 144), 8000, np.uint16)
    mosaic[0::2, 0::2], mosaic[1::2, 1::2] = 5000, 6000
    mosaic[:, :48] //= 2
    unit, none = (1, 1), (0, 1)
    tags = [
        (33421, "H", 2, (2, 2), True), (33422, "B", 4, bytes([0, 1, 1, 2]), True),
        (50706, "B", 4, bytes([1, 4, 0, 0]), True), (50707, "B", 4, bytes([1, 1, 0, 0]), True),
        (50708, "s", 0, "Hallan bench camera", True), (50714, "H", 1, 256, True), (50717, "I", 1, 15_000, True),
        (50721, "2i", 9, (*unit, *none, *none, *none, *unit, *none, *none, *none, *unit), True),
        (50728, "2I", 3, unit * 3, True), (50778, "H", 1, 21, True),
    ]  # fmt: skip
    path = tmp_path / "night.dng"
    tifffile.imwrite(path, mosaic, photometric=32803, extratags=tags, metadata=None)
    picture = read_frame(path)
    assert (picture.size, picture.shrunk, picture.saturated) == ((72, 48), 2, 15_000.0 - 256.0)
    assert picture.light[10, 5] == pytest.approx((4000 + 4000 + 2500 + 3000) / 4 - 256)
    assert picture.light[10, -5] == pytest.approx((8000 + 8000 + 5000 + 6000) / 4 - 256)
