"""The routes, answered at random: absurdly, in the wrong unit, gone back and changed; refusals are sentences."""

import random

import pytest

from farrail.errors import FarRailError
from farrail.parts.origin import Origin
from farrail.readouts.read import read
from farrail.workbook.reading import from_text, to_text
from farrail.workbook.routes.answer import Answer, Route, new_train_id, open_questions, still_needed
from farrail.workbook.routes.question import Question, RouteContext
from farrail.workbook.workbook import Workbook, empty_workbook

# What people write for one question or another, and what nobody can use.
TEXTS = [
    "",
    "none",
    "no",
    "36x24",
    "one inch",
    "17.5",
    "3.76",
    "M42x0.75 internal",
    "M48x0.75 internal to M42x0.75 external",
    "44 mm SLR bayonet",
    "432 f/6",
    "8-15 fisheye",
    "24-105",
    "24 tilt-shift",
    "f/2.8",
    "1:1.8",
    "77",
    '2" nosepiece',
    "T2",
    "55 ± 0.3",
    "55 and 55.25",
    "0.8x",
    "80 %",
    "27, or 17: 27, 35: 30",
    "17: 27, 35: 30",
    "10 stops; 3 stops soft",
    "ND1000",
    "100",
    "95 x 80",
    "86",
    "bayonet",
    "magnetic",
    "67 to magnetic",
    "77 to 82",
    "3, 3, 5 polariser",
    "12, 20, 36",
    "+2, +4",
    "250 mm",
    "0.45 m",
    "1:6.6",
    "36 mm at 180 mm",
    "30 mm",
    "7 slots, 36 mm, 2 mm thick",
    "35 to 140, at 90",
    "50 f/1.8, 52",
    "8 up, at most 12",
    "7.4 x 5",
    "5 kg",
    "20 °C",
    "-7",
    "0",
    "1e400",
    "999999",
    "seven",
    "☃",
    "1/0",
    "±",
    ";;",
    ", ,",
    "a" * 300,
]


def answers_to(question: Question, chance: random.Random) -> str:
    if question.choices and chance.random() < 0.8:
        return chance.choice(question.choices)
    return chance.choice(TEXTS)


@pytest.mark.parametrize("seed", range(24))
@pytest.mark.parametrize("route", list(Route))
def test_any_answer_is_taken_or_refused_in_a_sentence(route: Route, seed: int) -> None:
    chance, workbook = random.Random(f"{route}{seed}"), empty_workbook()
    train = new_train_id(workbook, route)
    for _ in range(40):
        stand = RouteContext(workbook, train)
        asked = open_questions(route, stand)
        # Mostly onward, now and then back to one answered before.
        question = chance.choice(asked) if chance.random() < 0.4 else asked[min(_, len(asked) - 1)]
        text = answers_to(question, chance)
        try:
            after = Answer(route, train, question.key, text, chance.choice(list(Origin))).apply(workbook)
        except FarRailError as error:
            said = str(error)
            assert said.rstrip(".").strip(), (question.key, text)
            assert "_mm" not in said, (question.key, text, said)
            assert "Traceback" not in said
            continue
        workbook = after
        _can_be_read(workbook, train)
    # Nothing it made is lost in a file.
    assert from_text(to_text(workbook), "kept") == workbook


def _can_be_read(workbook: Workbook, train: str) -> None:
    stand = RouteContext(workbook, train)
    if stand.train is None:
        return
    readout = read(stand.train, workbook.by_id)
    assert readout.verdict.headline
    assert all(finding.sentences[0] for finding in readout.findings)
    assert not [error for error in readout.errors if not isinstance(error, FarRailError)]


@pytest.mark.parametrize("route", list(Route))
def test_every_question_may_be_skipped(route: Route) -> None:
    """Nothing but the first answer: what is still needed is said, and nothing is taken for known."""
    workbook = empty_workbook()
    train = new_train_id(workbook, route)
    first = open_questions(route, RouteContext(workbook, train))[0]
    workbook = Answer(
        route, train, first.key, "36x24" if first.stem == "camera.format" else "24", Origin.PUBLISHED
    ).apply(workbook)
    for question in open_questions(route, RouteContext(workbook, train))[1:]:
        if not question.choices:
            workbook = Answer(route, train, question.key, "", Origin.PUBLISHED).apply(workbook)
    stand = RouteContext(workbook, train)
    assert {question.key for question in still_needed(route, stand)} or route is not Route.NIGHT
    _can_be_read(workbook, train)
    readout = read(workbook.train(train), workbook.by_id)
    assert readout.spacing.requirement is None or readout.spacing.nothing_entered
