"""Lengths in millimetres or inches: what changes with the unit, and what never does."""

import csv
import re
from pathlib import Path

import pytest

from farrail import language, lengths, user_settings
from farrail.demo.hallan_skerry import demo_workbook
from farrail.language import say
from farrail.lengths import LengthUnit
from farrail.logbook.kinds.front import Darkening
from farrail.logbook.words import difference_words
from farrail.parts.provenance import unknown
from farrail.quantities import away, signed_length
from farrail.readouts.range_findings import range_report
from farrail.readouts.ranges import EVERY
from farrail.readouts.read import read
from farrail.text.report import as_data, figures_csv
from farrail.text.sheet import sheet_data
from tests.command_line import far_rail

TRAINS = [train.id for train in demo_workbook().trains]


@pytest.fixture
def inches() -> None:
    lengths.choose(LengthUnit.INCH)


def test_a_length_is_told_by_its_format(inches: None) -> None:
    # One inch is 25.4 mm exactly (international yard and pound agreement, 1959).
    assert say("{gap:.2f mm} too short", gap=25.4) == "1.0000 in too short"
    assert say("{low:.1f length} to {high:.1f mm}", low=12.7, high=50.8) == "0.500 to 2.000 in"
    assert say("{off:+.2f mm}", off=-0.254) == "−0.0100 in"
    assert say("{pitch:g mm}", pitch=6.35) == "0.25 in"
    # A focal length is no such value.
    assert say("{focal:g} mm f/{number:g}", focal=50, number=2) == "50 mm f/2"
    assert signed_length(-2.54) == "−0.1000"
    assert (away(254.0), away(3048.0)) == ("10.00 in", "10 ft")


def test_in_millimetres_the_same_formats_say_what_they_said() -> None:
    assert say("{gap:.2f mm} too short", gap=1.256) == "1.26 mm too short"
    assert say("{low:.1f length} to {high:.1f mm}", low=12.7, high=50.8) == "12.7 to 50.8 mm"
    assert (signed_length(-2.54), away(254.0), away(3048.0)) == ("−2.54", "254 mm", "3 m")


def test_german_writes_inches_with_its_comma(inches: None) -> None:
    language.choose("de")
    try:
        assert say("The train is {miss:.2f mm} too long.", miss=2.54) == "Der Aufbau ist 0,1000 in zu lang."
    finally:
        language.choose("en")


@pytest.mark.parametrize("train", TRAINS)
def test_every_figure_in_inches_is_its_millimetres_over_25_4(train: str, inches: None) -> None:
    workbook = demo_workbook()
    seen = 0
    for figure in read(workbook.train(train), workbook.by_id).figures.values():
        if figure.unit != "mm" or not isinstance(figure.value, float) or abs(figure.value) > 1e6:
            continue
        text, unit = figure.number_words(figure.value)
        told = float(text.replace("−", "-"))
        if figure.text.stays_mm:
            assert unit == "mm"
            assert told == pytest.approx(figure.value, abs=0.0051)
        else:
            assert unit == "in"
            assert told * 25.4 == pytest.approx(figure.value, abs=0.0013), figure.id
            seen += 1
    assert seen > 3


@pytest.mark.parametrize("train", TRAINS)
def test_what_is_said_of_a_train_tells_no_measured_length_in_millimetres(train: str, inches: None) -> None:
    workbook = demo_workbook()
    readout = read(workbook.train(train), workbook.by_id)
    said = [readout.verdict.headline, readout.verdict.detail]
    # What finds nothing but focal lengths and names to say in mm: the front stack's findings, and powers.
    for finding in readout.findings:
        if not finding.kind.startswith("front.") and finding.kind != "light.magnified":
            said += [finding.title, finding.reason]
    names = sorted((part.name for part in workbook.shelf), key=len, reverse=True)
    for sentence in said:
        for name in names:
            sentence = sentence.replace(name, "")
        assert " mm" not in sentence, sentence


def test_the_sheet_counts_in_inches_and_says_so(inches: None) -> None:
    workbook = demo_workbook()
    readout = read(workbook.train("witch-broom"), workbook.by_id)
    data = sheet_data(readout, workbook.name, "2026-11-27")
    assert data["length_unit"] == "in"
    laid = [row["to_here"] for row in data["ledger"] if row["length"]]  # type: ignore[attr-defined]
    assert any(float(text) * 25.4 == pytest.approx(readout.spacing.actual_mm, abs=0.0013) for text in laid if text)


def test_what_scripts_read_never_changes(inches: None) -> None:
    workbook = demo_workbook()
    readout = read(workbook.train("witch-broom"), workbook.by_id)

    def numbers() -> dict[str, tuple[str, str]]:
        table = csv.DictReader(figures_csv(readout).splitlines())
        return {row["id"]: (row["value"], row["unit"]) for row in table if row["unit"]}

    in_inches = numbers(), as_data(readout)["figures"]["spacing.laid_mm"]  # type: ignore[index]
    lengths.choose(LengthUnit.MM)
    assert in_inches == (numbers(), as_data(readout)["figures"]["spacing.laid_mm"])  # type: ignore[index]
    assert in_inches[0]["spacing.laid_mm"] == ("55.7", "mm")


def run(file: Path, train: str, *arguments: str) -> str:
    done = far_rail(*arguments, "readout", str(file), "--train", train, "--all")
    assert done.returncode in (0, 1), done.stderr
    return done.stdout


def test_the_command_line_tells_inches_where_asked(file: Path) -> None:
    told = run(file, "witch-broom", "--inches")
    assert re.search(r"^spacing\.laid_mm +2\.1929 in ", told, re.M)
    assert re.search(r"^spacing\.laid_mm +55\.70 mm ", run(file, "witch-broom"), re.M)
    # From which focal length the stack is clean: a focal length.
    assert re.search(r"^front\.first_clean_mm +29\.\d\d mm ", run(file, "sea-stacks", "--inches"), re.M)


def test_what_is_kept_is_found_and_nonsense_counts_as_not_chosen() -> None:
    assert lengths.saved() is LengthUnit.MM
    lengths.save(LengthUnit.INCH)
    assert lengths.saved() is LengthUnit.INCH
    user_settings.save("lengths", "furlongs")
    assert lengths.saved() is LengthUnit.MM
    lengths.save(LengthUnit.MM)


def test_a_focal_length_seen_and_predicted_stays_in_mm(inches: None) -> None:
    workbook = demo_workbook()
    readout = read(workbook.train("sea-stacks"), workbook.by_id)
    seen = [one for one in workbook.log if isinstance(one, Darkening)]
    assert seen
    for one in seen:
        told = difference_words(one.compared(readout))
        assert re.search(r"\d mm", told), told
        assert not re.search(r"\d in", told), told


def test_where_a_verdict_turns_is_told_with_the_unit_of_what_is_unknown() -> None:
    """An entrance pupil between 5 and 40 mm: the depth at which the verdict turns is a length, in mm or inches."""
    workbook = demo_workbook()
    shelf = dict(workbook.by_id)
    lens = shelf["lantern-12"]
    shelf[lens.id] = lens.model_copy(update={"entrance_pupil_depth_mm": unknown(5.0, 40.0)})
    train = next(one for one in workbook.trains if one.optic == lens.id)
    told = [one.reason for one in range_report(train, shelf, EVERY).findings]
    turning = [found for text in told if (found := re.search(r"changes at ([\d.]+) mm", text))]
    assert turning, told
    lengths.choose(LengthUnit.INCH)
    again = " ".join(one.reason for one in range_report(train, shelf, EVERY).findings)
    found = re.search(r"changes at ([\d.]+) in", again)
    assert found, again
    assert float(found[1]) * 25.4 == pytest.approx(float(turning[0][1]), abs=0.01)
