"""Spoils files of every format the program reads, at random, and reads them: a clean error or a clean load.

    python tests/hardening/spoilt.py --times 2000 --seed 1

What loads is then judged by every readout and shown in words. Prints one line of JSON.
"""

import json
import math
import random
import tempfile
import time
from pathlib import Path
from typing import Any

from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import FarRailError
from farrail.exchange.csv_shelf import preview_csv, shelf_to_csv
from farrail.readouts.read import read
from farrail.workbook.reading import from_text, to_text
from farrail.workbook.recovery import Autosave, left_behind
from farrail.workbook.workbook import Workbook
from tests.hardening.running import called

ODD: tuple[Any, ...] = (
    None, True, False, 0, 1, -1, 24, 1e-9, 5e-324, 1e308, -1e308, 1e5, 0.3, 560, 1100.0, math.nan, math.inf, 10**400,
    "", "x", "1", "é‮", "<img src=x>", "a" * 500, [], {}, [1], [[]], {"a": 1}, [None],
)  # fmt: skip
LONGEST_S = 5.0


def places(data: Any, at: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    """Return the place of every value in a JSON document."""
    found = [at] if at else []
    items = data.items() if isinstance(data, dict) else enumerate(data) if isinstance(data, list) else ()
    for key, value in items:
        found += places(value, (*at, key))
    return found


def spoil(data: Any, dice: random.Random) -> str:
    """Return a document with one to three values replaced, removed, repeated or renamed, or its text cut or mangled."""
    data = json.loads(json.dumps(data))
    for _ in range(dice.choice((1, 1, 1, 2, 3))):
        place = dice.choice(places(data))
        holder = data
        for step in place[:-1]:
            holder = holder[step]
        key, way = place[-1], dice.random()
        if way < 0.55:
            holder[key] = dice.choice(ODD)
        elif way < 0.7:
            value = holder[key]
            number = isinstance(value, int | float) and not isinstance(value, bool)
            holder[key] = value * dice.choice((-1, 1e-6, 1e-2, 10, 1e3, 1e9)) if number else dice.choice(ODD)
        elif way < 0.85:
            del holder[key]
        elif isinstance(holder, dict):
            holder[f"{key}x"] = holder.pop(key)
        else:
            holder.insert(key, holder[key])
    text = json.dumps(data, ensure_ascii=False)
    return mangled(text, dice) if dice.random() < 0.15 else text


def mangled(text: str, dice: random.Random) -> str:
    """Return a text cut off, or with a piece of it lost, doubled or turned into something else."""
    start = dice.randrange(len(text))
    end = min(start + dice.randrange(1, 60), len(text))
    piece = dice.choice(("", text[start:end] * 2, "\x00", "'", "}", "1e999", "\n"))
    return text[:start] if dice.random() < 0.3 else text[:start] + piece + text[end:]


def judge(workbook: Workbook) -> None:
    """Judge every train by every readout and say it in words."""
    for train in workbook.trains:
        readout = read(train, workbook.by_id)
        for error in readout.errors:
            raise error
        for finding in readout.findings:
            assert all(finding.sentences)
        for figure in readout.figures.values():
            assert figure.words.label
            assert figure.shown != ""


def _few_trains(book: Workbook) -> list[Workbook]:
    """Return the workbook cut into pieces of a few trains and all parts of these, so that a value spoilt matters."""
    pieces = []
    for start in range(0, len(book.trains), 3):
        trains = book.trains[start : start + 3]
        text = to_text(book.model_copy(update={"trains": trains}))
        shelf = tuple(part for part in book.shelf if text.count(f'"{part.id}"') > 1)
        pieces.append(book.model_copy(update={"trains": trains, "shelf": shelf}))
    return pieces


def found_left(text: str, dice: random.Random) -> None:
    """Look for left work where its file is this text under a head, itself spoilt now and then; other work stays."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        whole = Autosave(folder)
        whole.keep(demo_workbook().model_copy(update={"name": "whole"}), None)
        whole.let_go()
        head = json.dumps({"belongs_to": dice.choice(ODD), "digest": dice.choice(ODD), "kept_at": dice.choice(ODD)})
        head = mangled(head, dice) if dice.random() < 0.3 else head
        (folder / "spoilt.recovery").write_text(f"{head}\n{text}", encoding="utf-8", errors="surrogatepass")
        if not any(one.workbook.name == "whole" for one in left_behind(folder)):
            raise AssertionError("a spoilt recovery file hides another")


def spoilt(times: int, seed: int) -> dict[str, Any]:
    """Spoil and read so many files; returns the counts, and each trouble with what led to it."""
    dice, book = random.Random(seed), demo_workbook()
    table = shelf_to_csv(book.shelf)
    documents = [json.loads(to_text(few)) for few in _few_trains(book)]
    counts: dict[str, Any] = {"loaded": 0, "refused": 0, "slowest_s": 0.0, "wrong": []}
    for turn in range(times):
        way = dice.random()
        csv, left = way < 0.2, way > 0.9
        text = mangled(table, dice) if csv else spoil(dice.choice(documents), dice)
        start = time.perf_counter()
        try:
            if csv:
                preview_csv(text, book.by_id)
            elif left:
                found_left(text, dice)
            else:
                judge(from_text(text, "spoilt.farrail.json"))
            counts["loaded"] += 1
        except FarRailError:
            counts["refused"] += 1
        except Exception as error:
            trace = error.__traceback__
            while trace is not None and trace.tb_next is not None:
                trace = trace.tb_next
            where = "" if trace is None else f" in {trace.tb_frame.f_code.co_qualname}, line {trace.tb_lineno}"
            counts["wrong"].append(f"turn {turn}: {type(error).__name__}: {str(error)[:120]}{where}")
        counts["slowest_s"] = max(counts["slowest_s"], time.perf_counter() - start)
    return counts


if __name__ == "__main__":
    called(__doc__, spoilt, folder=False, times=200, seed=1)
