"""The verdict on a train's spacing, in one word and one sentence."""

from dataclasses import dataclass
from enum import StrEnum

from farrail.readouts.spacing.model import Spacing
from farrail.units import mm_to_metres


class State(StrEnum):
    """What the spacing comes to."""

    GOOD = "good"
    SHORT = "short"
    LONG = "long"
    NO_ROOM = "no room"
    UNJUDGED = "not judged"


@dataclass(frozen=True)
class Verdict:
    """The verdict on a train's spacing.

    Attributes:
        state: in one word.
        headline: one sentence with the number in it.
        detail: what it rests on or what to do.
        mark: the miss as the drawing writes it, e.g. "1.68 short".
    """

    state: State
    headline: str
    detail: str
    mark: str

    @property
    def met(self) -> bool:
        """Whether the requirement is met."""
        return self.state is State.GOOD


def verdict_on(spacing: Spacing) -> Verdict:
    """Judge a train's spacing at the worst end of whatever is unknown."""
    if spacing.layout.camera is None:
        return Verdict(State.UNJUDGED, "No camera ends this train.", "Lay a camera at its right end.", "")
    error, need = spacing.error_mm, spacing.requirement
    if spacing.layout.reversed:
        return Verdict(
            State.UNJUDGED,
            "Turned round, the lens asks for no distance of its own.",
            "How far its thread stands from the sensor sets the magnification: see the Close-up station.",
            "",
        )
    if need is None or error is None:
        return Verdict(
            State.UNJUDGED,
            "Nothing fixes the distance to the sensor.",
            f"{spacing.layout.optic.name} has no published back focus; its focuser finds the plane.",
            "",
        )
    low, high = spacing.error_range_mm or (error, error)
    if need.is_lens:
        return _lens_verdict(spacing, low, high)
    tolerance = spacing.tolerance_mm
    if tolerance is None:
        return Verdict(
            State.UNJUDGED,
            f"The sensor sits {_side(error)}.",
            f"{need.datum}: no tolerance is given, so nothing says how much of that can be borne.",
            _mark(error),
        )
    allowed = f"allowed ±{tolerance:.2f}"
    if spacing.within_tolerance:
        return Verdict(State.GOOD, _good_headline(error), f"{_signed(error)} mm against {allowed} mm.", _mark(error))
    worst = low if abs(low) > abs(high) else high
    unknown = " at its worst end" if high - low > 1e-9 else ""
    if worst < 0:
        return Verdict(
            State.SHORT,
            f"The sensor sits {-worst:.2f} mm too near{unknown}.",
            f"Add {-worst:.2f} mm between datum and camera; {allowed} mm.",
            _mark(worst),
        )
    over = spacing.shortest_mm - (spacing.required_mm or 0.0)
    if over > tolerance:
        return Verdict(
            State.NO_ROOM,
            f"The sensor sits {worst:.2f} mm too far{unknown}, and there is no room.",
            f"Without any spacer or shim it would still be {over:.2f} mm too far; a thinner part is needed.",
            _mark(worst),
        )
    return Verdict(
        State.LONG,
        f"The sensor sits {worst:.2f} mm too far{unknown}.",
        f"Take {worst:.2f} mm out; {allowed} mm.",
        _mark(worst),
    )


def _lens_verdict(spacing: Spacing, low: float, high: float) -> Verdict:
    if spacing.within_tolerance:
        short = -low
        meant = spacing.extension
        if meant.tubes_mm and short < 0.005:
            headline = f"The lens stands {meant.tubes_mm:.2f} mm out, as meant."
            return Verdict(State.GOOD, headline, "Infinity is given up for reach: see the Close-up station.", "0.00")
        if short < 0.005:
            return Verdict(
                State.GOOD, "The sensor lands on the lens's flange distance.", "Infinity is reached.", "0.00"
            )
        return Verdict(
            State.GOOD,
            f"The sensor sits {short:.2f} mm too near, which focusing makes up for.",
            "Infinity is reached, a little before the mark on the focusing ring.",
            _mark(low),
        )
    reach = spacing.farthest_focus_mm
    text = "" if reach is None else f"; the farthest sharp subject lies at about {mm_to_metres(reach):.3g} m"
    over = spacing.shortest_mm - (spacing.required_mm or 0.0)
    state = State.NO_ROOM if over > 0 else State.LONG
    return Verdict(
        state,
        f"The sensor sits {high:.2f} mm too far: infinity is lost.",
        f"A lens cannot focus past its flange distance{text}.",
        _mark(high),
    )


def _good_headline(error: float) -> str:
    if abs(error) < 0.005:
        return "The sensor lands where the optic needs it."
    return f"The sensor lands within {abs(error):.2f} mm."


def _side(error: float) -> str:
    return f"{abs(error):.2f} mm too {'near' if error < 0 else 'far'}"


def _signed(error: float) -> str:
    return f"{error:+.2f}".replace("-", "−")


def _mark(error: float) -> str:
    if abs(error) < 0.005:
        return "0.00"
    return f"{abs(error):.2f} {'short' if error < 0 else 'long'}"
