"""Every check in one command: format, lint, types, then the tests (which hold the import contracts).

The tests run side by side, as many at a time as the machine has cores.
"""

import os
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
WORKERS = str(min(os.cpu_count() or 2, 8))


def main() -> int:
    """Run the checks; returns the first failing exit code. Arguments go to pytest."""
    python = sys.executable
    checks = [
        ("format", [python, "-m", "ruff", "format", "--check", "."]),
        ("lint", [python, "-m", "ruff", "check", "."]),
        ("types", [python, "-m", "mypy"]),
    ]
    # Processes run side by side: threads of the linear algebra would only wait for each other.
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1"}
    # A part of the tests asked for by name is run alone, for the quick turn of someone at work.
    if sys.argv[1:]:
        return subprocess.run(
            [python, "-m", "pytest", *sys.argv[1:]], cwd=ROOT, env=environment, check=False
        ).returncode
    for name, command in checks:
        print(f"== {name}", flush=True)
        code = subprocess.run(command, cwd=ROOT, env=environment, check=False).returncode
        if code:
            print(f"== {name} failed", flush=True)
            return code
    print("== tests", flush=True)
    # Two workers take the next test each; the cache would be written by both at once.
    tests = [python, "-m", "pytest", "-p", "no:cacheprovider", "-n", WORKERS, "--dist", "worksteal", "--durations=40"]
    code = subprocess.run(tests, cwd=ROOT, env=environment, check=False).returncode
    if code:
        print("== tests failed", flush=True)
    return code


if __name__ == "__main__":
    sys.exit(main())
