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
    data = {
        "tracer": f"optiland {version('optiland')}",
        "catalogue": f"opticalglass {version('opticalglass')}, Schott catalogue, N-BK7",
        "crown_nd": round(float(create_glass("N-BK7", "Schott").rindex(587.5618)), 6),
        "plates": plates,
    }
    target = Path(__file__).with_name("ray_trace.json")
    target.write_text(json.dumps(data, indent=1) + "\n")


if __name__ == "__main__":
    main()
