"""Answering a question of a route: one step of undo, made of the edits the same hand would make one by one."""

from dataclasses import dataclass
from enum import StrEnum

from farrail.errors import EditRefused
from farrail.language import N_, Text
from farrail.parts.origin import Origin
from farrail.workbook.edits.trains import free_id
from farrail.workbook.routes import close_up, filters, night
from farrail.workbook.routes.common import Beginning
from farrail.workbook.routes.question import Question, RouteContext
from farrail.workbook.workbook import Workbook


class Route(StrEnum):
    """The three ways in."""

    NIGHT = "night"
    FILTERS = "filters"
    CLOSE_UP = "close_up"


QUESTIONS: dict[Route, tuple[Question, ...]] = {
    Route.NIGHT: night.QUESTIONS, Route.FILTERS: filters.QUESTIONS, Route.CLOSE_UP: close_up.QUESTIONS,
}  # fmt: skip
BEGINNINGS: dict[Route, Beginning] = {
    Route.NIGHT: night.BEGINNING, Route.FILTERS: filters.BEGINNING, Route.CLOSE_UP: close_up.BEGINNING,
}  # fmt: skip


def new_train_id(workbook: Workbook, route: Route) -> str:
    """Return the id the train of a route will have; a route can be run again for a further train."""
    return free_id(str(BEGINNINGS[route].name), {train.id for train in workbook.trains})


def question_of(route: Route, key: str) -> Question:
    """Return a question of a route.

    Raises:
        EditRefused: there is none of that key.
    """
    for question in QUESTIONS[route]:
        if question.key == key:
            return question
    raise EditRefused("There is no question “{key}” on this route.", key=key)


def open_questions(route: Route, stand: RouteContext) -> list[Question]:
    """Return the questions that are asked as a route is, in their order."""
    begun = stand.train is not None
    return [q for n, q in enumerate(QUESTIONS[route]) if (q.asked(stand) if begun else n == 0)]


def still_needed(route: Route, stand: RouteContext) -> list[Question]:
    """Return the questions a first verdict still waits for."""
    return [q for q in open_questions(route, stand) if q.needed and not q.told(stand)]


@dataclass(frozen=True)
class Answer:
    """Take one answer of a route."""

    route: Route
    train_id: str
    question: str
    text: str
    origin: Origin
    label: Text = N_("Answer")
    merge_key: str | None = None

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook with the answer placed on the rail."""
        stand = RouteContext(workbook, self.train_id)
        asked = question_of(self.route, self.question)
        after = asked.tell(stand, self.text, self.origin).workbook
        return after if self.text.strip() else _keeping_shared(workbook, after, self.train_id)


def _keeping_shared(before: Workbook, after: Workbook, train_id: str) -> Workbook:
    """Return the workbook after a forgotten answer, with the parts that other trains use as they were."""
    elsewhere = {part_id for train in before.trains if train.id != train_id for part_id in train.part_ids()}
    shelf = tuple(before.by_id[part.id] if part.id in elsewhere else part for part in after.shelf)
    return after.model_copy(update={"shelf": shelf})
