"""The page of the Python API: every piece of it runs, in order, and says what a person works out by hand."""

import re
from pathlib import Path

import pytest

PAGE = Path(__file__).parents[2] / "docs" / "api.md"


def test_every_piece_runs(tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]) -> None:
    monkeypatch.chdir(tmp_path)
    pieces = re.findall(r"```python\n(.*?)```", PAGE.read_text("utf-8"), re.S)
    assert len(pieces) == 6
    names: dict[str, object] = {}
    said = []
    for piece in pieces:
        assert len(piece.strip().splitlines()) <= 12, piece
        exec(compile(piece, "api.md", "exec"), names)
        said.append(capsys.readouterr().out)
    # By hand: 9.00 + 20.50 + 8.70 + 5.00 + 12.50 − (55.00 + 2.00·(1 − 1/1.5168)) = +0.02.
    assert float(said[0].split()[0]) == pytest.approx(55.7 - 55.6815, abs=1e-3)
    # 9.00 + 5.00 + 12.50 − 55.00.
    assert float(said[1]) == pytest.approx(-28.5, abs=0.01)
    assert "+" in said[2]
    # d_min = 22.18·(1 − 26.5/780) + 26.5/3.9 = 28.22: a little less keeps all but a tenth of a stop.
    assert 26.0 < float(re.findall(r"[\d.]+ mm", said[3])[0].split()[0]) < 28.22
    assert (tmp_path / "figures.csv").read_text("utf-8").startswith("id,figure,value")
