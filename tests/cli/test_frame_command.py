"""Frames on the command line: taken by the simulated bench camera, read again, what was hidden found."""

import json
import re
from pathlib import Path

import pytest
from tests.command_line import far_rail as run
from tests.starter import starter_workbook

from farrail.demo.hallan_skerry import demo_workbook
from farrail.workbook.store import write_file


@pytest.fixture
def demo(tmp_path: Path) -> str:
    path = tmp_path / "demo.farrail.json"
    write_file(path, demo_workbook(), None)
    return str(path)


def bench(demo: str, kind: str, out: Path, *more: str, train: str = "lantern-apsc") -> str:
    taken = run("bench", kind, str(out), demo, "--train", train, "--tell", *more)
    assert taken.returncode == 0, taken.stderr
    # Numbers below zero are written with a true minus.
    return taken.stdout.replace("−", "-")


def test_a_flat_tells_what_was_hidden(demo: str, tmp_path: Path) -> None:
    hidden = bench(demo, "flat", tmp_path / "f.fits", "--seed", "2")
    name, width, right, up = re.match(  # type: ignore[union-attr]
        r"(.+) is ([\d.]+) mm wide, its middle ([+-][\d.]+) mm right and ([+-][\d.]+) mm up", hidden
    ).groups()
    printed = run("frame", "flat", str(tmp_path / "f.fits"), demo, "--train", "lantern-apsc")
    assert printed.returncode == 0
    assert printed.stdout.startswith(f"{name} in Seven-slot wheel explains it: ")
    told = json.loads(run("frame", "flat", str(tmp_path / "f.fits"), demo, "--train", "lantern-apsc", "--json").stdout)
    found = told["explained"]
    assert (found["change"], found["off_axis"]) == ("opening", True)
    assert found["value_mm"]["value"] == pytest.approx(float(width), abs=0.1)
    assert found["right_mm"]["value"] == pytest.approx(float(right), abs=0.1)
    assert found["up_mm"]["value"] == pytest.approx(float(up), abs=0.1)


def test_stars_through_focus_tell_the_tilt(demo: str, tmp_path: Path) -> None:
    names = []
    for focus in (-600, -360, -120, 120, 360, 600):
        names.append(str(tmp_path / f"s{focus}.fits"))
        hidden = bench(demo, "stars", Path(names[-1]), "--seed", "3", "--focus", str(focus), "--columns", "900")
    across = float(re.match(r"Focus is ([+-]\d+) µm", hidden).group(1))  # type: ignore[union-attr]
    more = [word for name in names[1:] for word in ("--more", name)]
    words = ("frame", "stars", names[0], demo, "--train", "lantern-apsc", *more)
    told = json.loads(run(*words, "--json").stdout)["tilt"]
    assert told["across_um"]["low"] - 3.0 <= across <= told["across_um"]["high"] + 3.0
    printed = run(*words, "--flange", "80")
    assert printed.returncode == 0
    assert "across 80 mm of flange" in printed.stdout


def test_a_rule_and_dust(demo: str, tmp_path: Path) -> None:
    hidden = bench(demo, "ruler", tmp_path / "r.fits", "--seed", "4", train="lichen")
    told = json.loads(run("frame", "ruler", str(tmp_path / "r.fits"), demo, "--train", "lichen", "--json").stdout)
    assert told["width_mm"]["value"] == pytest.approx(float(hidden.split()[0]), rel=0.005)
    hidden = bench(demo, "dust", tmp_path / "d.fits", "--seed", "5")
    found = run("frame", "dust", str(tmp_path / "d.fits"), demo, "--train", "lantern-apsc", "--json")
    motes = json.loads(found.stdout)["motes"]
    far = [float(one) for one in re.findall(r"([\d.]+) mm in front", hidden)]
    sure = [mote for mote in motes if mote["sure"]]
    assert sure
    for mote in sure:
        assert any(mote["distance_mm"]["low"] <= one <= mote["distance_mm"]["high"] for one in far)


def test_clear_sky(demo: str, tmp_path: Path) -> None:
    bench(demo, "sky", tmp_path / "sky.fits", "--seed", "6", train="sea-stacks")
    words = ("frame", "sky", str(tmp_path / "sky.fits"), demo, "--train", "sea-stacks")
    assert run(*words).stdout.startswith("The sky is uneven by ")
    assert json.loads(run(*words, "--json").stdout)["trouble"] is None
    assert run("frame", "sky", str(tmp_path / "sky.fits"), demo, "--train", "sea-stacks-slim").returncode in (0, 1)


def test_gear_of_ones_own(tmp_path: Path) -> None:
    path = tmp_path / "own.farrail.json"
    workbook = starter_workbook()
    write_file(path, workbook, None)
    train = workbook.trains[0].id
    out = tmp_path / "own.fits"
    assert run("bench", "flat", str(out), str(path), "--train", train, "--seed", "1").returncode == 0
    printed = run("frame", "flat", str(out), str(path), "--train", train)
    assert printed.returncode in (0, 1)
    assert printed.stdout.endswith(".\n")
    assert not printed.stderr


def test_what_cannot_be_read_is_one_sentence(demo: str, tmp_path: Path) -> None:
    (tmp_path / "cut.fits").write_bytes(b"SIMPLE  =                    T")
    for words, said in (
        ((str(tmp_path / "cut.fits"), demo, "--train", "lantern-apsc"), "cut.fits cannot be read, or is damaged"),
        ((str(tmp_path / "none.fits"), demo, "--train", "lantern-apsc"), "There is no file"),
        ((demo, demo, "--train", "lantern-apsc"), "is no frame that can be read"),
    ):
        refused = run("frame", "flat", *words)
        assert refused.returncode == 2
        assert said in refused.stderr
        assert refused.stderr.count("\n") == 1
    bench(demo, "flat", tmp_path / "flat.fits", "--columns", "600")
    flat = str(tmp_path / "flat.fits")
    refused = run("frame", "ruler", flat, demo, "--train", "lantern-apsc", "--more", flat)
    assert refused.returncode == 2
    assert "--more is for flats, stars and dust" in refused.stderr
    several = run("frame", "flat", flat, demo, "--train", "lantern-apsc", "--more", flat, "--json")
    assert [one["file"] for one in json.loads(several.stdout)["frames"]] == ["flat.fits", "flat.fits"]
    out = bench(demo, "stars", tmp_path / "one.fits", "--columns", "900")
    assert out
    other = run("frame", "stars", str(tmp_path / "one.fits"), demo, "--train", "sea-stacks")
    assert other.returncode == 2 or "stars" in other.stdout
