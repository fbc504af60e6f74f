"""Makes random edits of every kind with values typed and extreme, and undoes them to the same bytes.

    python tests/hardening/random_edits.py --times 2000 --seed 1

Each edit must be made or refused in a sentence; what is afterwards reads back. Prints one line of JSON.
"""

import dataclasses
import inspect
import random
import resource
import time
from collections.abc import Callable
from types import ModuleType
from typing import Any

from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import FarRailError
from farrail.logbook.learning.learn import learn
from farrail.logbook.learning.model import Evidence
from farrail.logbook.registry import OBSERVATIONS
from farrail.parts.fields import fields_of
from farrail.parts.origin import Origin
from farrail.parts.provenance import Reading
from farrail.train.train import GuidePort, Side, Sky, Target
from farrail.workbook.edits import building, figures, front, laying, learnt, log, shelf, states, trains
from farrail.workbook.edits.typed import parse_value
from farrail.workbook.history import Edit, History
from farrail.workbook.reading import from_text, to_text
from farrail.workbook.routes import answer
from farrail.workbook.routes.answer import QUESTIONS, Route
from farrail.workbook.workbook import Workbook
from tests.hardening.running import called

NUMBERS = (0.0, -1.0, 5e-324, 1e-6, 0.3, 0.7, 1.0, 2.8, 12.0, 55.0, 90.0, 180.0, 560.0, 1100.0, 1e5, 1e300, -1e300,
           float("nan"), float("inf"))  # fmt: skip
TYPED = ("12", "12,5", "12.00 ±0.05", "10..20", "24-70", "", "-", "1e400", "0", "-3", "abc", "12 mm", "10x", "3 stops",
         "50 %", "1100", "0.000001", "٣", "12.5.5", "±", "nan", "inf", "9" * 400)  # fmt: skip
ANSWERS = ("36x24", "one inch", "432 f/6", "17-35", "55 and 55.25", "M42x0.75 internal to M48x0.75 external", "77",
           "77 to 82", "bayonet", "10 stops; 3 stops soft", "12, 20, 36", "+2, +4", "36 mm at 180 mm", "none",
           "shelf:skua-apsc", "shelf:no-such-part", "44 mm SLR bayonet", "17: 27, 35: 30")  # fmt: skip
NAMES = ("", "x", "R&D <b>", "é‮\n", "n" * 300, " spaced ", "Ring")
# Not drawn: what a planner or a search makes is a whole row; its parts are drawn one by one here.
LEFT_OUT = ("LayPlan", "LayTogether", "LayCloseUp", "ImportParts", "ImportObservations")


SEEN = tuple(seen.id for seen in demo_workbook().log)
KEPT = tuple(state.id for state in demo_workbook().states)


def edits_of(*modules: ModuleType) -> list[Any]:
    """Return every edit class there is."""
    found: list[Any] = []
    for module in modules:
        for name, value in vars(module).items():
            own = inspect.isclass(value) and value.__module__ == module.__name__
            if own and dataclasses.is_dataclass(value) and hasattr(value, "apply") and name not in LEFT_OUT:
                found.append(value)
    return found


def drawn(kind: Any, book: Workbook, dice: random.Random) -> Edit:
    """Return an edit of a class with arguments drawn by what its fields are called."""
    part = dice.choice(book.shelf)
    train = dice.choice(book.trains) if book.trains else None
    paths = [field.path for field in fields_of(type(part))]
    path = dice.choice([*paths, "name", "owned", "price", "note", "nothing.there"])
    made: dict[str, Any] = {}
    for field in dataclasses.fields(kind):
        if field.name in ("label", "merge_key"):
            continue
        made[field.name] = _argument(
            field.name, str(field.type), dice, part.id, None if train is None else train.id, path
        )
    if kind.__name__ == "AddPart":
        made["part"] = part
    if kind.__name__ == "Answer":
        route = dice.choice(tuple(Route))
        question = dice.choice(QUESTIONS[route])
        made.update(route=route, question=question.key, text=dice.choice((*TYPED, *ANSWERS, *question.choices)))
    if kind.__name__ in ("WriteDown", "ChangeObservation"):
        seen = dice.choice(tuple(OBSERVATIONS.values()))
        names = dice.sample(tuple(seen.model_fields), k=min(4, len(seen.model_fields)))
        made["values"] = {name: dice.choice((*NUMBERS, *NAMES, None, True, "round", part.id)) for name in names}
        if kind.__name__ == "WriteDown":
            made["kind"] = seen
    if kind.__name__ == "TakeOver":
        evidence = Evidence(book.log, book.states_by_id, book.by_id)
        made["found"] = learn(evidence, dice.choice(book.trains))[0] if book.trains else ()
    if kind.__name__ == "LayStack":
        other = dice.choice(book.trains) if book.trains else None
        made["front_stack"] = () if other is None else other.front_stack
        made["bought"] = dice.choice(((), (part,)))
        made["conditions"] = None if other is None else dice.choice((None, other.conditions))
    if kind.__name__ == "AddTrain":
        made.update(optic=dice.choice(book.shelf).id, camera=dice.choice((None, dice.choice(book.shelf).id)))
    return kind(**made)  # type: ignore[no-any-return]


def _argument(name: str, annotation: str, dice: random.Random, part: str, train: str | None, path: str) -> Any:
    if name == "train_id":
        return train if dice.random() < 0.95 else "nowhere"
    if name == "readings":
        return tuple(parse_value(path, dice.choice(TYPED), Origin.MEASURED) for _ in range(dice.choice((1, 2))))
    if name == "reading":
        if dice.random() < 0.5:
            return parse_value(path, dice.choice(TYPED), dice.choice(tuple(Origin)))
        return Reading(value=dice.choice(NUMBERS[:-2]), origin=dice.choice(tuple(Origin)))
    fixed: dict[str, Callable[[], Any]] = {
        "side": lambda: dice.choice(tuple(Side)),
        "target": lambda: dice.choice((None, Target(name="A cloud", width_arcmin=40.0, height_arcmin=30.0))),
        "sky": lambda: dice.choice((None, Sky(), Sky(sun_high_deg=-18.0, most_polarised=0.0, polariser_deg=-180.0))),
        "guide": lambda: dice.choice((None, GuidePort(camera=part), GuidePort(camera="skua-full", between=(part,)))),
        "path": lambda: path,
        "step": lambda: dice.choice((*NAMES, "table", "screw:rear_train.1.-1")),
        "day": lambda: dice.choice(("2026-11-27", "yesterday", "", "9999-99-99", None)),
        "origin": lambda: dice.choice(tuple(Origin)),
        "route": lambda: None,
        "observation": lambda: dice.choice((*SEEN, "nothing")),
        "state": lambda: dice.choice((*KEPT, "nothing")),
        "kind": lambda: None,
        "values": dict,
        "found": tuple,
        "question": lambda: "",
        "text": lambda: "",
        "name": lambda: dice.choice(NAMES),
        "kit": lambda: dice.choice(NAMES),
        # Text boxes give text.
        "value": lambda: dice.choice(NAMES if path in ("name", "note") else (*NUMBERS, *NAMES, None, True, [], {})),
    }
    if name in fixed:
        return fixed[name]()
    if "bool" in annotation:
        return dice.random() < 0.5
    if "PartId" in annotation:
        return dice.choice((part, part, part, None if "None" in annotation else part, "no-such-part"))
    if name in ("index", "slot", "to"):
        return dice.choice((0, 0, 1, 1, 2, 3, 4, 7, -1, 400))
    return dice.choice((*NUMBERS, None) if "None" in annotation else NUMBERS)


def attack(times: int, seed: int) -> dict[str, Any]:
    """Make so many random edits; returns the counts and what was wrong."""
    dice, history = random.Random(seed), History(demo_workbook(), limit=times + 1)
    kinds = edits_of(front, laying, shelf, trains, figures, building, answer, log, states, learnt)
    first, made, refused, wrong = to_text(history.present), 0, 0, []
    slowest = 0.0
    for number in range(times):
        kind = dice.choice(kinds)
        # Much is taken away at random: something must stay to work on.
        if kind.__name__ in ("DiscardPart", "RemoveTrain", "RemovePart") and dice.random() < 0.7:
            continue
        start = time.perf_counter()
        try:
            edit = drawn(kind, history.present, dice)
            made += history.do(edit)
        except FarRailError as error:
            refused += 1
            if not str(error).strip():
                wrong.append(f"{number} {kind.__name__}: refused without a word")
        except Exception as error:
            wrong.append(f"{number} {kind.__name__}: {type(error).__name__}: {str(error)[:160]}")
        slowest = max(slowest, time.perf_counter() - start)
        if number % 10 == 0 and from_text(to_text(history.present), "x") != history.present:
            wrong.append(f"{number}: does not read back as it is")
    if from_text(to_text(history.present), "x") != history.present:
        wrong.append("the last state does not read back as it is")
    while history.undo() is not None:
        pass
    if to_text(history.present) != first:
        wrong.append("undone to other bytes")
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024.0
    return {"tried": times, "made": made, "refused": refused, "slowest_s": round(slowest, 3),
            "peak_mb": round(peak), "wrong": wrong}  # fmt: skip


if __name__ == "__main__":
    called(__doc__, attack, folder=False, times=2000, seed=1)
