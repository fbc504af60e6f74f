"""The comparison sees what differs, and nothing else."""

import copy

import pytest

from tests.comparison.figures import differences, main, table, trains


def test_the_comparison_sees_what_differs(capsys: pytest.CaptureFixture[str]) -> None:
    before = table()
    assert set(before) == set(trains())
    assert differences(before, copy.deepcopy(before)) == []
    name = next(iter(before))
    after = copy.deepcopy(before)
    figures = after[name]["figures"]
    key = next(key for key in figures if isinstance(figures[key]["value"], float))
    figures[key]["value"] += 1e-12
    assert differences(before, after) == []
    figures[key]["value"] += 1e-3
    after[name]["findings"][0]["severity"] = "other"
    assert len(differences(before, after)) == 2
    del after[name]
    assert len(differences(before, after)) >= 1
    assert main(["something"]) == 2
    assert "write before.json" in capsys.readouterr().out
