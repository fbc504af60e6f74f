"""The program heard by a real client of assistive tools, over a session bus of its own."""

import json
import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

from farrail.demo.hallan_skerry import demo_workbook

SYSTEM_PYTHON, LAUNCHER = "/usr/bin/python3", "/usr/libexec/at-spi-bus-launcher"
ROOT = Path(__file__).parents[2]
SCRIPT = """
Xvfb -displayfd 3 -screen 0 1400x900x24 -nolisten tcp 3>"$WORK/display" >/dev/null 2>&1 & screen=$!
for _ in $(seq 60); do [ -s "$WORK/display" ] && break; sleep 0.3; done
export DISPLAY=":$(cat "$WORK/display")"
"$LAUNCHER" --launch-immediately >/dev/null 2>&1 & bus=$!
sleep 1
"$PYTHON" -m farrail demo >"$WORK/program" 2>&1 & program=$!
"$SYSTEM_PYTHON" "$CLIENT"
code=$?
kill $program $bus $screen 2>/dev/null
exit $code
"""


def has_client() -> bool:
    """Whether Debian's packages for such a client are there."""
    if not all(map(shutil.which, ("Xvfb", "dbus-run-session"))) or not Path(LAUNCHER).exists():
        return False
    return subprocess.run([SYSTEM_PYTHON, "-c", "import pyatspi"], capture_output=True, check=False).returncode == 0


@pytest.mark.skipif(not has_client(), reason="at-spi2-core and python3-pyatspi are not installed")
def test_a_client_on_the_bus_hears_the_rail(tmp_path: Path) -> None:
    environment = {
        **os.environ, "WORK": str(tmp_path), "HOME": str(tmp_path), "XDG_RUNTIME_DIR": str(tmp_path),
        "PYTHON": sys.executable, "SYSTEM_PYTHON": SYSTEM_PYTHON, "LAUNCHER": LAUNCHER,
        "CLIENT": str(Path(__file__).parent / "assistive_client.py"), "PYTHONPATH": str(ROOT / "src"),
        "QT_QPA_PLATFORM": "xcb", "QT_LINUX_ACCESSIBILITY_ALWAYS_ON": "1",
    }  # fmt: skip
    script = tmp_path / "session.sh"
    script.write_text(SCRIPT)
    done = subprocess.run(
        ["dbus-run-session", "--", "sh", str(script)], env=environment, capture_output=True, text=True, timeout=100
    )
    heard = json.loads(done.stdout.strip().splitlines()[-1])
    assert heard["program"], done.stderr
    train = demo_workbook().trains[0]
    shelf = demo_workbook().by_id
    names = [name for name, _, _ in heard["rail"]]
    assert names[1::2] == [shelf[laid.part].name for laid in train.rear_train]
    assert {role for _, _, role in heard["rail"]} == {"list item"}
    assert all(told for _, told, _ in heard["rail"])
    assert {"Parts", "Spacing", "Vignetting", "Filters"} <= set(heard["tabs"])
    assert heard["count"] > 150
    assert not heard["nameless"], heard["nameless"]
    assert "Traceback" not in (tmp_path / "program").read_text()
