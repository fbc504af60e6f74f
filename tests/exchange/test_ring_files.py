"""Rings read again by other libraries: closed, as large as π(R² − r²)t, circles where they belong."""

import math
import zipfile
from pathlib import Path
from xml.etree import ElementTree

import pytest
import trimesh
from ezdxf import units
from ezdxf.filemanagement import readfile

from farrail.assembly.order import order_for
from farrail.assembly.ring import RingShape, ring_at, ring_for
from farrail.assembly.ring_words import ring_words
from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import BadInput, StoreError
from farrail.exchange.ring_files import write_ring
from farrail.parts.connections import Connection, Gender, Plain, thread
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.telescopes import Telescope
from farrail.parts.kinds.tubes import Shim, Spacer
from farrail.parts.provenance import measured
from farrail.readouts.read import Readout, read
from farrail.train.layout import build_layout
from farrail.train.train import MountedPart, Train

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
    assert mesh.volume == pytest.approx(math.pi * (25.0**2 - 21.25**2) * 4.98 - lost, rel=1e-3)


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


def plain(hole_mm: float) -> Connection:
    return Connection(standard=Plain(diameter_mm=hole_mm), gender=Gender.NONE, engagement_mm=0.0)


def bottoming(back_focus_mm: float) -> Readout:
    """A telescope with 4 mm of thread, a spacer of 20 mm whose thread is 4.5 mm long, and a camera of 17.5 mm."""
    male = thread(54, 0.75, Gender.EXTERNAL).model_copy(update={"engagement_mm": 4.5})
    female = thread(54, 0.75, Gender.INTERNAL).model_copy(update={"engagement_mm": 4.0})
    scope = Telescope(id="s", name="scope", outer_diameter_mm=90, rear=female, focal_length_mm=measured(400.0),
                      aperture_mm=measured(70.0), back_focus_mm=measured(back_focus_mm))  # fmt: skip
    ring = Spacer(id="a", name="a", outer_diameter_mm=64, front=male, rear=female, path_length_mm=measured(20.0))
    camera = Camera(id="c", name="camera", outer_diameter_mm=80, front=male, flange_to_sensor_mm=measured(17.5),
                    sensor_width_mm=measured(23.5), sensor_height_mm=measured(15.7))  # fmt: skip
    train = Train(id="t", name="t", optic="s", rear_train=(MountedPart(part="a"),), camera="c")
    return read(train, {part.id: part for part in (scope, ring, camera)})


def test_a_ring_and_an_ordered_piece_fill_what_a_bottoming_thread_keeps_apart() -> None:
    """By hand: 20 + 17.5 and two gaps of 0.5 are 38.5, 1.272 short of 39.772; the ring fills its gap first: 1.772."""
    readout = bottoming(39.772)
    assert readout.spacing.error_mm == pytest.approx(-1.272)
    assert ring_for(readout, 0).thickness_mm == pytest.approx(1.772)
    # With the ring in, the joint no longer bottoms: 20 + 17.5 + 1.772 + 0.5.
    washer = Shim(id="w", name="washer", outer_diameter_mm=64, front=plain(55.0), rear=plain(55.0),
                  path_length_mm=measured(1.772))  # fmt: skip
    parts = {**readout.layout.parts, "w": washer}
    train = readout.layout.train.model_copy(update={"rear_train": (MountedPart(part="w"), MountedPart(part="a"))})
    again = read(train, parts)
    assert again.spacing.error_mm == pytest.approx(0.0, abs=1e-6)
    # Of 4.5 mm of thread a further ring of 0.8 leaves 4.5 − 1.772 − 0.8.
    assert ring_at(again.layout, 1, 0.8).engaged_mm == pytest.approx(4.5 - 1.772 - 0.8)
    long = bottoming(54.12)
    assert long.spacing.error_mm == pytest.approx(-15.62)
    assert order_for(long, 0, None).length_mm == pytest.approx(16.12)


def test_added_length_ahead_of_the_datum_is_refused() -> None:
    book = demo_workbook()
    readout = read(book.train("witch-broom-short"), book.by_id)
    for piece in (lambda: ring_for(readout, 0), lambda: order_for(readout, 0, None)):
        with pytest.raises(BadInput, match=r"ahead of Tern flattener does not bring .* choose joint 2"):
            piece()
    assert ring_for(readout, 1).thickness_mm == pytest.approx(4.981, abs=1e-3)


@pytest.mark.parametrize(("index", "thick", "words"), [
    (99, 1.0, "no joint 100"), (1, 0.0, "cannot be made"), (1, 1e6, "cannot be made"),
    (1, float("nan"), "cannot be made"),
])  # fmt: skip
def test_what_cannot_be_a_ring_is_refused(index: int, thick: float, words: str) -> None:
    book = demo_workbook()
    with pytest.raises(BadInput, match=words):
        ring_at(build_layout(book.train("witch-broom"), book.by_id), index, thick)


def test_a_wrong_name_or_folder_is_said(tmp_path: Path) -> None:
    with pytest.raises(BadInput, match="is not known"):
        write_ring(RING, tmp_path / "ring.obj")
    with pytest.raises(StoreError, match="its folder does not exist"):
        write_ring(RING, tmp_path / "nowhere" / "ring.stl")


def test_a_thread_no_one_measured_is_taken_3_to_5_mm_deep() -> None:
    """A ring of 7.73 mm on a thread of at most 5 mm cannot hold; one of 1 mm always does; of 3 mm no one knows."""
    for thick, left, holds in ((7.73, (0.0, 0.0), False), (1.0, (2.0, 4.0), True), (3.0, (0.0, 2.0), None)):
        shape = RingShape(42.5, 50.0, thick, needed_mm=1.5, taken_mm=thick)
        assert shape.usual_left_mm == pytest.approx(left)
        assert shape.holds is holds
        told = " ".join(ring_words(shape))
        assert f"{left[0]:.2f} to {left[1]:.2f} mm would remain" in told
        assert ("could not hold" in told) is (holds is False)
