"""A ring as a file a printer or cutter takes: STL, 3MF, DXF. Open formats, written by well-kept libraries."""

from pathlib import Path
from typing import Any

from farrail.assembly.ring import RingShape
from farrail.errors import BadInput
from farrail.exchange.drawings import as_bytes
from farrail.workbook.store import write_bytes

# Corners of the circle: a regular polygon of so many falls 0.005 % short of its area.
SECTIONS = 360
ENDINGS = (".stl", ".3mf", ".dxf")


def write_ring(shape: RingShape, out: Path) -> None:
    """Write a ring, in mm, as the name's ending says.

    Raises:
        BadInput: the name has another ending.
        StoreError: it cannot be written there.
    """
    ending = out.suffix.lower()
    if ending not in ENDINGS:
        raise BadInput(
            "The kind of “{name}” is not known; give a name that ends in {endings}.",
            name=out.name,
            endings=".stl, .3mf, .dxf",
        )
    write_bytes(out, _dxf(shape) if ending == ".dxf" else _solid(shape).export(file_type=ending[1:]))


def _solid(shape: RingShape) -> Any:
    """Return the ring as a closed mesh: its section turned about the axis."""
    # Heavy, and used for nothing else.
    from trimesh.creation import revolve

    inner, outer, top, edge = shape.inner_mm / 2.0, shape.outer_mm / 2.0, shape.thickness_mm, shape.chamfer_mm
    section = [
        (inner, edge), (inner + edge, 0.0), (outer - edge, 0.0), (outer, edge), (outer, top - edge),
        (outer - edge, top), (inner + edge, top), (inner, top - edge),
    ]  # fmt: skip
    corners = [point for number, point in enumerate(section) if number == 0 or point != section[number - 1]]
    if corners[-1] == corners[0]:
        corners.pop()
    return revolve([*corners, corners[0]], sections=SECTIONS)


def _dxf(shape: RingShape) -> bytes:
    """Return the ring seen from above: two circles, and what it is in words beside them."""
    from ezdxf import units
    from ezdxf.filemanagement import new

    drawing = new("R2010", units=units.MM)
    space = drawing.modelspace()
    for name, radius in (("hole", shape.inner_mm / 2.0), ("rim", shape.outer_mm / 2.0)):
        drawing.layers.add(name)
        space.add_circle((0.0, 0.0), radius, dxfattribs={"layer": name})
    drawing.layers.add("notes")
    words = (
        f"{shape.inner_mm:.2f} mm hole, {shape.outer_mm:.2f} mm rim, {shape.thickness_mm:.2f} mm thick",
        "between " + " and ".join(name for name in shape.between if name) if any(shape.between) else "",
    )
    for number, text in enumerate(word for word in words if word):
        place = (shape.outer_mm / 2.0 + 5.0, -6.0 * number)
        space.add_text(text, height=3.0, dxfattribs={"layer": "notes", "insert": place})
    return as_bytes(drawing)
