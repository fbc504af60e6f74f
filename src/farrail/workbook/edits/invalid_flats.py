"""What an edit makes no longer valid: flat frames of a train whose light has moved since they were taken."""

from dataclasses import dataclass

from farrail.language import Text
from farrail.logbook.kinds.evening import DustSeen, Moved
from farrail.logbook.kinds.keeping import Flats
from farrail.logbook.seen_words import seen_words
from farrail.logbook.voids import moved
from farrail.workbook.history import Edit
from farrail.workbook.versions import RestoreVersion
from farrail.workbook.workbook import Workbook


@dataclass(frozen=True)
class WithDate:
    """An edit made on a day: flat frames that it makes no longer valid are marked so from that day on."""

    edit: Edit
    day: str

    @property
    def label(self) -> Text:
        """What the edit does."""
        return self.edit.label

    @property
    def merge_key(self) -> str | None:
        """As the edit merges."""
        return self.edit.merge_key

    def apply(self, workbook: Workbook) -> Workbook:
        """Return the workbook after the edit, with the flats it makes no longer valid."""
        after = self.edit.apply(workbook)
        if isinstance(self.edit, RestoreVersion):
            # It comes back as it was saved.
            return after
        return by_hand(workbook, with_voids(workbook, after, self.day, str(self.edit.label)))


def with_voids(before: Workbook, after: Workbook, day: str, by: str) -> Workbook:
    """Return a workbook with flat frames marked as no longer valid where the train's light has moved."""
    if after.trains is before.trains or not any(isinstance(seen, Flats) for seen in after.log):
        return after
    then = {train.id: train for train in before.trains}
    changed = {
        train.id for train in after.trains
        if train.id in then and train is not then[train.id] and moved(then[train.id], train, after.by_id)
    }  # fmt: skip
    if not changed:
        return after
    log = tuple(
        seen.model_copy(update={"void_since": day, "void_by": by[:300]})
        if isinstance(seen, Flats) and seen.void_since is None and seen.train in changed
        else seen
        for seen in after.log
    )
    return after.model_copy(update={"log": log})


def by_hand(before: Workbook, after: Workbook) -> Workbook:
    """Return a workbook whose flats end where someone wrote down that something moved, was cleaned or got dusty."""
    if after.log is before.log:
        return after
    known = {seen.id for seen in before.log}
    new = [seen for seen in after.log if seen.id not in known and isinstance(seen, Moved | DustSeen)]
    if not new:
        return after
    log = []
    for seen in after.log:
        cause = next(
            (one for one in new if isinstance(seen, Flats) and one.train == seen.train and one.day >= seen.day), None
        )
        if cause is not None and isinstance(seen, Flats) and seen.void_since is None:
            why = seen_words(cause, after.states_by_id[cause.state].by_id)
            seen = seen.model_copy(update={"void_since": cause.day, "void_by": why[:300]})
        log.append(seen)
    return after.model_copy(update={"log": tuple(log)})
