"""Words are made at the edge: every figure and finding has them, and nothing below holds a sentence."""

import re
from pathlib import Path

from farrail.demo.hallan_skerry import demo_workbook
from farrail.quantities import grouped, signed
from farrail.readouts.figure import kinds_of_figures, meaning_of
from farrail.readouts.finding import kinds_of_findings
from farrail.readouts.read import Readout, read

SOURCES = Path(__file__).parents[2] / "src" / "farrail"


def readouts() -> list[Readout]:
    book = demo_workbook()
    return [read(train, book.by_id) for train in book.trains]


def test_every_figure_and_finding_of_the_catalogue_has_its_words() -> None:
    figures = kinds_of_figures()
    assert len(figures) > 70
    assert all(meaning_of(kind) for kind in figures)
    kinds = kinds_of_findings()
    assert len(kinds) > 80
    assert all(about and about[0].isupper() for about in kinds.values())


def test_every_demo_train_is_told_in_whole_sentences() -> None:
    seen: set[str] = set()
    for readout in readouts():
        for finding in readout.findings:
            text, reason = finding.sentences
            seen.add(finding.kind)
            assert text.endswith("."), text
            assert reason.endswith("."), reason
            assert not re.search(r"\bNone\b|nan\b|\{|-0\.0", text + reason)
        for figure in readout.figures.values():
            working = figure.words.working
            assert figure.shown not in ("", "–"), figure.id
            assert working.formula
            assert working.numbers
            assert working.source
    assert len(seen) > 20


def test_findings_and_figures_are_told_apart_by_their_ids() -> None:
    for readout in readouts():
        ids = [finding.id for finding in readout.findings]
        assert len(ids) == len(set(ids))
        assert all(key == figure.id for key, figure in readout.figures.items())


def test_numbers_are_written_as_people_write_them() -> None:
    assert signed(-0.684) == "−0.68"
    assert grouped(12345.0) == "12 300"
    assert grouped(99.9) == "99.9"
