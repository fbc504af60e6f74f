"""What `far-rail csv` writes as a table."""

from enum import StrEnum


class What(StrEnum):
    """What a table is made of."""

    SHELF = "shelf"
    FIGURES = "figures"
    FINDINGS = "findings"
    PARFOCAL = "parfocal"
