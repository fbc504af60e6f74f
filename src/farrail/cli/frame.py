"""`far-rail frame flat|stars|dust|ruler` and `far-rail bench`: what frames say of a train, and simulated frames."""

from enum import StrEnum
from pathlib import Path
from typing import Any

import numpy as np

from farrail.cli.printing import FINE, print_json
from farrail.errors import BadInput
from farrail.exchange.frame_files import read_frame, write_bench_fits
from farrail.frames.as_taken import as_taken
from farrail.frames.dust import find_motes, looked_at_mm, read_mote, stayed
from farrail.frames.estimate import Estimate
from farrail.frames.flat import read_flat
from farrail.frames.picture import Picture
from farrail.frames.ruler import read_ruler
from farrail.frames.sky import read_sky
from farrail.frames.stars import find_stars, judge_stars, read_through_focus, sharpest_of
from farrail.parts.kinds.cameras import Camera
from farrail.readouts.read import Readout, read
from farrail.simulated.bench_camera import Truth, bench_flat, bench_ruler, bench_sky, bench_stars
from farrail.simulated.hidden import hidden_truth, truth_words
from farrail.text.frames import dust_words, flat_words, ruler_words, sky_words, stars_words, stayed_words, tilt_words
from farrail.train.rows import Shelf
from farrail.workbook.store import read_file

NOTHING = 1
FLANGE_MM = 60.0


class FrameKind(StrEnum):
    """What a frame shows."""

    FLAT = "flat"
    STARS = "stars"
    DUST = "dust"
    RULER = "ruler"
    SKY = "sky"


def _train(workbook: Path, train: str) -> tuple[Readout, Camera, Shelf]:
    book = read_file(workbook).workbook
    readout = read(book.train(train), book.by_id)
    camera = readout.layout.camera
    if camera is None:
        raise BadInput(f"Train “{readout.layout.train.name}” has no camera, so no frame is its own; lay one.")
    return readout, camera, book.by_id


def run(
    kind: FrameKind, file: Path, workbook: Path, train: str, *, more: list[Path], flange_mm: float, as_json: bool
) -> int:
    """Print what a frame says of a train; exit code 1 where it says nothing.

    Raises:
        FarRailError: a file or the train cannot be read.
    """
    readout, camera, shelf = _train(workbook, train)
    pictures = [read_frame(one) for one in (file, *more)]
    wide, high = camera.sensor_width_mm.value, camera.sensor_height_mm.value
    for one in pictures:
        one.check_on(wide, high)
    if more and kind not in (FrameKind.STARS, FrameKind.DUST):
        raise BadInput(f"--more is for stars and dust; call “frame {kind.value}” once for each frame.")
    picture = pictures[0]
    if kind is FrameKind.FLAT:
        return _flat(picture, as_taken(picture, readout, shelf), as_json=as_json)
    if kind is FrameKind.DUST:
        return _dust(pictures, readout, wide, as_json=as_json)
    if kind is FrameKind.SKY:
        return _sky(picture, as_taken(picture, readout, shelf), as_json=as_json)
    if kind is FrameKind.RULER:
        return _ruler(picture, wide, as_json=as_json)
    return _stars(pictures, wide, high, flange_mm, as_json=as_json)


def _ends(estimate: Estimate | None) -> dict[str, float] | None:
    return None if estimate is None else {"value": estimate.value, "low": estimate.low, "high": estimate.high}


def _flat(picture: Picture, readout: Readout, *, as_json: bool) -> int:
    reading = read_flat(picture, readout)
    found = reading.explained
    if as_json:
        told: dict[str, Any] = {"corner_stops": reading.corner_stops, "darkest": list(reading.darkest),
                                "trouble": reading.trouble, "explained": None}  # fmt: skip
        if found is not None:
            placed = None if found.imaged is None else found.imaged.placed
            told["explained"] = {
                "change": found.change, "part": None if placed is None else placed.part.id,
                "path": None if placed is None else placed.path, "value_mm": _ends(found.value),
                "right_mm": _ends(found.right), "up_mm": _ends(found.up), "falloff": _ends(found.falloff),
                "off_axis": found.surely_off, "misfit": found.misfit, "without": found.without,
            }  # fmt: skip
        told["entrance_pupil_mm"] = _ends(reading.depth)
        print_json(told)
    else:
        print("\n".join(flat_words(reading)))
    return FINE if found is not None else NOTHING


def _dust(pictures: list[Picture], readout: Readout, wide: float, *, as_json: bool) -> int:
    picture = pictures[0]
    pixel = looked_at_mm(picture, wide)
    readings = [read_mote(mote, readout, pixel) for mote in find_motes(picture, wide)]
    other = find_motes(pictures[1], wide) if len(pictures) > 1 else None
    same = [None] * len(readings) if other is None else list(
        stayed([one.mote for one in readings], other, wide, picture.size[0])
    )  # fmt: skip
    if as_json:
        print_json([
            {"column": one.mote.column, "row": one.mote.row, "outer_mm": one.mote.outer_mm,
             "inner_mm": one.mote.inner_mm, "distance_mm": _ends(one.distance_mm), "sure": one.sure,
             "surfaces": [{"part": s.part, "front": s.front, "distance_mm": s.distance_mm} for s in one.surfaces],
             "stayed": stays}
            for one, stays in zip(readings, same, strict=True)
        ])  # fmt: skip
    else:
        told = [
            dust_words(one) if stays is None or not one.sure else f"{dust_words(one)} {stayed_words(stays=stays)}"
            for one, stays in zip(readings, same, strict=True)
        ]
        print("\n".join(told) or "No dust is seen.")
    return FINE if readings else NOTHING


def _ruler(picture: Picture, wide: float, *, as_json: bool) -> int:
    reading = read_ruler(picture, wide)
    if as_json:
        print_json(None if reading is None else {
            "width_mm": _ends(reading.width_mm), "magnification": _ends(reading.magnification),
            "period_px": reading.period_px, "marks": reading.marks})  # fmt: skip
    else:
        print("\n".join(ruler_words(reading)))
    return FINE if reading is not None else NOTHING


def _sky(picture: Picture, readout: Readout, *, as_json: bool) -> int:
    reading = read_sky(picture, readout)
    if as_json:
        print_json({
            "uneven_stops": _ends(reading.uneven), "predicted_stops": reading.predicted_stops,
            "darkest_right_mm": reading.darkest_mm, "predicted_darkest_right_mm": reading.predicted_darkest_mm,
            "agrees": reading.agrees, "trouble": reading.trouble})  # fmt: skip
    else:
        print("\n".join(sky_words(reading)))
    return FINE if reading.trouble is None else NOTHING


def _stars(pictures: list[Picture], wide: float, high: float, flange_mm: float, *, as_json: bool) -> int:
    found = [find_stars(picture, wide) for picture in pictures]
    reading = judge_stars(found[sharpest_of(found)], wide, high)
    tilt = None
    if len(pictures) > 1:
        places = [picture.focus_um for picture in pictures]
        if any(place is None for place in places):
            raise BadInput("A frame does not say where the focuser stood; its header needs FOCUSPOS in micrometres.")
        frames = [(float(at or 0.0), stars) for at, stars in zip(places, found, strict=True)]
        tilt = read_through_focus(frames, wide, high)
    if as_json:
        print_json({
            "stars": reading.stars.count, "drawn": reading.drawn, "trouble": reading.trouble, "way": reading.way,
            "softer": list(reading.softer),
            "zones": [{"column": z.column, "row": z.row, "stars": z.count,
                       "width_um": z.width_um if z.count else None} for z in reading.zones],
            "tilt": None if tilt is None else {
                "deg": _ends(tilt.tilt_deg), "across_um": _ends(tilt.across_um), "upright_um": _ends(tilt.upright_um),
                "curvature_um": _ends(tilt.curvature_um), "near_corner": list(tilt.near_corner)},
        })  # fmt: skip
    else:
        print("\n".join(stars_words(reading)))
        if tilt is not None:
            print("\n".join(tilt_words(tilt, flange_mm, wide, high)))
        elif len(pictures) > 1:
            print(
                "Tilt cannot be told: at least four places of the focuser with stars on both sides of focus are needed."
            )
    return FINE if reading.trouble is None or tilt is not None else NOTHING


def bench(
    kind: FrameKind, out: Path, workbook: Path, train: str, *, seed: int, focus_um: float, tell: bool, columns: int
) -> int:
    """Write a simulated frame of a train with something wrong with it to guess.

    Raises:
        FarRailError: a file or the train cannot be read, or the frame not written.
    """
    readout, camera, _ = _train(workbook, train)
    wide, high = camera.sensor_width_mm.value, camera.sensor_height_mm.value
    truth: Truth = hidden_truth(readout, kind.value, seed, focus_um)
    if kind is FrameKind.STARS:
        light: np.ndarray = bench_stars(readout, truth, columns)
    elif kind is FrameKind.SKY:
        light = bench_sky(readout, truth, columns)
    elif kind is FrameKind.RULER:
        light = bench_ruler(truth.rule_mm, columns, max(round(columns * high / wide), 1), seed=seed)
    else:
        light = bench_flat(readout, truth, columns)
    write_bench_fits(out, light, {"FOCUSPOS": focus_um, "OBJECT": kind.value}, mosaic=truth.mosaic)
    if tell:
        print("\n".join(truth_words(truth, readout, kind.value)))
    return FINE
