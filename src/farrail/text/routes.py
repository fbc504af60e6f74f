"""The words of the routes: what is asked, where one reads it, and how an answer looks."""

from dataclasses import dataclass

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
    "night": ("My night train", "From the camera to a verdict on its spacing, and what to buy for it"),
    "filters": ("My lens and filters", "From the lens to its first focal length free of vignetting"),
    "close_up": ("My close-up", "From the lens to what fills the frame, and how far away"),
}
_LENGTH = "Shoulder to shoulder without its threads; a caliper tells, or the maker's drawing"
_ENDS = "Both ends, the one toward the sky first; printed on its rim or in its drawing"
ASKS: dict[str, Ask] = {
    "camera.format": Ask("Sensor size", "In the camera's data; a name, or width x height", "1 inch, or 13.2 x 8.8"),
    "camera.pixel": Ask("Pixel size, µm", "In the camera's data", "2.4"),
    "camera.flange": Ask("Flange to sensor, mm", "In the maker's drawing, with its front ring as you use it", "17.5"),
    "camera.front": Ask("Its front connection", "On the camera's front ring", "M42x0.75 internal"),
    "camera.ring": Ask("Front ring that comes off, mm", "Its length, if it has one; a caliper tells", "5"),
    "camera.ring_off": Ask("The ring is", "As you use it"),
    "optic.what": Ask("What focuses", "What the train begins with"),
    "optic.size": Ask("Focal length and f-number", "Engraved on the tube or lens", "432 f/6"),
    "optic.mount": Ask("Lens mount", "Its bayonet by name, or its flange focal distance in mm", "44 mm SLR bayonet"),
    "corrector.back_focus": Ask("Back focus, mm", "From its maker; where manual and drawing differ, give both",
                                "55 and 55.25"),
    "corrector.tolerance": Ask("Tolerance ±, mm", "If its maker gives one", "0.5"),
    "corrector.datum": Ask("Counted from", "The surface the maker names", "rear shoulder"),
    "optic.back_focus": Ask("Back focus, mm", "Rear shoulder to sensor, where the maker fixes it; two figures if two",
                            "60 and 60.3"),
    "optic.tolerance": Ask("Tolerance ±, mm", "If its maker gives one", "0.3"),
    "optic.rear": Ask("Its rear connection", "Where the next part screws on", "M48x0.75 external"),
    "piece": Ask("Next toward the camera", "One part after another, as the light meets them"),
    "length": Ask("Its length, mm", _LENGTH, "20.5"),
    "threads": Ask("Its connections", _ENDS, "M48x0.75 internal to M42x0.75 external"),
    "glass": Ask("Filter in it, mm", "How wide and how thick its glass, or the glass alone: 2", "36 x 2, or 2"),
    "lens.focal": Ask("Focal length, mm", "Engraved on the lens; of a zoom both ends", "17 to 35"),
    "lens.f_number": Ask("Widest aperture", "Engraved beside it", "f/4"),
    "lens.mount": Ask("Lens mount", "Its bayonet by name, or its flange focal distance in mm", "44 mm SLR bayonet"),
    "lens.thread": Ask("Filter thread", "On the lens's rim beside ø; none for a bulbous front", "77"),
    "lens.pupil": Ask("Entrance pupil behind the thread", "Turn the lens about a point where near and far stay in line",
                      "27, or 17: 27, 35: 30"),
    "lens.nearest": Ask("Minimum focus distance", "From the manual, subject to sensor", "0.45 m"),
    "lens.nearest_scale": Ask("Magnification there", "From the manual", "0.15 or 1:6.6"),
    "lens.ruler": Ask("… or a ruler seen nearest", "How much of it is seen, and how far it is from the thread",
                      "36 mm at 180 mm"),
    "sizes": Ask("From which thread to which", "The lens's first; printed on the ring", "77 to 82"),
    "screws": Ask("Goes into", "The thread it screws into, or bayonet for the ring behind it", "82"),
    "filter_is": Ask("It is", "Printed on its rim"),
    "slots": Ask("Slots", "How many filters it takes one behind another"),
    "system": Ask("For filters this wide, mm", "The name of its system", "100"),
    "depth": Ask("How far it stands out, mm", "From the seat behind it to its front; a ruler does", "5"),
    "clear": Ask("Clear inside, mm", "The narrowest free diameter; a caliper tells", "78"),
    "first_slot": Ask("Rear face to the first slot, mm", "To the middle of the rearmost filter; a ruler does", "5"),
    "sheets": Ask("Filters in it", "The one nearest the lens first, with semicolons between", "10 stops; 3 stops soft"),
    "tubes": Ask("Extension tubes, mm", "Printed on them", "12, 20, 36"),
    "close_up_lenses": Ask("Close-up lenses", "Printed on their rims; 10x means +10", "+2, +4"),
    "subject": Ask("How wide the subject is", "A ruler beside it", "30 mm"),
}  # fmt: skip
# Where a question means something else on another route.
_ELSEWHERE: dict[tuple[str, str], Ask] = {
    ("filters", "piece"): Ask("Next outward from the lens", "One part after another, from the lens to the scene"),
}
CHOICES: dict[str, str] = {
    "telescope_corrector": "Telescope with a corrector", "telescope": "Telescope alone",
    "prime_focus": "Mirror, camera in front of it", "camera_lens": "Camera lens", "none": "Nothing more",
    "on": "On", "off": "Off", "polariser": "A polariser", "other": "Another filter",
}  # fmt: skip
_FRONT_NAMES = {"adapter": "Step ring", "holder_ring": "Holder adapter ring", "round_filter": "Screw-in filter"}


def ask_of(route: str, stem: str) -> Ask:
    """Return the words of a question."""
    return _ELSEWHERE.get((route, stem)) or ASKS[stem]


def choice_name(route: str, choice: str) -> str:
    """Return what a choice says."""
    if route == "filters" and choice in _FRONT_NAMES:
        return _FRONT_NAMES[choice]
    if choice in CHOICES:
        return CHOICES[choice]
    return KIND_NAMES[choice].capitalize() if choice in KIND_NAMES else choice


def waits_for(route: str, stems: list[str]) -> str:
    """Return what a first verdict still waits for, in a sentence."""
    names = list(dict.fromkeys(_plain(ask_of(route, stem).what) for stem in stems))
    if len(names) == 1:
        return f"Still needed for a verdict: {names[0]}."
    return f"Still needed for a verdict: {', '.join(names[:-1])} and {names[-1]}."


def _plain(what: str) -> str:
    """Return a question's words inside a sentence, without its unit."""
    words = what.split(",")[0].removeprefix("… or ")
    return f"{words[0].lower()}{words[1:]}"
