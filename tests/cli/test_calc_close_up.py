"""The calculators of close-up and exposure, from the command line."""

import json
from typing import Any

import pytest
from tests.command_line import far_rail


@pytest.mark.parametrize(
    ("arguments", "value"),
    [
        ("close-up-lens --dioptres 4 --distance 260 --width 140", 127.451),
        ("close-up-lens --dioptres 2 --focal 200", 500.0),
        ("extension --focal 50 --extension 25", 0.5),
        ("extension --focal 72.5 --extension 69 --magnification 1", 1.95172),
        ("reversed --focal 28 --image-distance 75", 1.67857),
        ("reversed --focal 50 --on 200", 4.0),
        ("focus-stack --depth 5 --magnification 2 --f-number 4", 61.0),
        ("shutter --stops 10 --base 1/60", 16.0),
        ("density --density 0.9", 2.9897),
        ("density --transmission 0.1", 9.9658),
    ],
)
def test_calculators_give_values_with_working_and_source(arguments: str, value: float) -> None:
    run = far_rail("calc", *arguments.split(), "--json")
    assert run.returncode == 0, run.stderr
    told = json.loads(run.stdout)
    assert told["value"] == pytest.approx(value, rel=1e-4)
    assert told["working"]
    assert told["source"]


def told_by(arguments: str) -> dict[str, Any]:
    """What a calculator says as JSON."""
    told: dict[str, Any] = json.loads(far_rail("calc", *arguments.split(), "--json").stdout)
    return told


def test_a_measured_pair_gives_the_width_and_times_come_as_engraved() -> None:
    told = told_by("close-up-lens --dioptres 4 --distance 260 --width 140")
    assert told["values"]["width_mm"]["value"] == pytest.approx(68.627, abs=1e-3)
    assert told["values"]["scale"]["value"] == pytest.approx(0.490196, abs=1e-6)
    told = told_by("extension --focal 50 --extension 25")
    assert told["values"]["stops_lost"]["value"] == pytest.approx(1.1699, abs=1e-4)
    run = far_rail("calc", "shutter", "--stops", "10", "--base", "1/4")
    assert "4 min 16 s by hand (bulb)" in run.stdout


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        ("close-up-lens --dioptres 0 --distance 260", "give above 0"),
        ("close-up-lens --dioptres -2 --distance 260", "spreads light"),
        ("close-up-lens --dioptres 4 --distance 0", "inside itself"),
        ("close-up-lens --dioptres 4 --width 140", "add --distance"),
        ("extension --focal 50 --extension 0", "no magnification"),
        ("extension --focal 50 --extension 25 --f-number 0.1", "An f-number of 0.1"),
        ("reversed --focal 28 --image-distance 20", "closer than its focal length"),
        ("reversed --focal 28", "--image-distance"),
        ("focus-stack --depth 0 --magnification 2 --f-number 4", "needs no stack"),
        ("focus-stack --depth 5 --magnification 0 --f-number 4", "no depth of field"),
        ("focus-stack --depth 5 --magnification 2 --f-number 4 --overlap 100", "0 to 90 %"),
        ("focus-stack --depth 5 --magnification 2 --f-number 4 --interval -1", "interval"),
        ("shutter --stops 30 --base 30", "hours"),
        ("shutter --stops 3 --base soon", "is no time"),
        ("density", "Give one of"),
        ("density --density -1", "cannot be used"),
    ],
)
def test_bad_input_gets_one_sentence(arguments: str, words: str) -> None:
    run = far_rail("calc", *arguments.split())
    assert run.returncode == 2
    assert words in run.stderr
    assert "Traceback" not in run.stderr
    assert "nan" not in run.stdout
