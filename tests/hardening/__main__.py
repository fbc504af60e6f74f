"""The long attacks: kills at every step and any moment, killed windows, spoilt files. Prints what was found.

./far-rail harden [--minutes 10] [--seed 1]
"""

import argparse
import json
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any

from tests.hardening.killed_windows import many
from tests.hardening.spoilt import spoilt

HERE = Path(__file__).parent
# What a minute is enough for on a desktop of today, half of the time to each of the two slow attacks.
KILLS, WINDOWS, FILES = 120, 2, 400


def main() -> int:
    """Attack; returns 0 when nothing was wrong."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--minutes", type=float, default=10.0, help="about how long")
    parser.add_argument("--seed", type=int, default=1)
    options = parser.parse_args()

    minutes = float(options.minutes)

    def times(a_minute: int) -> int:
        return max(round(a_minute * minutes), 1)

    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        command = [sys.executable, str(HERE / "kills.py"), str(folder / "kills"), "--seed", str(options.seed)]
        run = subprocess.run([*command, "--random", str(times(KILLS))], capture_output=True, text=True, check=False)
        reports: dict[str, dict[str, Any]] = {
            "kills of saving and keeping": json.loads(run.stdout or json.dumps({"wrong": [run.stderr[-500:]]})),
            "spoilt files": spoilt(times(FILES), options.seed),
            "killed windows": many(folder / "windows", times(WINDOWS), options.seed),
        }
    for what, report in reports.items():
        print(f"{what}: {json.dumps(report)}")
    return int(any(report["wrong"] for report in reports.values()))


if __name__ == "__main__":
    sys.exit(main())
