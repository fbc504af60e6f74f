"""Which values of a part a person may edit: their paths, names and units, in reading order."""

from dataclasses import dataclass
from typing import Any

from pydantic import BaseModel

from farrail.parts.connections import Connection
from farrail.parts.kinds import Camera, OffAxisGuider, Part
from farrail.parts.provenance import Quantity

LABELS = {
    "focal_length_mm": "Focal length",
    "longest_focal_mm": "Longest focal length, of a zoom",
    "aperture_mm": "Aperture",
    "obstruction_mm": "Obstruction, diameter",
    "f_number": "f-number",
    "back_focus_mm": "Back focus",
    "flange_focal_distance_mm": "Flange focal distance",
    "spacing_tolerance_mm": "Spacing tolerance ±",
    "telescope_distance_mm": "Telescope to this part",
    "telescope_tolerance_mm": "… tolerance ±",
    "exit_pupil_distance_mm": "Exit pupil to sensor",
    "image_circle_mm": "Image circle",
    "lens_focal_mm": "Own focal length (− diverges)",
    "principal_mm": "… thin lens behind front",
    "drawtube_length_mm": "Drawtube reaches in",
    "drawtube_clear_mm": "Drawtube, clear inside",
    "focal_plane_mm": "Focus behind datum, racked in",
    "focuser_travel_mm": "Focuser travel",
    "entrance_pupil_depth_mm": "Entrance pupil behind seat",
    "pupil_ratio": "Exit over entrance pupil",
    "nearest_mm": "Nearest focus, to the sensor",
    "nearest_magnification": "… magnification there",
    "hiatus_mm": "Between principal planes",
    "pair_distance_mm": "Ruler seen nearest, from seat",
    "pair_width_mm": "… so much of it",
    "pair_frame_mm": "… on a frame so wide",
    "dioptres": "Power, dioptres",
    "factor": "Factor",
    "width_mm": "Width",
    "height_mm": "Height",
    "density": "Density",
    "transition_mm": "Gradation runs over",
    "sheet_width_mm": "Takes sheets, wide",
    "slot_thickness_mm": "Slots, thick",
    "slot_pitch_mm": "Slot to slot",
    "first_slot_mm": "Rear face to first slot",
    "window_width_mm": "Window, wide",
    "window_height_mm": "Window, high",
    "drop_in_mm": "Takes a drop-in filter, wide",
    "drop_in_at_mm": "… ahead of the rear face",
    "path_length_mm": "Path length",
    "shortest_mm": "Shortest",
    "longest_mm": "Longest",
    "clear_aperture_mm": "Clear aperture",
    "seat_mm": "Front face to filter",
    "seat_aperture_mm": "Seat, clear aperture",
    "seat_aperture_height_mm": "Seat, height if rectangular",
    "seat_offset_mm": "Seat off the axis, up",
    "seat_diameter_mm": "Seat takes, wide",
    "seat_thickness_mm": "Seat takes, thick",
    "prism_edge_mm": "Axis to prism's edge",
    "prism_width_mm": "Prism, wide",
    "prism_height_mm": "Prism, high",
    "prism_at_mm": "Front face to prism's middle",
    "guide_port_mm": "Prism to guide port",
    "prism_glass.thickness_mm": "Prism, glass path",
    "prism_glass.index": "Prism, index",
    "prism_glass.focus_shift_mm": "Prism's printed shift",
    "handle_reach_mm": "Handle, from the axis",
    "overhang_front_mm": "Body reaches ahead of front",
    "overhang_rear_mm": "Body reaches behind rear",
    "overhang_clear_mm": "… free inside",
    "flange_to_sensor_mm": "Flange to sensor",
    "front_ring.length_mm": "Front ring that comes off",
    "sensor_width_mm": "Sensor width",
    "sensor_height_mm": "Sensor height",
    "pixel_size_um": "Pixel",
    "sensor_right_mm": "Sensor off the axis, right",
    "sensor_up_mm": "Sensor off the axis, up",
    "glass.thickness_mm": "Glass thickness",
    "line_nm": "Passband, centre",
    "passband_nm": "Passband, full width",
    "effective_index": "Coating's effective index",
    "glass_diameter_mm": "Glass out of its cell, wide",
    "glass.index": "Glass index",
    "glass.focus_shift_mm": "Printed focus shift",
    "included_glass.thickness_mm": "Included glass thickness",
    "included_glass.index": "Included glass index",
    "included_glass.focus_shift_mm": "Included glass shift",
    "window.glass.thickness_mm": "Window thickness",
    "window.glass.index": "Window index",
    "window.glass.focus_shift_mm": "Window's printed shift",
    "window.sensor_gap_mm": "Window to sensor",
}
UNITS = {
    "f_number": "", "density": "", "glass.index": "", "window.glass.index": "", "included_glass.index": "",
    "prism_glass.index": "", "effective_index": "", "pixel_size_um": "µm", "line_nm": "nm", "passband_nm": "nm",
    "dioptres": "D", "factor": "×", "pupil_ratio": "", "nearest_magnification": "×",
}  # fmt: skip


@dataclass(frozen=True)
class ValueField:
    """One editable quantity of a part; `quantity` is None where nothing is known yet."""

    path: str
    label: str
    unit: str
    quantity: Quantity | None


def value_fields(part: Part) -> list[ValueField]:
    """Return a part's quantities in reading order, those nested in its glass or window included."""
    found: dict[str, Quantity | None] = {}
    _collect(part, "", found)
    if isinstance(part, Camera):
        # Both come into being once a thickness or length is given.
        found.setdefault("window.glass.thickness_mm" if part.window is None else "window.sensor_gap_mm", None)
        found.setdefault("front_ring.length_mm", None)
    if isinstance(part, OffAxisGuider) and part.prism_glass is None:
        found.setdefault("prism_glass.thickness_mm", None)
    order = [path for path in LABELS if path in found]
    return [ValueField(p, LABELS[p], UNITS.get(p, "mm"), found[p]) for p in order]


def _collect(record: BaseModel, prefix: str, found: dict[str, Quantity | None]) -> None:
    for name in type(record).model_fields:
        value: Any = getattr(record, name)
        path = f"{prefix}{name}"
        if isinstance(value, Quantity):
            found[path] = value
        elif isinstance(value, BaseModel) and not isinstance(value, Connection):
            _collect(value, f"{path}.", found)
        elif value is None and path in LABELS:
            found[path] = None
