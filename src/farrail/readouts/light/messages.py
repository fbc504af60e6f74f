"""What is said about light and field."""

from dataclasses import dataclass

from farrail.language import joined, say
from farrail.parts.origin import Origin
from farrail.readouts.finding import FindingText
from farrail.readouts.light.guide import GuideLight
from farrail.readouts.light.model import Clearance
from farrail.readouts.names import whole_name
from farrail.readouts.unknown_field import LossRange

# Less than this is no loss in words.
LEAST_LOSS_STOPS = 0.005


def _stops(c: Clearance) -> str:
    return say("all light lost") if c.alone >= 1.0 else say("{alone_stops:.2f} stops lost", alone_stops=c.alone_stops)


def _over_range(c: Clearance, over: LossRange) -> tuple[str, str]:
    """Return what an aperture does over the interval of what is not known."""
    between = say("{low:.2f} to {high}", low=over.low_stops, high=_lost_name(over.high_stops))
    title = (
        say("{name} may darken the corner: {between}.", name=whole_name(c.placed), between=between)
        if over.low_stops < LEAST_LOSS_STOPS
        else say("{name} darkens the corner: {between}.", name=whole_name(c.placed), between=between)
    )
    if over.needed_mm is None or c.placed.passes is not None:
        return title, over.first
    low_mm, high_mm = over.needed_mm
    sizes = say(
        "Clear aperture needed {low_mm:.1f length} to {high_mm:.1f mm}, actual {has_mm:.1f mm}.",
        low_mm=low_mm,
        high_mm=high_mm,
        has_mm=c.has_mm,
    )
    return title, f"{sizes} {over.first}".strip()


def _lost_name(stops: float) -> str:
    return say("all light lost") if stops == float("inf") else say("{stops:.2f} stops lost", stops=stops)


@dataclass(frozen=True)
class Clips(FindingText):
    """An aperture that vignettes."""

    kind = "light.clip"
    clearance: Clearance
    first: bool
    over: LossRange | None = None

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        if self.over is not None:
            return _over_range(self.clearance, self.over)
        c = self.clearance
        name = f"{whole_name(c.placed)},"
        if c.placed.passes is not None:
            return (
                say("{name} shadows one side of the frame: {stops} there.", name=name, stops=_stops(c)),
                say(
                    "Its edge is {has_mm:.1f mm} from the axis; the frame's light reaches {needed_mm:.1f mm}.",
                    has_mm=c.has_mm / 2,
                    needed_mm=c.needed_mm / 2,
                ),
            )
        order = say("costs most") if self.first else say("clips too")
        assumed = (
            say("Its clear aperture is assumed: measure it.") if c.placed.diameter.origin is Origin.ASSUMED else ""
        )
        return (
            say("{name} {order}: {stops} in the corner.", name=name, order=order, stops=_stops(c)),
            joined(
                say(
                    "Clear aperture needed {needed_mm:.1f mm}, actual {has_mm:.1f mm}.",
                    has_mm=c.has_mm,
                    needed_mm=c.needed_mm,
                ),
                assumed,
            ),
        )


@dataclass(frozen=True)
class StopsDown(FindingText):
    """An aperture that stops the whole beam down."""

    kind = "light.stop"
    part: str
    stops: float
    f_number: float
    effective: float
    assumed: bool
    has_mm: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        measure = say("Its clear aperture is assumed: measure it.") if self.assumed else ""
        return (
            say(
                "{part} is the aperture stop: f/{effective:.2f} instead of "
                "f/{f_number:.3g}, {stops:.2f} stops less light.",
                part=self.part,
                effective=self.effective,
                f_number=self.f_number,
                stops=self.stops,
            ),
            joined(
                say(
                    "Its clear aperture of {has_mm:.1f mm} limits the beam on the axis; vignetting is "
                    "counted against that.",
                    has_mm=self.has_mm,
                ),
                measure,
            ),
        )


@dataclass(frozen=True)
class GuideDarkened(FindingText):
    """A part ahead of an off-axis guider that takes the guide star's light."""

    kind = "light.guide_clip"
    guide: GuideLight
    over: LossRange | None = None

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        g = self.guide
        assert g.tightest is not None
        name = whole_name(g.tightest)
        if self.over is not None:
            between = say("{low:.2f} to {high}", low=self.over.low_stops, high=_lost_name(self.over.high_stops))
            return say("{name} darkens the guide star: {between}.", name=name, between=between), self.over.first
        return (
            say("{name} darkens the guide star by {stops:.2f} stops.", name=name, stops=g.stops),
            say(
                "The light of the prism's middle needs {needed:.1f length} clear there; it has {has:.1f mm}.",
                needed=g.needed_mm,
                has=g.has_mm,
            ),
        )


def _sizes(c: Clearance) -> str:
    return say(
        "Clear aperture needed {needed_mm:.1f mm}, actual {has_mm:.1f mm}.", needed_mm=c.needed_mm, has_mm=c.has_mm
    )


@dataclass(frozen=True)
class FilterTooSmall(FindingText):
    """A filter that is too small."""

    kind = "light.filter_too_small"
    clearance: Clearance
    over: LossRange | None = None

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        if self.over is not None:
            return _over_range(self.clearance, self.over)
        c = self.clearance
        return say("{name} is too small: {stops} in the corner.", name=c.placed.part.name, stops=_stops(c)), _sizes(c)


@dataclass(frozen=True)
class FilterMarginal(FindingText):
    """A filter with little to spare."""

    kind = "light.filter_marginal"
    clearance: Clearance

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        c = self.clearance
        return say(
            "{name} is marginal: {margin_mm:.1f mm} to spare.", name=c.placed.part.name, margin_mm=c.margin_mm
        ), _sizes(c)


@dataclass(frozen=True)
class FilterAmple(FindingText):
    """A filter with enough to spare."""

    kind = "light.filter_ample"
    clearance: Clearance

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        c = self.clearance
        return say(
            "{name} is ample: {margin_mm:.1f mm} to spare.", name=c.placed.part.name, margin_mm=c.margin_mm
        ), _sizes(c)


@dataclass(frozen=True)
class PlaceHarmless(FindingText):
    """An unknown position that does not matter."""

    kind = "light.place_harmless"
    clearance: Clearance

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        c = self.clearance
        span = c.placed.z_high_mm - c.placed.z_low_mm
        return (
            say(
                "{name} is large enough wherever the filter sits (margin {margin_mm:.1f length} to "
                "{margin_best_mm:.1f mm}).",
                name=c.placed.part.name,
                margin_mm=c.margin_mm,
                margin_best_mm=c.margin_best_mm,
            ),
            say("The filter position is only known within {span:.1f mm}, but that does not matter here.", span=span),
        )


@dataclass(frozen=True)
class PlaceDecides(FindingText):
    """An unknown position that decides."""

    kind = "light.place_decides"
    clearance: Clearance

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        c = self.clearance
        return (
            say("Whether {name} clips depends on where it sits: measure this.", name=c.placed.part.name),
            say(
                "{margin_mm:.1f mm} too small at the worse end, {margin_best_mm:.1f mm} to spare at the better.",
                margin_mm=-c.margin_mm,
                margin_best_mm=c.margin_best_mm,
            ),
        )


@dataclass(frozen=True)
class FilterMasked(FindingText):
    """A filter behind a narrower mask."""

    kind = "light.filter_masked"
    clearance: Clearance
    mask: Clearance

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        mask, c = self.mask, self.clearance
        lacks = (
            say("{margin_mm:.1f mm} too narrow", margin_mm=-mask.margin_mm)
            if mask.clips
            else say("only {margin_mm:.1f mm} to spare", margin_mm=mask.margin_mm)
        )
        return (
            say("The seat that holds {name} decides, not the filter: {lacks}.", name=c.placed.part.name, lacks=lacks),
            say(
                "{name} leaves {has_mm:.1f mm} there, and {needed_mm:.1f mm} are needed; a larger "
                "filter alone does not help.",
                name=mask.placed.part.name,
                has_mm=mask.has_mm,
                needed_mm=mask.needed_mm,
            ),
        )
