"""How the members of a rear train sit on each other: what each adds, and what keeps shoulders apart.

A shim is between two shoulders and the threads pass through it. An unmounted filter between two threaded ends is
held by them: the glass is in the internal thread, before the end of the external one. A thread that is longer than
its mate is deep, with the glass and less the shims, keeps the shoulders apart; so does a nosepiece that is drawn out.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import TypeGuard

from farrail.language import say
from farrail.parts.base import TubePart
from farrail.parts.connections import (
    INTERNAL_MINOR_PITCHES,
    Connection,
    Gender,
    Nosepiece,
    Thread,
    gap_between_mm,
)
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.provenance import Quantity, assumed, measured, published
from farrail.parts.registry import Part


class Cause(StrEnum):
    """What a joint's gap comes from."""

    BOTTOMS = "bottoms"
    HOLDS = "holds"
    DRAWN_OUT = "drawn_out"
    UNKNOWN_PLACE = "unknown_place"


@dataclass(frozen=True)
class Member:
    """One member of the row: an end of the train, or a placed part; connections as placed, toward the scene first."""

    part: Part
    front: Connection | None
    rear: Connection | None
    length_mm: float
    standoff_mm: float | None = None


@dataclass(frozen=True)
class JointGap:
    """What keeps the shoulders of a joint apart.

    Attributes:
        index: the joint is before the row's part of this index.
        length: how far apart; 0 where a nosepiece's place is not known and it is taken as pushed home.
        cause: what it comes from.
        standard: the connection that meets there.
        held: names of the filters held in the thread.
    """

    index: int
    length: Quantity
    cause: Cause
    standard: str
    held: tuple[str, ...] = ()


@dataclass(frozen=True)
class CannotHold:
    """A filter that two rings cannot hold: wider than the thread it should be in, or falling through a ring.

    Attributes:
        filter: its name.
        wide_mm: how wide it is.
        room_mm: what the thread takes, or how wide the ring is inside.
        thread: the thread that is too narrow; None where it falls through.
        ring: the ring it falls through, "" where the thread is too narrow.
    """

    filter: str
    wide_mm: float
    room_mm: float
    thread: Connection | None
    ring: str


@dataclass(frozen=True)
class CannotRest:
    """A shim that does not go over the thread it is on, or finds no shoulder beyond it.

    Attributes:
        shim: its name.
        outer_mm: how wide it is outside.
        thread: the thread it is on.
    """

    shim: str
    outer_mm: float
    thread: Connection


@dataclass(frozen=True)
class Held:
    """A filter held between two threaded ends.

    Attributes:
        index: its place in the row.
        before: the neighbour toward the scene that holds it.
        after: the neighbour toward the sensor.
        from_left: whether the external thread comes from the scene's side.
        reach_mm: how far that thread reaches into the other.
        known: whether both engagements are known, so that what the glass adds is too.
        trouble: why they cannot hold it, or None.
    """

    index: int
    before: Member
    after: Member
    from_left: bool
    reach_mm: float
    known: bool
    trouble: "CannotHold | None"


def is_bare_glass(part: Part) -> TypeGuard[RoundFilter]:
    """Whether a part is a filter without a cell of its own."""
    return isinstance(part, RoundFilter) and part.bare


def held_filters(members: Sequence[Member]) -> dict[int, Held]:
    """Return the filters of a row that are between two threaded ends, by index.

    Args:
        members: the optic or corrector's end, the row's parts, and the camera's end; part `i` of the row is member
            `i + 1`.
    """
    found: dict[int, Held] = {}
    for number in range(1, len(members) - 1):
        member = members[number]
        if not is_bare_glass(member.part):
            continue
        before = next(m for m in reversed(members[:number]) if not _passes(m))
        after = next((m for m in members[number + 1 :] if not _passes(m)), None)
        if after is None or before.rear is None or after.front is None:
            continue
        left, right = before.rear, after.front
        if not isinstance(left.standard, Thread) or not isinstance(right.standard, Thread):
            continue
        from_left = left.gender is Gender.EXTERNAL
        male, female = (left, right) if from_left else (right, left)
        trouble = _why_not_held(member.part, female, before.part, after.part)
        known = left.engagement_mm is not None and right.engagement_mm is not None
        found[number - 1] = Held(number - 1, before, after, from_left, male.drawn_engagement_mm, known, trouble)
    return found


def gaps_of(members: Sequence[Member], held: dict[int, Held]) -> list[JointGap]:
    """Return what keeps the joints of a row apart; members as in `held_filters`."""
    found: list[JointGap] = []
    number = 0
    while number < len(members) - 1:
        after = number + 1
        shims = glass = 0.0
        names = []
        while after < len(members) - 1 and (_shim(members[after]) or after - 1 in held):
            if _shim(members[after]):
                shims += members[after].length_mm
            else:
                glass += members[after].length_mm
                names.append(members[after].part.name)
            after += 1
        gap = _gap(members[number], members[after], after - 1, shims, glass, names)
        if gap is not None:
            found.append(gap)
        number = after
    return found


def _shim(member: Member) -> bool:
    return isinstance(member.part, TubePart) and member.part.passes_thread


def _passes(member: Member) -> bool:
    return _shim(member) or is_bare_glass(member.part)


def _gap(left: Member, right: Member, index: int, shims: float, glass: float, names: list[str]) -> JointGap | None:
    one, other = left.rear, right.front
    if one is None or other is None:
        return None
    if isinstance(one.standard, Nosepiece) and isinstance(other.standard, Nosepiece):
        if "screw" not in (one.standard.held_by, other.standard.held_by):
            return None
        if right.standoff_mm is None:
            note = say("held by a screw; taken as pushed home")
            return JointGap(index, assumed(0.0, note=note), Cause.UNKNOWN_PLACE, one.standard.label)
        length = measured(right.standoff_mm, note=say("length that sticks out, in this train"))
        return JointGap(index, length, Cause.DRAWN_OUT, one.standard.label)
    apart = gap_between_mm(one, other, glass - shims)
    if apart <= 1e-9:
        return None
    male, female = (one, other) if one.gender is Gender.EXTERNAL else (other, one)
    note = say(
        "thread {engagement_mm:g} mm long in {engagement_mm_2:g} mm",
        engagement_mm=male.engagement_mm,
        engagement_mm_2=female.engagement_mm,
    )
    if names:
        note += say(" with {glass:g} mm of glass", glass=glass)
    if shims:
        note += say(", shims of {shims:g} mm already between", shims=shims)
    cause = Cause.HOLDS if names else Cause.BOTTOMS
    return JointGap(index, published(round(apart, 6), note=note), cause, one.standard.label, tuple(names))


def _why_not_held(part: Part, female: Connection, before: Part, after: Part) -> CannotHold | None:
    assert isinstance(part, RoundFilter)
    wide, standard = part.cell_mm, female.standard
    assert isinstance(standard, Thread)
    room = standard.diameter_mm - INTERNAL_MINOR_PITCHES * standard.pitch_mm
    if wide > room + 1e-9:
        return CannotHold(part.name, wide, room, female, "")
    for ring in (before, after):
        clear = getattr(ring, "clear_aperture_mm", None)
        if clear is not None and clear.value >= wide:
            return CannotHold(part.name, wide, clear.value, None, ring.name)
    return None
