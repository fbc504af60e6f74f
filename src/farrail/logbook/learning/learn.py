"""All that the log calibrates of the parts of one train."""

from collections.abc import Iterator

from farrail.logbook.learning.close_up import learn_near_focus
from farrail.logbook.learning.guide_star import learn_guide_star
from farrail.logbook.learning.lengths import learn_lengths
from farrail.logbook.learning.model import Evidence, Found, Learnt, Refused
from farrail.logbook.learning.openings import learn_openings
from farrail.logbook.learning.pupil import learn_pupils
from farrail.logbook.learning.pupil_frames import joined, learn_pupils_of_frames
from farrail.logbook.learning.spacing_stars import learn_back_focus
from farrail.logbook.learning.stops import learn_stops
from farrail.parts.inventory_item import PartId
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.telescopes import Corrector
from farrail.train.train import Train


def learn(evidence: Evidence, train: Train) -> tuple[tuple[Found, ...], tuple[Refused, ...]]:
    """Return what the log calibrates of the parts of a train, and what it cannot say yet.

    Args:
        evidence: what was seen, with any train; what the others outvote is left out by `without_outvoted`.
        train: whose parts are meant.
    """
    return learn_of(evidence, set(train.part_ids()))


def learn_of(evidence: Evidence, mine: set[PartId]) -> tuple[tuple[Found, ...], tuple[Refused, ...]]:
    """Return the same of some parts, in any train."""
    found: list[Found] = []
    refused: list[Refused] = []
    for one in _all(evidence, mine):
        if one.part in mine:
            if isinstance(one, Found):
                found.append(one)
            else:
                refused.append(one)
    return tuple(found), tuple(refused)


def _all(evidence: Evidence, mine: set[PartId]) -> Iterator[Learnt]:
    for part_id in mine:
        part = evidence.shelf.get(part_id)
        if isinstance(part, CameraLens):
            yield from joined(learn_pupils(evidence, part), learn_pupils_of_frames(evidence, part))
            yield from learn_near_focus(evidence, part)
        elif isinstance(part, Corrector):
            yield from learn_back_focus(evidence, part)
    yield from learn_lengths(evidence)
    yield from learn_stops(evidence)
    yield from learn_openings(evidence)
    yield from learn_guide_star(evidence)
