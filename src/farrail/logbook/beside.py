"""An observation beside what its train predicted then, and what it predicts with what is known now."""

from dataclasses import dataclass

from farrail.errors import FarRailError
from farrail.logbook.learning.model import Evidence
from farrail.logbook.observation import Compared, Observation
from farrail.logbook.state import State
from farrail.readouts.read import read
from farrail.train.train import with_conditions


@dataclass(frozen=True)
class Beside:
    """Two comparisons of one observation; None where its kind predicts nothing, or the train cannot be judged."""

    then: Compared | None
    now: Compared | None


def compared_then(seen: Observation, state: State) -> Compared | None:
    """Return an observation beside what its train predicted as it was placed and known then."""
    if type(seen).only_words:
        return None
    try:
        return seen.compared(read(with_conditions(state.train, seen.focal_mm, seen.f_number), state.by_id))
    except FarRailError:
        return None


def beside(seen: Observation, evidence: Evidence) -> Beside:
    """Return an observation beside its prediction then and now."""
    state = evidence.states[seen.state]
    then = compared_then(seen, state)
    if then is None:
        return Beside(None, None)
    try:
        return Beside(then, seen.compared(evidence.readout_of(seen)))
    except FarRailError:
        return Beside(then, None)
