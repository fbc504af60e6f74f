"""Every check in one command: format, lint, types, then the tests (which hold the import contracts)."""

import os
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent


def main() -> int:
    """Run the checks; returns the first failing exit code. Arguments go to pytest."""
    python = sys.executable
    checks = [
        ("format", [python, "-m", "ruff", "format", "--check", "."]),
        ("lint", [python, "-m", "ruff", "check", "."]),
        ("types", [python, "-m", "mypy"]),
        ("tests", [python, "-m", "pytest", *sys.argv[1:]]),
    ]
    # A part of the tests asked for by name is run alone, for the quick turn of someone at work.
    if sys.argv[1:]:
        checks = checks[-1:]
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    for name, command in checks:
        print(f"== {name}", flush=True)
        code = subprocess.run(command, cwd=ROOT, env=environment, check=False).returncode
        if code:
            print(f"== {name} failed", flush=True)
            return code
    return 0


if __name__ == "__main__":
    sys.exit(main())
