"""The words of the routes: what is asked, where one reads it, and how an answer looks."""

from dataclasses import dataclass

from farrail.language import begun_large, begun_small, say
from farrail.parts.registry import KIND_NAMES


@dataclass(frozen=True)
class Ask:
    """The words of one question.

    Attributes:
        what: what is asked, in a few words; it also names what a verdict still waits for.
        where: where one finds it, in half a sentence.
        such_as: an answer to show in the empty field.
    """

    what: str
    where: str
    such_as: str = ""


# Title of a route, and what it leads to.
ROUTES: dict[str, tuple[str, str]] = {
    "night": (say("My night train"), say("From the camera to a verdict on its spacing, and what to buy for it")),
    "filters": (say("My lens and filters"), say("From the lens to its first focal length free of vignetting")),
    "close_up": (say("My close-up"), say("From the lens to frame size and working distance")),
}
_LENGTH = say("Shoulder to shoulder, without its threads; from a caliper or the maker's drawing")
_ENDS = say("Both ends, the one toward the sky first; printed on its rim or in its drawing")
ASKS: dict[str, Ask] = {
    "camera.format": Ask(
        say("Sensor size"), say("In the camera's data; a name, or width x height"), say("1 inch, or 13.2 x 8.8")
    ),
    "camera.pixel": Ask(say("Pixel size, µm"), say("In the camera's data"), "2.4"),
    "camera.flange": Ask(
        say("Flange to sensor, mm"), say("In the maker's drawing, with its front ring as you use it"), "17.5"
    ),
    "camera.front": Ask(say("Its front connection"), say("On the camera's front ring"), say("M42x0.75 internal")),
    "camera.ring": Ask(
        say("Front ring that comes off, mm"), say("Its length, if there is one; measure with a caliper"), "5"
    ),
    "camera.ring_behind": Ask(
        say("Connection behind the ring"), say("On the camera, with the ring off"), say("M42x0.75 internal")
    ),
    "camera.ring_off": Ask(say("The ring is"), say("As you use it")),
    "optic.what": Ask(say("What focuses"), say("What the train begins with")),
    "optic.size": Ask(say("Focal length and f-number"), say("Engraved on the tube or lens"), "432 f/6"),
    "optic.mount": Ask(
        say("Lens mount"), say("Its bayonet by name, or its flange focal distance in mm"), say("44 mm SLR bayonet")
    ),
    "corrector.back_focus": Ask(
        say("Back focus, mm"), say("From its maker; where manual and drawing differ, give both"), say("55 and 55.25")
    ),
    "corrector.factor": Ask(
        say("Reduction factor"),
        say("As printed on a reducer; leave empty for a flattener or coma corrector"),
        say("0.8×"),
    ),
    "corrector.tolerance": Ask(say("Tolerance ±, mm"), say("If its maker gives one"), "0.5"),
    "corrector.datum": Ask(say("Counted from"), say("The surface the maker names"), say("rear shoulder")),
    "optic.back_focus": Ask(
        say("Back focus, mm"),
        say("Rear shoulder to sensor, where the maker fixes it; two figures if two"),
        say("60 and 60.3"),
    ),
    "optic.tolerance": Ask(say("Tolerance ±, mm"), say("If its maker gives one"), "0.3"),
    "optic.rear": Ask(say("Its rear connection"), say("Where the next part screws on"), say("M48x0.75 external")),
    "piece": Ask(say("Next toward the camera"), say("One part after another, as the light meets them")),
    "length": Ask(say("Its length, mm"), _LENGTH, "20.5"),
    "threads": Ask(say("Its connections"), _ENDS, say("M48x0.75 internal to M42x0.75 external")),
    "glass": Ask(
        say("Filter in it, mm"), say("Width and thickness of its glass, or the thickness alone: 2"), say("36 x 2, or 2")
    ),
    "lens.focal": Ask(say("Focal length, mm"), say("Engraved on the lens; of a zoom both ends"), say("17 to 35")),
    "lens.f_number": Ask(say("Widest aperture"), say("Engraved beside it"), "f/4"),
    "lens.mount": Ask(
        say("Lens mount"), say("Its bayonet by name, or its flange focal distance in mm"), say("44 mm SLR bayonet")
    ),
    "lens.thread": Ask(say("Filter thread"), say("On the lens's rim after ø; none for a bulbous front"), "77"),
    "lens.pupil": Ask(
        say("Entrance pupil behind the thread"),
        say("Turn the lens about a point where near and far stay in line"),
        say("27, or 17: 27, 35: 30"),
    ),
    "lens.nearest": Ask(say("Minimum focus distance"), say("From the manual, subject to sensor"), "0.45 m"),
    "lens.nearest_scale": Ask(say("Magnification there"), say("From the manual"), say("0.15 or 1:6.6")),
    "lens.ruler": Ask(
        say("… or a ruler at the closest focus"),
        say("How much of it is seen, and how far it is from the thread"),
        say("36 mm at 180 mm"),
    ),
    "sizes": Ask(say("From which thread to which"), say("The lens's first; printed on the ring"), say("77 to 82")),
    "screws": Ask(say("Goes into"), say("The thread it screws into, or bayonet for the ring behind it"), "82"),
    "filter_is": Ask(say("It is"), say("Printed on its rim")),
    "slots": Ask(say("Slots"), say("Number of filters it holds, one behind another")),
    "system": Ask(say("Filter width, mm"), say("The name of its system"), "100"),
    "depth": Ask(say("Length it adds, mm"), say("From the seat behind it to its front; a ruler does"), "5"),
    "clear": Ask(say("Clear inside, mm"), say("The narrowest free diameter; measure with a caliper"), "78"),
    "first_slot": Ask(
        say("Rear face to the first slot, mm"), say("To the middle of the rearmost filter; a ruler does"), "5"
    ),
    "sheets": Ask(
        say("Filters in it"),
        say("Closest to the lens first, separated by semicolons"),
        say("10 stops; 3 stops soft"),
    ),
    "tubes": Ask(say("Extension tubes, mm"), say("Printed on them"), "12, 20, 36"),
    "close_up_lenses": Ask(say("Close-up lenses"), say("Printed on their rims; 10x means +10"), "+2, +4"),
    "subject": Ask(say("Width of the subject"), say("A ruler beside it"), say("30 mm")),
}
# Where a question means something else on another route.
_ELSEWHERE: dict[tuple[str, str], Ask] = {
    ("filters", "piece"): Ask(
        say("Next outward from the lens"), say("One part after another, from the lens to the scene")
    ),
}
CHOICES: dict[str, str] = {
    "telescope_corrector": say("Telescope with a corrector"),
    "telescope": say("Telescope alone"),
    "prime_focus": say("Mirror, camera in front of it"),
    "camera_lens": say("Camera lens"),
    "none": say("No more parts"),
    "on": "On",
    "off": say("Off"),
    "polariser": say("A polariser"),
    "other": say("Another filter"),
}
_FRONT_NAMES = {
    "adapter": say("Step ring"),
    "holder_ring": say("Holder adapter ring"),
    "round_filter": say("Screw-in filter"),
}


def ask_of(route: str, stem: str) -> Ask:
    """Return the words of a question."""
    return _ELSEWHERE.get((route, stem)) or ASKS[stem]


def choice_name(route: str, choice: str) -> str:
    """Return what a choice says."""
    if route == "filters" and choice in _FRONT_NAMES:
        return _FRONT_NAMES[choice]
    if choice in CHOICES:
        return CHOICES[choice]
    return begun_large(KIND_NAMES[choice]) if choice in KIND_NAMES else choice


def waits_for(route: str, stems: list[str]) -> str:
    """Return what a first verdict still waits for, in a sentence."""
    names = list(dict.fromkeys(_plain(ask_of(route, stem).what) for stem in stems))
    if len(names) == 1:
        return say("Still needed for a verdict: {names}.", names=names[0])
    return say("Still needed for a verdict: {listed} and {names}.", listed=", ".join(names[:-1]), names=names[-1])


def _plain(what: str) -> str:
    """Return a question's words inside a sentence, without its unit."""
    words = what.split(",")[0].removeprefix("… or ")
    return begun_small(words)
