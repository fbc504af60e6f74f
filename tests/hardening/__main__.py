"""The long attacks, one after the other; prints what was found.

./far-rail harden [--minutes 10] [--seed 1]

With --minutes 60 they reach the figures of docs/reliability.md. The killed windows run beside the others: they mostly
wait.
"""

import argparse
import json
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

from tests.hardening.running import report_of


@dataclass(frozen=True)
class Attack:
    """A script to run.

    Attributes:
        what: what it is called in the report.
        script: the file.
        folder: whether it takes a folder to work in.
        option: how it is shown how often; empty where it always does everything.
        a_minute: how often for each minute asked for.
    """

    what: str
    script: str
    folder: bool
    option: str
    a_minute: float


ATTACKS = (
    Attack("kills of saving and keeping", "kills.py", True, "--times", 34.0),
    Attack("every system call killed, or failing", "system_calls.py", True, "", 0.0),
    Attack("spoilt files", "spoilt.py", False, "--times", 340.0),
    Attack("random edits", "random_edits.py", False, "--times", 340.0),
    Attack("random hands", "monkey.py", True, "--times", 170.0),
    Attack("odd settings", "odd_settings.py", True, "--times", 2.0),
    Attack("windows opened and closed", "many_windows.py", True, "--times", 0.42),
    Attack("row by row", "rows.py", False, "--times", 50.0),
    Attack("a large workbook", "large.py", True, "--edits", 84.0),
)
WINDOWS = Attack("killed windows", "killed_windows.py", True, "--times", 3.4)


def run(attack: Attack, folder: Path, minutes: float, seed: int) -> dict[str, object]:
    """Run one attack; returns what it reports."""
    arguments = [str(folder / attack.script.removesuffix(".py"))] if attack.folder else []
    if attack.option:
        arguments += [attack.option, str(max(round(attack.a_minute * minutes), 1))]
    if attack.script not in ("system_calls.py", "large.py", "many_windows.py", "rows.py"):
        arguments += ["--seed", str(seed)]
    return report_of(attack.script, *arguments)


def main() -> int:
    """Attack; returns 0 when nothing was wrong."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--minutes", type=float, default=10.0, help="about how long")
    parser.add_argument("--seed", type=int, default=1)
    options = parser.parse_args()
    wrong = False
    with tempfile.TemporaryDirectory() as name, ThreadPoolExecutor(1) as beside:
        folder = Path(name)
        windows = beside.submit(run, WINDOWS, folder, options.minutes, options.seed)
        for attack in (*ATTACKS, WINDOWS):
            beside_this = attack is WINDOWS
            report = windows.result() if beside_this else run(attack, folder, options.minutes, options.seed)
            print(f"{attack.what}: {json.dumps(report)}", flush=True)
            wrong = wrong or bool(report["wrong"])
    return int(wrong)


if __name__ == "__main__":
    sys.exit(main())
