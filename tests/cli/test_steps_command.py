"""`far-rail steps`: the same steps as the station, in words and as data."""

import json
from pathlib import Path

import pytest
from tests.command_line import Ran, far_rail

from farrail.assembly.steps import steps_of
from farrail.demo.hallan_skerry import demo_workbook
from farrail.readouts.read import read
from farrail.train.layout import build_layout
from farrail.workbook.store import write_file


def run(*arguments: str) -> Ran:
    return far_rail("steps", *arguments)


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


def test_fixes_are_printed_best_first(tmp_path: Path) -> None:
    """The demo's stack: each fix read again gives the focal length it was printed with."""
    book = demo_workbook()
    file = tmp_path / "demo.farrail.json"
    write_file(file, book)
    done = far_rail("fixes", str(file), "--train", "sea-stacks", "--json")
    assert done.returncode == 0
    found = json.loads(done.stdout)["fixes"]
    assert [one["helps"] for one in found] == sorted((one["helps"] for one in found), reverse=True)
    train = book.train("sea-stacks")
    plain = [one for one in found if one["change"].startswith("take")]
    assert plain
    for one in plain:
        kept = tuple(laid for laid in train.front_stack if laid.part in one["front_stack"])
        readout = read(train.model_copy(update={"front_stack": kept}), book.by_id)
        assert readout.front.now.first_clean_mm == pytest.approx(one["first_clean_mm"])
    refused = far_rail("fixes", str(file), "--train", "witch-broom")
    assert refused.returncode == 1
    assert "Nothing is ahead of the lens" in refused.stdout
