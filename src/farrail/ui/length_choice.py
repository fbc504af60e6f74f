"""The unit lengths are shown in: kept for every start, and worn at once by windows made again."""

from collections.abc import Callable, Iterator
from functools import partial

from farrail import lengths
from farrail.language import N_, say
from farrail.lengths import LengthUnit
from farrail.ui.session import Session
from farrail.ui.widgets.palette import Entry

TITLES = {
    LengthUnit.MM: N_("Lengths: in millimetres"),
    LengthUnit.INCH: N_("Lengths: in inches"),
}


def choices(session: Session, anew: Callable[[], None]) -> Iterator[Entry]:
    """Return the units there are, as the palette and the menu find them; the callback makes the windows again."""
    for unit, title in TITLES.items():
        chosen = lengths.current() is unit
        yield Entry(str(title), say("in use") if chosen else say("unit"), partial(choose, session, unit, anew), chosen)


def choose(session: Session, unit: LengthUnit, anew: Callable[[], None]) -> None:
    """Say lengths in a unit from now on, and at every start."""
    if unit is lengths.current():
        return
    try:
        lengths.save(unit)
    except OSError as error:
        session.message.emit(say("The unit cannot be kept ({strerror}).", strerror=error.strerror), True)
        return
    lengths.choose(unit)
    anew()
