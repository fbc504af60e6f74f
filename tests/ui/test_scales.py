"""The first window at every scale of the screen, and with a desktop's large type, on a screen of 1920 by 1080."""

import json
import os
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest
from tests.ui.displays import virtual_screen

ROOT = Path(__file__).parents[2]


@pytest.fixture(scope="module")
def screen() -> Iterator[str]:
    """A virtual display of its own."""
    with virtual_screen("1920x1080") as name:
        yield name


@pytest.mark.parametrize(
    ("setting", "scale"),
    [
        ({"QT_SCALE_FACTOR": "1"}, 1.0), ({"QT_SCALE_FACTOR": "1.25"}, 1.25), ({"QT_SCALE_FACTOR": "1.5"}, 1.5),
        ({"QT_SCALE_FACTOR": "2"}, 2.0),
        # A desktop whose type is half as large again: Qt scales all of the window by it.
        ({"QT_FONT_DPI": "144"}, 1.5),
    ],
)  # fmt: skip
def test_the_first_window_fits_at_every_scale(screen: str, setting: dict[str, str], scale: float) -> None:
    kept = {k: v for k, v in os.environ.items() if k not in ("QT_QPA_PLATFORM", "WAYLAND_DISPLAY")}
    environment = {
        **kept,
        **setting,
        "DISPLAY": screen,
        "PYTHONPATH": f"{ROOT / 'src'}:{ROOT}",
        "QT_QPA_PLATFORM": "xcb",
    }
    done = subprocess.run(
        [sys.executable, "-m", "tests.ui.scaled_window"], env=environment, cwd=ROOT, capture_output=True, text=True
    )
    assert done.returncode == 0, done.stderr
    told = json.loads(done.stdout.strip().splitlines()[-1])
    assert told["scale"] == scale
    # By hand: so many logical pixels has the screen.
    assert told["screen"] == pytest.approx([1920 / scale, 1080 / scale], abs=1)
    assert told["window"][0] <= told["screen"][0] + 1
    assert told["window"][1] <= told["screen"][1] + 1
    assert not told["short"], told["short"]
    assert (told["folded"], told["marks"]) == ((True, True) if scale == 2.0 else (False, False))
