"""The sentences of a verdict on spacing, and its mark on the drawing."""

from collections.abc import Callable

from farrail.readouts.spacing.verdict import Ground, State, Verdict
from farrail.text.names import datum_name
from farrail.text.values import Values, signed
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
    return "0.00" if abs(miss) < 0.005 else f"{abs(miss):.2f} {'short' if miss < 0 else 'long'}"


def landing(verdict: Verdict, joints_apart: int) -> tuple[str, str]:
    """Return what the drawing writes of a train within tolerance, and why it would land only, "" where it does.

    Args:
        verdict: the verdict on its spacing.
        joints_apart: how many of its joints do not mate.
    """
    if not joints_apart:
        return f"lands, {mark(verdict)}", ""
    why = "1 joint does not mate" if joints_apart == 1 else f"{joints_apart} joints do not mate"
    return f"would land, {mark(verdict)}", why


def _no_tolerance(verdict: Verdict, v: Values) -> tuple[str, str]:
    miss = verdict.miss_mm or 0.0
    side = "short" if miss < 0 else "long"
    return (
        f"The train is {abs(miss):.2f} mm too {side}.",
        f"{datum_name(v.requirement)}: no tolerance is given, so nothing says how much of that can be borne.",
    )


def _tolerance(verdict: Verdict, v: Values) -> tuple[str, str]:
    miss = verdict.miss_mm or 0.0
    allowed = f"allowed ±{v.tolerance_mm:.2f}"
    if v.assumed:
        allowed = f"assumed to be allowed ±{v.tolerance_mm:.2f}"
    if verdict.state is State.GOOD:
        head = (
            "The sensor lands where the optic needs it."
            if abs(miss) < 0.005
            else f"The train is {abs(miss):.2f} mm too {'short' if miss < 0 else 'long'}, within tolerance."
        )
        return head, f"{signed(miss)} mm, {allowed} mm.{_of_nobody(v)}"
    unknown = " at its worst end" if v.spread else ""
    if verdict.state is State.SHORT:
        return (
            f"The train is {-miss:.2f} mm too short{unknown}.",
            f"{_to_add(v)} behind {v.owner}; {allowed} mm.{_of_nobody(v)}",
        )
    if verdict.state is State.NO_ROOM:
        return (
            f"The train is {miss:.2f} mm too long{unknown}, and there is no room.",
            f"Without any spacer or shim it would still be {v.over_mm:.2f} mm too long; a thinner part is needed.",
        )
    return f"The train is {miss:.2f} mm too long{unknown}.", f"Take {miss:.2f} mm out; {allowed} mm.{_of_nobody(v)}"


def _to_add(v: Values) -> str:
    """Return what to add so that the sensor lands whatever is unknown; about, where no one length does."""
    least, most = -v.low_mm - v.tolerance_mm, -v.high_mm + v.tolerance_mm
    if least > most:
        return f"Add about {(least + most) / 2.0:.2f} mm"
    return f"Add {max(least, 0.0):.2f} to {most:.2f} mm"


def _of_nobody(v: Values) -> str:
    """Return what to say of a tolerance nobody has given: the depth of focus, and where the verdict would turn."""
    if not v.assumed:
        return ""
    return (
        f" Nobody has given that: the depth of focus is ±{v.depth_mm:.3f} mm here, and the verdict would turn at "
        f"±{v.turns_mm:.2f} mm."
    )


def _infinity_lost(verdict: Verdict, v: Values) -> tuple[str, str]:
    reach = v.farthest_mm
    text = "" if reach is None else f"; the farthest sharp subject lies at about {mm_to_metres(reach):.3g} m"
    return (
        f"The train is {verdict.miss_mm or 0.0:.2f} mm too long: infinity is lost.",
        f"A lens cannot focus past its flange distance{text}.",
    )


def _focusing(verdict: Verdict, v: Values) -> tuple[str, str]:
    short, focusing = -(verdict.miss_mm or 0.0), v.focusing
    head = f"The train is {short:.2f} mm too short, which focusing makes up for."
    # Newton: drawn out by e a lens is focused at f²/e.
    mark = f"{mm_to_metres(focusing.mark_mm(short)):.3g} m"
    if v.left is None:
        return head, (
            f"Infinity is reached with the ring near {mark}. How near the lens focuses is not known; "
            f"{focusing.travel_mm:.1f} mm of travel are taken."
        )
    return head, (
        f"Infinity is reached with the ring near {mark}, {short:.2f} of {focusing.travel_mm:.1f} mm into its travel; "
        f"the nearest magnification falls from {focusing.nearest:.2f} to {v.left:.2f}."
    )


def _beyond_focusing(verdict: Verdict, v: Values) -> tuple[str, str]:
    short, focusing = -(verdict.miss_mm or 0.0), v.focusing
    known = (
        f"its ring travels {focusing.travel_mm:.1f} mm (nearest magnification {focusing.nearest:.2f})"
        if focusing.nearest is not None
        else f"how far its ring travels is not known, {focusing.travel_mm:.1f} mm are taken"
    )
    return (
        f"The train is {short:.2f} mm too short: nothing comes to a focus.",
        f"Focusing cannot make up for that: {known}. Add {short:.2f} mm between lens and camera.",
    )


_SENTENCES: dict[Ground, Callable[[Verdict, Values], tuple[str, str]]] = {
    Ground.NO_CAMERA: lambda _, __: ("No camera ends this train.", "Lay a camera at its right end."),
    Ground.REVERSED: lambda _, __: (
        "Turned round, the lens asks for no distance of its own.",
        "How far its thread stands from the sensor sets the magnification: see the Close-up station.",
    ),
    Ground.NO_REQUIREMENT: lambda _, v: (
        "Nothing fixes the distance to the sensor.",
        f"{v.optic} has no published back focus; its focuser finds the plane.",
    ),
    Ground.NO_TOLERANCE: _no_tolerance,
    Ground.TOLERANCE: _tolerance,
    Ground.EXTENSION: lambda _, v: (
        f"{v.tubes_mm:.2f} mm of extension, as intended; no infinity focus.",
        "What it reaches is told in the Close-up station.",
    ),
    Ground.FLANGE: lambda _, __: ("The sensor lands on the lens's flange distance.", "Infinity is reached."),
    Ground.FOCUSING: _focusing,
    Ground.BEYOND_FOCUSING: _beyond_focusing,
    Ground.INFINITY_LOST: _infinity_lost,
}
