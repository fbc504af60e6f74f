"""What is said about joints, bodies and the shelf."""

from dataclasses import dataclass

from farrail.language import N_, joined, say, say_n
from farrail.parts.connections import Mismatch
from farrail.parts.inventory_item import Status
from farrail.quantities import sentence
from farrail.readouts.finding import FindingText
from farrail.readouts.joints.outer import Body, Outer
from farrail.readouts.names import mismatch_phrase
from farrail.train.joints import Joint
from farrail.train.rotation import Rotated
from farrail.train.seating import CannotHold, CannotRest, JointGap

BODIES = {Body.BODY: N_("body"), Body.BARREL: N_("barrel"), Body.FOCUSER: N_("focuser"), Body.HANDLE: N_("handle")}


@dataclass(frozen=True)
class DoesNotFit(FindingText):
    """Two connections that do not mate."""

    kind = "joint.mismatch"
    joint: Joint
    mismatch: Mismatch | CannotHold | CannotRest

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        joint = self.joint
        return say(
            "{left_name} does not fit {right_name}.", left_name=joint.left_name, right_name=joint.right_name
        ), sentence(mismatch_phrase(self.mismatch))


@dataclass(frozen=True)
class JointsNotJudged(FindingText):
    """Joints not judged: a connection is not known."""

    kind = "joint.not_judged"
    joints: tuple[Joint, ...]

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        count = len(self.joints)
        first = self.joints[0]
        many = say("A joint is") if count == 1 else say("{count} joints are", count=count)
        return (
            say("{many_} not judged: a connection is not known.", many_=many),
            say(
                "Between {left_name} and {right_name}; look at its thread or bayonet and give it in Parts.",
                left_name=first.left_name,
                right_name=first.right_name,
            ),
        )


@dataclass(frozen=True)
class ThreadBottoms(FindingText):
    """A thread that bottoms."""

    kind = "joint.thread_bottoms"
    gap: JointGap

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        length = self.gap.length
        return (
            say("A thread bottoms: the shoulders stay {value:.2f mm} apart.", value=length.value),
            say(
                "{sentence} The gap is in the running total; a shim of {value:.2f mm} there makes it firm.",
                sentence=sentence(length.in_use.note),
                value=length.value,
            ),
        )


@dataclass(frozen=True)
class NosepiecePlace(FindingText):
    """A nosepiece pushed in by an unknown length."""

    kind = "joint.nosepiece_place"

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say("How far the nosepiece is pushed in is not known."),
            say(
                "A screw holds it at any depth; it is assumed to be pushed home. Measure how far "
                "it sticks out, and enter that in the running total."
            ),
        )


@dataclass(frozen=True)
class FilterHeld(FindingText):
    """A filter held between two rings."""

    kind = "joint.filter_held"
    filter: str
    before: str
    after: str
    out_of_cell: bool
    known: bool

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        taken = (
            say("Take the glass out of its cell over a soft cloth, by its edge, with gloves.")
            if self.out_of_cell
            else ""
        )
        known = "" if self.known else say("What it adds depends on both thread engagements: measure them.")
        return (
            say(
                "{filter} is held between {before} and {after}.",
                filter=self.filter,
                before=self.before,
                after=self.after,
            ),
            joined(
                say("Close the rings until the glass just stops rattling, never tight: glass under a ring breaks."),
                taken,
                known,
            ),
        )


@dataclass(frozen=True)
class BayonetAngle(FindingText):
    """A bayonet that locks at one angle."""

    kind = "joint.bayonet_turn"
    rotated: Rotated

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        rotated = self.rotated
        return (
            say(
                "The {bayonet} holds {name} at {angle_deg:g}°, not at {wanted_deg:g}°.",
                bayonet=rotated.bayonet,
                name=rotated.name,
                angle_deg=rotated.angle_deg,
                wanted_deg=rotated.wanted_deg,
            ),
            say("A bayonet locks at one angle. Rotate at a threaded joint, or add a rotator ahead of it."),
        )


@dataclass(frozen=True)
class CellTooLarge(FindingText):
    """A filter cell too large for its seat."""

    kind = "joint.filter_cell"
    filter: str
    seat: str
    side: str
    has_mm: float
    accepts_mm: float

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        word = say("wide") if self.side == "wide" else say("thick")
        return (
            say("{filter} is too {word} for {seat}.", filter=self.filter, word=word, seat=self.seat),
            say(
                "Its cell measures {has_mm:.2f mm} and the seat accepts {accepts_mm:.2f mm}. Some "
                "cells are oversize: measure both before you force anything.",
                has_mm=self.has_mm,
                accepts_mm=self.accepts_mm,
            ),
        )


@dataclass(frozen=True)
class BodiesCollide(FindingText):
    """Bodies that collide."""

    kind = "joint.profiles_collide"
    part: str
    other: Outer
    clear_mm: float
    known: bool

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        other = self.other
        what = BODIES[other.what]
        doubt = "" if self.known else say(" (assumed from its outer diameter: measure it)")
        half = say("across both sides, its") if other.what is Body.HANDLE else say("its")
        return (
            say("{part} runs into the {what} of {name}.", part=self.part, what=what, name=other.name),
            say(
                "It reaches over {name} and its clear aperture is {clear_mm:.1f mm}{assumed}; {half} "
                "{what} measures {diameter_mm:.1f mm}. Put a spacer between, flip the part, or use a slimmer one.",
                name=other.name,
                clear_mm=self.clear_mm,
                assumed=doubt,
                half=half,
                what=what,
                diameter_mm=other.diameter_mm,
            ),
        )


@dataclass(frozen=True)
class ExampleParts(FindingText):
    """Parts that are examples, not owned yet."""

    kind = "shelf.examples"
    names: tuple[str, ...]

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        count = len(self.names)
        names = ", ".join(self.names[:3]) + (say(" and {count} more", count=count - 3) if count > 3 else "")
        return (
            say_n(
                "One part is an example, not yours yet: {names}.",
                "{count} parts are examples, not yours yet: {names}.",
                count,
                count=count,
                names=names,
            ),
            say(
                "Type what you measure on a part, or choose “I have it” in Parts; "
                "until then the planner counts on none."
            ),
        )


@dataclass(frozen=True)
class NotAtHand(FindingText):
    """A part that is not available."""

    kind = "shelf.not_at_hand"
    part: str
    status: Status

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        return (
            say("{part} is {value}.", part=self.part, value=self.status),
            say("Replace it, or change its status in Parts once you have it."),
        )


@dataclass(frozen=True)
class MoreThanOwned(FindingText):
    """More of a part used than owned."""

    kind = "shelf.used_more_than_owned"
    part: str
    used: int
    owned: int

    def sentences(self) -> tuple[str, str]:
        """Return the judgement, and its reason."""
        have = (
            say("none is")
            if self.owned == 0
            else say("only {owned} is", owned=self.owned)
            if self.owned == 1
            else say("{owned} are", owned=self.owned)
        )
        return (
            say("{part} is used {used}× and {have} owned.", part=self.part, used=self.used, have=have),
            say("Take one out, or raise the count on the shelf once another is bought."),
        )
