"""Sentences about the front stack."""

from collections.abc import Callable

from farrail.language import N_, say
from farrail.readouts.front.model import CLEAN_STOPS
from farrail.readouts.front.polariser import PolariserAt
from farrail.text.names import aperture_name, loss_name
from farrail.text.range_findings import unknown_name
from farrail.text.values import Values, focal_or_none, mm_or_none
from farrail.train.train import Sky

Told = tuple[str, str]
PLACES = {
    PolariserAt.OUTERMOST: N_("outermost"),
    PolariserAt.ON_LENS: N_("on the lens"),
    PolariserAt.BEHIND_SHEETS: N_("behind the square filters"),
    PolariserAt.IN_SLOT: N_("in a slot"),
}


def _clean_from(v: Values) -> str:
    return (
        say("nowhere in its range")
        if v.first_clean_mm is None
        else say("from {first_clean_mm:.1f} mm on", first_clean_mm=v.first_clean_mm)
    )


def _no_lens(v: Values) -> Told:
    return (
        say("There is a front stack ahead of a telescope."),
        say("Its pupil is the objective itself: what is ahead of it is not judged here."),
    )


def _nothing_holds(v: Values) -> Told:
    return (
        say("{lens} has no filter thread to hold {part}.", lens=v.lens, part=v.part),
        say("Give its front connection in Parts, or use a slip-on holder made for it."),
    )


def _focal_outside(v: Values) -> Told:
    return (
        say("{lens} cannot be set to {wanted_mm:g} mm.", lens=v.lens, wanted_mm=v.wanted_mm),
        say(
            "It reaches from {low_mm:g} to {high_mm:g} mm; set a focal length between.",
            low_mm=v.low_mm,
            high_mm=v.high_mm,
        ),
    )


def _field_too_wide(v: Values) -> Told:
    return (
        say(
            "The corner looks {angle_deg:.0f}° to the side, beyond anything flat ahead of the lens.",
            angle_deg=v.angle_deg,
        ),
        say("Any holder vignettes; crop, or judge by the part of the frame within 89°."),
    )


def _shows_over_range(v: Values) -> Told:
    low, high = v.range_stops
    between = say("{low:.2f} to {high}", low=low, high=loss_name(high))
    name, first = v.aperture.part.name, ""
    if v.named:
        first = say("Enter or measure first: {unknown}.", unknown=unknown_name(v))
    if low <= CLEAN_STOPS:
        title = say(
            "{name} may darken the corners at {focal_mm:g} mm: {between}.",
            name=name,
            focal_mm=v.focal_mm,
            between=between,
        )
    else:
        title = say(
            "{name} darkens the corners at {focal_mm:g} mm: {between}.",
            name=name,
            focal_mm=v.focal_mm,
            between=between,
        )
    return title, first


def darkens(name: str, focal_mm: float, stops: float) -> str:
    """Return how much a part darkens the corners at a focal length.

    Args:
        name: the part's.
        focal_mm: the focal length.
        stops: light lost in the darkest corner; infinity where none is left.
    """
    if stops == float("inf"):
        return say("{name} makes the corners black at {focal_mm:g} mm.", name=name, focal_mm=focal_mm)
    return say(
        "{name} darkens the corners by {stops:.2f} stops at {focal_mm:g} mm.", name=name, stops=stops, focal_mm=focal_mm
    )


def _shows(v: Values) -> Told:
    if v.ranged:
        return _shows_over_range(v)
    return (
        darkens(v.aperture.part.name, v.focal_mm, v.lost_stops),
        say(
            "Its {aperture_name} causes most of it. Free of vignetting {clean_from}.",
            aperture_name=aperture_name(v.aperture),
            clean_from=_clean_from(v),
        ),
    )


def _clean(v: Values) -> Told:
    return say("The front stack is free of vignetting at {focal_mm:g} mm.", focal_mm=v.focal_mm), say(
        "Free of vignetting {clean_from}.", clean_from=_clean_from(v)
    )


def _first_clean_band(v: Values) -> str:
    low, high = v.band_mm
    return (
        say("whatever it is")
        if low == high
        else say("{low} to {high}", low=focal_or_none(low), high=focal_or_none(high))
    )


def _pupil_assumed(v: Values) -> Told:
    walks = (
        say(" Seen from the corner it may be closer to the front; find it for that direction as well.")
        if v.walks
        else ""
    )
    return (
        say(
            "The entrance pupil is only assumed: free of vignetting {first_clean_band}.",
            first_clean_band=_first_clean_band(v),
        ),
        say(
            "Find the no-parallax point: pivot until near and far objects stay aligned, and note "
            "its distance behind the filter thread.{walks} Or note at which focal length a known "
            "holder first darkens a corner.",
            walks=walks,
        ),
    )


def _pupil_walk(v: Values) -> Told:
    return (
        say(
            "The entrance pupil's shift toward the corner is not known: free of vignetting {first_clean_band}.",
            first_clean_band=_first_clean_band(v),
        ),
        say(
            "On wide lenses it is closer to the front, seen from the corner. Find the "
            "no-parallax point with the subject in the corner, or note the focal length at "
            "which this stack first darkens a corner."
        ),
    )


def _own_vignetting(v: Values) -> Told:
    return (
        say("What {lens} itself loses in the corner at f/{f_number:g} is not known.", lens=v.lens, f_number=v.f_number),
        say(
            "Where the lens's own rim already darkens the corner, the stack adds less than "
            "shown. Enter its corner loss wide open, or the clear diameter and depth of its "
            "front glass."
        ),
    )


def _standard_ring(v: Values) -> Told:
    return (
        say("{ring} is a standard adapter ring on a wide-angle lens.", ring=v.ring),
        say(
            "At {limit_mm:.0f} mm or less on this frame a recessed ring is usual; dimensions here are assumed.",
            limit_mm=v.limit_mm,
        ),
    )


def _protection(v: Values) -> Told:
    return (
        say("{filter} is still fitted at {limit_mm:.0f} mm or less.", filter=v.filter, limit_mm=v.limit_mm),
        say("It sets the holder {length_mm:.1f mm} further out: take it off first.", length_mm=v.length_mm),
    )


def _coupled(v: Values) -> Told:
    return (
        say("Two coupled holders turn on their own on a lens wider than normal."),
        say(
            "The stack is long: from about {limit_mm:.0f} mm on it usually stays out of this frame.",
            limit_mm=v.limit_mm,
        ),
    )


def _slots(v: Values) -> Told:
    left = say("no slot") if v.free <= 0 else say("one slot") if v.free == 1 else say("{free} slots", free=v.free)
    more = (
        say("Another filter needs an extra slot module.")
        if v.free <= 0
        else say("An unused slot adds depth: remove one slot to reduce vignetting.")
    )
    return say("{holder} has {left} left.", holder=v.holder, left=left), more


def _drop_in(v: Values) -> Told:
    return (
        say("{filter} does not drop into {holder}.", filter=v.filter, holder=v.holder),
        say(
            "Its width is {wide_mm:.1f mm}; the holder accepts {mm_or_none}.",
            wide_mm=v.wide_mm,
            mm_or_none=mm_or_none(v.accepts_mm),
        ),
    )


def _thick(v: Values) -> Told:
    return (
        say("{sheet} is too thick for slot {slot}.", sheet=v.sheet, slot=v.slot),
        say(
            "It is {thick_mm:.1f mm} thick; the slot accepts {slot_mm:.1f mm}. A slot for thick filters solves this.",
            thick_mm=v.thick_mm,
            slot_mm=v.slot_mm,
        ),
    )


def _width(v: Values) -> Told:
    word = say("wider") if v.wide_mm > v.accepts_mm else say("narrower")
    return say("{sheet} is {word} than {holder} accepts.", sheet=v.sheet, word=word, holder=v.holder), say(
        "{wide_mm:.0f mm} against {accepts_mm:.0f mm}.", wide_mm=v.wide_mm, accepts_mm=v.accepts_mm
    )


def _gasket(v: Values) -> Told:
    if not v.baffle:
        return (
            say("{holder} has no plate for the gasket of {sheet}.", holder=v.holder, sheet=v.sheet),
            say("Stray light comes in from behind: shade the holder's back, or use a holder with a plate there."),
        )
    return (
        say("{sheet} belongs in the rearmost slot.", sheet=v.sheet),
        say("Its gasket seals against the plate behind it; further out stray light comes in from behind."),
    )


def _overlap(v: Values) -> Told:
    return (
        say(
            "{sheet} and {other} overlap by {overlap_mm:.1f mm} in their slots.",
            sheet=v.sheet,
            other=v.other,
            overlap_mm=v.overlap_mm,
        ),
        say(
            "The slots are {pitch_mm:g mm} apart, centre to centre. Leave a slot free between "
            "them, or measure the slots.",
            pitch_mm=v.pitch_mm,
        ),
    )


def _slot_outside(v: Values) -> Told:
    return (
        say(
            "Slot {slot} of {holder} is {outside_mm:.1f mm} outside its body.",
            slot=v.slot,
            holder=v.holder,
            outside_mm=v.outside_mm,
        ),
        say(
            "The body is {long_mm:g mm} long: measure the position of the first slot and the distance to the next.",
            long_mm=v.long_mm,
        ),
    )


def _line_outside(v: Values) -> Told:
    title = (
        say("The transition of {sheet} is above the picture.", sheet=v.sheet)
        if v.above
        else say("The transition of {sheet} is below the picture.", sheet=v.sheet)
    )
    detail = (
        say("It has no effect there. Slide the filter down by {slide_mm:.0f mm}.", slide_mm=abs(v.slide_mm))
        if v.above
        else say("It darkens the whole picture. Slide the filter up by {slide_mm:.0f mm}.", slide_mm=abs(v.slide_mm))
    )
    return title, detail


def _edge(v: Values) -> Told:
    if not v.corners:
        return (
            say("No filter can cover the corners of this frame; {sheet} leaves them free.", sheet=v.sheet),
            say(
                "They look beyond anything flat. The middles of the sides need {needed_mm:.0f length} × "
                "{needed_mm_2:.0f mm} there; crop, or use a longer focal length.",
                needed_mm=v.needed_mm[0],
                needed_mm_2=v.needed_mm[1],
            ),
        )
    return (
        say("The edge of {sheet} shows in the picture.", sheet=v.sheet),
        say(
            "Filter size needed there: {needed_mm:.0f length} × {needed_mm_2:.0f mm}; this one "
            "is {wide_mm:.0f length} × {high_mm:.0f mm}, slid by {shift_mm:g mm}.",
            needed_mm=v.needed_mm[0],
            needed_mm_2=v.needed_mm[1],
            wide_mm=v.wide_mm,
            high_mm=v.high_mm,
            shift_mm=v.shift_mm,
        ),
    )


def _sun(v: Values) -> Told:
    return (
        say("{filter} is no solar filter.", filter=v.filter),
        say(
            "Never point a lens or your eye at the Sun through neutral density or polarising filters; use a certified "
            "solar filter over the whole front."
        ),
    )


def _square_polariser(v: Values) -> Told:
    extra = "" if v.order_right else say(" Put the graduated filter outermost, ahead of the polariser.")
    return (
        say(
            "{polariser} turns with the holder: the graduated filter leaves it 0° and 90° only.", polariser=v.polariser
        ),
        say("A square polariser has no turn of its own.{extra} A round one turns freely.", extra=extra),
    )


def sun_words(sky: Sky) -> str:
    """Return where the Sun stands, in words."""
    side = say("right") if sky.sun_right_deg >= 0.0 else say("left")
    if abs(sky.sun_right_deg) < 0.5:
        bearing = say("straight ahead")
    elif abs(sky.sun_right_deg) > 179.5:
        bearing = say("straight behind")
    else:
        bearing = say("{sun_right_deg:.0f}° to the {side}", sun_right_deg=abs(sky.sun_right_deg), side=side)
    return say("{bearing}, {sun_high_deg:.0f}° high", bearing=bearing, sun_high_deg=sky.sun_high_deg)


def _polarised_sky(v: Values) -> Told:
    left, _, middle, _, right = v.marks
    where = say("with the Sun {sun_words}", sun_words=sun_words(v.sky))
    rests = "" if v.given else say(" The Sun's position is assumed: enter it under Filters, Polarised sky.")
    return (
        say(
            "{polariser} darkens a clear sky unevenly: {uneven_stops:.1f} stops across the frame {where}.",
            polariser=v.polariser,
            uneven_stops=v.uneven_stops,
            where=where,
        ),
        say(
            "It costs {left:.1f} stops at the left edge, {middle:.1f} in the centre, "
            "{right:.1f} at the right. Rotate it away from its darkest, or frame "
            "narrower.{rests}",
            left=left,
            middle=middle,
            right=right,
            rests=rests,
        ),
    )


def _polariser_place(v: Values) -> Told:
    turns = say("turns with the holder") if v.at is PolariserAt.IN_SLOT else say("turns freely")
    return (
        say("{polariser} is {places} and {turns}.", polariser=v.polariser, places=PLACES[v.at], turns=turns),
        say(
            "Stack depth with it: {depth_mm:.1f mm}. Outermost, light meets it first; behind "
            "the square filters it adds less depth. Both are common: compare the fixes.",
            depth_mm=v.depth_mm,
        ),
    )


SENTENCES: dict[str, Callable[[Values], Told]] = {
    "front.no_lens": _no_lens,
    "front.nothing_holds": _nothing_holds,
    "front.focal_outside": _focal_outside,
    "front.field_too_wide": _field_too_wide,
    "front.shows": _shows,
    "front.clean": _clean,
    "front.pupil_assumed": _pupil_assumed,
    "front.pupil_walk": _pupil_walk,
    "front.own_vignetting": _own_vignetting,
    "front.standard_ring_on_wide": _standard_ring,
    "front.protection_filter": _protection,
    "front.coupled_on_wide": _coupled,
    "front.slots": _slots,
    "front.drop_in": _drop_in,
    "front.thick_sheet": _thick,
    "front.sheet_width": _width,
    "front.gasket": _gasket,
    "front.sheets_overlap": _overlap,
    "front.slot_outside": _slot_outside,
    "front.sheet_edge": _edge,
    "front.line_outside": _line_outside,
    "front.sun": _sun,
    "front.square_polariser_with_grad": _square_polariser,
    "front.polariser_place": _polariser_place,
    "front.polarised_sky": _polarised_sky,
}
