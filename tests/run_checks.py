"""Every check in one command: format, lint, types beside the tests, which hold the import contracts.

The tests run side by side, one more at a time than the machine has cores: some of them wait. `--quick` takes the checks
of the core and one walk of the window, about two minutes; other arguments go to pytest.
"""

import os
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
WORKERS = str(min((os.cpu_count() or 2) + 1, 9))
# What a change breaks most, without what takes long: a window is opened, frames are not looked at.
QUICK = (
    "tests/optics", "tests/parts", "tests/train", "tests/readouts", "tests/workbook", "tests/assembly", "tests/logbook",
    "tests/preview", "tests/comparison", "tests/architecture/test_contracts.py", "tests/ui/test_stations.py",
)  # fmt: skip
# These hold the machine for longest: they begin with the run instead of being waited for at its end.
LONG_FIRST = "tests/packaging"


def main() -> int:
    """Run the checks; returns the first failing exit code."""
    python, words = sys.executable, sys.argv[1:]
    # Processes run side by side: threads of the linear algebra would only wait for each other.
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1"}
    quick = words == ["--quick"]
    # A part of the tests asked for by name is run alone, for the quick turn of someone at work.
    if words and not quick:
        return subprocess.run([python, "-m", "pytest", *words], cwd=ROOT, env=environment, check=False).returncode
    for name, command in (("format", ["format", "--check", "."]), ("lint", ["check", "."])):
        print(f"== {name}", flush=True)
        code = subprocess.run([python, "-m", "ruff", *command], cwd=ROOT, env=environment, check=False).returncode
        if code:
            print(f"== {name} failed", flush=True)
            return code
    types = subprocess.Popen(
        [python, "-m", "mypy"], cwd=ROOT, env=environment, text=True, stdout=subprocess.PIPE, stderr=subprocess.STDOUT
    )
    print("== tests", flush=True)
    # Workers take the next test each; the cache would be written by all at once.
    side_by_side = ["-p", "no:cacheprovider", "-n", WORKERS, "--dist", "worksteal", "--durations=40"]
    which = QUICK if quick else (LONG_FIRST, "tests")
    code = subprocess.run(
        [python, "-m", "pytest", *side_by_side, *which], cwd=ROOT, env=environment, check=False
    ).returncode
    if code:
        print("== tests failed", flush=True)
    print("== types", flush=True)
    print(types.communicate()[0], flush=True)
    if types.returncode:
        print("== types failed", flush=True)
    return code or types.returncode


if __name__ == "__main__":
    sys.exit(main())
