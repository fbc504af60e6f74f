"""The simulated focus rail: what it does with a plan, with time, and with faults."""

import math

import pytest

from farrail.errors import BadInput
from farrail.optics.focus_stack import focus_stack
from farrail.simulated.focus_rail import FINEST_MM, SETTLE_S, SPEED_MM_S, TRAVEL_MM, Fault, FocusRail, RailState

# 5 mm deep, slices of 0.1092 mm overlapping by a quarter: 61 frames of .0819 mm.
PLAN = focus_stack(5.0, 0.1092, 0.25)


def state_of(rail: FocusRail) -> RailState:
    return rail.state


def run_out(rail: FocusRail, seconds: float = 0.3) -> FocusRail:
    rail.start()
    for _ in range(20_000):
        if rail.state is not RailState.RUNNING:
            break
        rail.run(seconds)
    return rail


def test_its_own_steps_are_shorter_and_none_of_the_depth_is_lost() -> None:
    rail = run_out(FocusRail.for_stack(PLAN, 2.0))
    assert PLAN.frames == 61
    assert rail.made_mm == pytest.approx(0.08)
    assert rail.frames == math.ceil(60 * PLAN.step_mm / 0.08) + 1
    assert rail.travel_mm >= PLAN.travel_mm
    assert state_of(rail) is RailState.DONE
    assert rail.taken == rail.frames
    assert rail.position_mm == pytest.approx(rail.travel_mm)
    assert rail.elapsed_s == pytest.approx(rail.frames * 2.0 + (rail.frames - 1) * (0.08 / SPEED_MM_S + SETTLE_S))


@pytest.mark.parametrize("tick", [0.01, 1.0, 1e6])
def test_time_may_pass_in_any_portions(tick: float) -> None:
    assert run_out(FocusRail(0.1, 12, 0.5), tick).elapsed_s == pytest.approx(
        12 * 0.5 + 11 * (0.1 / SPEED_MM_S + SETTLE_S)
    )


def test_pausing_going_on_and_cancelling() -> None:
    rail = FocusRail(0.05, 10, 1.0)
    rail.pause()
    rail.cancel()
    assert state_of(rail) is RailState.READY
    rail.start()
    rail.run(3.0)
    taken, log = rail.taken, list(rail.log)
    assert taken == 2
    rail.pause()
    rail.run(100.0)
    assert rail.taken == taken
    rail.start()
    rail.run(2.0)
    assert rail.taken > taken
    assert rail.log[: len(log)] == log
    rail.cancel()
    rail.start()
    assert state_of(rail) is RailState.CANCELLED
    assert "cancelled after frame" in rail.log[-1]


def test_faults_are_found_and_logged() -> None:
    stalled = run_out(FocusRail(0.05, 10, 1.0, Fault.STALL))
    assert (stalled.state, stalled.taken) == (RailState.FAILED, 5)
    assert "stalls on the way to frame 6" in stalled.log[-1]
    lost = run_out(FocusRail(0.05, 10, 1.0, Fault.LOST_STEPS))
    assert state_of(lost) is RailState.FAILED
    assert lost.taken == 10
    assert lost.lost_mm > 0.0
    assert f"{lost.lost_mm:.3f} mm short" in lost.log[-1]
    good = run_out(FocusRail(0.05, 1, 1.0, Fault.LOST_STEPS))
    assert state_of(good) is RailState.DONE


def test_what_it_cannot_do() -> None:
    with pytest.raises(BadInput, match="finer than this rail makes"):
        FocusRail(FINEST_MM * 0.9, 10)
    with pytest.raises(BadInput, match="farther than this rail travels"):
        FocusRail(1.0, round(TRAVEL_MM) + 2)
    with pytest.raises(BadInput, match="at least one frame"):
        FocusRail(0.1, 0)
    with pytest.raises(BadInput, match="interval"):
        FocusRail(0.1, 2, -1.0)
    assert state_of(run_out(FocusRail(0.001, 1))) is RailState.DONE
