"""The wheel: built without a network, holding fonts and icons, with a command of its own."""

import subprocess
import sys
import zipfile
from pathlib import Path

ROOT = Path(__file__).parents[2]


def test_the_wheel_carries_what_the_window_needs(tmp_path: Path) -> None:
    command = [sys.executable, "-m", "build", "--wheel", "--no-isolation", "--outdir", str(tmp_path), str(ROOT)]
    run = subprocess.run(command, capture_output=True, text=True)
    assert run.returncode == 0, run.stdout + run.stderr
    (wheel,) = tmp_path.glob("far_rail-*.whl")
    with zipfile.ZipFile(wheel) as archive:
        names = archive.namelist()
        commands = next(archive.read(n).decode() for n in names if n.endswith("entry_points.txt"))
    for needed in ("fonts/Inter-Regular.otf", "fonts/Inter-LICENSE.txt", "icons/undo.svg", "icons/far-rail.svg"):
        assert f"farrail/assets/{needed}" in names
    assert "farrail/py.typed" in names
    assert not [n for n in names if n.startswith(("tests", "benchmarks"))]
    assert "far-rail = farrail.__main__:main" in commands


def test_the_launcher_is_valid_shell() -> None:
    assert subprocess.run(["sh", "-n", str(ROOT / "far-rail")]).returncode == 0
    assert subprocess.run(["sh", "-n", str(ROOT / ".ci" / "run")]).returncode == 0
