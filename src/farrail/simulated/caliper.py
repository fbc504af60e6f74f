"""A simulated caliper: what a digital caliper with a data cable would send, for trying the program without one.

It reads to a hundredth, repeats to about as much, and has a zero that must be set with closed jaws.
"""

import hashlib
import random
from dataclasses import dataclass

from farrail.errors import BadInput
from farrail.language import N_, say

LABEL = N_("Simulated caliper, for practice")
LARGEST_MM = 150.0
STEP_MM = 0.01
# Spread of repeated readings, and the half width such an instrument is trusted to; common practice, no source.
SPREAD_MM = 0.006
TRUSTED_MM = 0.02


@dataclass(frozen=True)
class CaliperReading:
    """One reading: its number and the half width it is trusted to."""

    value_mm: float
    tolerance_mm: float = TRUSTED_MM

    @property
    def text(self) -> str:
        """What the cable types into the field that has the focus."""
        return say("{value_mm:.2f} ± {tolerance_mm:.2f}", value_mm=self.value_mm, tolerance_mm=self.tolerance_mm)


class SimulatedCaliper:
    """Jaws that can be opened, closed and zeroed; the same seed gives the same readings."""

    def __init__(self, seed: int = 7, zero_error_mm: float = 0.03) -> None:
        """Begin with closed jaws and a zero that is off."""
        self._chance = random.Random(seed)
        self._zero_mm = zero_error_mm
        self._opening_mm = 0.0

    @property
    def zeroed(self) -> bool:
        """Whether its zero has been set."""
        return self._zero_mm == 0.0

    def open_to(self, length_mm: float) -> None:
        """Put something between the jaws.

        Raises:
            BadInput: it is longer than the caliper opens.
        """
        if not 0.0 <= length_mm <= LARGEST_MM:
            raise BadInput(
                "The simulated caliper opens to {largest_mm:g} mm; {length_mm:g} mm does not go between.",
                largest_mm=LARGEST_MM,
                length_mm=length_mm,
            )
        self._opening_mm = length_mm

    def zero(self) -> None:
        """Close the jaws and set the zero."""
        self._opening_mm = 0.0
        self._zero_mm = 0.0

    def read(self) -> CaliperReading:
        """Return what it shows now: the truth, its zero error and a little scatter, to a hundredth."""
        shown = self._opening_mm + self._zero_mm + self._chance.gauss(0.0, SPREAD_MM)
        return CaliperReading(round(round(shown / STEP_MM) * STEP_MM, 2))


def true_length_mm(part_id: str, path: str, stated_mm: float) -> float:
    """Return what a made-up part measures in truth: its stated length and a hidden ±0.05 mm of its own."""
    digest = hashlib.sha256(f"{part_id}.{path}".encode()).digest()
    return max(stated_mm + (digest[0] / 255.0 - 0.5) * 0.1, 0.0)
