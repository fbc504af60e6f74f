"""The first hour on the command line: every command of the README, and what people write slightly wrong."""

import json
import os
import re
import shlex
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest
from tests.command_line import far_rail as run

from farrail.__main__ import COMMANDS
from farrail.demo.hallan_skerry import demo_workbook
from farrail.workbook.store import write_file

ROOT = Path(__file__).parents[2]
# What is tried elsewhere, or takes minutes: the window, the checks, the pictures, the speeds, the attacks, the pages.
ELSEWHERE = {"names", "test", "pictures", "pages", "benchmark", "harden", "demo", "install-desktop", "debian"}


@pytest.fixture
def demo(tmp_path: Path) -> str:
    path = tmp_path / "demo.farrail.json"
    write_file(path, demo_workbook(), None)
    return str(path)


def readme_commands() -> list[str]:
    """Return the commands of the tables of README.md and docs/cli.md, without `./far-rail`."""
    lines = [line for page in ("README.md", "docs/cli.md") for line in (ROOT / page).read_text("utf-8").splitlines()]
    found = [match.group(1) for line in lines if (match := re.match(r"\| `\./far-rail ([^`]+)` \|", line))]
    return [one for one in dict.fromkeys(found) if one.split()[0] in COMMANDS and one.split()[0] not in ELSEWHERE]


@pytest.mark.parametrize("command", readme_commands())
def test_every_command_of_the_readme_runs(command: str, demo: str, tmp_path: Path) -> None:
    """Placeholders are filled in, choices taken at their first, what stands in brackets left out but for --json."""
    as_json = "[--json]" in command
    words = shlex.split(re.sub(r"\[[^\]]*\]", "", command).replace(r"\|", "|"))
    kind = next((word.split("|")[0] for word in words if "|" in word), "")
    train = (
        "sea-stacks" if words[0] == "log" else "lantern-apsc" if words[0] in ("frame", "bench") else "witch-broom-short"
    )
    places = {
        "FILE": demo, "NAME": train, "A": "witch-broom", "B": "lantern-wheel", "A,B": "witch-broom,witch-broom-short",
        "FRAME": str(tmp_path / "frame.fits"), "PART": "spacer-8-7", "FIELD": "path_length_mm", "VALUE": "5.01",
    }  # fmt: skip
    filled = [
        kind if "|" in word else str(tmp_path / word) if word.startswith("OUT.") else places.get(word, word)
        for word in words
    ]
    if words[0] == "frame":
        assert run("bench", kind, str(tmp_path / "frame.fits"), demo, "--train", train, "--seed", "2").returncode == 0
    told = run(*filled, *(["--json"] if as_json else []), QT_QPA_PLATFORM="offscreen")
    assert told.returncode in (0, 1), told.stderr
    assert "Traceback" not in told.stderr


def test_the_readme_names_enough() -> None:
    named = {command.split()[0] for command in readme_commands()} | ELSEWHERE
    assert set(COMMANDS) <= named, set(COMMANDS) - named


@pytest.mark.parametrize(
    ("written", "meant"), [("redout", "readout"), ("plna", "plan"), ("Picture", "picture"), ("calibrat", "calibrate")]
)
def test_a_command_written_slightly_wrong_is_told(written: str, meant: str, demo: str) -> None:
    told = run(written, demo, "--train", "x")
    assert told.returncode == 2
    assert told.stderr.count("\n") == 1
    assert f"did you mean “{meant}”" in told.stderr


def test_help_is_no_file_and_the_program_is_called_by_its_name() -> None:
    told = run("help")
    assert told.returncode == 0
    assert "Usage: far-rail " in told.stdout
    assert "python -m" not in told.stdout
    assert run("help", "readout").stdout.startswith("Usage: far-rail readout FILE --train TRAIN")


@pytest.mark.parametrize(("written", "value"), [("2", 2.0), ("2.5", 2.5), ("2,5", 2.5), ("2mm", 2.0), ("2,5 mm", 2.5)])
def test_numbers_as_people_write_them(written: str, value: float) -> None:
    """By hand: t(1 − 1/n) with n = 2 is half the thickness."""
    told = run("calc", "glass-shift", "--thickness", written, "--index", "2", "--json")
    assert told.returncode == 0, told.stderr
    assert f"{value / 2.0:g}" in told.stdout


def test_what_is_no_number_is_one_sentence() -> None:
    told = run("calc", "glass-shift", "--thickness", "thick", "--index", "1.5")
    assert told.returncode == 2
    assert told.stderr.strip().endswith("“thick” is not a number; write one such as 2, 2.5, 2,5 or 2mm.")


def test_a_train_is_known_by_a_beginning_in_any_case(demo: str) -> None:
    whole = run("readout", demo, "--train", "sea-stacks", "--json")
    assert whole.returncode in (0, 1)
    assert run("readout", demo, "--train", "SEA-STACKS", "--json").stdout == whole.stdout
    lichen = run("readout", demo, "--train", "lichen", "--json").stdout
    assert run("readout", demo, "--train", "LICH", "--json").stdout == lichen
    assert run("readout", demo, "--train", "on lich", "--json").stdout == lichen
    several = run("readout", demo, "--train", "lantern")
    assert several.returncode == 2
    assert "Several trains are meant by “lantern”" in several.stderr


def test_ctrl_c_ends_an_idle_window(demo: str, tmp_path: Path) -> None:
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "HOME": str(tmp_path), "XDG_STATE_HOME": str(tmp_path)}
    program = subprocess.Popen([sys.executable, "-m", "farrail", demo], env=environment)
    # Until it has nothing more to do: its processor time is still for a second.
    used, end = [-1.0], time.monotonic() + 60.0
    while time.monotonic() < end and (used[-1] < 0.5 or used[-1] - used[-2] > 0.05):
        time.sleep(1.0)
        fields = Path(f"/proc/{program.pid}/stat").read_text().rsplit(")", 1)[1].split()
        used.append((int(fields[11]) + int(fields[12])) / os.sysconf("SC_CLK_TCK"))
    program.send_signal(signal.SIGINT)
    try:
        assert program.wait(timeout=20) in (0, 130)
    finally:
        program.kill()


def test_without_a_display_the_commands_are_named(demo: str) -> None:
    environment = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")}
    told = subprocess.run([sys.executable, "-m", "farrail", demo], capture_output=True, text=True, env=environment)
    assert told.returncode == 2
    assert "far-rail ask, far-rail picture" in told.stderr


def test_the_doctor_says_what_is_wrong_and_what_to_do(tmp_path: Path) -> None:
    told = json.loads(run("doctor", "--json", QT_QPA_PLATFORM="offscreen").stdout)["checks"]
    by_id = {one["id"]: one for one in told}
    assert {"python", "qt", "display", "fonts", "folder.settings", "folder.recovery", "package.numpy"} <= set(by_id)
    assert all(one["well"] for one in told), [one for one in told if not one["well"]]
    environment = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")}
    blocked = tmp_path / "no folder"
    blocked.write_text("a file stands where a folder should")
    environment |= {"XDG_CONFIG_HOME": str(blocked)}
    lacking = subprocess.run(
        [sys.executable, "-m", "farrail", "doctor"], capture_output=True, text=True, env=environment
    )
    assert lacking.returncode == 1
    assert "LOOK  The window cannot open: there is no display" in lacking.stdout
    assert f"{blocked}/far-rail cannot be written" in lacking.stdout
    assert "Traceback" not in lacking.stderr
