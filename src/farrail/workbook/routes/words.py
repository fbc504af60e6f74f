"""The words of the routes: what is asked, where one reads it, and how an answer looks."""

from dataclasses import dataclass

from farrail.language import N_, Message, Text, begun_large, begun_small, say
from farrail.parts.registry import KIND_NAMES


@dataclass(frozen=True)
class Ask:
    """The words of one question.

    Attributes:
        what: what is asked, in a few words; it also names what a verdict still waits for.
        where: where one finds it, in half a sentence.
        such_as: an answer to show in the empty field.
    """

    what: Text
    where: Text
    such_as: Text = ""


# Title of a route, and what it leads to.
ROUTES: dict[str, tuple[Message, Message]] = {
    "night": (N_("My night train"), N_("From the camera to a verdict on its spacing, and what to buy for it")),
    "filters": (N_("My lens and filters"), N_("From the lens to its first focal length free of vignetting")),
    "close_up": (N_("My close-up"), N_("From the lens to frame size and working distance")),
}
_LENGTH = N_("Shoulder to shoulder, without its threads; from a caliper or the maker's drawing")
_ENDS = N_("Both ends, the one toward the sky first; printed on its rim or in its drawing")
ASKS: dict[str, Ask] = {
    "camera.format": Ask(
        N_("Sensor size"), N_("In the camera's data; a name, or width x height"), N_("1 inch, or 13.2 x 8.8")
    ),
    "camera.pixel": Ask(N_("Pixel size, µm"), N_("In the camera's data"), "2.4"),
    "camera.flange": Ask(
        N_("Flange to sensor, mm"), N_("In the maker's drawing, with its front ring as you use it"), "17.5"
    ),
    "camera.front": Ask(N_("Its front connection"), N_("On the camera's front ring"), N_("M42x0.75 internal")),
    "camera.ring": Ask(
        N_("Front ring that comes off, mm"), N_("Its length, if there is one; measure with a caliper"), "5"
    ),
    "camera.ring_behind": Ask(
        N_("Connection behind the ring"), N_("On the camera, with the ring off"), N_("M42x0.75 internal")
    ),
    "camera.ring_off": Ask(N_("The ring is"), N_("As you use it")),
    "optic.what": Ask(N_("Focusing optic"), N_("First part of the train")),
    "optic.size": Ask(N_("Focal length and f-number"), N_("Engraved on the tube or lens"), "432 f/6"),
    "optic.mount": Ask(
        N_("Lens mount"), N_("Its bayonet by name, or its flange focal distance in mm"), N_("44 mm SLR bayonet")
    ),
    "corrector.back_focus": Ask(
        N_("Back focus, mm"), N_("From its maker; where manual and drawing differ, give both"), N_("55 and 55.25")
    ),
    "corrector.factor": Ask(
        N_("Reduction factor"),
        N_("As printed on a reducer; leave empty for a flattener or coma corrector"),
        N_("0.8×"),
    ),
    "corrector.tolerance": Ask(N_("Tolerance ±, mm"), N_("If its maker gives one"), "0.5"),
    "corrector.datum": Ask(N_("Counted from"), N_("The surface the maker names"), N_("rear shoulder")),
    "optic.back_focus": Ask(
        N_("Back focus, mm"),
        N_("Rear shoulder to sensor, where the maker fixes it; two figures if two"),
        N_("60 and 60.3"),
    ),
    "optic.tolerance": Ask(N_("Tolerance ±, mm"), N_("If its maker gives one"), "0.3"),
    "optic.rear": Ask(N_("Its rear connection"), N_("Where the next part screws on"), N_("M48x0.75 external")),
    "piece": Ask(N_("Next toward the camera"), N_("One part after another, as the light meets them")),
    "length": Ask(N_("Its length, mm"), _LENGTH, "20.5"),
    "threads": Ask(N_("Its connections"), _ENDS, N_("M48x0.75 internal to M42x0.75 external")),
    "glass": Ask(
        N_("Filter in it, mm"),
        N_("Width and thickness of its glass; of a wheel its slots before that"),
        N_("36 x 2, or 7 slots, 36 x 2"),
    ),
    "guide": Ask(
        N_("Guide camera on it"), N_("Its sensor: a name, or width x height; leave empty for none"), N_("7.4 x 5.0")
    ),
    "guide_flange": Ask(N_("Its flange to sensor, mm"), N_("In its maker's drawing"), "12.5"),
    "guide_port": Ask(N_("Prism to guide port, mm"), N_("From the prism's middle to the port's shoulder"), "30"),
    "guide_prism": Ask(N_("Axis to the prism's edge, mm"), N_("As the prism is set; measure with a caliper"), "12"),
    "guide_spacer": Ask(N_("Spacers before the guide camera, mm"), N_("All of them together; empty for none"), "5"),
    "lens.focal": Ask(N_("Focal length, mm"), N_("Engraved on the lens; of a zoom both ends"), N_("17 to 35")),
    "lens.f_number": Ask(N_("Widest aperture"), N_("Engraved beside it"), "f/4"),
    "lens.aperture": Ask(N_("Aperture in use"), N_("Leave empty to judge it wide open"), "f/11"),
    "lens.projection": Ask(N_("Projection"), N_("Rectilinear unless it is a fisheye; from its maker")),
    "lens.hood": Ask(N_("Hood"), N_("A fixed hood's rim counts as the front of the lens")),
    "lens.shift": Ask(
        N_("Shift and tilt"),
        N_("The shift in use in mm and the most the lens allows; the same of its tilt in degrees"),
        N_("8 up, at most 12, tilt 2, at most 8"),
    ),
    "lens.gelatin": Ask(
        N_("Gelatin in the rear slot, mm"), N_("Its thickness; leave empty where there is none"), "0.1"
    ),
    "lens.mount": Ask(
        N_("Lens mount"), N_("Its bayonet by name, or its flange focal distance in mm"), N_("44 mm SLR bayonet")
    ),
    "lens.thread": Ask(N_("Filter thread"), N_("On the lens's rim after ø; none for a bulbous front"), "77"),
    "lens.pupil": Ask(
        N_("Entrance pupil behind the thread"),
        N_("Turn the lens about a point where near and far stay in line"),
        N_("27, or 17: 27, 35: 30"),
    ),
    "lens.mounted": Ask(N_("Lens mounting"), N_("As you use it for close-ups")),
    "reversing.length": Ask(N_("Reversing ring, mm"), N_("Distance it adds between lens and camera"), "7"),
    "second_lens": Ask(
        N_("Lens coupled to its front"),
        N_("Focal length and aperture; its filter thread behind a comma"),
        N_("50 f/1.8, 52"),
    ),
    "bellows.reach": Ask(
        N_("Bellows, mm"), N_("Shortest and longest draw, and what they are set to"), N_("35 to 140, at 90")
    ),
    "lens.nearest": Ask(N_("Minimum focus distance"), N_("From the manual, subject to sensor"), "0.45 m"),
    "lens.nearest_scale": Ask(N_("Magnification there"), N_("From the manual"), N_("0.15 or 1:6.6")),
    "lens.ruler": Ask(
        N_("… or a ruler at the closest focus"),
        N_("Length of it in the frame, and its distance from the thread"),
        N_("36 mm at 180 mm"),
    ),
    "sizes": Ask(
        N_("From which thread to which"),
        N_("The lens's first; for the base ring of magnetic filters: 77 to magnetic"),
        N_("77 to 82"),
    ),
    "screws": Ask(N_("Goes into"), N_("The thread it screws into; or bayonet, or magnetic"), "82"),
    "filter_is": Ask(N_("It is"), N_("Printed on its rim")),
    "slots": Ask(N_("Slots"), N_("Number of filters it holds, one behind another")),
    "system": Ask(N_("Filter width, mm"), N_("The name of its system"), "100"),
    "depth": Ask(N_("Length it adds, mm"), N_("From the seat behind it to its front; a ruler does"), "5"),
    "clear": Ask(N_("Clear inside, mm"), N_("The narrowest free diameter; measure with a caliper"), "78"),
    "magnetic": Ask(
        N_("Magnetic filters on it, mm"),
        N_("The depth each one adds, closest to the lens first"),
        N_("3, 3, 5 polariser"),
    ),
    "window": Ask(
        N_("Free window, mm"), N_("Between the rails at its front; width, or width x height"), N_("95 or 95 x 80")
    ),
    "drop_in": Ask(N_("Drop-in polariser, mm"), N_("Its diameter, where one drops in behind the square filters"), "86"),
    "first_slot": Ask(
        N_("Rear face to the first slot, mm"), N_("To the middle of the rearmost filter; a ruler does"), "5"
    ),
    "sheets": Ask(
        N_("Filters in it"),
        N_("Closest to the lens first, separated by semicolons"),
        N_("10 stops; 3 stops soft"),
    ),
    "tubes": Ask(N_("Extension tubes, mm"), N_("Printed on them"), "12, 20, 36"),
    "close_up_lenses": Ask(N_("Close-up lenses"), N_("Printed on their rims; 10x means +10"), "+2, +4"),
    "subject": Ask(N_("Width of the subject"), N_("A ruler beside it"), N_("30 mm")),
}
# Where a question means something else on another route.
_ELSEWHERE: dict[tuple[str, str], Ask] = {
    ("filters", "piece"): Ask(
        N_("Next outward from the lens"), N_("One part after another, from the lens to the scene")
    ),
}
CHOICES: dict[str, Message] = {
    "telescope_corrector": N_("Telescope with a corrector"),
    "telescope": N_("Telescope alone"),
    "prime_focus": N_("Mirror, camera in front of it"),
    "camera_lens": N_("Camera lens"),
    "none": N_("No more parts"),
    "on": N_("On"),
    "off": N_("Off"),
    "mount_normal": N_("On the camera"),
    "mount_reversed": N_("Reversed on a ring"),
    "mount_coupled": N_("A second lens on its front"),
    "mount_bellows": N_("On bellows"),
    "mount_reversed_bellows": N_("Reversed on bellows"),
    "mount_no_focus": N_("Does not focus by itself"),
    "hood_fixed": N_("Fixed"),
    "hood_comes_off": N_("Comes off"),
    "no_hood": N_("None"),
    "rectilinear": N_("Rectilinear"),
    "equidistant": N_("Equidistant"),
    "equisolid": N_("Equisolid"),
    "stereographic": N_("Stereographic"),
    "orthographic": N_("Orthographic"),
    "polariser": N_("A polariser"),
    "other": N_("Another filter"),
}
_FRONT_NAMES = {
    "adapter": N_("Step ring"),
    "holder_ring": N_("Holder adapter ring"),
    "round_filter": N_("Screw-in filter"),
}


def ask_of(route: str, stem: str) -> Ask:
    """Return the words of a question."""
    return _ELSEWHERE.get((route, stem)) or ASKS[stem]


def choice_name(route: str, choice: str) -> str:
    """Return what a choice says."""
    if route == "filters" and choice in _FRONT_NAMES:
        return str(_FRONT_NAMES[choice])
    if choice in CHOICES:
        return str(CHOICES[choice])
    return begun_large(str(KIND_NAMES[choice])) if choice in KIND_NAMES else choice


def waits_for(route: str, stems: list[str]) -> str:
    """Return what a first verdict still waits for, in a sentence."""
    names = list(dict.fromkeys(_plain(str(ask_of(route, stem).what)) for stem in stems))
    if len(names) == 1:
        return say("Still needed for a verdict: {names}.", names=names[0])
    return say("Still needed for a verdict: {listed} and {names}.", listed=", ".join(names[:-1]), names=names[-1])


def _plain(what: str) -> str:
    """Return a question's words inside a sentence, without its unit."""
    words = what.split(",")[0].removeprefix("… or ")
    return begun_small(words)
