"""Where a value came from."""

from enum import StrEnum


class Origin(StrEnum):
    """Where a number came from, strongest first."""

    MEASURED = "measured"
    PUBLISHED = "published"
    ASSUMED = "assumed"
