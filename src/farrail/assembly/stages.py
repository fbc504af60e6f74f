"""When a step is done, where the work begins, and what it needs."""

from enum import StrEnum


class Stage(StrEnum):
    """Where and when a step is done, in the order of the work."""

    PREPARE = "prepare"
    FILTERS = "filters"
    REAR = "rear"
    LENS_OFF = "lens_off"
    FRONT = "front"
    MOUNT = "mount"
    SITE = "site"
    EXPOSE = "expose"
    TEAR_DOWN = "tear_down"


class Start(StrEnum):
    """What is there when the work begins."""

    BENCH = "bench"
    BAG = "bag"
    FILTER = "filter"
    SITE = "site"
    TEAR_DOWN = "tear_down"


class Tool(StrEnum):
    """What a hand needs besides itself."""

    BLOWER = "blower"
    GLOVES = "gloves"
    SPANNER = "spanner"
    SCREWDRIVER = "screwdriver"
    HEX_KEY = "hex_key"
    CALIPER = "caliper"
    CLOTH = "cloth"
