"""Sentences about joints, bodies and the shelf."""

from collections.abc import Callable

from farrail.readouts.joints.profiles import Body
from farrail.text.names import mismatch_phrase
from farrail.text.values import Values, sentence

Told = tuple[str, str]
BODIES = {Body.BODY: "body", Body.BARREL: "barrel", Body.FOCUSER: "focuser", Body.HANDLE: "handle"}


def _mismatch(v: Values) -> Told:
    joint = v.joint
    return f"{joint.left_name} does not fit {joint.right_name}.", sentence(mismatch_phrase(joint.mismatch))


def _not_judged(v: Values) -> Told:
    count = len(v.joints)
    first = v.joints[0]
    many = "A joint is" if count == 1 else f"{count} joints are"
    return (
        f"{many} not judged: a connection is not known.",
        f"Between {first.left_name} and {first.right_name}; look at its thread or bayonet and give it in Parts.",
    )


def _bottoms(v: Values) -> Told:
    length = v.gap.length
    return (
        f"A thread bottoms: the shoulders stay {length.value:.2f} mm apart.",
        f"{sentence(length.in_use.note)} The gap is in the running total; a shim of {length.value:.2f} mm there makes "
        "it firm.",
    )


def _nosepiece(v: Values) -> Told:
    return (
        "How far the nosepiece is pushed in is not known.",
        "A screw holds it wherever it was left; it is taken as pushed home. Measure how far it stands out, and "
        "write that into the running total.",
    )


def _held(v: Values) -> Told:
    taken = " Take the glass out of its cell over a soft cloth, by its edge, with gloves." if v.out_of_cell else ""
    known = "" if v.known else " Both engagements decide what it adds: look how deep the threads go."
    return (
        f"{v.filter} is held between {v.before} and {v.after}.",
        f"Close the rings until the glass just stops rattling, never tight: glass under a ring breaks.{taken}{known}",
    )


def _bayonet(v: Values) -> Told:
    rotated = v.rotated
    return (
        f"The {rotated.bayonet} holds {rotated.name} at {rotated.angle_deg:g}°, not at {rotated.wanted_deg:g}°.",
        "A bayonet locks at one angle. Turn at a threaded joint, or lay a rotator ahead of it.",
    )


def _cell(v: Values) -> Told:
    word = "wide" if v.side == "wide" else "thick"
    return (
        f"{v.filter} is too {word} for {v.seat}.",
        f"Its cell measures {v.has_mm:.2f} mm and the seat takes {v.accepts_mm:.2f} mm. Some cells are made "
        "oversize: measure both before forcing anything.",
    )


def _collide(v: Values) -> Told:
    other = v.other
    what = BODIES[other.what]
    doubt = "" if v.known else " (assumed from its outer diameter: measure it)"
    half = "across both sides, its" if other.what is Body.HANDLE else "its"
    return (
        f"{v.part} runs into the {what} of {other.name}.",
        f"It reaches over {other.name} and is {v.clear_mm:.1f} mm wide inside{doubt}; {half} {what} measures "
        f"{other.diameter_mm:.1f} mm. Put a spacer between, turn the part round, or take a slimmer one.",
    )


def _examples(v: Values) -> Told:
    count = len(v.names)
    names = ", ".join(v.names[:3]) + (f" and {count - 3} more" if count > 3 else "")
    return (
        f"{'One part is an example' if count == 1 else f'{count} parts are examples'}, not yours yet: {names}.",
        "Type what you measure on a part, or choose “I have it” in Parts; until then the planner counts on none.",
    )


def _not_at_hand(v: Values) -> Told:
    return (
        f"{v.part} is {v.status.value}.",
        "Lay another in its place, or change its status on the shelf once it is here.",
    )


def _more_than_owned(v: Values) -> Told:
    have = "none is" if v.owned == 0 else f"only {v.owned} is" if v.owned == 1 else f"{v.owned} are"
    return (
        f"{v.part} is used {v.used}× and {have} owned.",
        "Take one out, or raise the count on the shelf once another is bought.",
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
