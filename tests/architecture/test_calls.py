"""How many Python functions an edit and a drag call: held here, since a count does not depend on the machine.

The bounds are a tenth above what was counted; whoever lowers a count lowers its bound.
"""

from typing import Any

import pytest
from benchmarks import hands

MOST_CALLS = {
    "Parts": 4150,
    "Spacing": 4300,
    "Vignetting": 4450,
    "Filters": 4240,
    "Close-up": 3660,
    "Exposure": 3400,
    "Compare": 4500,
}
OTHERS = 2950


@pytest.mark.after_paint
def test_an_edit_calls_no_more_functions_than_it_did(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(hands, "STEPS", 3)
    monkeypatch.setattr(hands, "FEW", 2)
    monkeypatch.setattr(hands, "AFTER_MS", 20)
    rows: list[dict[str, Any]] = []
    for row in hands.edits_of_twelve_parts():
        rows.append(row)
        if row["what"].startswith("an edit and all"):
            break
    counted = {
        row["what"].split(", ")[-1].removesuffix(" in front"): row["value"] for row in rows if row["unit"] == "calls"
    }
    assert len(counted) == 9
    over = {title: calls for title, calls in counted.items() if calls > MOST_CALLS.get(title, OTHERS)}
    assert not over, counted
