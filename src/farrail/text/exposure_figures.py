"""What a train costs in light, in words: shares, ways to pay, figures."""

from farrail.optics.exposure import DENSITY_SOURCE, STOPS_PER_DENSITY, TIME_SOURCE, stops_of_density, time_words
from farrail.parts.in_beam import LightLoss, LossReason
from farrail.parts.provenance import Origin
from farrail.readouts.exposure.model import Cost, LightShare, Payment, Way
from farrail.readouts.figure import Figure
from farrail.text.values import Values, away, grouped, minus
from farrail.text.working import Teller, Told, Working, told

POLARISER_SOURCE = "a polariser takes 1 to 2 stops as it is turned (common practice)"
CLEAR_SOURCE = "coated clear glass takes less than a tenth of a stop (common practice)"
LINE_SOURCE = "a narrow passband dims each subject differently: meter through it"
CLOSE_SOURCE = "effective f-number N(1 + m/p) against the lens at infinity; a close-up lens costs no light"
POWER_SOURCE = "a powered part multiplies the f-number by M: 2·log2 M stops"
LOSSES = {
    LossReason.DENSITY: ("D/log10 2", DENSITY_SOURCE),
    LossReason.SKY_DENSITY: ("D/log10 2", DENSITY_SOURCE),
    LossReason.DENSITY_AND_POLARISER: ("D/log10 2 + as turned", f"{DENSITY_SOURCE}; {POLARISER_SOURCE}"),
    LossReason.POLARISER: ("as turned", POLARISER_SOURCE),
    LossReason.PASSBAND: ("none", LINE_SOURCE),
    LossReason.CLEAR: ("none", CLEAR_SOURCE),
}
WAYS = {
    Way.TIME: "Time",
    Way.SENSITIVITY: "or sensitivity, ISO",
    Way.APERTURE: "or aperture",
    Way.FLASH_POWER: "or flash, its power",
    Way.GUIDE_NUMBER: "or flash, guide number in m",
}


def share_name(share: LightShare) -> str:
    """Return what a share of the light lost is called."""
    return f"{share.part.name}, so close" if share.cost is Cost.CLOSE else share.part.name


def share_working(share: LightShare) -> Working:
    """Return the arithmetic behind a share."""
    if share.cost is Cost.POWER:
        return Working("2·log2 M", minus(f"M {share.power:.3f}: {share.stops:+.2f}"), POWER_SOURCE)
    if share.cost is Cost.CLOSE:
        return _close_working(share)
    loss = share.loss
    assert loss is not None
    formula, source = LOSSES[loss.reason]
    return Working(formula, _loss_numbers(loss), source)


def _close_working(share: LightShare) -> Working:
    system = share.system
    assert system is not None
    formula = "2·log2(1/p + m)" if system.reversed else "2·log2(1 + m/p)"
    text = minus(f"m {share.of_lens:.2f}, p {system.near.pupil_ratio:g}: {share.stops:.2f}")
    if system.narrower > 1.0:
        formula, text = f"{formula}, the coupled lens narrower", f"{text}, {system.narrower:.2f}× by it"
    return Working(formula, text, CLOSE_SOURCE)


def _loss_numbers(loss: LightLoss) -> str:
    if loss.density is None:
        if loss.reason is LossReason.POLARISER:
            return _spread(loss)
        return "not counted" if loss.reason is LossReason.PASSBAND else "taken as 0"
    if loss.dark_stops is not None:
        return f"D {loss.density:g}, sky only"
    own = stops_of_density(loss.density)
    if loss.reason is LossReason.DENSITY_AND_POLARISER and loss.stops is not None:
        between = "" if loss.ends is None else f" ({loss.ends[0]:.1f} to {loss.ends[1]:.1f} together, until measured)"
        return f"D {loss.density:g}: {own:.2f} + {loss.stops - own:g}{between}"
    return f"D {loss.density:g}: {own:.2f}"


def _spread(loss: LightLoss) -> str:
    """Return a polariser's stops as told: a number, or the middle of what they may be."""
    if loss.ends is None:
        return f"{loss.stops:g} as measured" if loss.origin is Origin.MEASURED else f"{loss.stops:g}"
    return f"{loss.stops:g} of {loss.ends[0]:g} to {loss.ends[1]:g}"


def in_all_units(share: LightShare) -> str:
    """Return a share as stops, density and transmission, as makers label it; of a graduated filter its dark part's."""
    stops = share.told_stops
    if stops is None:
        return ""
    density = stops / STOPS_PER_DENSITY
    return minus(f"{stops:.2f} stops = density {density:.2f} = {100.0 * 2.0**-stops:.3g} % passes")


def payment_words(payment: Payment) -> tuple[str, str, str]:
    """Return a way to pay: what is changed, from what, and to what."""
    before, after = payment.before, payment.after
    name = WAYS[payment.way]
    if payment.way is Way.GUIDE_NUMBER:
        return name, "" if before is None else f"{before:g}", "" if after is None else f"at {away(after)}"
    assert before is not None
    assert after is not None
    if payment.way is Way.TIME:
        return name, time_words(before), time_words(after)
    if payment.way is Way.SENSITIVITY:
        return name, f"{before:g}", grouped(after)
    if payment.way is Way.FLASH_POWER:
        return name, "1 ×", f"{grouped(after)} ×"
    return name, f"f/{before:.3g}", f"f/{after:.2g}" if payment.reached else f"beyond f/{after:.3g}"


def _total(f: Figure, v: Values) -> Told:
    text = minus(" + ".join(f"{stops:.2f}" for stops in v.stops) + f" = {f.number:.2f}")
    formula = "Σ stops, a graduated filter by its clear part"
    return told("light the train takes", formula, text, "stops of parts in line add")


def _share(_: Figure, v: Values) -> Told:
    return Told(f"{share_name(v.share)} takes", share_working(v.share), "not counted")


def _sky(f: Figure, _: Values) -> Told:
    return told("and from the sky", "Σ stops of graduated filters' dark parts", f"{f.number:.2f}", DENSITY_SOURCE)


def _flash(f: Figure, v: Values) -> Told:
    numbers = f"GN {v.guide_number_m:g} m, {v.stops:.2f} stops: {v.bare_mm:.0f} mm bare, {f.number:.0f} mm"
    return told(
        "how far a flash may stand", "GN·√(ISO/100)/(N·2^(stops/2))", numbers,
        "guide number = f-number × distance at ISO 100 (definition)",
    )  # fmt: skip


def _time(f: Figure, v: Values) -> Told:
    numbers = f"{v.base_s:.6g} s·2^{v.stops:.2f} = {time_words(f.number)}"
    return told("time with everything on", "t·2^stops", numbers, TIME_SOURCE)


TELLERS: dict[str, Teller] = {
    "exposure.total_stops": _total,
    "exposure.*_stops": _share,
    "exposure.sky_stops": _sky,
    "exposure.flash_mm": _flash,
    "exposure.time_s": _time,
}
