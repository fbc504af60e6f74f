"""The calculators of field, tilt, passband and plates, and light figures of the readout, from the command line."""

import json
from pathlib import Path

import pytest
from tests.command_line import far_rail


@pytest.mark.parametrize(
    ("arguments", "value"),
    [
        (["image-circle", "--width", "36", "--height", "24", "--diameter", "43.3"], 100.0),
        (["field-of-view", "--width", "36", "--height", "24", "--focal", "50"], 39.598),
        (["tilt", "--half-diagonal", "21.63", "--f-number", "4"], 0.04662),
        (["passband-shift", "--line", "656.3", "--f-number", "2.8"], 1.283),
        (["plate-aberration", "--thickness", "1", "--f-number", "2"], 11.35),
        (
            [
                "front-corner",
                "--focal",
                "16",
                "--f-number",
                "8",
                "--pupil-depth",
                "22",
                "--disc",
                "74@8",
                "--disc",
                "96@22",
                "--height",
                "17.2",
            ],
            0.9051,
        ),
    ],
)
def test_calculators_give_values_with_working_and_source(arguments: list[str], value: float) -> None:
    run = far_rail("calc", *arguments, "--json")
    assert run.returncode == 0, run.stderr
    data = json.loads(run.stdout)
    assert data["value"] == pytest.approx(value, rel=1e-3)
    assert data["working"]
    assert data["source"]
    assert far_rail("calc", *arguments).stdout.strip().endswith(data["source"])


@pytest.mark.parametrize(
    "arguments",
    [
        ["image-circle", "--width", "0", "--height", "24", "--diameter", "43"],
        ["field-of-view", "--width", "36", "--height", "24", "--focal", "-5"],
        ["tilt", "--half-diagonal", "0", "--f-number", "4"],
        ["passband-shift", "--line", "656.3", "--f-number", "0.1"],
        ["passband-shift", "--line", "656.3", "--f-number", "4", "--width", "0"],
        ["plate-aberration", "--thickness", "-1", "--f-number", "2"],
        ["front-corner", "--focal", "16", "--f-number", "0.1", "--pupil-depth", "2", "--disc", "7@8", "--height", "1"],
    ],
)
def test_bad_numbers_are_refused_in_one_sentence(arguments: list[str]) -> None:
    run = far_rail("calc", *arguments)
    assert run.returncode == 2
    assert run.stderr.count("\n") == 1
    assert "cannot be used" in run.stderr or "no effect" in run.stderr


def test_the_readout_has_the_light_figures(tmp_path: Path) -> None:
    book = str(tmp_path / "demo.farrail.json")
    far_rail("demo", "--save", book)
    figures = json.loads(far_rail("readout", book, "--train", "lantern-reversed", "--json").stdout)["figures"]
    for key in ("corner_stops", "edge.bottom_stops", "limiting_part", "clean_frame", "field_of_view",
                "pixel_scale_arcsec", "image_circle_cover", "tilt_allowed_deg", "tilt_shim_mm"):  # fmt: skip
        assert figures[f"light.{key}"]["working"]
    assert any(key.startswith("light.loss.") for key in figures)
    assert figures["light.limiting_part"]["value"] == "Luminance 31"


@pytest.mark.parametrize("disc", ["74", "x@8", "-4@8", "74@nan"])
def test_what_is_no_opening_is_told_in_one_sentence(disc: str) -> None:
    run = far_rail("calc", "front-corner", "--focal", "16", "--f-number", "8", "--pupil-depth", "22", "--height", "17",
                   "--disc", disc)  # fmt: skip
    assert run.returncode == 2
    assert "is no opening" in run.stderr


def test_the_readout_has_the_front_figures(tmp_path: Path) -> None:
    book = str(tmp_path / "demo.farrail.json")
    far_rail("demo", "--save", book)
    run = far_rail("readout", book, "--train", "sea-stacks", "--json")
    assert run.returncode == 1  # the corners are dark: a finding stops it
    figures = json.loads(run.stdout)["figures"]
    assert figures["front.first_clean_mm"]["value"] == pytest.approx(29.13, abs=0.05)
    assert figures["front.first_clean_mm"]["low"] < 29
    for key in ("visible_mm", "corner_loss_stops", "depth_mm", "limiting_part"):
        assert figures[f"front.{key}"]["working"]
