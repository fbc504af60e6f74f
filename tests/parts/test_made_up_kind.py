"""One file is all a kind needs: a made-up one is placed beside the real ones in a program of its own."""

import os
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parents[2]


def test_a_made_up_kind_works_everywhere_from_one_file() -> None:
    made_up = ROOT / "tests" / "parts" / "made_up"
    path = os.pathsep.join([str(made_up), str(ROOT / "src"), os.environ.get("PYTHONPATH", "")])
    command = [
        sys.executable,
        "-m",
        "pytest",
        "-p",
        "with_wedge",
        "-p",
        "no:cacheprovider",
        str(made_up / "everywhere.py"),
    ]
    run = subprocess.run(command, cwd=ROOT, env={**os.environ, "PYTHONPATH": path}, capture_output=True, text=True)
    assert run.returncode == 0, run.stdout + run.stderr
    assert " passed" in run.stdout
