"""Sentences about joints, bodies and the shelf."""

from collections.abc import Callable

from farrail.language import N_, say
from farrail.readouts.joints.profiles import Body
from farrail.text.names import mismatch_phrase
from farrail.text.values import Values, sentence

Told = tuple[str, str]
BODIES = {Body.BODY: N_("body"), Body.BARREL: N_("barrel"), Body.FOCUSER: N_("focuser"), Body.HANDLE: N_("handle")}


def _mismatch(v: Values) -> Told:
    joint = v.joint
    return say(
        "{left_name} does not fit {right_name}.", left_name=joint.left_name, right_name=joint.right_name
    ), sentence(mismatch_phrase(joint.mismatch))


def _not_judged(v: Values) -> Told:
    count = len(v.joints)
    first = v.joints[0]
    many = say("A joint is") if count == 1 else say("{count} joints are", count=count)
    return (
        say("{many_} not judged: a connection is not known.", many_=many),
        say(
            "Between {left_name} and {right_name}; look at its thread or bayonet and give it in Parts.",
            left_name=first.left_name,
            right_name=first.right_name,
        ),
    )


def _bottoms(v: Values) -> Told:
    length = v.gap.length
    return (
        say("A thread bottoms: the shoulders stay {value:.2f mm} apart.", value=length.value),
        say(
            "{sentence} The gap is in the running total; a shim of {value:.2f mm} there makes it firm.",
            sentence=sentence(length.in_use.note),
            value=length.value,
        ),
    )


def _nosepiece(v: Values) -> Told:
    return (
        say("How far the nosepiece is pushed in is not known."),
        say(
            "A screw holds it at any depth; it is assumed to be pushed home. Measure how far "
            "it sticks out, and enter that in the running total."
        ),
    )


def _held(v: Values) -> Told:
    taken = say(" Take the glass out of its cell over a soft cloth, by its edge, with gloves.") if v.out_of_cell else ""
    known = "" if v.known else say(" What it adds depends on both thread engagements: measure them.")
    return (
        say("{filter} is held between {before} and {after}.", filter=v.filter, before=v.before, after=v.after),
        say(
            "Close the rings until the glass just stops rattling, never tight: glass under a "
            "ring breaks.{taken}{known}",
            taken=taken,
            known=known,
        ),
    )


def _bayonet(v: Values) -> Told:
    rotated = v.rotated
    return (
        say(
            "The {bayonet} holds {name} at {angle_deg:g}°, not at {wanted_deg:g}°.",
            bayonet=rotated.bayonet,
            name=rotated.name,
            angle_deg=rotated.angle_deg,
            wanted_deg=rotated.wanted_deg,
        ),
        say("A bayonet locks at one angle. Rotate at a threaded joint, or add a rotator ahead of it."),
    )


def _cell(v: Values) -> Told:
    word = say("wide") if v.side == "wide" else say("thick")
    return (
        say("{filter} is too {word} for {seat}.", filter=v.filter, word=word, seat=v.seat),
        say(
            "Its cell measures {has_mm:.2f mm} and the seat accepts {accepts_mm:.2f mm}. Some "
            "cells are oversize: measure both before you force anything.",
            has_mm=v.has_mm,
            accepts_mm=v.accepts_mm,
        ),
    )


def _collide(v: Values) -> Told:
    other = v.other
    what = BODIES[other.what]
    doubt = "" if v.known else say(" (assumed from its outer diameter: measure it)")
    half = say("across both sides, its") if other.what is Body.HANDLE else say("its")
    return (
        say("{part} runs into the {what} of {name}.", part=v.part, what=what, name=other.name),
        say(
            "It reaches over {name} and its clear aperture is {clear_mm:.1f mm}{doubt}; {half} "
            "{what} measures {diameter_mm:.1f mm}. Put a spacer between, flip the part, or use "
            "a slimmer one.",
            name=other.name,
            clear_mm=v.clear_mm,
            doubt=doubt,
            half=half,
            what=what,
            diameter_mm=other.diameter_mm,
        ),
    )


def _examples(v: Values) -> Told:
    count = len(v.names)
    names = ", ".join(v.names[:3]) + (say(" and {count} more", count=count - 3) if count > 3 else "")
    return (
        say(
            "{also}, not yours yet: {names}.",
            also=say("One part is an example") if count == 1 else say("{count} parts are examples", count=count),
            names=names,
        ),
        say("Type what you measure on a part, or choose “I have it” in Parts; until then the planner counts on none."),
    )


def _not_at_hand(v: Values) -> Told:
    return (
        say("{part} is {value}.", part=v.part, value=v.status),
        say("Replace it, or change its status in Parts once you have it."),
    )


def _more_than_owned(v: Values) -> Told:
    have = (
        say("none is")
        if v.owned == 0
        else say("only {owned} is", owned=v.owned)
        if v.owned == 1
        else say("{owned} are", owned=v.owned)
    )
    return (
        say("{part} is used {used}× and {have} owned.", part=v.part, used=v.used, have=have),
        say("Take one out, or raise the count on the shelf once another is bought."),
    )


SENTENCES: dict[str, Callable[[Values], Told]] = {
    "joint.mismatch": _mismatch,
    "joint.not_judged": _not_judged,
    "joint.thread_bottoms": _bottoms,
    "joint.nosepiece_place": _nosepiece,
    "joint.filter_held": _held,
    "joint.bayonet_turn": _bayonet,
    "joint.filter_cell": _cell,
    "joint.profiles_collide": _collide,
    "shelf.examples": _examples,
    "shelf.not_at_hand": _not_at_hand,
    "shelf.used_more_than_owned": _more_than_owned,
}
