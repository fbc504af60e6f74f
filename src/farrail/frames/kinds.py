"""Which kinds of frames there are."""

from enum import StrEnum


class FrameKind(StrEnum):
    """What frames show."""

    FLAT = "flat"
    STARS = "stars"
    DUST = "dust"
    RULER = "ruler"
    SKY = "sky"
