"""Which published figure a plan aims at."""

from enum import StrEnum


class Aim(StrEnum):
    """Which of several published figures to aim at."""

    IN_USE = "in-use"
    LOWEST = "lowest"
    HIGHEST = "highest"
    MIDDLE = "middle"
