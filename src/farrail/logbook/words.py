"""The log in words: what was seen, how it is to what was predicted, what it calibrates, what to look at next."""

import math
from collections.abc import Mapping, Sequence
from functools import partial

from farrail.language import N_, Message, joined, say, say_n
from farrail.logbook.consequences import Consequence, TrainVerdict
from farrail.logbook.kinds.stars import CornerStars
from farrail.logbook.learning.doubts import Doubt
from farrail.logbook.learning.model import Assumption, Found, Refused, Settles, Why
from farrail.logbook.learning.spacing_stars import Ladder, Works, back_focus_of
from farrail.logbook.next_best import NextBest
from farrail.logbook.observation import Agreement, Compared, Observation
from farrail.logbook.over_time import Series, leap_of
from farrail.logbook.registry import OBSERVATIONS
from farrail.logbook.seen_words import number_words, seen_words, told_by
from farrail.logbook.state import State as KeptState
from farrail.logbook.value_names import FIGURE_WORDS, Names, part_name, value_name
from farrail.parts.inventory_item import PartId
from farrail.parts.kinds.telescopes import ShortStars
from farrail.parts.origin import Origin
from farrail.quantities import headed, in_words, signed
from farrail.readouts.spacing.grounds import State

States = Mapping[PartId, KeptState]


def difference_words(compared: Compared | None) -> str:
    """Return an observation beside its prediction in one sentence; "" where nothing was predicted of its kind."""
    if compared is None:
        return ""
    if compared.agreement is Agreement.NOT_PREDICTED:
        return say("No prediction: a value it needs is not known.")
    if compared.predicted is None:
        return say("It should not show at all.")
    if isinstance(compared.predicted, float) and math.isinf(compared.predicted):
        return say("Predicted was a dark corner.")
    predicted = told_by(compared.predicted, compared.unit, stays_mm=compared.stays_mm)
    if compared.difference is None:
        told = (
            say("Agrees")
            if compared.agreement is Agreement.AGREES
            else say("Predicted was {predicted}", predicted=predicted)
        )
    elif compared.agreement is Agreement.AGREES:
        told = say("Agrees with the {predicted} predicted", predicted=predicted)
    else:
        by = number_words(abs(compared.difference), compared.unit, stays_mm=compared.stays_mm)
        more = say("more") if compared.difference > 0.0 else say("less")
        told = say("Differs: {by} {more} than the {predicted} predicted", by=by, more=more, predicted=predicted)
    if compared.rests_on is Origin.ASSUMED:
        told += say(", which rests on an assumed value")
    return f"{told}."


def found_words(found: Found, names: Names) -> str:
    """Return a calibrated value in one sentence."""
    part = names.get(found.part)
    name = value_name(part, found.path, found.focal_mm)
    digits = 3 if found.unit in ("", "×") else 2
    (low, told_unit), (high, _), (value, _) = (
        in_words(one, found.unit, digits) for one in (found.low, found.high, found.value)
    )
    unit = f" {told_unit}" if told_unit else ""
    ends = say("{low} to {high}{unit}", low=low, high=high, unit=unit)
    count = say_n("{count} observation", "{count} observations", len(found.seen), count=len(found.seen))
    shared = say("; one offset taken for all focal lengths") if found.taken is Assumption.SHARED_OFFSET else ""
    told = say(
        "{part_name}: {name} {value}{unit} ({minus}), from {count}{shared}.",
        part_name=part_name(found.part, names),
        name=name,
        value=value,
        unit=unit,
        minus=ends,
        count=count,
        shared=shared,
    )
    if found.touch_mm > WIDE_TOUCH_MM:
        eye = say(
            "±{touch_mm:.1f mm} of it is the eye's: stop down to f/8 or f/11 and look again.", touch_mm=found.touch_mm
        )
        return joined(told, eye)
    return told


def evidence_words(
    found: Found, log: Sequence[Observation], states: Mapping[str, KeptState], shelf: Names
) -> list[str]:
    """Return the observations a calibrated value rests on, one a line, with the spacing where stars were looked at.

    Args:
        found: the value.
        log: all observations.
        states: kept states by id.
        shelf: parts as they are known now.
    """
    lines = []
    for seen in log:
        if seen.id not in found.seen:
            continue
        state = states[seen.state]
        at = ""
        if isinstance(seen, CornerStars):
            laid = back_focus_of(state.train, {**state.by_id, **shelf}, found.part)
            at = "" if laid is None else say(" at {actual:.2f mm}", actual=laid)
        lines.append(f"{seen.day}  {state.train.name}: {seen_words(seen, state.by_id)}{at}")
    return lines


# From here on it is worth stopping down before a corner is judged by eye; models.md has about ±2 mm at f/8.
WIDE_TOUCH_MM = 2.5
WHYS: dict[Why, Message] = {
    Why.TOO_FEW: N_("too few observations"),
    Why.ILL_CONDITIONED: N_("the observations cannot separate it from another unknown"),
    Why.WAY_UNKNOWN: N_("the direction of drawn-out stars when too short is not entered"),
    Why.ONE_SIDED: N_("stars were only seen on one side of it"),
    Why.CONTRADICTORY: N_("the observations contradict each other; all of them are kept"),
    Why.OUTSIDE: N_("the result is impossible"),
}
SETTLES: dict[Settles, Message] = {
    Settles.OTHER_PART_SHOWS: N_(
        "one more reading at which another part shows, such as with another holder or a filter "
        "taken off, or its clear width measured with a caliper"
    ),
    Settles.NO_PARALLAX: N_("the no-parallax point found and its distance behind the thread measured"),
    Settles.ACROSS_IT_ALONE: N_("one length measured across that part alone, or across all others of the sum"),
    Settles.BARREL: N_("the barrel length of this lens, from filter thread to flange at its closest focus"),
    Settles.OTHER_TUBE: N_("one more width with another tube, or without any"),
    Settles.OTHER_SPACING: N_("corner stars at one more spacing"),
    Settles.LONGER_SPACING: N_("corner stars at a longer spacing"),
    Settles.SHORTER_SPACING: N_("corner stars at a shorter spacing"),
    Settles.AGAIN: N_("the same looked at once more"),
}


def refused_words(refused: Refused, names: Names) -> str:
    """Return why a value cannot be shown yet, and what would settle it."""
    name = value_name(names.get(refused.part), refused.path, refused.focal_mm)
    why, settles = WHYS[refused.why], SETTLES[refused.settles]
    return say(
        "{part_name}: {name} not known: {why}. Needed: {settles}.",
        part_name=part_name(refused.part, names),
        name=name,
        why=why,
        settles=settles,
    )


RULES = {ShortStars.RADIAL: N_("drawn out from the middle"), ShortStars.TANGENTIAL: N_("drawn out around the middle")}


# A spacing is not changed by less.
LEAST_CHANGE_MM = 0.05


def ladder_words(ladder: Ladder, names: Names) -> str:
    """Return what to try next with a corrector's spacing."""
    if ladder.done and ladder.low_mm is not None and ladder.high_mm is not None:
        return say(
            "No change needed: the true back focus is between {low_mm:.2f length} and "
            "{high_mm:.2f mm}, and the spacing is within that.",
            low_mm=ladder.low_mm,
            high_mm=ladder.high_mm,
        )
    if ladder.add_mm == 0.0:
        return say("The stars contradict each other; look again at one of these spacings.")
    if abs(ladder.add_mm) < max(LEAST_CHANGE_MM, ladder.step_mm or 0.0):
        return say("No change: what is left is less than the thinnest ring or {least:.2f mm}.", least=LEAST_CHANGE_MM)
    step = "" if ladder.step_mm is None else say("; your thinnest ring is {step_mm:g mm}", step_mm=ladder.step_mm)
    way = say("longer") if ladder.add_mm > 0.0 else say("shorter")
    known = ""
    if ladder.rule is not None:
        whose = (
            say("as your own stars show")
            if ladder.learnt
            else say("as {part_name} is entered", part_name=part_name(ladder.corrector, names))
        )
        known = say("Too short means stars {rules}, {whose}.", rules=RULES[ladder.rule], whose=whose)
    elif any(one.seen.shape not in ("round",) for one in ladder.tried):
        known = say("Which way they point when it is too short is not known yet: try a second spacing.")
    whose = say("Make this train") if ladder.of_this_train else say("Try")
    return joined(
        say("{whose} {add_mm:.2f mm} {way} next{step}.", whose=whose, add_mm=abs(ladder.add_mm), way=way, step=step),
        known,
    )


def works_words(works: Works) -> str:
    """Return that a train is best left as it is."""
    spare = (
        ""
        if works.spare_mm is None
        else say("{spare_mm:.2f mm} are to spare on either side at the least.", spare_mm=works.spare_mm)
    )
    return joined(
        say("Corner stars were round with the current spacing ({day}): if it works, leave it.", day=works.day), spare
    )


def next_words(best: NextBest, names: Names) -> str:
    """Return which observation narrows an open verdict most."""
    what = FIGURE_WORDS[best.open.figure]
    part = names.get(best.part)
    if best.kind:
        look = say("note “{kind_name}”", kind_name=OBSERVATIONS[best.kind].kind_name)
    else:
        look = say(
            "measure {part_name}: {value_name}",
            part_name=part_name(best.part, names),
            value_name=value_name(part, best.path),
        )
    return say(
        "Still uncertain: {what}. Best next step: {look} (cuts the uncertainty to {left:.0f} %).",
        what=what,
        look=look,
        left=100.0 * best.left,
    )


def judged_words(judged: TrainVerdict) -> str:
    """Return what is said of a train, in short."""
    told = judged.spacing.headline.rstrip(".")
    if not judged.has_front:
        return told
    clean = say("never free of vignetting") if judged.first_clean_mm is None else (
        say("free of vignetting from {first_clean_mm:.1f} mm", first_clean_mm=judged.first_clean_mm)
    )  # fmt: skip
    return clean if judged.state in (State.UNJUDGED, State.GOOD) else f"{told}; {clean}"


def consequence_words(consequence: Consequence) -> str:
    """Return how a train is judged differently."""
    before, after = judged_words(consequence.before), judged_words(consequence.after)
    if before == after:
        count = len(consequence.after.stops) - len(consequence.before.stops)
        after += say(" ({signed} findings that stop it)", signed=signed(float(count), 0)) if count else ""
    return f"{consequence.train.name}: {before} → {after}"


def kind_words(kind: type[Observation]) -> str:
    """Return what a kind is called, as a heading begins."""
    return headed(str(kind.kind_name))


def doubt_words(doubt: Doubt, log: Mapping[str, Observation], names: Names) -> str:
    """Return which entry contradicts others, by how much, and what that means for it."""
    seen = log[doubt.seen]
    entry = {"day": seen.day, "entry": seen_words(seen, names)}
    if doubt.residual is None:
        return say("{day}: {entry}. Without it the others agree: it is left out. Set it aside, or correct it.", **entry)
    far = signed(doubt.residual, 2)
    if doubt.outvoted:
        return say("{day}: {entry}. It is {far} {unit} from the others and is left out. Set it aside, or correct it.",
                   **entry, far=far, unit=doubt.unit)  # fmt: skip
    return say("{day}: {entry}. It is {far} {unit} from the other: set one aside, or correct it.",
               **entry, far=far, unit=doubt.unit)  # fmt: skip


def series_words(series: Series) -> str:
    """Return how many readings there are, how far apart, and when they changed."""
    used = [one for one in series.readings if not one.aside]
    count = say_n("{count} reading", "{count} readings", len(used), count=len(used))
    aside = len(series.readings) - len(used)
    left_out = say_n("{count} set aside.", "{count} set aside.", aside, count=aside) if aside else ""
    if not used:
        return left_out
    words = partial(number_words, unit=series.unit, stays_mm=series.stays_mm)
    low, high = min(one.value for one in used), max(one.value for one in used)
    told = say("{count}, {low} to {high}.", count=count, low=words(low), high=words(high))
    leap = leap_of(series)
    change = "" if leap is None else (
        say("From {day} on {by} more than before.", day=leap[0].isoformat(), by=words(leap[1])) if leap[1] > 0.0
        else say("From {day} on {by} less than before.", day=leap[0].isoformat(), by=words(-leap[1]))
    )  # fmt: skip
    return joined(told, change, left_out)
