"""Sentences about the front stack."""

from collections.abc import Callable

from farrail.readouts.front.polariser import PolariserAt
from farrail.text.names import aperture_name, loss_name
from farrail.text.values import Values, mm_or_none
from farrail.train.train import Sky

Told = tuple[str, str]
PLACES = {
    PolariserAt.OUTERMOST: "outermost",
    PolariserAt.ON_LENS: "on the lens",
    PolariserAt.BEHIND_SHEETS: "behind the sheets",
    PolariserAt.IN_SLOT: "in a slot",
}


def _clean_from(v: Values) -> str:
    return "nowhere in its range" if v.first_clean_mm is None else f"from {v.first_clean_mm:.1f} mm on"


def _no_lens(v: Values) -> Told:
    return (
        "A front stack stands ahead of a telescope.",
        "Its pupil is the objective itself: what is ahead of it is not judged here.",
    )


def _nothing_holds(v: Values) -> Told:
    return (
        f"{v.lens} has no filter thread to hold {v.part}.",
        "Give its front connection in Parts, or use a slip-on holder made for it.",
    )


def _focal_outside(v: Values) -> Told:
    return (
        f"{v.lens} cannot be set to {v.wanted_mm:g} mm.",
        f"It reaches from {v.low_mm:g} to {v.high_mm:g} mm; set a focal length between.",
    )


def _field_too_wide(v: Values) -> Told:
    return (
        f"The corner looks {v.angle_deg:.0f}° to the side, beyond anything flat ahead of the lens.",
        "Any holder vignettes; crop, or judge by the part of the frame within 89°.",
    )


def _shows(v: Values) -> Told:
    return (
        f"{v.aperture.part.name} vignettes the corners at {v.focal_mm:g} mm: {loss_name(v.lost_stops)}.",
        f"Its {aperture_name(v.aperture)} takes most. The stack is free of vignetting {_clean_from(v)}.",
    )


def _clean(v: Values) -> Told:
    return f"The front stack is free of vignetting at {v.focal_mm:g} mm.", f"It is so {_clean_from(v)}."


def _first_clean_band(v: Values) -> str:
    low, high = v.band_mm
    return "whatever it is" if low == high else f"{mm_or_none(low)} to {mm_or_none(high)}"


def _pupil_assumed(v: Values) -> Told:
    walks = (
        " Seen from the corner it may stand nearer the front; find it for that direction as well." if v.walks else ""
    )
    return (
        f"The entrance pupil is assumed: first clean focal length {_first_clean_band(v)}.",
        "Find the no-parallax point: pivot until near and far objects stay aligned, and note its distance behind the "
        f"filter thread.{walks} Or note at which focal length a known holder first darkens a corner.",
    )


def _pupil_walk(v: Values) -> Told:
    return (
        f"How far the entrance pupil walks to the corner is not known: first clean {_first_clean_band(v)}.",
        "On wide lenses it stands nearer the front, seen from the corner. Find the no-parallax point with the subject "
        "in the corner, or note at which focal length this stack first darkens a corner.",
    )


def _own_vignetting(v: Values) -> Told:
    return (
        f"What {v.lens} itself loses in the corner at f/{v.f_number:g} is not known.",
        "Where its own rim already cuts the corner's light, the stack adds less than told. Give its corner loss wide "
        "open, or the clear diameter and depth of its front glass.",
    )


def _standard_ring(v: Values) -> Told:
    return (
        f"{v.ring} is a standard ring on a wide lens.",
        f"At {v.limit_mm:.0f} mm or less on this frame a recessed ring is usual; dimensions here are assumed.",
    )


def _protection(v: Values) -> Told:
    return (
        f"{v.filter} is still fitted at {v.limit_mm:.0f} mm or less.",
        f"It sets the holder {v.length_mm:.1f} mm further out: take it off first.",
    )


def _coupled(v: Values) -> Told:
    return (
        "Two coupled holders turn on their own on a lens wider than normal.",
        f"They stand deep: from about {v.limit_mm:.0f} mm on this frame they usually stay out of it.",
    )


def _slots(v: Values) -> Told:
    left = "no slot" if v.free <= 0 else "one slot" if v.free == 1 else f"{v.free} slots"
    more = (
        "A further sheet needs another stage." if v.free <= 0 else "Unused slots cost depth: a stage less is slimmer."
    )
    return f"{v.holder} has {left} left.", more


def _drop_in(v: Values) -> Told:
    return (
        f"{v.filter} does not drop into {v.holder}.",
        f"It is {v.wide_mm:.1f} mm wide and the holder takes {mm_or_none(v.accepts_mm)}.",
    )


def _thick(v: Values) -> Told:
    return (
        f"{v.sheet} is too thick for slot {v.slot}.",
        f"It measures {v.thick_mm:.1f} mm and the slot takes {v.slot_mm:.1f} mm; a thick-slot spacer makes one that "
        "does.",
    )


def _width(v: Values) -> Told:
    word = "wider" if v.wide_mm > v.accepts_mm else "narrower"
    return f"{v.sheet} is {word} than {v.holder} takes.", f"{v.wide_mm:.0f} mm against {v.accepts_mm:.0f} mm."


def _gasket(v: Values) -> Told:
    if not v.baffle:
        return (
            f"{v.holder} has no plate for the gasket of {v.sheet}.",
            "Stray light comes in from behind: shade the holder's back, or use a holder with a plate there.",
        )
    return (
        f"{v.sheet} belongs in the rearmost slot.",
        "Its gasket seals against the plate behind it; further out stray light comes in from behind.",
    )


def _overlap(v: Values) -> Told:
    return (
        f"{v.sheet} and {v.other} overlap by {v.overlap_mm:.1f} mm in their slots.",
        f"The slots stand {v.pitch_mm:g} mm apart, middle to middle. Leave a slot free between them, or "
        "measure the slots.",
    )


def _slot_outside(v: Values) -> Told:
    return (
        f"Slot {v.slot} of {v.holder} lies {v.outside_mm:.1f} mm outside its body.",
        f"The body is {v.long_mm:g} mm long: measure where the first slot stands and how far it is to the next.",
    )


def _edge(v: Values) -> Told:
    if not v.corners:
        return (
            f"No sheet can cover the corners of this frame; {v.sheet} leaves them free.",
            f"They look beyond anything flat. The middles of the sides need {v.needed_mm[0]:.0f} × "
            f"{v.needed_mm[1]:.0f} mm there; crop, or use a longer focal length.",
        )
    return (
        f"The edge of {v.sheet} shows in the picture.",
        f"The frame needs {v.needed_mm[0]:.0f} × {v.needed_mm[1]:.0f} mm there and the sheet is "
        f"{v.wide_mm:.0f} × {v.high_mm:.0f} mm, slid by {v.shift_mm:g} mm.",
    )


def _sun(v: Values) -> Told:
    return (
        f"{v.filter} is no solar filter.",
        "Never point a lens or your eye at the Sun through neutral density or polarising filters; use a certified "
        "solar filter over the whole front.",
    )


def _square_polariser(v: Values) -> Told:
    extra = "" if v.order_right else " Put the graduated filter outermost, ahead of the polariser."
    return (
        f"{v.polariser} turns with the holder: the graduated filter leaves it 0° and 90° only.",
        f"A square polariser has no turn of its own.{extra} A round one turns freely.",
    )


def sun_words(sky: Sky) -> str:
    """Return where the Sun stands, in words."""
    side = "right" if sky.sun_right_deg >= 0.0 else "left"
    if abs(sky.sun_right_deg) < 0.5:
        bearing = "straight ahead"
    elif abs(sky.sun_right_deg) > 179.5:
        bearing = "straight behind"
    else:
        bearing = f"{abs(sky.sun_right_deg):.0f}° to the {side}"
    return f"{bearing}, {sky.sun_high_deg:.0f}° high"


def _polarised_sky(v: Values) -> Told:
    left, _, middle, _, right = v.marks
    where = f"with the Sun {sun_words(v.sky)}"
    rests = "" if v.given else " Where the Sun stands is assumed: say it on the Sky page of Front."
    return (
        f"{v.polariser} darkens a clear sky unevenly: {v.uneven_stops:.1f} stops across the frame {where}.",
        f"It takes {left:.1f} stops at the left edge, {middle:.1f} in the middle, {right:.1f} at the right. Turn it "
        f"away from its darkest, or frame narrower.{rests}",
    )


def _polariser_place(v: Values) -> Told:
    turns = "turns with the holder" if v.at is PolariserAt.IN_SLOT else "turns freely"
    return (
        f"{v.polariser} stands {PLACES[v.at]} and {turns}.",
        f"The stack is {v.depth_mm:.1f} mm deep with it. Outermost, light meets it first; behind the sheets it "
        "costs less depth. Both are done: compare the remedies.",
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
    "front.sun": _sun,
    "front.square_polariser_with_grad": _square_polariser,
    "front.polariser_place": _polariser_place,
    "front.polarised_sky": _polarised_sky,
}
