"""What is said of verdicts that depend on values that are not known."""

from dataclasses import dataclass
from typing import ClassVar

from farrail.language import N_, Message, begun_small, joined, say
from farrail.quantities import signed_length, unit_word
from farrail.readouts.finding import FindingText
from farrail.readouts.names import loss_name
from farrail.readouts.unknown_field import UnknownField


@dataclass(frozen=True)
class LossDepends(FindingText):
    """A corner whose loss depends on an unknown value."""

    what: ClassVar[Message]
    low_stops: float
    high_stops: float
    turns: bool
    flips_at: float | None
    unknown: UnknownField

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        between = say("{low_stops:.2f} to {loss_name}", low_stops=self.low_stops, loss_name=loss_name(self.high_stops))
        if not self.turns:
            return (
                say("{what}: {between}, depending on what is not known.", what=self.what, between=between),
                say("Enter or measure first: {unknown_name}.", unknown_name=self.unknown),
            )
        return (
            say(
                "Whether {what} stays free of vignetting depends on {unknown_name}: {between}.",
                what=begun_small(str(self.what)),
                unknown_name=self.unknown,
                between=between,
            ),
            joined(say("Not judged until that is entered or measured."), _turns(self.unknown, self.flips_at)),
        )


@dataclass(frozen=True)
class LightDepends(LossDepends):
    """A corner that depends on an unknown value."""

    kind = "light.depends"
    what = N_("The corner")


@dataclass(frozen=True)
class FrontDepends(LossDepends):
    """A corner behind the front stack that depends on an unknown value."""

    kind = "front.depends"
    what = N_("The corner behind the front stack")


@dataclass(frozen=True)
class SpacingDepends(FindingText):
    """A verdict on spacing that depends on an unknown value."""

    kind = "spacing.depends"
    low_mm: float
    high_mm: float
    flips_at: float | None
    unknown: UnknownField

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say(
                "The spacing error depends on {unknown_name}: {signed} to {signed_2} {unit}.",
                unknown_name=self.unknown,
                signed=signed_length(self.low_mm),
                signed_2=signed_length(self.high_mm),
                unit=unit_word("mm"),
            ),
            joined(say("Enter or measure it first."), _turns(self.unknown, self.flips_at)),
        )


def _turns(unknown: UnknownField, flips_at: float | None) -> str:
    if flips_at is None:
        return ""
    return say("The verdict changes at {flips_at}, the others at their typical values.", flips_at=unknown.at(flips_at))
