"""What can be followed of a train over many evenings: its readings, and what is left to each calibrated value."""

from dataclasses import replace

from farrail.language import say
from farrail.logbook.learning.doubts import doubts_of, without_outvoted
from farrail.logbook.learning.learn import learn
from farrail.logbook.learning.model import Evidence
from farrail.logbook.over_time import Series, residuals_of, series_of
from farrail.logbook.value_names import part_name
from farrail.train.train import Train
from farrail.workbook.edits.learnt import shelf_with
from farrail.workbook.workbook import Workbook


def all_series(workbook: Workbook, train: Train) -> list[Series]:
    """Return what can be shown of a train over time: its readings, then what is left to each calibrated value."""
    states, shelf = workbook.states_by_id, workbook.by_id
    found = list(series_of(workbook.log, states, train.id, shelf))
    evidence = Evidence.of(workbook.log, states, shelf)
    kept = without_outvoted(evidence, doubts_of(evidence))
    for one in learn(kept, train)[0]:
        after = shelf_with(workbook, (one,))
        left = residuals_of(one, Evidence(evidence.log, states, after), shelf)
        if left is not None and len(left.readings) > 1:
            name = say("Residuals: {part}, {value}", part=part_name(one.part, shelf), value=left.name)
            found.append(replace(left, name=name))
    return found
