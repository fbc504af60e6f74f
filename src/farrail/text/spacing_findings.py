"""Sentences about spacing."""

from collections.abc import Callable
from typing import Any

from farrail.readouts.spacing.findings import Doubtful
from farrail.text import verdicts
from farrail.text.names import datum_name, glass_name, line_name, requirement_name
from farrail.text.values import Values, minus

Told = tuple[str, str]


def _verdict(v: Values) -> Told:
    return verdicts.headline(v.verdict), verdicts.detail(v.verdict)


def _telescope(v: Values) -> Told:
    side = "near" if v.error_mm < 0 else "far"
    limit = f"allowed ±{v.tolerance_mm:.2f} mm" if v.tolerance_mm is not None else "no tolerance is given"
    return (
        f"{v.corrector} sits {abs(v.error_mm):.2f} mm too {side} on the telescope.",
        f"Change what lies between the telescope and the corrector; {limit}.",
    )


def _disagree(v: Values) -> Told:
    return (
        f"Published {requirement_name(v.requirement)} figures differ: {v.low_mm:.2f} to {v.high_mm:.2f} mm.",
        f"{v.requirement.distance.value:.2f} is in use; choose another in the Spacing station, or test on stars "
        "and keep the figure with round corner stars.",
    )


def _filter_leaves(v: Values) -> Told:
    if v.least_mm > v.most_mm:
        serves = "No one spacing serves all of them; refocus between them, or set it for the one used most."
    else:
        ends = f"{abs(v.least_mm):.2f} to {abs(v.most_mm):.2f} mm"
        ends = ends if v.least_mm >= 0.0 else f"{abs(v.most_mm):.2f} to {abs(v.least_mm):.2f} mm"
        verb = "Adding" if v.least_mm >= 0.0 else "Taking out"
        serves = f"{verb} {ends} keeps every filter within it."
    return (
        minus(f"With {', '.join(v.filters)} the sensor leaves the tolerance ({v.error_mm:+.2f} mm)."),
        f"The set's glass shifts differ; allowed ±{v.tolerance_mm:.2f} mm. {serves}",
    )


def _assumed(v: Values) -> Told:
    return (
        f"{_input(v.what, v.of)} is assumed, and it decides: measure this one first.",
        f"It may move the sensor by {v.moves_mm:.2f} mm; the verdict flips at {v.flips_at_mm:.2f} mm.",
    )


def _input(what: Doubtful, of: Any) -> str:
    if what is Doubtful.LENGTH:
        return f"The length of {line_name(of)}"
    if what is Doubtful.REQUIREMENT:
        return f"The {requirement_name(of)} of {datum_name(of)}"
    if what is Doubtful.WINDOW:
        return "That the camera's distance allows for its window"
    glass = glass_name(of)
    return f"The glass thickness of {glass}" if what is Doubtful.GLASS_THICKNESS else f"The glass of {glass}"


def _window(v: Values) -> Told:
    return (
        f"The camera's window ({v.shift_mm:.2f} mm of shift) is taken as allowed for.",
        "Its maker does not say whether the published flange-to-sensor distance includes it.",
    )


def _setting(v: Values) -> Told:
    return (
        f"{v.part} cannot be set to {v.setting_mm:.2f} mm.",
        f"It reaches from {v.shortest_mm:.2f} to {v.longest_mm:.2f} mm; {v.used_mm:.2f} is used.",
    )


def _travel(v: Values) -> Told:
    needed = v.travel.needed_mm
    if needed < 0:
        return (
            f"Focus lies {-needed:.1f} mm inside the focuser's inner stop.",
            "Take length out of the train, or use a part that needs less; racking in further is not possible.",
        )
    beyond = needed - (v.travel.travel_mm or 0.0)
    return (
        f"Focus lies {beyond:.1f} mm beyond the focuser's travel.",
        f"Add {beyond:.1f} mm or more ahead of the train with an extension.",
    )


def _no_image(v: Values) -> Told:
    return (
        f"{v.part} makes no image where the sensor stands.",
        f"Its focal length is {v.focal_mm:g} mm: the sensor must stand nearer than that.",
    )


def _guide_no_room(v: Values) -> Told:
    return (
        f"The guide sensor cannot focus with the main one: its place lies {-v.guide.spacing_mm:.1f} mm inside.",
        "Put length between the guider and the main camera, or use a shorter guide port.",
    )


def _guide_place(v: Values) -> Told:
    return (
        f"The guide sensor focuses {v.guide.spacing_mm:.1f} mm behind the port of {v.guide.name}.",
        "Hang a guide camera on it (right-click the guider) to learn which spacers it takes.",
    )


def _guide_misfit(v: Values) -> Told:
    one, other = v.hung.misfit
    return (
        f"{v.hung.camera} does not mate on the port of {v.guide.name}: {one} against {other}.",
        "Lay an adapter between, or exchange a part there.",
    )


def _guide_error(v: Values) -> Told:
    off = v.hung.error_mm
    stands = f"{v.hung.own_mm + v.hung.between_mm:.2f} mm behind the port, {v.guide.spacing_mm:.2f} mm are needed"
    if off < 0.0:
        low, high = max(-off - v.tolerance_mm, 0.0), -off + v.tolerance_mm
        return (
            f"{v.hung.camera} is {-off:.2f} mm too short of the guide port to focus with the main camera.",
            f"Its sensor is {stands}. Add {low:.2f} to {high:.2f} mm between port and camera.",
        )
    mend = "Take length out between port and camera, or"
    mend = mend if v.hung.between_mm > 0.0 else "Nothing stands between:"
    return (
        f"{v.hung.camera} is {off:.2f} mm too long on the guide port to focus with the main camera.",
        f"Its sensor is {stands}. {mend} lay {off:.2f} mm more between the guider and the main camera.",
    )


def _guide_focuses(v: Values) -> Told:
    drawn = v.guide.spacing_mm - v.hung.own_mm - v.hung.between_mm
    out = f"Draw the port out by {drawn:.2f} mm. " if drawn > v.tolerance_mm else ""
    return (
        f"{v.hung.camera} focuses with the main camera: {abs(v.hung.error_mm):.2f} mm "
        f"{'too short' if v.hung.error_mm < 0.0 else 'too long'}, within ±{v.tolerance_mm:.2f} mm.",
        f"{out}The tolerance is assumed; guide stars that stay round are the test.",
    )


def _empty_slot(v: Values) -> Told:
    filters = "its filter is" if v.count == 1 else f"its {v.count} filters are"
    return (
        f"Slot {v.slot} of {v.seat} is empty and in the beam.",
        f"All here is told without glass there; {filters} judged in the table of filters. Turned in, one moves the "
        f"focus up to {v.shift_mm:.2f} mm out.",
    )


SENTENCES: dict[str, Callable[[Values], Told]] = {
    "spacing.short": _verdict,
    "spacing.long": _verdict,
    "spacing.no_room": _verdict,
    "spacing.not_judged": _verdict,
    "spacing.telescope_to_corrector": _telescope,
    "spacing.published_disagree": _disagree,
    "spacing.filter_leaves_tolerance": _filter_leaves,
    "spacing.empty_slot": _empty_slot,
    "spacing.assumed_decides": _assumed,
    "spacing.window_silent": _window,
    "spacing.setting": _setting,
    "spacing.focuser_out_of_travel": _travel,
    "spacing.no_image": _no_image,
    "spacing.guide_no_room": _guide_no_room,
    "spacing.guide_place": _guide_place,
    "spacing.guide_misfit": _guide_misfit,
    "spacing.guide_error": _guide_error,
    "spacing.guide_focuses": _guide_focuses,
}
