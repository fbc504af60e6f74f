"""Makes ray_trace.json: a plate in a cone traced by a general ray tracer, and a glass index from a maker's catalogue.

Both tools are heavy and bring other versions of what the program uses, so they live in an environment of their own:

    python3 -m venv /tmp/tracer
    /tmp/tracer/bin/pip install optiland json_tricks xlrd openpyxl requests
    /tmp/tracer/bin/pip install --no-deps opticalglass
    /tmp/tracer/bin/python tests/reference/make_ray_trace.py

A plate shifts the virtual source of a diverging cone by as much as the focus of a converging one; the edge ray
from a point on the axis is traced through the plate and drawn back to the axis.
"""

import json
from importlib.metadata import version
from pathlib import Path

import numpy as np
from opticalglass.glassfactory import create_glass
from optiland.materials import IdealMaterial
from optiland.optic import Optic

OBJECT_MM, BEHIND_MM = 100.0, 20.0
RINGS = 180


def edge_ray_shift_mm(thickness_mm: float, index: float, f_number: float) -> float:
    """Trace the edge ray of an f/N cone through a plate; returns how far its axis crossing moved."""
    lens = Optic()
    lens.add_surface(index=0, thickness=OBJECT_MM)
    lens.add_surface(index=1, thickness=thickness_mm, material=IdealMaterial(n=index), is_stop=True)
    lens.add_surface(index=2, thickness=BEHIND_MM)
    lens.add_surface(index=3)
    tangent = 1.0 / (2.0 * f_number)
    lens.set_aperture(aperture_type="EPD", value=2.0 * OBJECT_MM * tangent)
    lens.set_field_type(field_type="object_height")
    lens.add_field(y=0)
    lens.add_wavelength(value=0.55, is_primary=True)
    rays = lens.trace_generic(Hx=0, Hy=0, Px=0, Py=1, wavelength=0.55)
    height = float(np.ravel(rays.y)[0])
    slope = float(np.ravel(rays.M)[0] / np.ravel(rays.N)[0])
    assert abs(slope - tangent) < 1e-9, "the ray is not the edge ray"
    # From the last plane back to where the ray seems to come from; unshifted it would be the object.
    return OBJECT_MM + thickness_mm + BEHIND_MM - height / slope


def open_share(lens: Optic, height: float) -> float:
    """Trace a fine disc of rays through a lens's apertures for one field; returns the share that is not stopped."""
    rays = lens.trace(Hx=0, Hy=height, wavelength=0.55, num_rays=RINGS, distribution="hexapolar")
    return float((np.ravel(rays.i) > 0).mean())


def behind_the_optic(f_number: float, pupil_mm: float, distance_mm: float, clear_mm: float, height_mm: float) -> float:
    """Relative illumination behind one round aperture, traced backward: from the image point to the exit pupil."""
    lens = Optic()
    lens.add_surface(index=0, thickness=distance_mm)
    lens.add_surface(index=1, thickness=pupil_mm - distance_mm, aperture=clear_mm)
    lens.add_surface(index=2, thickness=1.0, is_stop=True)
    lens.add_surface(index=3)
    lens.set_aperture(aperture_type="EPD", value=pupil_mm / f_number)
    lens.set_field_type(field_type="object_height")
    lens.add_field(y=0)
    lens.add_field(y=height_mm)
    lens.add_wavelength(value=0.55, is_primary=True)
    return open_share(lens, 1.0)


def ahead_of_the_lens(focal_mm: float, f_number: float, discs: list[tuple[float, float]], height_mm: float) -> float:
    """Relative illumination behind discs (diameter, distance ahead of the entrance pupil), object at infinity."""
    lens = Optic()
    lens.add_surface(index=0, thickness=np.inf)
    ordered = sorted(discs, key=lambda disc: -disc[1])
    for number, (clear, distance) in enumerate(ordered, start=1):
        following = ordered[number][1] if number < len(ordered) else 0.0
        lens.add_surface(index=number, thickness=distance - following, aperture=clear)
    lens.add_surface(index=len(ordered) + 1, thickness=1.0, is_stop=True)
    lens.add_surface(index=len(ordered) + 2)
    lens.set_aperture(aperture_type="EPD", value=focal_mm / f_number)
    lens.set_field_type(field_type="angle")
    lens.add_field(y=0)
    lens.add_field(y=float(np.degrees(np.arctan(height_mm / focal_mm))))
    lens.add_wavelength(value=0.55, is_primary=True)
    return open_share(lens, 1.0)


def main() -> None:
    """Trace all cases and write the file beside this script."""
    plates = [
        {"thickness_mm": t, "index": n, "f_number": f, "shift_mm": edge_ray_shift_mm(t, n, f)}
        for t, n, f in (
            (1.0, 1.5168, 2.0),
            (2.0, 1.5168, 4.0),
            (3.0, 1.45846, 2.8),
            (2.0, 1.523, 5.6),
            (3.0, 1.5168, 10.0),
        )
    ]
    rear = [
        {"f_number": n, "pupil_mm": length, "distance_mm": x, "clear_mm": clear, "height_mm": h,
         "ri": behind_the_optic(n, length, x, clear, h)}
        for n, length, x, clear, h in (
            (3.9, 780.0, 26.5, 25.0, 11.09), (3.9, 780.0, 26.5, 27.0, 11.09), (400 / 203, 400.0, 20.0, 28.0, 14.0),
        )
    ]  # fmt: skip
    wide = [(74.0, 30.0), (96.0, 44.0)]
    front = [
        {"focal_mm": f, "f_number": 8.0, "discs": wide, "height_mm": h, "ri": ahead_of_the_lens(f, 8.0, wide, h)}
        for f, h in ((16.0, 17.2), (16.0, 17.4), (20.0, 21.635), (21.0, 21.635))
    ]
    data = {
        "tracer": f"optiland {version('optiland')}",
        "catalogue": f"opticalglass {version('opticalglass')}, Schott catalogue, N-BK7",
        "crown_nd": round(float(create_glass("N-BK7", "Schott").rindex(587.5618)), 6),
        "plates": plates,
        "rear": rear,
        "front": front,
    }
    target = Path(__file__).with_name("ray_trace.json")
    target.write_text(json.dumps(data, indent=1) + "\n")


if __name__ == "__main__":
    main()
