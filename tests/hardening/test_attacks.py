"""The short forms of the attacks; `./far-rail harden` runs the long ones."""

import shutil
import signal
from pathlib import Path
from typing import Any

import pytest

from tests.hardening.killed_windows import LATEST_S, killed_window
from tests.hardening.running import report_of
from tests.hardening.spoilt import spoilt


def run(script: str, *arguments: str) -> dict[str, Any]:
    """Run an attack in a process of its own; returns its report, in which nothing is wrong."""
    report = report_of(script, *arguments)
    assert report["wrong"] == []
    return report


def test_kills_at_every_step_and_at_any_moment(tmp_path: Path) -> None:
    found = run("kills.py", str(tmp_path / "kills"), "--times", "25", "--seed", "7")
    assert found["steps_of_a_save"] > 15
    assert found["steps_of_keeping"] > 8


def test_spoilt_files_are_refused_or_read(tmp_path: Path) -> None:
    found = spoilt(250, seed=11)
    assert found["wrong"] == []
    assert found["slowest_s"] < 5.0
    assert found["loaded"] > 20
    assert found["refused"] > 20


@pytest.mark.skipif(shutil.which("strace") is None, reason="strace is not installed")
def test_kills_and_failures_at_every_system_call(tmp_path: Path) -> None:
    found = run("system_calls.py", str(tmp_path / "calls"), "--every", "4")
    assert found["save"] > 10
    assert found["save, each call failing"] > 15


def test_random_edits(tmp_path: Path) -> None:
    found = run("random_edits.py", "--times", "600", "--seed", "5")
    assert found["made"] > 80
    assert found["refused"] > 200


def test_random_hands(tmp_path: Path) -> None:
    assert run("monkey.py", str(tmp_path / "hands"), "--times", "150", "--seed", "9")["actions"] == 150


def test_odd_settings(tmp_path: Path) -> None:
    assert run("odd_settings.py", str(tmp_path / "settings"), "--times", "6", "--seed", "2")["starts"] == 6


def test_a_window_killed_in_the_midst_of_steady_work_loses_at_most_ten_seconds(tmp_path: Path) -> None:
    found = killed_window(tmp_path, 12.0, signal.SIGKILL)
    assert found.made > 25
    assert found.offers == 1
    assert found.lost_s <= LATEST_S


def test_a_window_ended_from_outside_loses_nothing(tmp_path: Path) -> None:
    found = killed_window(tmp_path, 1.5, signal.SIGTERM)
    assert found.code == 128 + signal.SIGTERM
    assert found.offers == 1
    assert found.kept == found.made > 0
