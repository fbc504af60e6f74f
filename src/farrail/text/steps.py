"""The words of steps and cautions: what to do, how, and why."""

from collections.abc import Callable
from dataclasses import dataclass

from farrail.assembly.cautions import Caution
from farrail.assembly.model import Step, StepValues
from farrail.assembly.overhang import Carrier
from farrail.assembly.stages import Stage, Start, Tool
from farrail.language import N_, Message, joined, names_in, say, say_n
from farrail.quantities import decimal, mass_words


@dataclass(frozen=True)
class StepWords:
    """One step in words: what, how, why."""

    what: str
    how: str
    why: str


STAGES = {
    Stage.PREPARE: N_("Preparation"), Stage.FILTERS: N_("Filters into their seats"),
    Stage.REAR: N_("The train, from the optic to the camera"), Stage.LENS_OFF: N_("Lens off the body"),
    Stage.FRONT: N_("Ahead of the lens"), Stage.MOUNT: N_("Mount it on the telescope or lens"), Stage.SITE: N_("At the site"),
    Stage.EXPOSE: N_("Meter, then the filters, the darkest last"),
    Stage.TEAR_DOWN: N_("Back into the bag"),
}  # fmt: skip
STARTS = {
    Start.BENCH: N_("from the bare bench"), Start.BAG: N_("from the bag"), Start.FILTER: N_("only a filter changes"),
    Start.SITE: N_("at the site"), Start.TEAR_DOWN: N_("tear it down"),
}  # fmt: skip
TOOLS = {
    Tool.BLOWER: N_("bulb blower"), Tool.GLOVES: N_("clean gloves"), Tool.SPANNER: N_("spanner wrench"),
    Tool.SCREWDRIVER: N_("small screwdriver"), Tool.HEX_KEY: N_("hex key"), Tool.CALIPER: N_("caliper"), Tool.CLOTH: N_("lint-free cloth"),
}  # fmt: skip
_SNUG = N_("Snug, then no more: rings seize in the cold, and a cell that is forced cracks its glass.")


# So many parts to be weighed are named.
MOST_NAMES = 4
Teller = Callable[[StepValues], StepWords]


def _plain(what: Message, how: Message, why: Message) -> Teller:
    """Return a teller that puts the values of a step into its words."""

    def tell(v: StepValues) -> StepWords:
        return StepWords(*(_filled(text, v) for text in (what, how, why)))

    return tell


def _filled(text: Message, values: StepValues) -> str:
    """Return a message with the values it names."""
    given: dict[str, object] = dict(values)
    named = {name: given[name] for name in names_in(text.id)}
    return say(text, **{name: decimal(one) if isinstance(one, float) else one for name, one in named.items()})


def _wheel_way(v: StepValues) -> StepWords:
    toward = say("toward the sensor") if v["nearer_sensor"] else say("away from the sensor, as in this train")
    why = say("The closer filters are to the sensor, the smaller they can be.")
    if not v["nearer_sensor"]:
        why = joined(why, say("The same holds if it is reversed; Vignetting shows whether that is worth new flats."))
    return StepWords(
        say("Face {part} with its seats {toward}.", part=v["part"], toward=toward),
        say("Check which side of the housing the carousel is on."),
        why,
    )


def _set_length(v: StepValues) -> StepWords:
    return StepWords(say("Set {part} to {set_mm:.2f mm}.", part=v["part"], set_mm=v["set_mm"]), say("Measure shoulder to shoulder with the caliper, then lock it."),
                say("Its length is part of the back focus; unlocked it turns as the next part is screwed on."))  # fmt: skip


def _held(v: StepValues) -> StepWords:
    return StepWords(
        say(
            "Put {part} between {before} and {after}; hold glass by its edge.",
            part=v["part"],
            before=v["before"],
            after=v["after"],
        ),
        say("Screw the two rings together around it until the glass no longer rattles, and stop there."),
        say("The rings hold the glass; tightened further they bend or crack it."),
    )


def _onto(v: StepValues) -> StepWords:
    where = say("the focuser") if v["telescope"] else say("the lens")
    return StepWords(
        say(
            "Screw the train on {left}: {right} goes first ({thread}).",
            left=v["left"],
            right=v["right"],
            thread=v["thread"],
        )
        if v["threaded"]
        else say(
            "Set the train on {left}: {right} goes first ({thread}).",
            left=v["left"],
            right=v["right"],
            thread=v["thread"],
        ),
        say("Hold the train with one hand under its camera until {where} carries it.", where=where),
        say("Screwed on last it turns as one piece; a joint that was left loose shows now, before it falls."),
    )


def _filter_in(v: StepValues, bare: bool) -> StepWords:
    place = (
        say("slot {slot} of {seat}", slot=v["slot"], seat=v["seat"])
        if v["wheel"]
        else say("a tray of {seat}", seat=v["seat"])
    )
    if bare:
        return StepWords(
            say("Put {part} into {place}.", part=v["part"], place=place),
            say(
                "Hold it by its edge, blow both faces, put it in, then fit mask and screws with the driver held clear."
            ),
            say("A finger on the glass shows in every frame, and gloves leave marks too."),
        )
    return StepWords(say("Screw {part} into {place}.", part=v["part"], place=place), say("Blow both faces; turn backwards until the thread drops in, then forward."),
                str(_SNUG))  # fmt: skip


def _joint(v: StepValues) -> StepWords:
    return StepWords(say("Screw {right} on {left} ({thread}).", right=v["right"], left=v["left"], thread=v["thread"]),
                say("Turn backwards until the thread drops in, then forward by hand."), str(_SNUG))  # fmt: skip


def _sheet(v: StepValues, how: str, why: str) -> StepWords:
    return StepWords(
        say(
            "Slide {part} into slot {slot} of {holder}.",
            part=v["part"],
            slot=v["slot"],
            holder=v["holder"],
        ),
        how,
        why,
    )


def _drop_in(v: StepValues) -> StepWords:
    turned = say("Mark to mark, its wheel held while it is turned home; see that it still turns.")
    how = turned if v["polariser"] else say("By its rim, until it snaps.")
    return StepWords(say("Set {part} into {holder} before that goes on.", part=v["part"], holder=v["holder"]), how,
                say("Behind the filters it is out of reach once the holder is fitted."))  # fmt: skip


def _guide_camera(v: StepValues) -> StepWords:
    long = v["length_mm"]
    spaced = say("Put {length_mm:.2f mm} of spacers before it.", length_mm=long) if long else say("Without a spacer.")
    return StepWords(say("Screw {guide} on the port of {part}.", guide=v["guide"], part=v["part"]), spaced,
                     say("Its distance is right for the main camera's focus; the port's own focuser does the rest."))  # fmt: skip


STEPS: dict[str, Teller] = {
    "table": _plain(N_("Clear a table, and set out the parts of {train}."), N_("A clean cloth, the parts in the order of the drawing."),
                    N_("Parts set out in order go together in order.")),
    "hands": _plain(N_("Clean hands, gloves and the bulb blower ready."), N_("Work facing down, over the cloth; no canned gas."),
                    N_("Canned gas spits cold liquid that spoils coatings, and what falls on glass facing up stays.")),
    "window_out": _plain(N_("Take the optical window out of {camera}, where its maker says it may be."),
                         N_("Keep it in its own box, dust-free."),
                         N_("The distance counts on the glass that follows; with the window in, it would be counted twice.")),
    "front_ring_off": _plain(N_("Take the front ring off {camera}."), N_("Loosen its screws evenly, and keep them with the ring."),
                             N_("This train counts on the camera without it.")),
    "blow_housing": _plain(N_("Open {part} and blow carousel and cover out."), N_("Opening down, no breath on it."),
                           N_("Dust inside moves from filter to filter, and flats cannot remove it.")),
    "blow_drawer": _plain(N_("Blow {part} and its tray out."), N_("Tray drawn, opening down."), N_("An open drawer lets dust in.")),
    "out_of_cell": _plain(N_("Take {part} out of its cell."), N_("Spanner wrench in the two notches; cell on a soft cloth."),
                          N_("Held between two rings it adds no length of its own. Never do it with an expensive one.")),
    "bare_filter": lambda v: _filter_in(v, True),
    "celled_filter": lambda v: _filter_in(v, False),
    "shiny_side": _plain(N_("Turn the shiny face of {part} to the telescope."), N_("Look at both faces against the light."),
                         N_("An interference filter the other way round throws halos round bright stars.")),
    "empty_slots": _plain(N_("{empty} of the slots of {part} stay empty: note which."), N_("Write the list inside its lid."),
                          N_("A later filter has its place, and an empty slot is not used by mistake.")),
    "close_wheel": _plain(N_("Close {part}."), N_("Blow once more; screws crosswise, driver held clear of the glass."),
                          N_("A cover drawn down on one side leaks light.")),
    "shim_in": _plain(N_("Put {part} on the shoulder of the next joint."), N_("Measure it first: {length_mm} mm."),
                      N_("A shim goes missing between two rings more easily than any other part.")),
    "held_filter": _held,
    "wheel_way": _wheel_way,
    "drawer_up": _plain(N_("Turn {part} so that its tray opens upward with the telescope pointed at the sky; push it home "
                        "until it snaps."), N_("Try the handle past its neighbours."),
                        N_("A tray that opens downward drops its filter.")),
    "set_length": _set_length,
    "rotator_even": _plain(N_("Square {part} before it is tightened."), N_("Screws nearly out, seat flush; squeeze it together "
                           "while tightening evenly all round; look for tilt and sag."),
                           N_("Tightened on one side first it sits crooked. A taper holds it even if the screws "
                               "loosen.")),
    "tilt_parallel": _plain(N_("Set both plates of {part} parallel."), N_("Even gap all round, screws just felt."),
                            N_("Its length is given for parallel plates; remove tilt later, with a star test.")),
    "tilt_out": _plain(N_("Take tilt out with {part}, where the stars show one."),
                       N_("Add a frame of stars to the Log: it says which screw, which way, how far. 0.1 mm at one of three screws "
                          "moves the corner beside it by about {corner_um} µm."),
                       N_("One screw at a time, then a new frame: with more than one you cannot see which of them did it.")),
    "guider": _plain(N_("Turn the prism of {part} to the long side of the sensor, and push it in no farther than the map allows."),
                     N_("Lock it, then look whether its shadow falls on the frame."), N_("At the short side it darkens a corner.")),
    "screw": _joint,
    "bayonet": _plain(N_("Set {right} on {left}, mark to mark, and turn until it locks ({thread})."), N_("Listen for the catch."),
                      N_("A bayonet half turned holds until it is tilted.")),
    "nosepiece": _plain(N_("Push {right} into {left} and clamp it ({thread})."),
                        N_("To its shoulder, or measure how far it sticks out."), N_("A screw holds it wherever it was left.")),
    "slip_on": _plain(N_("Slip {part} over the lens while the lens is off the body."), N_("Stretch the shield over the hood, clips "
                      "from behind; expect more force than seems right. Try it at home first."),
                      N_("On the body the force goes into the mount, and in the dark into the lens.")),
    "slip_on_ring": _plain(N_("Set {part} over the front of the lens while the lens is off the body."), N_("Parts of it in the "
                           "order they were taken apart: lugs seated, compression ring, lock ring."),
                           N_("A lug that sits on the edge lets the holder tilt.")),
    "rings_moved": _plain(N_("Look at focus and aperture of {optic} again."), N_("Before the lens goes on the body."),
                          N_("The force of slipping the holder on has moved their rings.")),
    "reversed_lens": _plain(N_("Turn {optic} round on its reversing ring."), N_("Filter thread toward the camera."),
                            N_("Its rear glass is exposed now: keep caps and fingers off.")),
    "hood_off": _plain(N_("Take the hood off {optic}."), N_("Before anything goes on its front."),
                       N_("With the hood on nothing else fits, and the corners go dark.")),
    "magnetic_base": _plain(N_("Screw {part} into the lens."), N_("By itself, before a filter is on it."), _SNUG),
    "magnetic_filter": _plain(N_("Set {part} on; its magnets pull it home."), N_("By its rim; check that it sits flat all round."),
                              N_("A filter that sits on an edge tilts, and comes off at a knock.")),
    "guide_camera": _guide_camera,
    "guide_focus": _plain(N_("Focus {guide} on a star in the guider."), N_("Once the main camera is in focus, and with that focus kept."),
                          N_("Both share one focuser: only its own spacers and port move the guide camera's focus.")),
    "step_ring": _plain(N_("Screw {part} on the lens first."), N_("By itself, before anything is screwed on it."),
                        N_("Two rings screwed together first seize on each other, and come off the lens as one.")),
    "close_up_lens": _plain(N_("Screw {part} on."), N_("The strongest closest to the lens."), _SNUG),
    "screw_filter": _plain(N_("Screw {part} on."), N_("Turn backwards until the thread drops in, then forward."), _SNUG),
    "crossed_thread": _plain(N_("Take care with the thread of {part}."), N_("Turn backwards until it drops in; if it binds, start over."),
                             N_("Large threads in plastic cross-thread easily.")),
    "main_ring": _plain(N_("Screw {part} on what is on the lens by now."), N_("Snug, then a hair back."), _SNUG),
    "ring_after_step": _plain(N_("{part} only now: never on the step-up ring before that is on the lens."), N_("One ring at a time."),
                              N_("Screwed together first the two seize.")),
    "bayonet_polariser": _plain(N_("Set {part} on its bayonet, mark to mark."), N_("Hold its wheel while it is turned home."),
                                N_("Held by the rim it turns instead of locking.")),
    "reversing_ring": _plain(N_("Screw {part} on the lens's thread."), N_("By hand."), _SNUG),
    "drop_in": _drop_in,
    "holder": _plain(N_("Seat {part} all round on its ring, then lock it."), N_("Pull at it once. A spring clip is caught by a branch; "
                     "a screw reaches only just past its ring: crank it."), N_("Locking also locks its rotation.")),
    "coupling": _plain(N_("Couple the second holder with {part}."), N_("It turns by itself: look that it does."),
                       N_("Two angles are set apart from here on.")),
    "gasket_rear": lambda v: _sheet(v, say("Gasket toward the lens, pushed gently, eased past the foam of the light "
                                    "shield."), say("Dense glass lets stray light in from behind unless its gasket seals.")),
    "square_polariser": lambda v: _sheet(v, say("Printed edge to the photographer's upper left; a thin cloth at the edge."),
                                         say("It turns with the holder from here on.")),
    "plain_sheet": lambda v: _sheet(v, say("By its edges, pushed gently."), say("A filter forced past a spring chips.")),
    "grad_sheet": lambda v: _sheet(v, say("Dark part up, in the outer groove; slide it to where the line falls."),
                                   say("It is the one you adjust, so it goes outermost.")),
    "thick_slot": _plain(N_("Fit slot {slot} of {holder} with the thick spacer, for {part}."), N_("Look which groove it is."),
                         N_("In a thin groove it jams, and its edge chips.")),
    "hood": _plain(N_("Set {part} on."), N_("Petals upright: the long ones above and below."), N_("Turned it shades the corners.")),
    "onto_optic": _onto,
    "lens_on_body": _plain(N_("Set {optic} on {camera}."), N_("Mark to mark, until it locks."), N_("Half turned it holds until it is tilted.")),
    "balance": _plain(N_("Balance the telescope again."), N_("With everything on, cables too."), N_("Adding the train shifts the balance.")),
    "tripod": _plain(N_("Check the tripod under {optic}."), N_("Legs locked, a weight under the middle in wind."),
                     N_("What hangs ahead of the lens pulls it down.")),
    "caps_off": _plain(N_("Take every cap off."), N_("Front, and any window cover between."), N_("One is always forgotten.")),
    "light_leaks": _plain(N_("Look for light leaks."), N_("A lamp round every tray and cover, one dark frame."),
                          N_("A tray that has not snapped fogs the frame at its edge.")),
    "cover_viewfinder": _plain(N_("Shade the rig and cover the viewfinder."), N_("Cloth over holder and body."),
                               N_("In so long an exposure light comes in from behind.")),
    "focus_star": _plain(N_("Focus again."), N_("On a star, magnified."), N_("Every change of glass moves the focus.")),
    "focus_subject": _plain(N_("Compose and focus."), N_("On the subject, magnified; move camera or subject for the last of it."),
                            N_("So close, a hair of movement is the whole depth of field.")),
    "focus_far": _plain(N_("Compose and focus, then switch autofocus off."), N_("On a far edge, magnified."),
                        N_("Behind dense filters there is nothing left to focus on.")),
    "outer_polariser": _plain(N_("Screw {part} on, and turn it to the sky you want."),
                              N_("Turn backwards until the thread drops in, then forward."),
                              N_("Large threads in plastic cross-thread easily.")),
    "meter": _plain(N_("Meter without the filters, and note the time."), N_("The Exposure page gives the time with them."),
                    N_("Through dense glass a meter reads its own noise.")),
    "flats": _plain(N_("Take new flats."), N_("Same focus, same angle."), N_("Dust and shadows have moved.")),
    "cap_over_polariser": _plain(N_("Leave {part} on its ring and put the lens cap over it."), N_("Both stay on the lens."),
                                 N_("It is ready tomorrow, and its thread is spared.")),
    "sheets_out": _plain(N_("Take the filters out of {part}, each into its sleeve."), N_("Wipe salt and drops off first."),
                         N_("Filters scratch each other.")),
    "drawer_loaded": _plain(N_("Leave the trays of {part} loaded."), N_("Each in its case."), N_("Glass that is not touched stays clean.")),
    "camera_on_wheel": _plain(N_("Leave the camera on {part}."), N_("Capped as one piece."), N_("Flat frames stay good a while longer.")),
    "rings_apart": _plain(N_("Take {part} off before the step-up ring."), N_("One ring at a time."), N_("Together they seize.")),
    "caps_on": _plain(N_("Caps on, front and rear."), N_("Then count the parts of {train}."), N_("What was left in the grass is missed late.")),
}  # fmt: skip

CAUTIONS: dict[str, tuple[Message, Message]] = {
    "sun_filters": (N_("Never point a lens or your eye at the Sun through neutral density or polarising filters."),
                    N_("They are no solar filters, however dark. Use a certified solar filter over the whole front (ISO 12312-2 "
                    "covers eye-safe viewing products).")),
    "sun_telescope": (N_("Never point the telescope near the Sun without a certified full-aperture solar filter in front."),
                      N_("Heat gathers behind it within a second. By day cap it, and cap the finder.")),
    "broken_glass": (N_("Broken filters cut."), N_("Sweep them up with paper, not with the hand.")),
    "overhang": (N_("A long train hangs far out: it can tip a tripod, or drop."),
                 N_("Support it near its own centre of mass, keep a hand under it while a clamp is loose.")),
    "flexure": (N_("A heavy train may sag in the focuser and turn out of collimation."),
                N_("Lock the focuser, then check collimation with the train on, the tube as high as for the picture.")),
    "night_outdoors": (N_("Cold, dew and dark outdoors."), N_("Warm clothes, a lamp, and a person who knows where you are; follow local rules.")),
    "shore": (N_("Tide, wet rock and cliff edges."), N_("Look at the tide table and stay back from edges; the picture can wait.")),
    "mains": (N_("Mains power outdoors belongs to a qualified person."),
              N_("Batteries, or an outlet put up and protected as local codes ask.")),
}  # fmt: skip


def step_words(step: Step) -> StepWords:
    """Return a step in words."""
    return STEPS[step.rule](step.hit.values)


def caution_words(caution: Caution) -> tuple[str, str]:
    """Return a caution in one sentence, and its reason and limit."""
    head, reason = map(str, CAUTIONS[caution.key])
    hanging = caution.overhang
    if hanging is None:
        if caution.unweighed:
            listed = say(", ").join(caution.unweighed[:MOST_NAMES])
            reason = say("{reason} Weigh them to learn the torque: {listed}.", reason=reason, listed=listed)
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
