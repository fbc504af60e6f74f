"""The command line as a person calls it."""

import json
import os
import re
import subprocess
import sys
from typing import Any

import pytest
from tests.command_line import SOURCE, far_rail


def answer(*arguments: str) -> Any:
    run = far_rail(*arguments, "--json")
    assert run.returncode == 0, run.stderr
    return json.loads(run.stdout)


@pytest.fixture(scope="module")
def demo_file(tmp_path_factory: pytest.TempPathFactory) -> str:
    path = tmp_path_factory.mktemp("cli") / "demo.farrail.json"
    assert far_rail("demo", "--save", str(path)).returncode == 0
    return str(path)


def test_readout_of_a_good_train(demo_file: str) -> None:
    data = answer("readout", demo_file, "--train", "Tern 72 on the Witch Broom")
    figures = data["figures"]
    assert figures["spacing.error_mm"]["value"] == pytest.approx(0.0186, abs=1e-4)
    assert figures["spacing.glass_shift_mm"]["value"] == pytest.approx(0.6814, abs=1e-4)
    assert figures["light.corner_ri"]["value"] == 1.0
    assert set(figures["light.limiting_part"]) >= {"value", "unit", "working", "provenance"}
    assert {f["severity"] for f in data["findings"]} == {"look", "note"}


def test_readout_of_a_train_that_stops(demo_file: str) -> None:
    run = far_rail("readout", demo_file, "--train", "witch-broom-short")
    assert run.returncode == 1
    assert "[stop] The train is 4.98 mm too short." in run.stdout
    # One screen: what decides with its unit; ids and workings are with --all.
    assert len(run.stdout.splitlines()) < 30
    assert re.search(r"^  Actual distance +50\.70 mm  published$", run.stdout, re.M)
    run = far_rail("readout", demo_file, "--train", "witch-broom-short", "--all")
    assert "50.700 − 55.681 = −4.981 mm" in run.stdout


def test_calculators() -> None:
    assert answer("calc", "glass-shift", "--thickness", "2", "--index", "1.5168")["value"] == pytest.approx(
        0.68143, abs=1e-5
    )
    edge = answer("calc", "glass-shift", "--thickness", "2", "--index", "1.5168", "--f-number", "4")
    assert edge["value"] == pytest.approx(0.68722, abs=1e-5)
    assert edge["values"]["paraxial_mm"]["value"] == pytest.approx(0.68143, abs=1e-5)
    base = ("calc", "filter-diameter", "--diagonal", "22.18", "--distance", "26.5")
    assert answer(*base, "--aperture", "200", "--focal", "780")["value"] == pytest.approx(28.2213, abs=1e-4)
    assert answer(*base, "--f-number", "3.9", "--pupil-distance", "780")["value"] == pytest.approx(28.2213, abs=1e-4)
    depth = answer("calc", "depth-of-focus", "--f-number", "4")
    assert (depth["value"], depth["unit"]) == (pytest.approx(0.0176), "mm")
    assert depth["working"]
    assert depth["source"]


def test_schema_is_json_schema() -> None:
    data = json.loads(far_rail("schema").stdout)
    assert data["$schema"].startswith("https://json-schema.org/")
    assert "shelf" in data["properties"]


BAD = [
    (("readout", "missing.farrail.json", "--train", "x"), "it is not there"),
    (("calc", "glass-shift", "--thickness", "-2", "--index", "1.5"), "cannot be used"),
    (("calc", "glass-shift", "--thickness", "nan", "--index", "1.5"), "cannot be used"),
    (("calc", "glass-shift", "--thickness", "two", "--index", "1.5"), "“two” is not a number"),
    (("calc", "filter-diameter", "--diagonal", "22", "--distance", "20"), "Give --aperture and --focal"),
    (("calc", "depth-of-focus", "--f-number", "0"), "cannot be used"),
    (("demo", "--save", "/proc/none/x.farrail.json"), "folder does not exist"),
    (("missing.farrail.json",), "is not there"),
    (("one.farrail.json", "two.farrail.json"), "One workbook at a time"),
]


@pytest.mark.parametrize(("arguments", "words"), BAD, ids=[" ".join(b[0][:2]) for b in BAD])
def test_bad_input_ends_with_two_and_one_sentence(arguments: tuple[str, ...], words: str) -> None:
    # With a platform that needs no display a file is read before any window is made.
    run = far_rail(*arguments, QT_QPA_PLATFORM="offscreen")
    assert run.returncode == 2
    assert words in run.stderr
    assert "Traceback" not in run.stderr


def test_a_train_that_is_not_there(demo_file: str) -> None:
    run = far_rail("readout", demo_file, "--train", "moon")
    assert run.returncode == 2
    assert "its trains are: “Tern 72 on the Witch Broom”" in run.stderr


@pytest.mark.parametrize("display", ["", ":987"])
def test_without_a_display_the_window_says_what_works(display: str, demo_file: str) -> None:
    run = far_rail("demo", DISPLAY=display) if display else far_rail(demo_file)
    assert run.returncode == 2
    assert run.stderr.count("\n") == 1
    assert "far-rail picture " in run.stderr


def test_no_command_needs_qt(demo_file: str) -> None:
    code = (
        "import sys; sys.argv = ['far-rail', 'readout', sys.argv[1], '--train', 'witch-broom', '--json']\n"
        "import atexit; atexit.register(lambda: sys.stderr.write('QT' if 'PySide6' in sys.modules else 'none'))\n"
        "from farrail.__main__ import main; main()"
    )
    env = {**os.environ, "PYTHONPATH": SOURCE}
    run = subprocess.run([sys.executable, "-c", code, demo_file], env=env, capture_output=True, text=True)
    assert run.stderr == "none"


def test_ask_names_combinations_and_says_why_not(demo_file: str) -> None:
    wish = ("ask", demo_file, "--width", "18", "--min-distance", "90", "--max-stops", "2")
    told = far_rail(*wish)
    assert told.returncode == 0
    assert "18 mm on Skua full-frame body needs 2:1" in told.stdout
    assert "Close-up lens 10x + Tern 200 mm f/4" in told.stdout
    data = answer(*wish)
    assert data["magnification"] == 2.0
    assert all(a["working_distance_mm"] >= 90.0 and a["stops"] <= 2.0 for a in data["answers"])
    assert data["misses"][0]["why"]
    none = far_rail("ask", demo_file, "--width", "3", "--min-distance", "300")
    assert none.returncode == 1
    assert "None of your parts can do it. Closest:" in none.stdout
    bad = far_rail("ask", demo_file, "--width", "-4")
    assert bad.returncode == 2
    assert "A subject width of −4 mm cannot be used" in bad.stderr
    # A camera of another mount takes lenses on an adapter.
    cooled = answer("ask", demo_file, "--width", "4", "--train", "witch-broom")
    assert all(row["behind"] for row in cooled["answers"])


def test_close_up_figures_of_a_macro_train(demo_file: str) -> None:
    figures = answer("readout", demo_file, "--train", "barnacles")["figures"]
    assert figures["closeup.stops_lost"]["value"] == pytest.approx(3.1231, abs=5e-5)
    assert figures["exposure.total_stops"]["value"] == pytest.approx(3.1231, abs=5e-5)
    assert figures["closeup.width_mm"]["value"] == pytest.approx(36.0 / figures["closeup.magnification"]["value"])
    assert figures["closeup.near_mm"]["value"] < figures["closeup.far_mm"]["value"]
