"""Connections: what a part offers to its neighbour, and whether two of them mate."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Annotated, Literal

from pydantic import Field

from farrail.language import say
from farrail.parts.frozen import Frozen, Tagged

Size = Annotated[float, Field(gt=0.0, le=500.0)]
USUAL_ENGAGEMENT_MM = 4.0


class Gender(StrEnum):
    """External is also called male, internal female; a plain face has neither."""

    EXTERNAL = "external"
    INTERNAL = "internal"
    NONE = "none"


class Thread(Tagged):
    """A screw thread by major diameter and pitch."""

    kind: Literal["thread"] = "thread"
    diameter_mm: Size
    pitch_mm: Annotated[float, Field(gt=0.0, le=10.0)]

    @property
    def label(self) -> str:
        """Its usual name."""
        return say("M{diameter_mm:g}×{pitch_mm:g}", diameter_mm=self.diameter_mm, pitch_mm=self.pitch_mm)

    @property
    def size_mm(self) -> float:
        """The diameter it is drawn at."""
        return self.diameter_mm


class Bayonet(Tagged):
    """A bayonet by its generic name, with the clear diameter of its throat."""

    kind: Literal["bayonet"] = "bayonet"
    name: Annotated[str, Field(min_length=1, max_length=60)]
    throat_mm: Size
    # Where its index mark is, turned from the part's own top; a bayonet locks at one angle only.
    mark_deg: Annotated[float, Field(ge=-180.0, le=180.0)] = 0.0

    @property
    def label(self) -> str:
        """Its generic name."""
        return self.name

    @property
    def size_mm(self) -> float:
        """The diameter it is drawn at."""
        return self.throat_mm


class Nosepiece(Tagged):
    """A smooth tube held in a smooth socket."""

    kind: Literal["nosepiece"] = "nosepiece"
    diameter_mm: Size
    # A socket with a stop sets the nosepiece by its shoulder; one with a clamping screw holds it wherever it was left.
    held_by: Literal["shoulder", "screw"] = "shoulder"

    @property
    def label(self) -> str:
        """Its diameter in words."""
        return say("{diameter_mm:g} mm nosepiece", diameter_mm=self.diameter_mm)

    @property
    def size_mm(self) -> float:
        """The diameter it is drawn at."""
        return self.diameter_mm


class Plain(Tagged):
    """A flat face without thread, such as a shim's or an unmounted filter's edge."""

    kind: Literal["plain"] = "plain"
    diameter_mm: Size

    @property
    def label(self) -> str:
        """Its diameter in words."""
        return say("plain {diameter_mm:g} mm", diameter_mm=self.diameter_mm)

    @property
    def size_mm(self) -> float:
        """The diameter it is drawn at."""
        return self.diameter_mm


class OnlyFits(Tagged):
    """A fitting made for one other part and nothing else."""

    kind: Literal["only_fits"] = "only_fits"
    name: Annotated[str, Field(min_length=1, max_length=60)]
    diameter_mm: Size

    @property
    def label(self) -> str:
        """What it fits, in words."""
        return say("fits only {name}", name=self.name)

    @property
    def size_mm(self) -> float:
        """The diameter it is drawn at."""
        return self.diameter_mm


class NotKnown(Tagged):
    """An end nothing was entered yet: no joint at it can be judged."""

    kind: Literal["not_known"] = "not_known"
    diameter_mm: Size = 48.0

    @property
    def label(self) -> str:
        """That nothing is known of it."""
        return say("not known")

    @property
    def size_mm(self) -> float:
        """The diameter it is drawn at."""
        return self.diameter_mm


Standard = Annotated[Thread | Bayonet | Nosepiece | Plain | OnlyFits | NotKnown, Field(discriminator="kind")]


class Connection(Frozen):
    """One end of a part.

    Attributes:
        standard: what it is.
        gender: which half it is.
        engagement_mm: length of an external thread or depth of an internal one; None: no one has looked.
    """

    standard: Standard
    gender: Gender
    engagement_mm: Annotated[float, Field(ge=0.0, le=100.0)] | None = None

    @property
    def drawn_engagement_mm(self) -> float:
        """Its engagement, or the usual one to draw where no one has looked (common practice, no source)."""
        if self.engagement_mm is not None:
            return self.engagement_mm
        return 0.0 if isinstance(self.standard, Plain) else USUAL_ENGAGEMENT_MM

    @property
    def known(self) -> bool:
        """Whether anybody has looked at it."""
        return not isinstance(self.standard, NotKnown)

    @property
    def label(self) -> str:
        """Standard and gender in words."""
        return self.standard.label if self.gender is Gender.NONE else f"{self.standard.label} {say(self.gender.value)}"


class Clash(StrEnum):
    """Why two connections do not mate."""

    KIND = "kind"
    DIAMETER = "diameter"
    PITCH = "pitch"
    FITTING = "fitting"
    GENDER = "gender"


@dataclass(frozen=True)
class Mismatch:
    """Two connections that do not mate, and why."""

    clash: Clash
    left: Connection
    right: Connection


def why_not(left: Connection, right: Connection) -> Mismatch | None:
    """Return why two connections do not mate, or None when they do, or when one of them is not known."""
    clash = _clash(left, right) if left.known and right.known else None
    return None if clash is None else Mismatch(clash, left, right)


def _clash(left: Connection, right: Connection) -> Clash | None:
    one, other = left.standard, right.standard
    if one.kind != other.kind:
        return Clash.KIND
    if isinstance(one, Thread) and isinstance(other, Thread):
        if one.diameter_mm != other.diameter_mm:
            return Clash.DIAMETER
        if one.pitch_mm != other.pitch_mm:
            return Clash.PITCH
    elif isinstance(one, (Bayonet, OnlyFits)) and isinstance(other, (Bayonet, OnlyFits)):
        if one.name != other.name:
            return Clash.FITTING
    elif one.size_mm != other.size_mm:
        return Clash.DIAMETER
    if isinstance(one, Plain) or {left.gender, right.gender} == {Gender.EXTERNAL, Gender.INTERNAL}:
        return None
    return Clash.GENDER


def gap_between_mm(left: Connection, right: Connection, between_mm: float = 0.0) -> float:
    """Return by how much a joint's shoulders stay apart because its external thread bottoms in the internal one.

    Args:
        left: one connection.
        right: the other.
        between_mm: what is inside the internal thread and is pushed before the external one, less what already
            holds the shoulders apart.

    Returns:
        The gap in mm; 0 where either engagement is not known, or the connections are no threads.
    """
    one, other = left.engagement_mm, right.engagement_mm
    if one is None or other is None or not isinstance(left.standard, Thread) or not isinstance(right.standard, Thread):
        return 0.0
    if {left.gender, right.gender} != {Gender.EXTERNAL, Gender.INTERNAL}:
        return 0.0
    long, deep = (one, other) if left.gender is Gender.EXTERNAL else (other, one)
    return max(0.0, long + between_mm - deep)


def not_known(diameter_mm: float = 48.0) -> Connection:
    """Return an end nothing was entered."""
    return Connection(standard=NotKnown(diameter_mm=diameter_mm), gender=Gender.NONE)


def thread(diameter_mm: float, pitch_mm: float, gender: Gender, engagement_mm: float | None = None) -> Connection:
    """Return a threaded connection."""
    return Connection(
        standard=Thread(diameter_mm=diameter_mm, pitch_mm=pitch_mm), gender=gender, engagement_mm=engagement_mm
    )


# ISO 68-1 (from memory): minor diameter of the internal thread D1 = D − 1.0825 P, root of the external thread
# d3 = d − 1.2269 P.
INTERNAL_MINOR_PITCHES = 1.0825
EXTERNAL_ROOT_PITCHES = 1.2269
# The metal that must stay inside an external thread; common practice, no source.
LEAST_WALL_MM = 0.75


def default_clear_diameter_mm(connection: Connection) -> float:
    """Return the clear diameter to assume behind a connection when none is known.

    The thread's minor diameter less a wall (ISO 68-1 for the diameters, the wall is common practice).
    """
    standard = connection.standard
    if isinstance(standard, Thread):
        if connection.gender is Gender.INTERNAL:
            return standard.diameter_mm - INTERNAL_MINOR_PITCHES * standard.pitch_mm
        return standard.diameter_mm - EXTERNAL_ROOT_PITCHES * standard.pitch_mm - 2.0 * LEAST_WALL_MM
    if isinstance(standard, Bayonet):
        return standard.throat_mm
    return max(standard.size_mm - 4.0 * LEAST_WALL_MM, 0.1)
