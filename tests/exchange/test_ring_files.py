"""Rings read again by other libraries: closed, as large as π(R² − r²)t, circles where they belong."""

import math
import zipfile
from pathlib import Path
from xml.etree import ElementTree

import pytest
import trimesh
from ezdxf import units
from ezdxf.filemanagement import readfile

from farrail.assembly.ring import RingShape, ring_at
from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import BadInput, StoreError
from farrail.exchange.ring_files import write_ring
from farrail.train.layout import build_layout

RING = RingShape(inner_mm=42.5, outer_mm=50.0, thickness_mm=4.98)


@pytest.mark.parametrize("ending", ["stl", "3mf"])
def test_a_ring_is_closed_and_has_its_volume(tmp_path: Path, ending: str) -> None:
    out = tmp_path / f"ring.{ending}"
    write_ring(RING, out)
    mesh = trimesh.load_mesh(out)
    assert mesh.is_watertight
    wanted = math.pi * (25.0**2 - 21.25**2) * 4.98
    assert mesh.volume == pytest.approx(wanted, rel=1e-3)
    assert mesh.extents == pytest.approx([50.0, 50.0, 4.98], abs=0.01)


def test_3mf_is_in_millimetres(tmp_path: Path) -> None:
    """3MF core specification: a package with 3D/3dmodel.model, whose root names the unit; read by hand."""
    out = tmp_path / "ring.3mf"
    write_ring(RING, out)
    with zipfile.ZipFile(out) as package:
        model = next(name for name in package.namelist() if name.endswith(".model"))
        root = ElementTree.fromstring(package.read(model))
    assert root.get("unit", "millimeter") == "millimeter"


def test_broken_edges_take_what_they_should(tmp_path: Path) -> None:
    out = tmp_path / "ring.stl"
    write_ring(RingShape(42.5, 50.0, 4.98, chamfer_mm=0.4), out)
    mesh = trimesh.load_mesh(out)
    assert mesh.is_watertight
    # Pappus: each of the four edges loses a triangle of c²/2 turned about the axis at its own centroid.
    lost = sum(2.0 * math.pi * r * 0.4**2 / 2.0 * 2 for r in (21.25 + 0.4 / 3.0, 25.0 - 0.4 / 3.0))
    assert mesh.volume == pytest.approx(RING.volume_mm3 - lost, rel=1e-3)


def test_a_dxf_has_hole_and_rim(tmp_path: Path) -> None:
    out = tmp_path / "ring.dxf"
    write_ring(RING, out)
    drawing = readfile(out)
    radii = sorted(circle.dxf.radius for circle in drawing.modelspace().query("CIRCLE"))
    assert radii == pytest.approx([21.25, 25.0])
    assert drawing.units == units.MM
    assert not drawing.audit().errors


def test_a_ring_lies_around_the_thread_and_says_whether_it_holds() -> None:
    book = demo_workbook()
    layout = build_layout(book.train("witch-broom-short"), book.by_id)
    last = len(layout.rear)
    shape = ring_at(layout, last, 0.5)
    joint = next(j for j in layout.joints if j.index == last)
    assert joint.left is not None
    assert shape.inner_mm == joint.left.standard.size_mm + 0.5
    assert shape.outer_mm <= layout.rear[-1].part.outer_diameter_mm
    assert shape.between == (layout.rear[-1].part.name, "Skua APS-C cooled")
    assert shape.holds in (True, None)
    thick = ring_at(layout, last, 30.0)
    assert thick.holds in (False, None)


@pytest.mark.parametrize(("index", "thick", "words"), [
    (99, 1.0, "no joint 99"), (1, 0.0, "cannot be made"), (1, 1e6, "cannot be made"),
    (1, float("nan"), "cannot be made"),
])  # fmt: skip
def test_what_cannot_be_a_ring_is_refused(index: int, thick: float, words: str) -> None:
    book = demo_workbook()
    with pytest.raises(BadInput, match=words):
        ring_at(build_layout(book.train("witch-broom"), book.by_id), index, thick)


def test_a_wrong_name_or_folder_is_said(tmp_path: Path) -> None:
    with pytest.raises(BadInput, match="says not which kind"):
        write_ring(RING, tmp_path / "ring.obj")
    with pytest.raises(StoreError, match="its folder does not exist"):
        write_ring(RING, tmp_path / "nowhere" / "ring.stl")
