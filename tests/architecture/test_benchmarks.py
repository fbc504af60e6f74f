"""The benchmarks of the window run: what they measure is shown elsewhere, that they still can is shown here."""

import gc

import pytest
from benchmarks import hands


def test_every_edit_and_drag_of_the_benchmarks_runs(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(hands, "STEPS", 3)
    try:
        rows = [*hands.edits_of_twelve_parts(), *hands.drags()]
    finally:
        # As the program does, they keep the collector for themselves.
        gc.unfreeze()
        gc.collect()
        gc.freeze()
        gc.enable()
    assert len(rows) > 12
