"""`far-rail picture --view frame`: the photo a train will take, as a PNG, and its fields at nine places."""

import math
import os
from pathlib import Path

import numpy as np

from farrail import __version__
from farrail.cli.printing import FINE, print_json
from farrail.errors import BadInput
from farrail.language import say
from farrail.preview.model import FramePreview, PreviewSettings, Scene, corner_losses, frame_preview, usual_scene
from farrail.readouts.read import Readout, read
from farrail.workbook.store import read_file

LEAST_PX, USUAL_PX, MOST_PX = 64, 1600, 6000
PLACES = ("top left", "top", "top right", "left", "middle", "right", "bottom left", "bottom", "bottom right")


def run(
    file: Path, out: Path, train_name: str, scene: str | None, *, width: int | None, stops: float,
    focal_mm: float | None, sensor_mm: float | None, as_json: bool,
) -> int:  # fmt: skip
    """Write the photo a train will take.

    Raises:
        FarRailError: the file or train cannot be read, the picture cannot be made or written.
    """
    if out.suffix.casefold() != ".png":
        raise BadInput("The photo is written as PNG; give a name that ends in .png.")
    columns = USUAL_PX if width is None else width
    if not LEAST_PX <= columns <= MOST_PX:
        raise BadInput("A width of {width} pixels cannot be used; give {least} to {most}.",
                       width=columns, least=LEAST_PX, most=MOST_PX)  # fmt: skip
    workbook = read_file(file).workbook
    readout = read(workbook.train(train_name), workbook.by_id)
    settings = settings_of(readout, scene, stops, focal_mm, sensor_mm)
    made = frame_preview(readout, settings, columns)
    _write(made, out, _settings_words(readout, made, settings))
    if as_json:
        print_json(described(readout, made))
    else:
        print(say("wrote {out}", out=out))
    return FINE


def settings_of(
    readout: Readout, scene: str | None, stops: float, focal_mm: float | None, sensor_mm: float | None
) -> PreviewSettings:
    """Return how the picture is taken: of a named scene, of a photo, or of what suits the train.

    Raises:
        BadInput: there is no such scene and no such file.
    """
    if scene is None:
        return PreviewSettings(usual_scene(readout), stops)
    named = {one.value: one for one in Scene if one is not Scene.PHOTO}
    if scene.casefold() in named:
        return PreviewSettings(named[scene.casefold()], stops)
    path = Path(scene)
    if not path.exists():
        raise BadInput(
            "There is no scene “{scene}” and no photo of that name; scenes are {listed}.",
            scene=scene[:60], listed=", ".join(named),
        )  # fmt: skip
    return PreviewSettings(Scene.PHOTO, stops, path, focal_mm, sensor_mm)


def described(readout: Readout, made: FramePreview) -> dict[str, object]:
    """Return a picture's fields at nine places, its corners, and what is blown out and lost, for machines."""
    rows, columns = made.fields.vignetting.shape
    down, across = (0, rows // 2, rows - 1), (0, columns // 2, columns - 1)
    places = []
    for number, name in enumerate(PLACES):
        j, i = down[number // 3], across[number % 3]
        x, y = made.view.seen_mm
        az, el = made.view.az_el_deg
        places.append({
            "place": name, "right_mm": _round(x[j, i]), "up_mm": _round(y[j, i]),
            "azimuth_deg": _round(az[j, i]), "elevation_deg": _round(el[j, i]),
            "vignetting": _round(made.fields.vignetting[j, i]), "natural_falloff": _round(made.fields.natural[j, i]),
            "graduated_stops": _round(made.fields.graduated_stops[j, i]),
            "polarised_sky_stops": _round(made.fields.polarised_stops[j, i]),
            "exposure": [_round(value) for value in made.light[j, i]],
        })  # fmt: skip
    corners = [
        {"corner": loss.corner, "stops": loss.stops if math.isfinite(loss.stops) else None,
         "black": not math.isfinite(loss.stops), "part": loss.part or None}
        for loss in corner_losses(readout)
    ]  # fmt: skip
    return {
        "scene": made.scene.value, "width": columns, "height": rows, "places": places, "corners": corners,
        "blown_out": _round(made.clipped_share),
        "lost_in_noise": None if made.lost_share is None else _round(made.lost_share),
    }  # fmt: skip


def _round(value: float) -> float:
    return round(float(value), 6) + 0.0


def _settings_words(readout: Readout, made: FramePreview, settings: PreviewSettings) -> dict[str, str]:
    first = readout.layout.first_order
    return {
        "Title": readout.layout.train.name, "Software": f"Far Rail {__version__}", "Scene": made.scene.value,
        "FocalLength": f"{first.focal_length.value:.2f} mm", "FNumber": f"{first.f_number.value:.2f}",
        "ExposureCompensation": f"{settings.stops:+.2f}",
        "Comment": say("A prediction from the values of the workbook, not a photo."),
    }  # fmt: skip


def _write(made: FramePreview, out: Path, words: dict[str, str]) -> None:
    from PIL import Image
    from PIL.PngImagePlugin import PngInfo

    info = PngInfo()
    for key, text in words.items():
        info.add_itxt(key, text)
    part = out.with_name(f".{out.name}.{os.getpid()}.part")
    try:
        with part.open("wb") as file:
            Image.fromarray(np.ascontiguousarray(made.shown)).save(file, "PNG", pnginfo=info)
            file.flush()
            os.fsync(file.fileno())
        part.replace(out)
    except OSError as error:
        part.unlink(missing_ok=True)
        raise BadInput("“{name}” could not be written: {reason}.", name=out.name, reason=error.strerror or "") from None
