"""Sentences about spacing."""

from collections.abc import Callable
from typing import Any

from farrail.language import say
from farrail.readouts.spacing.findings import Doubtful
from farrail.text import verdicts
from farrail.text.names import datum_name, glass_name, line_name, requirement_name
from farrail.text.values import Values, signed_length, unit_word

Told = tuple[str, str]


def _verdict(v: Values) -> Told:
    return verdicts.headline(v.verdict), verdicts.detail(v.verdict)


def _telescope(v: Values) -> Told:
    side = say("near") if v.error_mm < 0 else say("far")
    limit = (
        say("allowed ±{tolerance_mm:.2f mm}", tolerance_mm=v.tolerance_mm)
        if v.tolerance_mm is not None
        else say("no tolerance is given")
    )
    return (
        say(
            "{corrector} sits {error_mm:.2f mm} too {side} on the telescope.",
            corrector=v.corrector,
            error_mm=abs(v.error_mm),
            side=side,
        ),
        say("Change the parts between the telescope and the corrector; {limit}.", limit=limit),
    )


def _disagree(v: Values) -> Told:
    return (
        say(
            "Published {requirement_name} figures differ: {low_mm:.2f length} to {high_mm:.2f mm}.",
            requirement_name=requirement_name(v.requirement),
            low_mm=v.low_mm,
            high_mm=v.high_mm,
        ),
        say(
            "{value:.2f mm} is in use; choose another in Spacing, or test on stars and "
            "keep the figure with round corner stars.",
            value=v.requirement.distance.value,
        ),
    )


def _filter_leaves(v: Values) -> Told:
    if v.least_mm > v.most_mm:
        serves = say("No one spacing serves all of them; refocus between them, or set it for the one used most.")
    else:
        ends = say("{least_mm:.2f length} to {most_mm:.2f mm}", least_mm=abs(v.least_mm), most_mm=abs(v.most_mm))
        ends = (
            ends
            if v.least_mm >= 0.0
            else say("{most_mm:.2f length} to {least_mm:.2f mm}", most_mm=abs(v.most_mm), least_mm=abs(v.least_mm))
        )
        verb = say("Adding") if v.least_mm >= 0.0 else say("Taking out")
        serves = say("{verb} {ends} keeps every filter within it.", verb=verb, ends=ends)
    return (
        say(
            "With {listed} the sensor leaves the tolerance ({error} {unit}).",
            listed=", ".join(v.filters),
            error=signed_length(v.error_mm),
            unit=unit_word("mm"),
        ),
        say(
            "The set's glass shifts differ; allowed ±{tolerance_mm:.2f mm}. {serves}",
            tolerance_mm=v.tolerance_mm,
            serves=serves,
        ),
    )


def _assumed(v: Values) -> Told:
    return (
        say("The result depends on {input}, which is only assumed. Measure it first.", input=_input(v.what, v.of)),
        say(
            "It can shift the error by up to {moves_mm:.2f mm}; beyond {flips_at_mm:.2f mm} "
            "the train is out of tolerance.",
            moves_mm=v.moves_mm,
            flips_at_mm=v.flips_at_mm,
        ),
    )


def _input(what: Doubtful, of: Any) -> str:
    if what is Doubtful.LENGTH:
        return say("the length of {line_name}", line_name=line_name(of))
    if what is Doubtful.REQUIREMENT:
        return say(
            "the {requirement_name} of {datum_name}", requirement_name=requirement_name(of), datum_name=datum_name(of)
        )
    if what is Doubtful.WINDOW:
        return say("whether the camera's flange distance already includes its window")
    glass = glass_name(of)
    return (
        say("the glass thickness of {glass}", glass=glass)
        if what is Doubtful.GLASS_THICKNESS
        else say("the glass of {glass}", glass=glass)
    )


def _window(v: Values) -> Told:
    return (
        say("The camera's window ({shift_mm:.2f mm} of shift) is taken as allowed for.", shift_mm=v.shift_mm),
        say("Its maker does not say whether the published flange-to-sensor distance includes it."),
    )


def _setting(v: Values) -> Told:
    return (
        say("{part} cannot be set to {setting_mm:.2f mm}.", part=v.part, setting_mm=v.setting_mm),
        say(
            "It reaches from {shortest_mm:.2f length} to {longest_mm:.2f mm}; {used_mm:.2f length} is used.",
            shortest_mm=v.shortest_mm,
            longest_mm=v.longest_mm,
            used_mm=v.used_mm,
        ),
    )


def _travel(v: Values) -> Told:
    needed = v.travel.needed_mm
    if needed < 0:
        return (
            say("Focus is {needed:.1f mm} inside the focuser's inner stop.", needed=-needed),
            say("Take length out of the train, or use a part that needs less; racking in further is not possible."),
        )
    beyond = needed - (v.travel.travel_mm or 0.0)
    return (
        say("Focus is {beyond:.1f mm} beyond the focuser's travel.", beyond=beyond),
        say("Add {beyond:.1f mm} or more ahead of the train with an extension.", beyond=beyond),
    )


def _no_image(v: Values) -> Told:
    return (
        say("{part} forms no image at the sensor.", part=v.part),
        say("Its focal length is {focal_mm:g} mm: the sensor must be closer than that.", focal_mm=v.focal_mm),
    )


def _guide_no_room(v: Values) -> Told:
    return (
        say(
            "The guide sensor cannot reach the main camera's focus: its position is {spacing_mm:.1f mm} inside.",
            spacing_mm=-v.guide.spacing_mm,
        ),
        say("Put length between the guider and the main camera, or use a shorter guide port."),
    )


def _guide_place(v: Values) -> Told:
    return (
        say(
            "The guide sensor focuses {spacing_mm:.1f mm} behind the port of {name}.",
            spacing_mm=v.guide.spacing_mm,
            name=v.guide.name,
        ),
        say("Add a guide camera (right-click the guider) to see which spacers it needs."),
    )


def _guide_misfit(v: Values) -> Told:
    one, other = v.hung.misfit
    return (
        say(
            "{camera} does not mate on the port of {name}: {one_} against {other}.",
            camera=v.hung.camera,
            name=v.guide.name,
            one_=one,
            other=other,
        ),
        say("Add an adapter between them, or replace one of the parts."),
    )


def _guide_error(v: Values) -> Told:
    off = v.hung.error_mm
    distance = say(
        "The guide sensor is {actual_mm:.2f mm} behind the port; {required_mm:.2f mm} are needed.",
        actual_mm=v.hung.own_mm + v.hung.between_mm,
        required_mm=v.guide.spacing_mm,
    )
    if off < 0.0:
        low, high = max(-off - v.tolerance_mm, 0.0), -off + v.tolerance_mm
        title = say(
            "{camera} is {off:.2f mm} too short of the guide port to focus with the main camera.",
            camera=v.hung.camera,
            off=-off,
        )
        action = say("Add {low:.2f length} to {high:.2f mm} between port and camera.", low=low, high=high)
        return title, f"{distance} {action}"
    title = say(
        "{camera} is {off:.2f mm} too long on the guide port to focus with the main camera.",
        camera=v.hung.camera,
        off=off,
    )
    if v.hung.between_mm > 0.0:
        action = say(
            "Remove length between port and camera, or add {off:.2f mm} between the guider and the main camera.",
            off=off,
        )
    else:
        action = say("Add {off:.2f mm} between the guider and the main camera.", off=off)
    return title, f"{distance} {action}"


def _guide_focuses(v: Values) -> Told:
    drawn = v.guide.spacing_mm - v.hung.own_mm - v.hung.between_mm
    out = say("Draw the port out by {drawn:.2f mm}. ", drawn=drawn) if drawn > v.tolerance_mm else ""
    return (
        say(
            "{camera} focuses with the main camera: {error_mm:.2f mm} {also}, within ±{tolerance_mm:.2f mm}.",
            camera=v.hung.camera,
            error_mm=abs(v.hung.error_mm),
            also=say("too short") if v.hung.error_mm < 0.0 else say("too long"),
            tolerance_mm=v.tolerance_mm,
        ),
        say("{out}The tolerance is assumed; guide stars that stay round are the test.", out=out),
    )


def _empty_slot(v: Values) -> Told:
    filters = say("its filter is") if v.count == 1 else say("its {count} filters are", count=v.count)
    return (
        say("Slot {slot} of {seat} is empty and in the beam.", slot=v.slot, seat=v.seat),
        say(
            "These figures are without glass there; {filters} in the table of filters. A "
            "filter moves the focus up to {shift_mm:.2f mm} out.",
            filters=filters,
            shift_mm=v.shift_mm,
        ),
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
