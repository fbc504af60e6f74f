"""Frames of 24 megapixels: a flat read and fitted, stars found and judged."""

from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from benchmarks.yardstick import measured

FLAT_WISH, STARS_WISH = 14.0, 14.0
COLUMNS, RUNS, STARS = 6000, 5, 2000


def frames_of_24_megapixels() -> list[dict[str, Any]]:
    """Time what a frame says, from the file on."""
    from farrail.demo.hallan_skerry import demo_workbook
    from farrail.exchange.frame_files import read_frame, write_bench_fits
    from farrail.frames.flat import read_flat
    from farrail.frames.stars import read_stars
    from farrail.readouts.read import read
    from farrail.simulated.bench_camera import Truth, bench_flat, bench_stars

    book = demo_workbook()
    readout = read(book.train("lantern-apsc"), book.by_id)
    camera = readout.layout.camera
    assert camera is not None
    wide, high = camera.sensor_width_mm.value, camera.sensor_height_mm.value
    number = next(n for n, one in enumerate(readout.light.imaged) if one.placed.part.name == "Luminance 31")
    with TemporaryDirectory() as folder:
        flat, stars = Path(folder) / "flat.fits", Path(folder) / "stars.fits"
        write_bench_fits(flat, bench_flat(readout, Truth(apertures=((number, 29.0, 1.5, 0.5),)), COLUMNS), {})
        write_bench_fits(stars, bench_stars(readout, Truth(stars=STARS, seeing_px=3.5), COLUMNS), {})

        def fit(_: int) -> None:
            assert read_flat(read_frame(flat), readout).explained is not None

        def judge(_: int) -> None:
            assert read_stars(read_frame(stars), wide, high).trouble is None

        return [
            measured("flat of 24 megapixels, from the file on", RUNS, fit, FLAT_WISH),
            measured("stars of 24 megapixels, from the file on", RUNS, judge, STARS_WISH),
        ]
