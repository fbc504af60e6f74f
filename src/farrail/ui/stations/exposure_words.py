"""What the Exposure station says: sentences and rows."""

from collections.abc import Mapping

from farrail.errors import FarRailError
from farrail.language import N_, say
from farrail.optics.exposure import time_words
from farrail.readouts.exposure.figure_texts import in_all_units, payment_words, share_name, share_working
from farrail.readouts.exposure.model import Compensation, Exposure
from farrail.readouts.figure import Figure
from farrail.readouts.interval_words import interval_words, reason_words
from farrail.readouts.range_findings import RangeReport
from farrail.readouts.ranges import both_ends
from farrail.ui.widgets.ledger_rows import Cell, Row
from farrail.ui.widgets.row_keys import FigureKey, ShareKey, TermKey

CARE = N_("Cover the viewfinder and shade the camera; never point it at the Sun through these filters.")


def time_interval(exposure: Exposure, ranges: RangeReport) -> str:
    """Return the interval of the exposure time, such as `60 s to 120 s`; "" where it is certain or not metered."""
    ends = total_ends(exposure, ranges)
    if ends is None or exposure.base_s is None:
        return ""
    try:
        low, high = (exposure.time_after(end) or exposure.base_s for end in ends)
    except FarRailError:
        return ""
    return say("{low} to {high}", low=time_words(low), high=time_words(high))


def sentences(exposure: Exposure, ranges: RangeReport) -> tuple[str, str]:
    """Return the headline and the detail under it, with the intervals of what is not known."""
    total, sky = exposure.total_stops, exposure.sky_stops
    if not exposure.shares:
        return say("No light loss: this train has no filter and no powered part."), say(
            "Each filter and powered part is listed here with the stops it costs."
        )
    ends = total_ends(exposure, ranges)
    if not sky and ends is None and all(not share.stops for share in exposure.shares):
        if any(share.stops is None for share in exposure.shares):
            return say("Light loss not in stops: a narrow passband."), say(
                "It dims each subject differently: meter through the filter."
            )
        return say("No measurable light loss from the parts entered."), say(
            "No density or passband is entered for these filters; they count as 0 stops."
        )
    also = say("Behind the graduated filter the sky loses {sky:.1f} stops more.", sky=sky) if sky else ""
    taken = _stops_words(total, ends)
    reason = reason_words(ranges.spread_of("exposure.total_stops"), ranges.shelf)
    if not reason and ends is not None:
        reason = say("polariser not metered")
    why = say("Depends on: {reason}.", reason=reason) if ends is not None else ""
    base = exposure.base_s
    if base is None:
        detail = say("Enter the time metered without filters.")
        return say("Light lost: {taken}.", taken=taken), _joined(detail, why, also)
    try:
        time_s = exposure.time_s
    except FarRailError as error:
        return say("Light lost: {taken}.", taken=taken), _joined(str(error), why, also)
    assert time_s is not None
    held = say("Use bulb mode with a remote release. {care}", care=CARE) if exposure.by_hand else ""
    if ends is None:
        exact = say("Exactly {time}.", time=_seconds(time_s))
        becomes = time_words(time_s)
    else:
        low, high = (exposure.time_after(end) or base for end in ends)
        exact = say("Between {low} and {high}.", low=_seconds(low), high=_seconds(high))
        becomes = time_interval(exposure, ranges)
    return say(
        "{taken}: {time_words} becomes {time_words_2}.", taken=taken, time_words=time_words(base), time_words_2=becomes
    ), _joined(exact, why, also, held)


def total_ends(exposure: Exposure, ranges: RangeReport) -> tuple[float, float] | None:
    """Return the least and greatest total light loss in stops; None if both read the same."""
    ends = both_ends(exposure.total_ends, ranges.spread_of("exposure.total_stops"))
    return None if ends is None or ends[1] - ends[0] < 0.05 else ends


def _stops_words(total: float, ends: tuple[float, float] | None) -> str:
    if ends is not None:
        return say("{total:.1f} stops ({low:.1f} to {high:.1f})", total=total, low=ends[0], high=ends[1])
    if total < 0.0:
        return say("−{total:.1f} stops: the train gathers light", total=-total)
    return say("{total:.1f} stops", total=total)


def _seconds(time_s: float) -> str:
    return say("{time_s:.3g} s", time_s=time_s) if time_s < 60.0 else say("{time_s:.0f} s", time_s=time_s)


def _joined(*sentences: str) -> str:
    return " ".join(sentence for sentence in sentences if sentence)


def ladder_rows(exposure: Exposure, figures: Mapping[str, Figure]) -> list[Row]:
    """Return a row for each part that costs light, and their sum.

    Args:
        exposure: the readout.
        figures: its figures with their intervals.
    """
    rows = []
    for number, share in enumerate(exposure.shares):
        figure = figures.get(f"exposure.{number + 1}.{share.part.id}_stops")
        stops = "–" if share.stops is None or figure is None else interval_words(figure, _digits(figure))
        sky = "" if share.dark_stops is None else say("{dark_stops:.2f}", dark_stops=share.dark_stops)
        name, working = share_name(share), share_working(share)
        cells = (
            Cell(name, tip=f"{name}\n{working.source}"),
            Cell(stops, "steel" if share.stops in (None, 0.0) else "", origin=share.origin, tip=in_all_units(share)),
            Cell(sky, "steel", tip=say("light lost in the dark part of a graduated filter")),
            Cell(working.numbers, "steel", tip=str(working)),
        )
        rows.append(Row(cells, ShareKey(number, share.part.id)))
    if rows:
        sky = say("{sky_stops:.2f}", sky_stops=exposure.sky_stops) if exposure.sky_stops else ""
        whole = figures["exposure.total_stops"]
        total = interval_words(whole, _digits(whole))
        told = (
            Cell(say("Together"), strong=True),
            Cell(total, strong=True, origin=exposure.origin),
            Cell(sky),
            Cell(""),
        )
        rows.append(Row(told, FigureKey("exposure.total_stops")))
    return rows


def _digits(figure: Figure) -> int:
    """Return the decimals of a share: an interval has one digit after the point."""
    return 2 if figure.low is None else 1


def payment_rows(exposure: Exposure, ranges: RangeReport) -> list[Row]:
    """Return a row for each way to compensate, with its interval; none where the time is beyond a day."""
    ends = total_ends(exposure, ranges)
    try:
        ways = exposure.payments()
        between = None if ends is None else tuple(exposure.payments(end) for end in ends)
    except FarRailError:
        return []
    rows = []
    for number, payment in enumerate(ways):
        what, was, becomes = payment_words(payment)
        if between is not None:
            low, high = (payment_words(each[number])[2] for each in between)
            becomes = becomes if low == high else say("{low} to {high}", low=low, high=high)
        before = Cell(was, "steel")
        if payment.way is Compensation.GUIDE_NUMBER:
            # Typed here: it belongs to the flash, and no other station asks for it.
            before = Cell(was or "…", "steel", edit=was, tip=say("Double-click to type it"), clears=True)
        rows.append(Row((Cell(what), before, Cell(becomes, strong=not number)), TermKey(payment.way.value)))
    return rows
