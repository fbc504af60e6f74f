"""What the exposure figures say: label, value and working."""

from dataclasses import dataclass

from farrail.language import N_, say
from farrail.optics.exposure import DENSITY_SOURCE, STOPS_PER_DENSITY, TIME_SOURCE, stops_of_density, time_words
from farrail.parts.in_beam import LightLoss, LossReason
from farrail.parts.origin import Origin
from farrail.quantities import away, grouped
from farrail.readouts.exposure.model import Compensation, Cost, LightShare, Payment
from farrail.readouts.figure import Figure, FigureText, FigureWords, Working, figure_words

POLARISER_SOURCE = N_("a polariser costs 1 to 2 stops depending on its angle (common practice)")
CLEAR_SOURCE = N_("coated clear glass costs less than a tenth of a stop (common practice)")
LINE_SOURCE = N_("a narrow passband dims each subject differently: meter through it")
CLOSE_SOURCE = N_("effective f-number N(1 + m/p) against the lens at infinity; a close-up lens costs no light")
STOP_SOURCE = N_("area of the axial beam that is left over the area of the lens's own pupil")
POWER_SOURCE = N_("a powered part multiplies the f-number by M: 2·log2 M stops")
LOSSES = {
    LossReason.DENSITY: (N_("D/log10 2"), DENSITY_SOURCE),
    LossReason.SKY_DENSITY: (N_("D/log10 2"), DENSITY_SOURCE),
    LossReason.DENSITY_AND_POLARISER: (
        N_("D/log10 2 + as turned"),
        N_("sum of both definitions; a polariser costs 1 to 2 stops"),
    ),
    LossReason.POLARISER: (N_("as turned"), POLARISER_SOURCE),
    LossReason.PASSBAND: (N_("none"), LINE_SOURCE),
    LossReason.CLEAR: (N_("none"), CLEAR_SOURCE),
}
WAYS = {
    Compensation.TIME: N_("Time"),
    Compensation.SENSITIVITY: N_("Sensitivity, ISO"),
    Compensation.APERTURE: N_("Aperture"),
    Compensation.FLASH_POWER: N_("Flash, its power"),
    Compensation.GUIDE_NUMBER: N_("Flash, guide number in m"),
}


def share_name(share: LightShare) -> str:
    """Return what a share of the light lost is called."""
    if share.cost is Cost.STOP:
        return say("{name}, as aperture stop", name=share.part.name)
    return say("{name}, so close", name=share.part.name) if share.cost is Cost.CLOSE else share.part.name


def share_working(share: LightShare) -> Working:
    """Return the arithmetic behind a share."""
    if share.cost is Cost.POWER:
        return Working(
            say("2·log2 M"),
            say("M {power:.3f}: {stops:+.2f}", power=share.power, stops=share.stops),
            str(POWER_SOURCE),
        )
    if share.cost is Cost.STOP:
        open_share = 2.0 ** -(share.stops or 0.0)
        numbers = say("T0 {share:.4f} of the pupil stays open: {stops:.2f}", share=open_share, stops=share.stops)
        return Working(say("−log2 T0"), numbers, str(STOP_SOURCE))
    if share.cost is Cost.CLOSE:
        return _close_working(share)
    loss = share.loss
    assert loss is not None
    formula, source = LOSSES[loss.reason]
    return Working(str(formula), _loss_numbers(loss), str(source))


def _close_working(share: LightShare) -> Working:
    system = share.system
    assert system is not None
    formula = say("2·log2(1/p + m)") if system.reversed else say("2·log2(1 + m/p)")
    text = say(
        "m {of_lens:.2f}, p {pupil_ratio:g}: {stops:.2f}",
        of_lens=share.of_lens,
        pupil_ratio=system.near.pupil_ratio,
        stops=share.stops,
    )
    if share.narrower > 1.0:
        formula, text = (
            say("{formula}, the coupled lens narrower", formula=formula),
            say("{text}, {narrower:.2f}× by it", text=text, narrower=share.narrower),
        )
    return Working(formula, text, str(CLOSE_SOURCE))


def _loss_numbers(loss: LightLoss) -> str:
    if loss.density is None:
        if loss.reason is LossReason.POLARISER:
            return _spread(loss)
        return say("not counted") if loss.reason is LossReason.PASSBAND else say("taken as 0")
    if loss.dark_stops is not None:
        return say("D {density:g}, sky only", density=loss.density)
    own = stops_of_density(loss.density)
    if loss.reason is LossReason.DENSITY_AND_POLARISER and loss.stops is not None:
        between = (
            ""
            if loss.ends is None
            else say(" ({ends:.1f} to {ends_2:.1f} together, until measured)", ends=loss.ends[0], ends_2=loss.ends[1])
        )
        return say(
            "D {density:g}: {own:.2f} + {own_2:g}{between}",
            density=loss.density,
            own=own,
            own_2=loss.stops - own,
            between=between,
        )
    return say("D {density:g}: {own:.2f}", density=loss.density, own=own)


def _spread(loss: LightLoss) -> str:
    """Return a polariser's stops as entered: a number, or the middle of what they may be."""
    if loss.ends is None:
        return (
            say("{stops:g} as measured", stops=loss.stops)
            if loss.origin is Origin.MEASURED
            else say("{stops:g}", stops=loss.stops)
        )
    return say("{stops:g} of {ends:g} to {ends_2:g}", stops=loss.stops, ends=loss.ends[0], ends_2=loss.ends[1])


def in_all_units(share: LightShare) -> str:
    """Return a share as stops, density and transmission, as makers label it; of a graduated filter its dark part's."""
    stops = share.told_stops
    if stops is None:
        return ""
    density = stops / STOPS_PER_DENSITY
    return say(
        "{stops:.2f} stops = density {density:.2f} = {stops_2:.3g} % passes",
        stops=stops,
        density=density,
        stops_2=100.0 * 2.0 ** (-stops),
    )


def payment_words(payment: Payment) -> tuple[str, str, str]:
    """Return a way to pay: what is changed, from what, and to what."""
    before, after = payment.before, payment.after
    name = str(WAYS[payment.way])
    if payment.way is Compensation.GUIDE_NUMBER:
        return (
            name,
            "" if before is None else say("{before:g}", before=before),
            "" if after is None else say("at {away}", away=away(after)),
        )
    assert before is not None
    assert after is not None
    if payment.way is Compensation.TIME:
        return name, time_words(before), time_words(after)
    if payment.way is Compensation.SENSITIVITY:
        return name, say("{before:g}", before=before), grouped(after)
    if payment.way is Compensation.FLASH_POWER:
        return name, "1 ×", f"{grouped(after)} ×"
    return (
        name,
        say("f/{before:.3g}", before=before),
        say("f/{after:.2g}", after=after) if payment.reached else say("beyond f/{after:.3g}", after=after),
    )


@dataclass(frozen=True)
class TotalStops(FigureText):
    """What everything on the lens and behind it costs, in stops."""

    kind = "exposure.total_stops"
    unit = "stops"
    stops: tuple[float, ...]

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        text = " + ".join(say("{stops:.2f}", stops=stops) for stops in self.stops) + say(
            " = {number:.2f}", number=figure.number
        )
        formula = say("Σ stops, a graduated filter by its clear part")
        return figure_words(say("light lost in the train"), formula, text, say("stops of parts in line add"))


@dataclass(frozen=True)
class ShareStops(FigureText):
    """What this one piece costs, in stops."""

    kind = "exposure.*_stops"
    unit = "stops"
    share: "LightShare"

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        return FigureWords(
            say("light lost in {share_name}", share_name=share_name(self.share)),
            share_working(self.share),
            "not counted",
        )


@dataclass(frozen=True)
class SkyStops(FigureText):
    """What the dark parts of graduated filters cost the sky besides."""

    kind = "exposure.sky_stops"
    unit = "stops"

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        return figure_words(
            say("and from the sky"),
            say("Σ stops of graduated filters' dark parts"),
            say("{number:.2f}", number=figure.number),
            DENSITY_SOURCE,
        )


@dataclass(frozen=True)
class FlashDistance(FigureText):
    """How far a flash of this guide number reaches with everything on."""

    kind = "exposure.flash_mm"
    unit = "mm"
    guide_number_m: float
    stops: float
    bare_mm: float

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        numbers = say(
            "GN {guide_number_m:g} m, {stops:.2f} stops: {bare_mm:.0f} mm bare, {number:.0f} mm",
            guide_number_m=self.guide_number_m,
            stops=self.stops,
            bare_mm=self.bare_mm,
            number=figure.number,
        )
        return figure_words(
            say("greatest flash distance"), say("GN·√(ISO/100)/(N·2^(stops/2))"), numbers,
            say("guide number = f-number × distance at ISO 100 (definition)"),
        )  # fmt: skip


@dataclass(frozen=True)
class ExposureTime(FigureText):
    """The exposure time with everything on, from the metered one."""

    kind = "exposure.time_s"
    unit = "s"
    base_s: float
    stops: float

    def words(self, figure: Figure) -> FigureWords:
        """Return its label and its working."""
        numbers = say(
            "{base_s:.6g} s·2^{stops:.2f} = {time_words}",
            base_s=self.base_s,
            stops=self.stops,
            time_words=time_words(figure.number),
        )
        return figure_words(say("time with everything on"), say("t·2^stops"), numbers, TIME_SOURCE)
