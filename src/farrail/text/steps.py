"""The words of steps and cautions: what to do, how, and why."""

from collections.abc import Callable
from dataclasses import dataclass

from farrail.assembly.cautions import Caution
from farrail.assembly.model import Stage, Start, Step, Tool
from farrail.assembly.overhang import Carrier
from farrail.language import say, say_n
from farrail.text.values import Values, decimal, mass_words


@dataclass(frozen=True)
class Told:
    """One step in words: what, how, why."""

    what: str
    how: str
    why: str


STAGES = {
    Stage.PREPARE: say("Preparation"), Stage.FILTERS: say("Filters into their seats"),
    Stage.REAR: say("The train, from the optic to the camera"), Stage.LENS_OFF: say("With the lens off the body"),
    Stage.FRONT: say("Ahead of the lens"), Stage.MOUNT: say("Mount it on the telescope or lens"), Stage.SITE: say("At the site"),
    Stage.TEAR_DOWN: say("Back into the bag"),
}  # fmt: skip
STARTS = {
    Start.BENCH: say("from the bare bench"), Start.BAG: say("from the bag"), Start.FILTER: say("only a filter changes"),
    Start.SITE: say("at the site"), Start.TEAR_DOWN: say("tear it down"),
}  # fmt: skip
TOOLS = {
    Tool.BLOWER: say("bulb blower"), Tool.GLOVES: say("clean gloves"), Tool.SPANNER: say("spanner wrench"),
    Tool.SCREWDRIVER: say("small screwdriver"), Tool.HEX_KEY: say("hex key"), Tool.CALIPER: say("caliper"), Tool.CLOTH: say("lint-free cloth"),
}  # fmt: skip
_SNUG = say("Snug, then no more: rings seize in the cold, and a cell that is forced cracks its glass.")


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
    toward = say("toward the sensor") if v.nearer_sensor else say("away from the sensor, as in this train")
    why = say("The closer filters are to the sensor, the smaller they can be.")
    if not v.nearer_sensor:
        why += say(" The same holds if it is reversed; Vignetting shows whether that is worth new flats.")
    return Told(
        say("Face {part} with its seats {toward}.", part=v.part, toward=toward),
        say("Check which side of the housing the carousel is on."),
        why,
    )


def _set_length(v: Values) -> Told:
    return Told(say("Set {part} to {set_mm:.2f mm}.", part=v.part, set_mm=v.set_mm), say("Measure shoulder to shoulder with the caliper, then lock it."),
                say("Its length is part of the back focus; unlocked it turns as the next part is screwed on."))  # fmt: skip


def _held(v: Values) -> Told:
    return Told(
        say(
            "Put {part} between {before} and {after}; hold glass by its edge.",
            part=v.part,
            before=v.before,
            after=v.after,
        ),
        say("Screw the two rings together around it until the glass no longer rattles, and stop there."),
        say("The rings hold the glass; tightened further they bend or crack it."),
    )


def _onto(v: Values) -> Told:
    where = say("the focuser") if v.telescope else say("the lens")
    return Told(
        say(
            "{also} the train on {left}: {right} goes first ({thread}).",
            also=say("Screw") if v.threaded else say("Set"),
            left=v.left,
            right=v.right,
            thread=v.thread,
        ),
        say("Hold the train with one hand under its camera until {where} carries it.", where=where),
        say("Screwed on last it turns as one piece; a joint that was left loose shows now, before it falls."),
    )


def _filter_in(v: Values, bare: bool) -> Told:
    place = say("slot {slot} of {seat}", slot=v.slot, seat=v.seat) if v.wheel else say("a tray of {seat}", seat=v.seat)
    if bare:
        return Told(
            say("Put {part} into {place}.", part=v.part, place=place),
            say(
                "Hold it by its edge, blow both faces, put it in, then fit mask and screws with the driver held clear."
            ),
            say("A finger on the glass shows in every frame, and gloves leave marks too."),
        )
    return Told(say("Screw {part} into {place}.", part=v.part, place=place), say("Blow both faces; turn backwards until the thread drops in, then forward."),
                _SNUG)  # fmt: skip


def _joint(v: Values) -> Told:
    return Told(say("Screw {right} on {left} ({thread}).", right=v.right, left=v.left, thread=v.thread),
                say("Turn backwards until the thread drops in, then forward by hand."), _SNUG)  # fmt: skip


def _sheet(v: Values, words: str, how: str, why: str) -> Told:
    return Told(
        say("{words} {part} into slot {slot} of {holder}.", words=words, part=v.part, slot=v.slot, holder=v.holder),
        how,
        why,
    )


def _drop_in(v: Values) -> Told:
    turned = say("Mark to mark, its wheel held while it is turned home; see that it still turns.")
    how = turned if v.polariser else say("By its rim, until it snaps.")
    return Told(say("Set {part} into {holder} before that goes on.", part=v.part, holder=v.holder), how,
                say("Behind the filters it is out of reach once the holder is fitted."))  # fmt: skip


STEPS: dict[str, Teller] = {
    "table": _plain(say("Clear a table, and set out the parts of {train}."), say("A clean cloth, the parts in the order of the drawing."),
                    say("Parts laid out in order go together in order.")),
    "hands": _plain(say("Clean hands, gloves and the bulb blower ready."), say("Work facing down, over the cloth; no canned gas."),
                    say("Canned gas spits cold liquid that spoils coatings, and what falls on glass facing up stays.")),
    "window_out": _plain(say("Take the optical window out of {camera}, where its maker says it may be."),
                         say("Keep it in its own box, dust-free."),
                         say("The distance counts on the glass that follows; with the window in, it would be counted twice.")),
    "front_ring_off": _plain(say("Take the front ring off {camera}."), say("Loosen its screws evenly, and keep them with the ring."),
                             say("This train counts on the camera without it.")),
    "blow_housing": _plain(say("Open {part} and blow carousel and cover out."), say("Opening down, no breath on it."),
                           say("Dust inside moves from filter to filter, and flats cannot remove it.")),
    "blow_drawer": _plain(say("Blow {part} and its tray out."), say("Tray drawn, opening down."), say("An open drawer lets dust in.")),
    "out_of_cell": _plain(say("Take {part} out of its cell."), say("Spanner wrench in the two notches; cell on a soft cloth."),
                          say("Held between two rings it adds no length of its own. Never do it with an expensive one.")),
    "bare_filter": lambda v: _filter_in(v, True),
    "celled_filter": lambda v: _filter_in(v, False),
    "shiny_side": _plain(say("Turn the shiny face of {part} to the telescope."), say("Look at both faces against the light."),
                         say("An interference filter the other way round throws halos round bright stars.")),
    "empty_slots": _plain(say("{empty} of the slots of {part} stay empty: note which."), say("Write the list inside its lid."),
                          say("A later filter has its place, and an empty slot is not used by mistake.")),
    "close_wheel": _plain(say("Close {part}."), say("Blow once more; screws crosswise, driver held clear of the glass."),
                          say("A cover drawn down on one side leaks light.")),
    "shim_in": _plain(say("Put {part} on the shoulder of the next joint."), say("Measure it first: {length_mm} mm."),
                      say("A shim goes missing between two rings more easily than any other part.")),
    "held_filter": _held,
    "wheel_way": _wheel_way,
    "drawer_up": _plain(say("Turn {part} so that its tray opens upward with the telescope pointed at the sky; push it home "
                        "until it snaps."), say("Try the handle past its neighbours."),
                        say("A tray that opens downward drops its filter.")),
    "set_length": _set_length,
    "rotator_even": _plain(say("Square {part} before it is tightened."), say("Screws nearly out, seat flush; squeeze it together "
                           "while tightening evenly all round; look for tilt and sag."),
                           say("Tightened on one side first it sits crooked. A taper holds it even if the screws "
                               "loosen.")),
    "tilt_parallel": _plain(say("Set both plates of {part} parallel."), say("Even gap all round, screws just felt."),
                            say("Its length is given for parallel plates; remove tilt later, with a star test.")),
    "guider": _plain(say("Turn the prism of {part} to the long side of the sensor, and push it in no farther than the map allows."),
                     say("Lock it, then look whether its shadow falls on the frame."), say("At the short side it darkens a corner.")),
    "screw": _joint,
    "bayonet": _plain(say("Set {right} on {left}, mark to mark, and turn until it locks ({thread})."), say("Listen for the catch."),
                      say("A bayonet half turned holds until it is tilted.")),
    "nosepiece": _plain(say("Push {right} into {left} and clamp it ({thread})."),
                        say("To its shoulder, or measure how far it sticks out."), say("A screw holds it wherever it was left.")),
    "slip_on": _plain(say("Slip {part} over the lens while the lens is off the body."), say("Stretch the shield over the hood, clips "
                      "from behind; expect more force than seems right. Try it at home first."),
                      say("On the body the force goes into the mount, and in the dark into the lens.")),
    "slip_on_ring": _plain(say("Set {part} over the front of the lens while the lens is off the body."), say("Parts of it in the "
                           "order they were taken apart: lugs seated, compression ring, lock ring."),
                           say("A lug that sits on the edge lets the holder tilt.")),
    "rings_moved": _plain(say("Look at focus and aperture of {optic} again."), say("Before the lens goes on the body."),
                          say("The force of slipping the holder on has moved their rings.")),
    "reversed_lens": _plain(say("Turn {optic} round on its reversing ring."), say("Filter thread toward the camera."),
                            say("Its rear glass is exposed now: keep caps and fingers off.")),
    "step_ring": _plain(say("Screw {part} on the lens first."), say("By itself, before anything is screwed on it."),
                        say("Two rings screwed together first seize on each other, and come off the lens as one.")),
    "close_up_lens": _plain(say("Screw {part} on."), say("The strongest closest to the lens."), _SNUG),
    "screw_filter": _plain(say("Screw {part} on."), say("Turn backwards until the thread drops in, then forward."), _SNUG),
    "crossed_thread": _plain(say("Take care with the thread of {part}."), say("Turn backwards until it drops in; if it binds, start over."),
                             say("Large threads in plastic cross-thread easily.")),
    "main_ring": _plain(say("Screw {part} on what is on the lens by now."), say("Snug, then a hair back."), _SNUG),
    "ring_after_step": _plain(say("{part} only now: never on the step-up ring before that is on the lens."), say("One ring at a time."),
                              say("Screwed together first the two seize.")),
    "bayonet_polariser": _plain(say("Set {part} on its bayonet, mark to mark."), say("Hold its wheel while it is turned home."),
                                say("Held by the rim it turns instead of locking.")),
    "reversing_ring": _plain(say("Screw {part} on the lens's thread."), say("By hand."), _SNUG),
    "drop_in": _drop_in,
    "holder": _plain(say("Seat {part} all round on its ring, then lock it."), say("Pull at it once. A spring clip is caught by a branch; "
                     "a screw reaches only just past its ring: crank it."), say("Locking also locks its rotation.")),
    "coupling": _plain(say("Couple the second holder with {part}."), say("It turns by itself: look that it does."),
                       say("Two angles are set apart from here on.")),
    "gasket_rear": lambda v: _sheet(v, say("Slide"), say("Gasket toward the lens, pushed gently, eased past the foam of the light "
                                    "shield."), say("Dense glass lets stray light in from behind unless its gasket seals.")),
    "square_polariser": lambda v: _sheet(v, say("Slide"), say("Printed edge to the photographer's upper left; a thin cloth at the edge."),
                                         say("It turns with the holder from here on.")),
    "plain_sheet": lambda v: _sheet(v, say("Slide"), say("By its edges, pushed gently."), say("A filter forced past a spring chips.")),
    "grad_sheet": lambda v: _sheet(v, say("Slide"), say("Dark part up, in the outer groove; slide it to where the line falls."),
                                   say("It is the one you adjust, so it goes outermost.")),
    "thick_slot": lambda v: _sheet(v, say("Use the thick slot, with its spacer, for"), say("Look which groove it is."),
                                   say("In a thin groove it jams, and its edge chips.")),
    "hood": _plain(say("Set {part} on."), say("Petals upright: the long ones above and below."), say("Turned it shades the corners.")),
    "onto_optic": _onto,
    "lens_on_body": _plain(say("Set {optic} on {camera}."), say("Mark to mark, until it locks."), say("Half turned it holds until it is tilted.")),
    "balance": _plain(say("Balance the telescope again."), say("With everything on, cables too."), say("Adding the train shifts the balance.")),
    "tripod": _plain(say("Check the tripod under {optic}."), say("Legs locked, a weight under the middle in wind."),
                     say("What hangs ahead of the lens pulls it down.")),
    "caps_off": _plain(say("Take every cap off."), say("Front, and any window cover between."), say("One is always forgotten.")),
    "light_leaks": _plain(say("Look for light leaks."), say("A lamp round every tray and cover, one dark frame."),
                          say("A tray that has not snapped fogs the frame at its edge.")),
    "cover_viewfinder": _plain(say("Shade the rig and cover the viewfinder."), say("Cloth over holder and body."),
                               say("In so long an exposure light comes in from behind.")),
    "focus": _plain(say("Focus again."), say("On a star or a far edge, magnified."), say("Every change of glass moves the focus.")),
    "flats": _plain(say("Take new flats."), say("Same focus, same angle."), say("Dust and shadows have moved.")),
    "cap_over_polariser": _plain(say("Leave {part} on its ring and put the lens cap over it."), say("Both stay on the lens."),
                                 say("It is ready tomorrow, and its thread is spared.")),
    "sheets_out": _plain(say("Take the filters out of {part}, each into its sleeve."), say("Wipe salt and drops off first."),
                         say("Filters scratch each other.")),
    "drawer_loaded": _plain(say("Leave the trays of {part} loaded."), say("Each in its case."), say("Glass that is not touched stays clean.")),
    "camera_on_wheel": _plain(say("Leave the camera on {part}."), say("Capped as one piece."), say("Flat frames stay good a while longer.")),
    "rings_apart": _plain(say("Take {part} off before the step-up ring."), say("One ring at a time."), say("Together they seize.")),
    "caps_on": _plain(say("Caps on, front and rear."), say("Then count the parts of {train}."), say("What was left in the grass is missed late.")),
}  # fmt: skip

CAUTIONS: dict[str, tuple[str, str]] = {
    "sun_filters": (say("Never point a lens or your eye at the Sun through neutral density or polarising filters."),
                    say("They are no solar filters, however dark. Use a certified solar filter over the whole front (ISO 12312-2 "
                    "covers eye-safe viewing products).")),
    "sun_telescope": (say("Never point the telescope near the Sun without a certified full-aperture solar filter in front."),
                      say("Heat gathers behind it within a second. By day cap it, and cap the finder.")),
    "broken_glass": (say("Broken filters cut."), say("Sweep them up with paper, not with the hand.")),
    "overhang": (say("A long train hangs far out: it can tip a tripod, or drop."),
                 say("Support it near its own centre of mass, keep a hand under it while a clamp is loose.")),
    "night_outdoors": (say("Cold, dew and dark outdoors."), say("Warm clothes, a lamp, and a person who knows where you are; follow local rules.")),
    "shore": (say("Tide, wet rock and cliff edges."), say("Look at the tide table and stay back from edges; the picture can wait.")),
    "mains": (say("Mains power outdoors belongs to a qualified person."),
              say("Batteries, or an outlet put up and protected as local codes ask.")),
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
    less = (
        say_n(
            ", without {count} part of unknown weight",
            ", without {count} parts of unknown weight",
            count,
            count=count,
        )
        if count
        else ""
    )
    mass, torque = mass_words(hanging.mass_g), say("{torque_nm:.1f} N·m", torque_nm=hanging.torque_nm)
    if hanging.carrier is Carrier.COLLAR:
        heavy = say("the scene") if hanging.front_heavy else say("the camera")
        lever = say(
            "{mass} on the collar, {torque} heavier toward {heavy}{less}.",
            mass=mass,
            torque=torque,
            heavy=heavy,
            less=less,
        )
    else:
        lever = say(
            "{mass} hangs out, {torque} about the face that carries it{less}.", mass=mass, torque=torque, less=less
        )
    return head, f"{reason} {lever}"
