"""How tolerances of stacked parts add up.

A tolerance ±t is read as the half width of a uniform distribution, whose standard deviation is ``t/sqrt(3)``.
"""

import math
from collections.abc import Sequence

SOURCE = "worst case Σt; 95 % half width 2·sqrt(Σt²/3), uniform distributions added in quadrature"


def worst_case_mm(tolerances_mm: Sequence[float]) -> float:
    """Return the sum of all half widths: no stack of these parts can be further off."""
    return math.fsum(tolerances_mm)


def root_sum_square_mm(tolerances_mm: Sequence[float]) -> float:
    """Return the 95 % half width of the stack, never above the worst case."""
    spread = 2.0 * math.sqrt(math.fsum(t * t for t in tolerances_mm) / 3.0)
    return min(spread, worst_case_mm(tolerances_mm))
