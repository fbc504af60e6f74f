"""The words of steps and cautions: what to do, how, and why."""

from collections.abc import Callable
from dataclasses import dataclass

from farrail.assembly.cautions import Caution
from farrail.assembly.model import Stage, Start, Step, Tool
from farrail.assembly.overhang import Carrier
from farrail.text.values import Values, decimal, mass_words


@dataclass(frozen=True)
class Told:
    """One step in words: what, how, why."""

    what: str
    how: str
    why: str


STAGES = {
    Stage.PREPARE: "Before anything is screwed", Stage.FILTERS: "Filters into their seats",
    Stage.REAR: "The train, from the optic to the camera", Stage.LENS_OFF: "With the lens off the body",
    Stage.FRONT: "Ahead of the lens", Stage.MOUNT: "On to what carries it", Stage.SITE: "At the site",
    Stage.TEAR_DOWN: "Back into the bag",
}  # fmt: skip
STARTS = {
    Start.BENCH: "from the bare bench", Start.BAG: "from the bag", Start.FILTER: "only a filter changes",
    Start.SITE: "at the site", Start.TEAR_DOWN: "tear it down",
}  # fmt: skip
TOOLS = {
    Tool.BLOWER: "bulb blower", Tool.GLOVES: "clean gloves", Tool.SPANNER: "spanner wrench",
    Tool.SCREWDRIVER: "small screwdriver", Tool.HEX_KEY: "hex key", Tool.CALIPER: "caliper", Tool.CLOTH: "lint-free cloth",
}  # fmt: skip
_SNUG = "Snug, then no more: rings seize in the cold, and a cell that is forced cracks its glass."


Teller = Callable[[Values], Told]


def _plain(what: str, how: str, why: str) -> Teller:
    """Return a teller that puts the values of a step into its words."""

    def tell(v: Values) -> Told:
        return Told(*(text.format_map(_Fields(v)) for text in (what, how, why)))

    return tell


class _Fields(dict[str, object]):
    """The values of a step by name, for a template; what was not given is an error of ours."""

    def __init__(self, values: Values) -> None:
        super().__init__()
        self._values = values

    def __missing__(self, key: str) -> object:
        value = getattr(self._values, key)
        return decimal(value) if isinstance(value, float) else value


def _wheel_way(v: Values) -> Told:
    toward = "toward the sensor" if v.nearer_sensor else "away from the sensor, as this train has it"
    why = "The nearer the filters stand to the sensor, the smaller they may be."
    if not v.nearer_sensor:
        why += " Turned round it would be so here too; the Light station says whether that is worth new flat frames."
    return Told(
        f"Face {v.part} with its seats {toward}.", "Look which side of the housing the carousel lies against.", why
    )


def _set_length(v: Values) -> Told:
    return Told(f"Set {v.part} to {v.set_mm:.2f} mm.", "Measure shoulder to shoulder with the caliper, then lock it.",
                "Its length is part of the back focus; unlocked it turns as the next part is screwed on.")  # fmt: skip


def _held(v: Values) -> Told:
    return Told(
        f"Lay {v.part} between {v.before} and {v.after}, glass by its edge.",
        "Screw the two rings together around it until the glass no longer rattles, and stop there.",
        "The rings hold the glass; tightened further they bend or crack it.",
    )


def _onto(v: Values) -> Told:
    where = "the focuser" if v.telescope else "the lens"
    return Told(
        f"{'Screw' if v.threaded else 'Set'} the train on {v.left}: {v.right} goes first ({v.thread}).",
        f"Hold the train with one hand under its camera until {where} carries it.",
        "Screwed on last it turns as one piece; a joint that was left loose shows now, before it falls.",
    )


def _filter_in(v: Values, bare: bool) -> Told:
    place = f"slot {v.slot} of {v.seat}" if v.wheel else f"a tray of {v.seat}"
    if bare:
        return Told(
            f"Lay {v.part} into {place}.",
            "Hold it by its edge, blow both faces, lay it in, then mask and screws with the driver held clear.",
            "A finger on the glass shows in every frame, and gloves leave marks too.",
        )
    return Told(f"Screw {v.part} into {place}.", "Blow both faces; turn backwards until the thread drops in, then forward.",
                _SNUG)  # fmt: skip


def _joint(v: Values) -> Told:
    return Told(f"Screw {v.right} on {v.left} ({v.thread}).",
                "Turn backwards until the thread drops in, then forward by hand.", _SNUG)  # fmt: skip


def _sheet(v: Values, words: str, how: str, why: str) -> Told:
    return Told(f"{words} {v.part} into slot {v.slot} of {v.holder}.", how, why)


def _drop_in(v: Values) -> Told:
    turned = "Mark to mark, its wheel held while it is turned home; see that it still turns."
    how = turned if v.polariser else "By its rim, until it snaps."
    return Told(f"Set {v.part} into {v.holder} before that goes on.", how,
                "Behind the sheets it is out of reach once the holder stands.")  # fmt: skip


STEPS: dict[str, Teller] = {
    "table": _plain("Clear a table, and lay out {train}.", "A clean cloth, the parts in the order of the drawing.",
                    "What is in its order on the table goes together in its order."),
    "hands": _plain("Clean hands, gloves and the bulb blower ready.", "Work facing down, over the cloth; no canned gas.",
                    "Canned gas spits cold liquid that spoils coatings, and what falls on glass facing up stays."),
    "window_out": _plain("Take the optical window out of {camera}, where its maker says it may be.",
                         "Keep it in its own box, dust-free.",
                         "The distance counts on the glass that follows; with the window in, it would be counted twice."),
    "front_ring_off": _plain("Take the front ring off {camera}.", "Loosen its screws evenly, and keep them with the ring.",
                             "This train counts on the camera without it."),
    "blow_housing": _plain("Open {part} and blow carousel and cover out.", "Opening down, no breath on it.",
                           "Dust inside walks from filter to filter, and no flat frame takes it away again."),
    "blow_drawer": _plain("Blow {part} and its tray out.", "Tray drawn, opening down.", "An open drawer lets dust in."),
    "out_of_cell": _plain("Take {part} out of its cell.", "Spanner wrench in the two notches; cell on a soft cloth.",
                          "Held between two rings it adds no length of its own. Never do it with an expensive one."),
    "bare_filter": lambda v: _filter_in(v, True),
    "celled_filter": lambda v: _filter_in(v, False),
    "shiny_side": _plain("Turn the shiny face of {part} to the telescope.", "Look at both faces against the light.",
                         "An interference filter the other way round throws halos round bright stars."),
    "empty_slots": _plain("{empty} of the slots of {part} stay empty: note which.", "Write the list inside its lid.",
                          "A filter to come has its place, and nobody looks through an empty one by mistake."),
    "close_wheel": _plain("Close {part}.", "Blow once more; screws crosswise, driver held clear of the glass.",
                          "A cover drawn down on one side leaks light."),
    "shim_in": _plain("Lay {part} on the shoulder of the next joint.", "Measure it first: {length_mm} mm.",
                      "A shim goes missing between two rings more easily than any other part."),
    "held_filter": _held,
    "wheel_way": _wheel_way,
    "drawer_up": _plain("Turn {part} so that its tray opens upward with the telescope pointed at the sky; push it home "
                        "until it snaps.", "Try the handle past its neighbours.",
                        "A tray that opens downward drops its filter."),
    "set_length": _set_length,
    "rotator_even": _plain("Square {part} before it is tightened.", "Screws nearly out, seat flush; squeeze it together "
                           "while tightening evenly all round; look for tilt and sag.",
                           "Tightened on one side first it stands askew. A taper holds it even if the screws loosen."),
    "tilt_parallel": _plain("Set both plates of {part} parallel.", "Even gap all round, screws just felt.",
                            "Its length is told for parallel plates; tilt is taken out later, by the stars."),
    "guider": _plain("Turn the prism of {part} to the long side of the sensor, and push it in no farther than the map allows.",
                     "Lock it, then look whether its shadow falls on the frame.", "At the short side it darkens a corner."),
    "screw": _joint,
    "bayonet": _plain("Set {right} on {left}, mark to mark, and turn until it locks ({thread}).", "Listen for the catch.",
                      "A bayonet half turned holds until it is tilted."),
    "nosepiece": _plain("Push {right} into {left} and clamp it ({thread}).",
                        "To its shoulder, or measure how far it stands out.", "A screw holds it wherever it was left."),
    "slip_on": _plain("Slip {part} over the lens while the lens is off the body.", "Stretch the shield over the hood, clips "
                      "from behind; expect more force than seems right. Try it at home first.",
                      "On the body the force goes into the mount, and in the dark into the lens."),
    "slip_on_ring": _plain("Set {part} over the front of the lens while the lens is off the body.", "Parts of it in the "
                           "order they were taken apart: lugs seated, compression ring, lock ring.",
                           "A lug that sits on the edge lets the holder tilt."),
    "rings_moved": _plain("Look at focus and aperture of {optic} again.", "Before the lens goes on the body.",
                          "The force of slipping the holder on has moved their rings."),
    "reversed_lens": _plain("Turn {optic} round on its reversing ring.", "Filter thread toward the camera.",
                            "Its rear glass stands free now: no cap, no finger."),
    "step_ring": _plain("Screw {part} on the lens first.", "By itself, before anything is screwed on it.",
                        "Two rings screwed together first seize on each other, and come off the lens as one."),
    "close_up_lens": _plain("Screw {part} on.", "The strongest nearest the lens.", _SNUG),
    "screw_filter": _plain("Screw {part} on.", "Turn backwards until the thread drops in, then forward.", _SNUG),
    "crossed_thread": _plain("Take care with the thread of {part}.", "Turn backwards until it drops in; if it binds, begin anew.",
                             "So wide a thread in a plastic ring crosses easily."),
    "main_ring": _plain("Screw {part} on what is on the lens by now.", "Snug, then a hair back.", _SNUG),
    "ring_after_step": _plain("{part} only now: never on the step-up ring before that is on the lens.", "One ring at a time.",
                              "Screwed together first the two seize."),
    "bayonet_polariser": _plain("Set {part} on its bayonet, mark to mark.", "Hold its wheel while it is turned home.",
                                "Held by the rim it turns instead of locking."),
    "reversing_ring": _plain("Screw {part} on the lens's thread.", "By hand.", _SNUG),
    "drop_in": _drop_in,
    "holder": _plain("Seat {part} all round on its ring, then lock it.", "Pull at it once. A spring clip is caught by a branch; "
                     "a screw reaches only just past its ring: crank it.", "Locking also locks its rotation."),
    "coupling": _plain("Couple the second holder with {part}.", "It turns by itself: look that it does.",
                       "Two angles are set apart from here on."),
    "gasket_rear": lambda v: _sheet(v, "Slide", "Gasket toward the lens, pushed gently, eased past the foam of the light "
                                    "shield.", "Dense glass lets stray light in from behind unless its gasket seals."),
    "square_polariser": lambda v: _sheet(v, "Slide", "Printed edge to the photographer's upper left; a thin cloth at the edge.",
                                         "It turns with the holder from here on."),
    "plain_sheet": lambda v: _sheet(v, "Slide", "By its edges, pushed gently.", "A sheet forced past a spring chips."),
    "grad_sheet": lambda v: _sheet(v, "Slide", "Dark part up, in the outer groove; slide it to where the line falls.",
                                   "Nearest the hand it is the one that is moved."),
    "thick_slot": lambda v: _sheet(v, "Use the thick slot, with its spacer, for", "Look which groove it is.",
                                   "In a thin groove it jams, and its edge chips."),
    "hood": _plain("Set {part} on.", "Petals upright: the long ones above and below.", "Turned it shades the corners."),
    "onto_optic": _onto,
    "lens_on_body": _plain("Set {optic} on {camera}.", "Mark to mark, until it locks.", "Half turned it holds until it is tilted."),
    "balance": _plain("Balance the telescope again.", "With everything on, cables too.", "The train has moved its weight."),
    "tripod": _plain("Check the tripod under {optic}.", "Legs locked, a weight under the middle in wind.",
                     "What hangs ahead of the lens pulls it down."),
    "caps_off": _plain("Take every cap off.", "Front, and any window cover between.", "One is always forgotten."),
    "light_leaks": _plain("Look for light leaks.", "A lamp round every tray and cover, one dark frame.",
                          "A tray that has not snapped fogs the frame at its edge."),
    "cover_viewfinder": _plain("Shade the rig and cover the viewfinder.", "Cloth over holder and body.",
                               "In so long an exposure light comes in from behind."),
    "focus": _plain("Focus again.", "On a star or a far edge, magnified.", "Every change of glass moves the focus."),
    "flats": _plain("Flat frames are void: make new ones.", "Same focus, same angle.", "Dust and shadows have moved."),
    "cap_over_polariser": _plain("Leave {part} on its ring and put the lens cap over it.", "Both stay on the lens.",
                                 "It is ready tomorrow, and its thread is spared."),
    "sheets_out": _plain("Take the sheets out of {part}, each into its sleeve.", "Wipe salt and drops off first.",
                         "Sheets scratch each other."),
    "drawer_loaded": _plain("Leave the trays of {part} loaded.", "Each in its case.", "Glass not handled stays clean."),
    "camera_on_wheel": _plain("Leave the camera on {part}.", "Capped as one piece.", "Flat frames stay good a while longer."),
    "rings_apart": _plain("Take {part} off before the step-up ring.", "One ring at a time.", "Together they seize."),
    "caps_on": _plain("Caps on, front and rear.", "Then count the parts of {train}.", "What was left in the grass is missed late."),
}  # fmt: skip

CAUTIONS: dict[str, tuple[str, str]] = {
    "sun_filters": ("Never point a lens or your eye at the Sun through neutral density or polarising filters.",
                    "They are no solar filters, however dark. Use a certified solar filter over the whole front (ISO 12312-2 "
                    "covers eye-safe viewing products)."),
    "sun_telescope": ("Never point the telescope near the Sun without a certified full-aperture solar filter in front.",
                      "Heat gathers behind it within a second. By day cap it, and cap the finder."),
    "broken_glass": ("Broken filters cut.", "Sweep them up with paper, not with the hand."),
    "overhang": ("A long train hangs far out: it can tip a tripod, or drop.",
                 "Support it near its own centre of mass, keep a hand under it while a clamp is loose."),
    "night_outdoors": ("Cold, dew and dark outdoors.", "Warm clothes, a lamp, somebody who knows where you are; local rules first."),
    "shore": ("Tide, wet rock and cliff edges.", "Look at the tide table and stay back from edges; the picture can wait."),
    "mains": ("Mains power outdoors belongs to a qualified person.",
              "Batteries, or an outlet put up and protected as local codes ask."),
}  # fmt: skip


def told(step: Step) -> Told:
    """Return a step in words."""
    return STEPS[step.rule](Values(step.hit.values))


def caution_words(caution: Caution) -> tuple[str, str]:
    """Return a caution in one sentence, and its reason and limit."""
    head, reason = CAUTIONS[caution.key]
    hanging = caution.overhang
    if hanging is None:
        return head, reason
    count = len(hanging.unweighed)
    less = f", without {count} part{'' if count == 1 else 's'} nobody has weighed" if count else ""
    mass, torque = mass_words(hanging.mass_g), f"{hanging.torque_nm:.1f} N·m"
    if hanging.carrier is Carrier.COLLAR:
        heavy = "the scene" if hanging.front_heavy else "the camera"
        lever = f"{mass} stands on the collar, {torque} heavier toward {heavy}{less}."
    else:
        lever = f"{mass} hangs out, {torque} about the face that carries it{less}."
    return head, f"{reason} {lever}"
