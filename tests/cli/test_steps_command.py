"""`far-rail steps`: the same steps as the station, in words and as data."""

import json
import subprocess
import sys
from pathlib import Path

import pytest

from farrail.assembly.steps import steps_of
from farrail.demo.hallan_skerry import demo_workbook
from farrail.train.layout import build_layout


def run(*arguments: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run([sys.executable, "-m", "farrail", "steps", *arguments], capture_output=True, text=True)


def test_steps_are_printed_and_given_as_data(file: Path) -> None:
    book = demo_workbook()
    wanted = [step.key for step in steps_of(build_layout(book.train("sea-stacks"), book.by_id))]
    data = json.loads(run(str(file), "--train", "sea-stacks", "--json").stdout)
    assert [step["key"] for step in data["steps"]] == wanted
    assert data["minutes"] == pytest.approx(sum(step["minutes"] for step in data["steps"]))
    told = run(str(file), "--train", "sea-stacks", "--start", "site")
    assert told.returncode == 0
    assert "at the site" in told.stdout
    assert "Never point a lens or your eye at the Sun" in told.stdout
    assert "Clear a table" not in told.stdout
    assert [one["key"] for one in data["either_way"]] == ["polariser", "left_on"]
    assert "Done either way: Polariser 105" in told.stdout


def test_what_is_no_train_is_said_in_a_sentence(file: Path) -> None:
    made = run(str(file), "--train", "nowhere")
    assert made.returncode == 2
    assert "There is no train “nowhere”" in made.stderr
    assert "Traceback" not in made.stderr
