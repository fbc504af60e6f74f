"""The sentences of a verdict on spacing, and its mark on the drawing."""

from collections.abc import Callable

from farrail.language import local_number, say
from farrail.readouts.spacing.verdict import Ground, State, Verdict
from farrail.text.names import datum_name
from farrail.text.values import Values, signed_length, unit_word
from farrail.units import mm_to_metres


def headline(verdict: Verdict) -> str:
    """Return one sentence with the number in it."""
    return _SENTENCES[verdict.ground](verdict, Values(verdict.values))[0]


def detail(verdict: Verdict) -> str:
    """Return what it rests on or what to do."""
    return _SENTENCES[verdict.ground](verdict, Values(verdict.values))[1]


def mark(verdict: Verdict) -> str:
    """Return the miss as the drawing writes it, e.g. "1.68 short"; "" where nothing says."""
    miss = verdict.miss_mm
    if miss is None:
        return ""
    return (
        local_number("0.00")
        if abs(miss) < 0.005
        else say("{miss:.2f length} {also}", miss=abs(miss), also=say("short") if miss < 0 else say("long"))
    )


def landing(verdict: Verdict, joints_apart: int) -> tuple[str, str]:
    """Return what the drawing writes of a train within tolerance, and why it would land only, "" where it does.

    Args:
        verdict: the verdict on its spacing.
        joints_apart: how many of its joints do not mate.
    """
    if not joints_apart:
        return say("in focus, {mark}", mark=mark(verdict)), ""
    why = (
        say("1 joint does not mate")
        if joints_apart == 1
        else say("{joints_apart} joints do not mate", joints_apart=joints_apart)
    )
    return say("would be in focus, {mark}", mark=mark(verdict)), why


def _no_tolerance(verdict: Verdict, v: Values) -> tuple[str, str]:
    miss = verdict.miss_mm or 0.0
    side = say("short") if miss < 0 else say("long")
    return (
        say("The train is {miss:.2f mm} too {side}.", miss=abs(miss), side=side),
        say(
            "{datum_name}: no tolerance is given, so it is not known whether that error is acceptable.",
            datum_name=datum_name(v.requirement),
        ),
    )


def _tolerance(verdict: Verdict, v: Values) -> tuple[str, str]:
    miss = verdict.miss_mm or 0.0
    allowed = say("allowed ±{tolerance_mm:.2f length}", tolerance_mm=v.tolerance_mm)
    if v.assumed:
        allowed = say("assumed to be allowed ±{tolerance_mm:.2f length}", tolerance_mm=v.tolerance_mm)
    if verdict.state is State.GOOD:
        head = (
            say("The sensor is at the required back focus.")
            if abs(miss) < 0.005
            else say(
                "The train is {miss:.2f mm} too {also}, within tolerance.",
                miss=abs(miss),
                also=say("short") if miss < 0 else say("long"),
            )
        )
        return head, say(
            "{signed} {unit}, {allowed} {unit}.{of_nobody}",
            signed=signed_length(miss),
            unit=unit_word("mm"),
            allowed=allowed,
            of_nobody=_of_nobody(v),
        )
    unknown = say(" at its worst end") if v.spread else ""
    if verdict.state is State.SHORT:
        return (
            say("The train is {miss:.2f mm} too short{unknown}.", miss=-miss, unknown=unknown),
            say(
                "{to_add} behind {owner}; {allowed} {unit}.{of_nobody}",
                unit=unit_word("mm"),
                to_add=_to_add(v),
                owner=v.owner,
                allowed=allowed,
                of_nobody=_of_nobody(v),
            ),
        )
    if verdict.state is State.NO_ROOM:
        return (
            say("The train is {miss:.2f mm} too long{unknown}, and there is no room.", miss=miss, unknown=unknown),
            say(
                "Without any spacer or shim it would still be {over_mm:.2f mm} too long; a thinner part is needed.",
                over_mm=v.over_mm,
            ),
        )
    return say("The train is {miss:.2f mm} too long{unknown}.", miss=miss, unknown=unknown), say(
        "Take {miss:.2f mm} out; {allowed} {unit}.{of_nobody}",
        miss=miss,
        unit=unit_word("mm"),
        allowed=allowed,
        of_nobody=_of_nobody(v),
    )


def _to_add(v: Values) -> str:
    """Return what to add so that the sensor lands whatever is unknown; about, where no one length does."""
    least, most = -v.low_mm - v.tolerance_mm, -v.high_mm + v.tolerance_mm
    if least > most:
        return say("Add about {most:.2f mm}", most=(least + most) / 2.0)
    return say("Add {least:.2f length} to {most:.2f mm}", least=max(least, 0.0), most=most)


def _of_nobody(v: Values) -> str:
    """Return what to say of a tolerance nobody has given: the depth of focus, and where the verdict would turn."""
    if not v.assumed:
        return ""
    return say(
        " No tolerance is given: the depth of focus is ±{depth_mm:.3f mm} here, and the "
        "verdict changes at ±{turns_mm:.2f mm}.",
        depth_mm=v.depth_mm,
        turns_mm=v.turns_mm,
    )


def _infinity_lost(verdict: Verdict, v: Values) -> tuple[str, str]:
    reach = v.farthest_mm
    text = (
        ""
        if reach is None
        else say("; the farthest sharp subject is at about {mm_to_metres:.3g} m", mm_to_metres=mm_to_metres(reach))
    )
    return (
        say("The train is {value:.2f mm} too long: infinity is lost.", value=verdict.miss_mm or 0.0),
        say("A lens cannot focus past its flange distance{text}.", text=text),
    )


def _focusing(verdict: Verdict, v: Values) -> tuple[str, str]:
    short, focusing = -(verdict.miss_mm or 0.0), v.focusing
    head = say("The train is {short:.2f mm} too short, which focusing makes up for.", short=short)
    # Newton: drawn out by e a lens is focused at f²/e.
    mark = say("{mm_to_metres:.3g} m", mm_to_metres=mm_to_metres(focusing.mark_mm(short)))
    if v.left is None:
        return head, (
            say(
                "Infinity is reached with the ring near {mark}. How near the lens focuses is not "
                "known; {travel_mm:.1f mm} of travel are taken.",
                mark=mark,
                travel_mm=focusing.travel_mm,
            )
        )
    return head, (
        say(
            "Infinity is reached with the ring near {mark}, {short:.2f length} of "
            "{travel_mm:.1f mm} into its travel; the closest focus drops from {nearest:.2f}x "
            "to {left:.2f}x.",
            mark=mark,
            short=short,
            travel_mm=focusing.travel_mm,
            nearest=focusing.nearest,
            left=v.left,
        )
    )


def _beyond_focusing(verdict: Verdict, v: Values) -> tuple[str, str]:
    short, focusing = -(verdict.miss_mm or 0.0), v.focusing
    known = (
        say(
            "its ring travels {travel_mm:.1f mm} (closest focus {nearest:.2f}x)",
            travel_mm=focusing.travel_mm,
            nearest=focusing.nearest,
        )
        if focusing.nearest is not None
        else say("how far its ring travels is not known, {travel_mm:.1f mm} are taken", travel_mm=focusing.travel_mm)
    )
    return (
        say("The train is {short:.2f mm} too short: it cannot focus.", short=short),
        say(
            "Focusing cannot make up for that: {known}. Add {short:.2f mm} between lens and camera.",
            known=known,
            short=short,
        ),
    )


_SENTENCES: dict[Ground, Callable[[Verdict, Values], tuple[str, str]]] = {
    Ground.NO_CAMERA: lambda _, __: (say("No camera ends this train."), say("Add a camera at its right end.")),
    Ground.REVERSED: lambda _, __: (
        say("A reversed lens has no required distance."),
        say("The distance from its thread to the sensor sets the magnification: see Close-up."),
    ),
    Ground.NO_OWN_FOCUS: lambda _, v: (
        say("{optic} does not focus by itself: its distance sets the magnification.", optic=v.optic),
        say(
            "{laid_mm:.2f mm} from its flange to the sensor, infinity at {flange_mm:.2f mm}: see Close-up.",
            laid_mm=v.laid_mm,
            flange_mm=v.flange_mm,
        ),
    ),
    Ground.FOCUSING_UNKNOWN: lambda verdict, v: (
        say(
            "{short:.2f mm} too short: infinity depends on how far the focusing ring travels.",
            short=-(verdict.miss_mm or 0.0),
        ),
        say(
            "The magnification at closest focus is not known; its travel can be 0 to {largest_mm:.1f mm}. Enter it.",
            largest_mm=v.focusing.largest_mm,
        ),
    ),
    Ground.NO_REQUIREMENT: lambda _, v: (
        say("No back focus is given, so spacing cannot be judged."),
        say("{optic} has no published back focus: bring it to focus with the focuser.", optic=v.optic),
    ),
    Ground.NO_TOLERANCE: _no_tolerance,
    Ground.TOLERANCE: _tolerance,
    Ground.EXTENSION: lambda _, v: (
        say("{tubes_mm:.2f mm} of extension, as intended; no infinity focus.", tubes_mm=v.tubes_mm),
        say("See Close-up for what it reaches."),
    ),
    Ground.FLANGE: lambda _, __: (
        say("The sensor is at the lens's flange focal distance."),
        say("Infinity is reached."),
    ),
    Ground.FOCUSING: _focusing,
    Ground.BEYOND_FOCUSING: _beyond_focusing,
    Ground.INFINITY_LOST: _infinity_lost,
}
