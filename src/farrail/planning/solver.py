"""The integer solver as this program uses it: OR-Tools CP-SAT through its compiled half alone.

The library's own Python half loads a table library of 84 MB for functions that are not needed here. What is needed is a
model of bounded whole numbers, linear constraints, and one search on one thread, so that the same question always has
the same answer.
"""

from collections.abc import Iterable
from typing import Any

from farrail.cancel import Cancel
from farrail.language import say

SECONDS = 20.0


class Undecided(Exception):
    """The search was cancelled or ran out of time: it can be said neither that there is an answer nor that not."""


class Model:
    """Whole numbers, what holds between them, and what is to be as small as possible."""

    def __init__(self) -> None:
        """Start with nothing."""
        # Loaded when something is planned: the library takes a third of a second.
        from ortools.sat.python import cp_model_helper

        self._library: Any = cp_model_helper
        self._model: Any = cp_model_helper.CpBaseModel(cp_model_helper.CpModelProto())

    def new_int_var(self, low: int, high: int, name: str) -> Any:
        """Return a whole number between two bounds, to be written in sums and comparisons."""
        from ortools.util.python.sorted_interval_list import Domain

        return self._library.IntVar(self._model.model_proto).with_name(name).with_domain(Domain(low, high))

    def new_bool_var(self, name: str) -> Any:
        """Return a number that is 0 or 1."""
        return self.new_int_var(0, 1, name)

    def add(self, comparison: Any) -> Any:
        """Ask that a comparison of sums holds; returns the constraint.

        A comparison of two plain numbers is true or false by itself.
        """
        if isinstance(comparison, self._library.BoundedLinearExpression):
            return self._model._add_bounded_linear_expression(comparison)  # the library's own Python half does the same
        return self.add_bool_or([True] if comparison else [])

    def add_bool_or(self, flags: Iterable[Any]) -> Any:
        """Ask that one of several flags is 1."""
        kind = self._library.BoolArgumentConstraint.bool_or
        return self._model._add_bool_argument_constraint(kind, *flags)

    def add_max_equality(self, target: Any, sums: Iterable[Any]) -> Any:
        """Ask that a number is the largest of several sums."""
        kind = self._library.LinearArgumentConstraint.max
        return self._model._add_linear_argument_constraint(kind, target, *sums)

    def minimize(self, wanted: Any) -> None:
        """Say what is to be as small as possible, in place of what was said before."""
        self._model.model_proto.clear_objective()
        objective = self._model.model_proto.objective
        objective.scaling_factor = 1.0
        if isinstance(wanted, int):
            objective.offset = wanted
            return
        flat = self._library.FlatIntExpr(wanted)
        for variable in flat.vars:
            objective.vars.append(variable.index)
        objective.offset = flat.offset
        objective.coeffs.extend(flat.coeffs)

    def solve(self, cancel: Cancel | None = None, seconds: float = SECONDS) -> "Solution | None":
        """Return the proven best answer, None where there is provably none.

        Args:
            cancel: set from outside to stop.
            seconds: how long it may take.

        Raises:
            Undecided: cancelled, or out of time.
            ValueError: the model is not one the library can work on.
        """
        library, cancel = self._library, cancel or Cancel()
        parameters = library.SatParameters()
        parameters.num_workers = 1
        parameters.max_time_in_seconds = seconds
        # Linear relaxations cost more than they prune here: 0.12 s against 0.32 s at 200 pieces.
        parameters.linearization_level = 0
        wrapper = library.SolveWrapper()
        wrapper.set_parameters(parameters)
        with cancel.stopping(wrapper.stop_search):
            response = None if cancel.is_set() else wrapper.solve(self._model.model_proto)
        if cancel.is_set() or response is None:
            raise Undecided(say("The search was cancelled."))
        if response.status == library.INFEASIBLE:
            return None
        if response.status == library.MODEL_INVALID:
            why = library.CpSatHelper.validate_model(self._model.model_proto)
            raise ValueError(f"The solver refuses the question: {why}")
        if response.status != library.OPTIMAL:
            raise Undecided(say("The search did not end within {seconds:g} seconds.", seconds=seconds))
        return Solution(library.ResponseHelper, response)


class Solution:
    """The best answer to a model."""

    def __init__(self, helper: Any, response: Any) -> None:
        """Hold what the library answered."""
        self._helper, self._response = helper, response

    def value(self, wanted: Any) -> int:
        """Return what a number or a sum comes to."""
        found: int = self._helper.value(self._response, wanted)
        return found

    @property
    def objective_value(self) -> int:
        """What was made as small as possible."""
        value: float = self._response.objective_value
        return round(value)
