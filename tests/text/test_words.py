"""Words are made at the edge: every figure and finding has them, and nothing below holds a sentence."""

import ast
import re
from pathlib import Path

import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.readouts.catalogue import FINDINGS, UNITS
from farrail.readouts.read import Readout, read
from farrail.text.figures import TELLERS, told, value_of
from farrail.text.findings import SENTENCES, sentences
from farrail.text.values import Values, grouped, signed

SOURCES = Path(__file__).parents[2] / "src" / "farrail"
WORDLESS = sorted((SOURCES / "readouts").rglob("*.py"))


def readouts() -> list[Readout]:
    book = demo_workbook()
    return [read(train, book.by_id) for train in book.trains]


def test_every_figure_and_finding_of_the_catalogue_has_its_words() -> None:
    assert set(TELLERS) == set(UNITS)
    assert set(SENTENCES) == set(FINDINGS)


def test_every_demo_train_is_told_in_whole_sentences() -> None:
    seen: set[str] = set()
    for readout in readouts():
        for finding in readout.findings:
            text, reason = sentences(finding)
            seen.add(finding.kind)
            assert text.endswith("."), text
            assert reason.endswith("."), reason
            assert not re.search(r"\bNone\b|nan\b|\{|-0\.0", text + reason)
        for figure in readout.figures.values():
            working = told(figure).working
            assert value_of(figure) not in ("", "–"), figure.id
            assert working.formula
            assert working.numbers
            assert working.source
    assert len(seen) > 20


def test_findings_and_figures_are_told_apart_by_their_ids() -> None:
    for readout in readouts():
        ids = [finding.id for finding in readout.findings]
        assert len(ids) == len(set(ids))
        assert all(key == figure.id for key, figure in readout.figures.items())


@pytest.mark.parametrize("path", WORDLESS, ids=lambda p: str(p.relative_to(SOURCES)))
def test_no_readout_holds_a_sentence(path: Path) -> None:
    tree = ast.parse(path.read_text())
    documents = {
        id(node.body[0].value)
        for node in ast.walk(tree)
        if isinstance(node, ast.Module | ast.ClassDef | ast.FunctionDef)
        and node.body and isinstance(node.body[0], ast.Expr)
    }  # fmt: skip
    # What a refusal of bad input says is the one kind of sentence that arises below the words.
    refused = {id(part) for node in ast.walk(tree) if isinstance(node, ast.Raise) for part in ast.walk(node)}
    # A type written before its class is known is quoted.
    types = {
        id(part)
        for node in ast.walk(tree)
        for kind in ("annotation", "returns")
        if isinstance(getattr(node, kind, None), ast.expr)
        for part in ast.walk(getattr(node, kind))
    }
    told_ids = path.name == "catalogue.py"
    found = [
        node.value
        for node in ast.walk(tree)
        if isinstance(node, ast.Constant) and isinstance(node.value, str) and " " in node.value
        and id(node) not in documents | refused | types and len(re.findall(r"[A-Za-z]{2,}", node.value)) > 2
    ]  # fmt: skip
    assert told_ids or not found


def test_a_value_that_was_not_given_is_named() -> None:
    with pytest.raises(AttributeError, match="no value “focal_mm” was given; there are part"):
        _ = Values({"part": "x"}).focal_mm


def test_numbers_are_written_as_people_write_them() -> None:
    assert signed(-0.684) == "−0.68"
    assert grouped(12345.0) == "12 300"
    assert grouped(99.9) == "99.9"
