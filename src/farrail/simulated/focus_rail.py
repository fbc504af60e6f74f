"""A simulated motor rail that carries the camera through a focus stack: it moves, settles, counts, and can fail.

In place of a real rail; nothing is connected. Time is handed in by whoever drives it, so that it runs as fast as a
test or as slow as a person wants.
"""

import math
from dataclasses import dataclass, field
from enum import StrEnum

from farrail.errors import BadInput
from farrail.language import say
from farrail.optics.focus_stack import FocusStack
from farrail.units import mm_to_micrometres

# An ordinary motor rail: its finest step, how far it travels, how fast, and how long it settles before a frame.
FINEST_MM, TRAVEL_MM, SPEED_MM_S, SETTLE_S = 0.010, 100.0, 5.0, 0.5


class Fault(StrEnum):
    """What may go wrong."""

    NONE = "no fault"
    STALL = "stalls halfway"
    LOST_STEPS = "loses steps"


class RailState(StrEnum):
    """What the rail is doing."""

    READY = "ready"
    RUNNING = "running"
    PAUSED = "paused"
    DONE = "done"
    CANCELLED = "cancelled"
    FAILED = "failed"


@dataclass
class FocusRail:
    """Runs a stack of frames; `run` moves time on.

    Attributes:
        step_mm: from frame to frame, as planned.
        frames: how many.
        interval_s: time for each frame: exposure and flash.
        fault: what goes wrong, halfway through.
    """

    step_mm: float
    frames: int
    interval_s: float = 1.0
    fault: Fault = Fault.NONE
    state: RailState = RailState.READY
    taken: int = 0
    position_mm: float = 0.0
    lost_mm: float = 0.0
    elapsed_s: float = 0.0
    log: list[str] = field(default_factory=list)
    _left_s: float = 0.0

    def __post_init__(self) -> None:
        """Refuse what the rail cannot do.

        Raises:
            BadInput: no frames, a step finer than the rail makes, or more travel than it has.
        """
        if self.frames < 1:
            raise BadInput("A stack has at least one frame; give the subject's depth first.")
        if not 0.0 <= self.interval_s <= 3600.0:
            raise BadInput(
                "An interval of {interval_s:g} s cannot be used; give 0 to 3600 s.", interval_s=self.interval_s
            )
        if self.frames > 1 and self.step_mm < FINEST_MM - 1e-9:
            raise BadInput(
                "A step of {mm_to_micrometres:.1f} µm is finer than this rail makes "
                "({mm_to_micrometres_2:.0f} µm); take less overlap, or open the aperture less.",
                mm_to_micrometres=mm_to_micrometres(self.step_mm),
                mm_to_micrometres_2=mm_to_micrometres(FINEST_MM),
            )
        if self.travel_mm > TRAVEL_MM:
            raise BadInput(
                "{travel_mm:.0f} mm is farther than this rail travels ({travel_mm_2:.0f} mm).",
                travel_mm=self.travel_mm,
                travel_mm_2=TRAVEL_MM,
            )

    @classmethod
    def for_stack(cls, plan: FocusStack, interval_s: float, fault: Fault = Fault.NONE) -> "FocusRail":
        """Return a rail set up for a planned stack: its own steps may be shorter, so it may take more frames.

        Raises:
            BadInput: as for the rail itself.
        """
        rail = cls(plan.step_mm, plan.frames, interval_s, fault)
        frames = math.ceil(plan.travel_mm / rail.made_mm - 1e-9) + 1
        return rail if frames == plan.frames else cls(plan.step_mm, frames, interval_s, fault)

    @property
    def made_mm(self) -> float:
        """The step it makes: the planned one in whole steps of its own, never longer."""
        return max(int(self.step_mm / FINEST_MM + 1e-6), 1) * FINEST_MM

    @property
    def travel_mm(self) -> float:
        """From the first frame to the last."""
        return self.made_mm * (self.frames - 1)

    def start(self) -> None:
        """Begin, or go on after a pause."""
        if self.state is RailState.READY:
            self._say(
                say(
                    "start: {frames} frames, step {mm_to_micrometres:.0f} µm, travel {travel_mm:.3f} mm",
                    frames=self.frames,
                    mm_to_micrometres=mm_to_micrometres(self.made_mm),
                    travel_mm=self.travel_mm,
                )
            )
            self._left_s = self.interval_s
            self.state = RailState.RUNNING
        elif self.state is RailState.PAUSED:
            self._say(say("go on"))
            self.state = RailState.RUNNING

    def pause(self) -> None:
        """Rest until started again."""
        if self.state is RailState.RUNNING:
            self._say(say("pause after frame {taken}", taken=self.taken))
            self.state = RailState.PAUSED

    def cancel(self) -> None:
        """Give up; the frames taken stay."""
        if self.state in (RailState.RUNNING, RailState.PAUSED):
            self._say(say("cancelled after frame {taken}", taken=self.taken))
            self.state = RailState.CANCELLED

    def run(self, seconds: float) -> None:
        """Let time pass."""
        while self.state is RailState.RUNNING and seconds > 0.0:
            spent = min(seconds, self._left_s)
            seconds -= spent
            self.elapsed_s += spent
            self._left_s -= spent
            if self._left_s <= 1e-12:
                self._frame()

    def _frame(self) -> None:
        """Take a frame, and move on to the next."""
        self.taken += 1
        self._say(
            say(
                "frame {taken} of {frames} at {lost_mm:.3f} mm",
                taken=self.taken,
                frames=self.frames,
                lost_mm=self.position_mm - self.lost_mm,
            )
        )
        if self.taken == self.frames:
            self._end()
            return
        halfway = self.taken == max(self.frames // 2, 1)
        if self.fault is Fault.STALL and halfway:
            self._say(say("the motor stalls on the way to frame {taken}", taken=self.taken + 1))
            self.state = RailState.FAILED
            return
        self.position_mm += self.made_mm
        if self.fault is Fault.LOST_STEPS and self.taken >= max(self.frames // 2, 1):
            # Every second step slips from there on; only the end switch shows it.
            self.lost_mm += self.made_mm if self.taken % 2 else 0.0
        self._left_s = self.made_mm / SPEED_MM_S + SETTLE_S + self.interval_s

    def _end(self) -> None:
        if self.lost_mm > 0.0:
            self._say(
                say(
                    "the end position is {lost_mm:.3f} mm short: steps were lost, so frames repeat and "
                    "depth is missing",
                    lost_mm=self.lost_mm,
                )
            )
            self.state = RailState.FAILED
        else:
            self._say(say("done in {elapsed_s:.0f} s", elapsed_s=self.elapsed_s))
            self.state = RailState.DONE

    def _say(self, words: str) -> None:
        self.log.append(say("{elapsed_s:8.1f} s  {words}", elapsed_s=self.elapsed_s, words=words))
