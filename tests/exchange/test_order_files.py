"""An adapter's order: its length by a person's sum, its bore by rays, its drawing read again by other libraries."""

import errno
import os
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest
from ezdxf import units
from ezdxf.entities.dimension import Dimension
from ezdxf.entities.lwpolyline import LWPolyline
from ezdxf.filemanagement import readfile
from pypdf import PdfReader

from farrail.assembly.order import MARGIN_MM, AdapterOrder, End, order_for, outline, thread_lines
from farrail.assembly.order_words import order_words
from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import BadInput, FarRailError, StoreError
from farrail.exchange.order_files import write_order_dxf
from farrail.parts.connections import Gender, Thread
from farrail.readouts.read import Readout, read
from farrail.ui.order_sheet import write_order_pdf
from farrail.workbook.store import write_file

SHORT = "Tern 72, a spacer missing"
PIECE = AdapterOrder(
    front=End(Thread(diameter_mm=48.0, pitch_mm=0.75), Gender.INTERNAL, 4.0),
    rear=End(Thread(diameter_mm=42.0, pitch_mm=0.75), Gender.EXTERNAL, 4.0),
    length_mm=42.5, tolerance_mm=0.1, bore_mm=32.9, outer_mm=54.0,
    between=("a flattener", "a camera"), narrow=False,
)  # fmt: skip


def laid(name: str) -> Readout:
    workbook = demo_workbook()
    return read(workbook.train(name), workbook.by_id)


def area_mm2(points: list[tuple[float, float]]) -> float:
    x, y = np.array(points).T
    return abs(float(np.sum(x[:-1] * y[1:] - x[1:] * y[:-1]))) / 2.0


def test_a_gap_is_ordered_as_long_as_the_train_is_short() -> None:
    """A person's sum: 55 mm published and the shift of 2 mm of glass, less ring, drawer, spacer and the camera."""
    order = order_for(laid(SHORT), None, None)
    short = 55.0 + 2.0 * (1.0 - 1.0 / 1.517) - (9.0 + 20.5 + 8.7) - 12.5
    assert order.length_mm == pytest.approx(short, abs=0.006)
    assert (order.front.gender, order.rear.gender) == (Gender.INTERNAL, Gender.EXTERNAL)


def test_one_piece_in_place_of_all_leaves_no_filter_in_the_sum() -> None:
    """A person's sum: 55 mm published, 12.5 mm from the camera's flange to its sensor, and no filter any more."""
    order = order_for(laid(SHORT), None, None, whole=True)
    assert order.length_mm == pytest.approx(55.0 - 12.5)
    assert order.removed_mm == pytest.approx(2.0 * (1.0 - 1.0 / 1.517), abs=0.01)
    assert order.front.thread.diameter_mm == 48.0
    assert order.rear.thread.diameter_mm == 42.0
    assert any("filters it replaces are gone: 0.68" in line for line in order_words(order))


def test_the_bore_lets_every_ray_of_the_corner_through() -> None:
    readout = laid(SHORT)
    order = order_for(readout, None, None, whole=True)
    layout, sensor = readout.layout, readout.layout.sensor_mm
    assert layout.camera is not None
    assert sensor is not None
    corner, pupil = layout.camera.diagonal_mm / 2.0, layout.first_order.exit_pupil.value
    before = sensor - next(j.z_mm for j in layout.joints if j.left_name == order.between[0])
    over = np.linspace(-1.0, 1.0, 2001) * pupil / layout.first_order.f_number.value / 2.0
    rays = corner + (over - corner) * before / pupil
    assert 2.0 * np.abs(rays).max() + MARGIN_MM == pytest.approx(order.bore_mm, abs=0.06)


def test_an_internal_thread_ends_within_a_short_piece() -> None:
    order = order_for(laid(SHORT), None, 3.5)
    assert order.front.depth_mm + order.front.relief_mm <= 3.5 - 0.5 + 1e-9
    assert max(x for x, _ in outline(order)) == pytest.approx(3.5 + order.rear.depth_mm)


def test_a_section_has_the_metal_it_should() -> None:
    """By hand, rectangles above the bore: body, what the internal thread takes away, what the external one adds."""
    body = 42.5 * (54.0 - 32.9) / 2.0
    groove = 1.5 * 0.75
    bored = 4.0 * (48.0 - 1.0825 * 0.75 - 32.9) / 2.0 + groove * (48.0 + 0.2 - 32.9) / 2.0
    stub = (4.0 - groove) * (42.0 - 32.9) / 2.0 + groove * (42.0 - 1.2269 * 0.75 - 0.2 - 32.9) / 2.0
    assert area_mm2(outline(PIECE)) == pytest.approx(body - bored + stub)
    # ISO 6410-1 (from memory): thin lines at the roots; within the metal of both threads.
    (_, inner), (_, stubbed) = thread_lines(PIECE)
    assert inner == pytest.approx((4.0, 24.0))
    assert stubbed[1] == pytest.approx(21.0 - 1.2269 * 0.75 / 2.0)


def test_a_dxf_has_closed_halves_and_its_dimensions(tmp_path: Path) -> None:
    out = tmp_path / "piece.dxf"
    write_order_dxf(PIECE, out)
    drawing = readfile(out)
    halves = [item for item in drawing.modelspace() if isinstance(item, LWPolyline)]
    assert [half.closed for half in halves] == [True, True]
    sizes = sorted(float(d.get_measurement()) for d in drawing.modelspace() if isinstance(d, Dimension))
    assert sizes == pytest.approx([4.0, 4.0, 32.9, 42.5, 54.0])
    assert drawing.units == units.MM
    assert not drawing.audit().errors
    words = " ".join(t.dxf.text for t in drawing.modelspace().query("TEXT"))
    assert "M48×0.75-6H internal" in words
    assert "M42×0.75-6g external" in words


def test_a_pdf_says_all_a_turner_needs(tmp_path: Path, qtbot: object) -> None:
    out = tmp_path / "piece.pdf"
    write_order_pdf(PIECE, out)
    pages = PdfReader(out).pages
    assert len(pages) == 1
    words = " ".join(pages[0].extract_text().split())
    for said in (
        "42.50 ± 0.10",
        "bore Ø 32.9",
        "Ø 54.0",
        "M48×0.75-6H",
        "M42×0.75-6g, 4.0 long",
        "M48×0.75-6H, 4.0 long",
        "2 : 1",
    ):
        assert said in words


@pytest.mark.parametrize(
    ("train", "joint", "length", "whole", "said"),
    [
        ("17-35 mm zoom on the sea stacks at dusk", None, 5.0, False, "not turned on a lathe"),
        ("Lantern 150 with its wheel", None, None, False, "The length of the piece is not given"),
        (SHORT, None, float("nan"), False, "The length of the piece is not given"),
        (SHORT, None, 1.0, False, "too short to cut"),
        (SHORT, 9, 5.0, False, "no joint 10"),
        (SHORT, None, 900.0, True, "0.5 to 500"),
    ],
)
def test_what_cannot_be_turned_is_refused(
    train: str, joint: int | None, length: float | None, whole: bool, said: str
) -> None:
    with pytest.raises(BadInput, match=said):
        order_for(laid(train), joint, length, whole=whole)


def test_a_place_that_cannot_be_written_is_named(tmp_path: Path) -> None:
    with pytest.raises(StoreError, match="its folder does not exist"):
        write_order_dxf(PIECE, tmp_path / "none" / "piece.dxf")
    with pytest.raises(FarRailError, match="no such folder"):
        write_order_pdf(PIECE, tmp_path / "none" / "piece.pdf")
    with pytest.raises(BadInput, match=r"\.dxf, \.pdf"):
        write_order_dxf(PIECE, tmp_path / "piece.step")


def test_what_could_not_be_drawn_leaves_the_old_sheet(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, qtbot: object
) -> None:
    """A full disk, or a fault while drawing: the sheet of last time is still there, whole."""
    out = tmp_path / "piece.pdf"
    write_order_pdf(PIECE, out)
    old = out.read_bytes()

    def full(*_: object) -> None:
        raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(StoreError, match="the disk is full"):
        write_order_pdf(PIECE, out)
    assert out.read_bytes() == old
    with pytest.raises(StoreError, match="the disk is full"):
        write_order_dxf(PIECE, tmp_path / "piece.dxf")
    assert [path.name for path in tmp_path.iterdir()] == ["piece.pdf"]


def test_the_command_writes_both(tmp_path: Path) -> None:
    file = tmp_path / "demo.farrail.json"
    write_file(file, demo_workbook())
    for ending in ("dxf", "pdf"):
        out = tmp_path / f"piece.{ending}"
        command = [sys.executable, "-m", "farrail", "order", str(file), str(out), "--train", SHORT, "--whole"]
        told = subprocess.run(command, capture_output=True, text=True)
        assert told.returncode == 0, told.stderr
        assert out.stat().st_size > 1000
        assert "42.50 ± 0.10 mm" in told.stdout
