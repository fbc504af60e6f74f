"""The benchmarks of the window run: what they measure is shown elsewhere, that they still can is shown here."""

import gc
import json
import os
from typing import Any

import pytest
from benchmarks import __main__ as program
from benchmarks import hands


# Edits of trains are counted, and run, in test_calls.py.
@pytest.mark.timeout(400)
@pytest.mark.after_paint
def test_every_edit_and_drag_of_the_benchmarks_runs(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(hands, "STEPS", 3)
    monkeypatch.setattr(hands, "FEW", 2)
    monkeypatch.setattr(hands, "COUNTED", 1)
    monkeypatch.setattr(hands, "PAGES", ("spacing", "light"))
    monkeypatch.setattr(hands, "SIXTY", hands.TWELVE)
    monkeypatch.setattr(hands, "MANY", 12)
    monkeypatch.setattr(hands, "AFTER_MS", 50)
    try:
        rows = [
            row for benchmark in program.HANDS if not benchmark.__name__.startswith("edits_of") for row in benchmark()
        ]
    finally:
        # As the program does, they keep the collector for themselves.
        gc.unfreeze()
        gc.collect()
        gc.freeze()
    assert len(rows) > 12


def test_a_benchmark_that_fails_costs_its_own_rows_and_libraries_do_not_print_into_json(
    monkeypatch: pytest.MonkeyPatch, capfd: pytest.CaptureFixture[str]
) -> None:
    def fails() -> list[dict[str, Any]]:
        raise ValueError("no such shelf")

    def chatters() -> list[dict[str, Any]]:
        print("a banner")
        os.write(1, b"another, from below\n")
        return [{"what": "work", "value": 1.5, "unit": "y", "wish": "<= 2", "met": True}]

    monkeypatch.setattr(program, "BENCHMARKS", (fails, chatters))
    assert program.main(["--json"]) == 1
    told = capfd.readouterr()
    assert [row["what"] for row in json.loads(told.out)] == ["work"]
    assert "fails failed: ValueError" in told.err
    assert "a banner" in told.err
    assert program.main([]) == 1
    assert capfd.readouterr().out.startswith("work ")
