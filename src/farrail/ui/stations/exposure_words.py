"""What the Exposure station says: sentences and rows."""

from farrail.errors import FarRailError
from farrail.language import say
from farrail.optics.exposure import time_words
from farrail.readouts.exposure.model import Exposure, Way
from farrail.text.exposure_figures import in_all_units, payment_words, share_name, share_working
from farrail.ui.widgets.ledger_rows import Cell, Row
from farrail.ui.widgets.row_keys import FigureKey, ShareKey, TermKey

CARE = say("Cover the viewfinder and shade the camera; never point it at the Sun through these filters.")


def sentences(exposure: Exposure) -> tuple[str, str]:
    """Return the headline and what stands under it."""
    total, sky = exposure.total_stops, exposure.sky_stops
    if not exposure.shares:
        return say("Nothing in this train takes light."), say(
            "Filters and powered parts would stand here, each with its stops."
        )
    if not sky and all(not share.stops for share in exposure.shares):
        narrow = any(share.stops is None for share in exposure.shares)
        more = (
            say("A narrow passband dims each subject differently: meter through it.")
            if narrow
            else say("It is all clear glass.")
        )
        return say("Nothing here takes light worth counting."), more
    also = say(" Behind the graduated filter the sky loses {sky:.1f} more.", sky=sky) if sky else ""
    taken = (
        say("{total:.1f} stops", total=total)
        if total >= 0.0
        else say("−{total:.1f} stops: it gathers light", total=-total)
    )
    base = exposure.base_s
    if base is None:
        return say("The train takes {taken}.", taken=taken), say(
            "Give the time metered without filters.{also}", also=also
        )
    try:
        time_s = exposure.time_s
    except FarRailError as error:
        return say("The train takes {taken}.", taken=taken), f"{error}{also}"
    assert time_s is not None
    held = say(" Hold the shutter open by hand. {care}", care=CARE) if exposure.by_hand else ""
    exact = (
        say("{time_s:.3g} s exactly.", time_s=time_s)
        if time_s < 60.0
        else say("{time_s:.0f} s exactly.", time_s=time_s)
    )
    return say(
        "{taken}: {time_words} becomes {time_words_2}.",
        taken=taken,
        time_words=time_words(base),
        time_words_2=time_words(time_s),
    ), f"{exact}{also}{held}"


def ladder_rows(exposure: Exposure) -> list[Row]:
    """Return a row for each part that costs light, and their sum."""
    rows = []
    for number, share in enumerate(exposure.shares):
        stops = "–" if share.stops is None else say("{stops:.2f}", stops=share.stops).replace("-", "−")
        sky = "" if share.dark_stops is None else say("{dark_stops:.2f}", dark_stops=share.dark_stops)
        name, working = share_name(share), share_working(share)
        cells = (
            Cell(name, tip=f"{name}\n{working.source}"),
            Cell(stops, "steel" if share.stops in (None, 0.0) else "", origin=share.origin, tip=in_all_units(share)),
            Cell(sky, "steel", tip=say("what the dark part of a graduated filter takes")),
            Cell(working.numbers, "steel", tip=str(working)),
        )
        rows.append(Row(cells, ShareKey(number, share.part.id)))
    if rows:
        sky = say("{sky_stops:.2f}", sky_stops=exposure.sky_stops) if exposure.sky_stops else ""
        total = say("{total_stops:.2f}", total_stops=exposure.total_stops).replace("-", "−")
        told = (
            Cell(say("Together"), strong=True),
            Cell(total, strong=True, origin=exposure.origin),
            Cell(sky),
            Cell(""),
        )
        rows.append(Row(told, FigureKey("exposure.total_stops")))
    return rows


def payment_rows(exposure: Exposure) -> list[Row]:
    """Return a row for each way to pay; none where the time is beyond a day."""
    try:
        ways = exposure.payments()
    except FarRailError:
        return []
    rows = []
    for number, payment in enumerate(ways):
        what, was, becomes = payment_words(payment)
        before = Cell(was, "steel")
        if payment.way is Way.GUIDE_NUMBER:
            # Typed here: it belongs to the flash, and no other station asks for it.
            before = Cell(was or "…", "steel", edit=was, tip=say("Double-click to type it"), clears=True)
        rows.append(Row((Cell(what), before, Cell(becomes, strong=not number)), TermKey(payment.way.value)))
    return rows
