"""`far-rail frame flat|stars|dust|ruler` and `far-rail bench`: what frames say of a train, and simulated frames."""

from datetime import date
from pathlib import Path
from typing import Any

from farrail.cli.printing import FINE, print_json
from farrail.errors import BadInput
from farrail.exchange.frame_files import read_frame, write_bench_fits
from farrail.frames.estimate import Estimate
from farrail.frames.flat import FlatReading
from farrail.frames.kinds import FrameKind
from farrail.frames.look import ByHand, Looked, look
from farrail.frames.report import looked_words
from farrail.parts.kinds.lenses import CameraLens
from farrail.readouts.read import Readout, read
from farrail.simulated.bench_frames import bench_light
from farrail.simulated.hidden import hidden_truth, truth_words
from farrail.train.rows import Shelf
from farrail.workbook.store import read_file

NOTHING = 1
# How long a simulated frame is said to be exposed.
EXPOSURE_S = 2.0
# Kinds that take several frames.
# What the header of a simulated frame calls what it shows.
IMAGE_TYPES = {FrameKind.FLAT: "Flat Field", FrameKind.DUST: "Flat Field", FrameKind.STARS: "Light Frame"}
SEVERAL = (FrameKind.FLAT, FrameKind.STARS, FrameKind.DUST)


def _train(workbook: Path, train: str) -> tuple[Readout, Shelf]:
    book = read_file(workbook).workbook
    return read(book.train(train), book.by_id), book.by_id


def run(
    kind: FrameKind, file: Path, workbook: Path, train: str, *, more: list[Path], focus_um: list[float],
    flange_mm: float, as_json: bool,
) -> int:  # fmt: skip
    """Print what a frame says of a train; exit code 1 where it says nothing.

    Raises:
        FarRailError: a file or the train cannot be read.
    """
    readout, shelf = _train(workbook, train)
    if more and kind not in SEVERAL:
        raise BadInput("--more is for flats, stars and dust; call “frame {value}” once for each.", value=kind.value)
    if focus_um and kind is not FrameKind.STARS:
        raise BadInput("--focus is for stars: the focuser position of each frame.")
    pictures = [read_frame(one) for one in (file, *more)]
    looked = look(kind, pictures, readout, shelf, by_hand=ByHand(focus_um=tuple(focus_um)))
    if as_json:
        one_by_one = {"frames": [_flat_of(flat, picture.name) for picture, flat in looked.flats]}
        print_json(one_by_one if len(looked.flats) > 1 else AS_DATA[kind](looked))
    else:
        print("\n".join(looked_words(looked, flange_mm)))
    return FINE if _says(looked) else NOTHING


def _says(looked: Looked) -> bool:
    """Whether frames say anything."""
    if looked.flat is not None:
        return looked.flat.explained is not None
    if looked.sky is not None:
        return looked.sky.trouble is None
    if looked.stars is not None:
        return looked.stars.trouble is None or looked.tilt is not None
    return bool(looked.motes) or looked.rule is not None


def _ends(estimate: Estimate | None) -> dict[str, float] | None:
    return None if estimate is None else {"value": estimate.value, "low": estimate.low, "high": estimate.high}


def _flat(looked: Looked) -> dict[str, Any]:
    assert looked.flat is not None
    return _flat_of(looked.flat)


def _flat_of(reading: FlatReading, name: str = "") -> dict[str, Any]:
    found = reading.explained
    data: dict[str, Any] = {"file": name} if name else {}
    data |= {"corner_stops": reading.corner_stops, "darkest": list(reading.darkest), "trouble": reading.trouble,
             "explained": None}  # fmt: skip
    if found is not None:
        placed = None if found.imaged is None else found.imaged.placed
        data["explained"] = {
            "change": found.change, "part": None if placed is None else placed.part.id,
            "path": None if placed is None else placed.path, "value_mm": _ends(found.value),
            "right_mm": _ends(found.right), "up_mm": _ends(found.up), "falloff": _ends(found.falloff),
            "off_axis": found.surely_off, "misfit": found.misfit, "without": found.without,
        }  # fmt: skip
    data["suspects"], data["lamp_uneven"], data["bias"] = reading.suspects, reading.lamp_uneven, _ends(reading.bias)
    data["entrance_pupil_mm"] = _ends(reading.depth)
    data["worst_difference_stops"] = None if reading.worst is None else reading.worst[0]
    return data


def _dust(looked: Looked) -> dict[str, Any]:
    stays = looked.stays or (None,) * len(looked.motes)
    motes = [
        {"column": one.mote.column, "row": one.mote.row, "outer_mm": one.mote.outer_mm,
         "inner_mm": one.mote.inner_mm, "distance_mm": _ends(one.distance_mm), "sure": one.sure,
         "surfaces": [{"part": s.part, "front": s.front, "distance_mm": s.distance_mm} for s in one.surfaces],
         "stayed": stayed}
        for one, stayed in zip(looked.motes, stays, strict=True)
    ]  # fmt: skip
    return {"motes": motes}


def _ruler(looked: Looked) -> dict[str, Any]:
    rule = looked.rule
    return {} if rule is None else {
        "width_mm": _ends(rule.width_mm), "magnification": _ends(rule.magnification),
        "period_px": rule.period_px, "marks": rule.marks}  # fmt: skip


def _sky(looked: Looked) -> dict[str, Any]:
    sky = looked.sky
    assert sky is not None
    return {
        "uneven_stops": _ends(sky.uneven), "predicted_stops": sky.predicted_stops,
        "darkest_right_mm": sky.darkest_mm, "predicted_darkest_right_mm": sky.predicted_darkest_mm,
        "agrees": sky.agrees, "trouble": sky.trouble}  # fmt: skip


def _stars(looked: Looked) -> dict[str, Any]:
    reading, tilt = looked.stars, looked.tilt
    sides = looked.width_mm, looked.height_mm
    assert reading is not None
    return {
        "stars": reading.stars.count, "drawn": reading.drawn, "trouble": reading.trouble, "way": reading.way,
        "softer": list(reading.softer), "spaced": looked.spaced, "laid_error_mm": looked.error_mm,
        "rotation": None if reading.rotation is None else {
            "turn_deg": reading.rotation.turn_deg, "centre_mm": list(reading.rotation.centre_mm),
            "corner_um": reading.rotation.corner_um, "about_middle": reading.rotation.about_middle},
        "zones": [{"column": z.column, "row": z.row, "stars": z.count,
                   "width_um": z.width_um if z.count else None} for z in reading.zones],
        "tilt": None if tilt is None else {
            "deg": _ends(tilt.tilt_deg), "across_um": _ends(tilt.across_um), "upright_um": _ends(tilt.upright_um),
            "curvature_um": _ends(tilt.curvature_um), "near_corner": list(tilt.farthest(*sides)),
            "hour": tilt.hour(*sides)},
    }  # fmt: skip


AS_DATA = {
    FrameKind.FLAT: _flat, FrameKind.DUST: _dust, FrameKind.RULER: _ruler, FrameKind.SKY: _sky, FrameKind.STARS: _stars
}  # fmt: skip


def bench_header(readout: Readout, columns: int) -> dict[str, object]:
    """Return what the header of a simulated frame says of how it was taken."""
    camera, first = readout.layout.camera, readout.layout.first_order
    assert camera is not None
    lens = readout.layout.optic
    header: dict[str, object] = {
        "XPIXSZ": round(1000.0 * camera.sensor_width_mm.value / columns, 4),
        "FOCALLEN": round(first.focal_length.value, 2), "FOCRATIO": round(first.f_number.value, 2),
        "EXPTIME": EXPOSURE_S, "DATE-OBS": date.today().isoformat(),
    }  # fmt: skip
    if isinstance(lens, CameraLens):
        header["FOCALLEN"] = round(first.own_focal_length.value, 2)
    filters = (readout.layout.parts.get(mounted.filter_in_beam or "") for mounted in readout.layout.train.rear_train)
    in_beam = next((part for part in filters if part is not None), None)
    return header if in_beam is None else {**header, "FILTER": in_beam.name}


def bench(
    kind: FrameKind, out: Path, workbook: Path, train: str, *, seed: int, focus_um: float, tell: bool, columns: int
) -> int:
    """Write a simulated frame of a train with something wrong with it to guess.

    Raises:
        FarRailError: a file or the train cannot be read, or the frame not written.
    """
    readout, _ = _train(workbook, train)
    truth = hidden_truth(readout, kind, seed, focus_um)
    light = bench_light(readout, kind, truth, columns)
    header = {**bench_header(readout, light.shape[1]), "FOCUSPOS": focus_um, "OBJECT": kind.value}
    if kind in IMAGE_TYPES:
        header["IMAGETYP"] = IMAGE_TYPES[kind]
    write_bench_fits(out, light, header, mosaic=truth.mosaic)
    if tell:
        print("\n".join(truth_words(truth, readout, kind)))
    return FINE
