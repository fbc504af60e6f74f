"""Glass in the beam, as its maker describes it: a plate by thickness and index, or by a printed focus shift."""

from typing import Annotated, Literal

from pydantic import Field

from farrail.language import say
from farrail.optics.plates import paraxial_shift_mm
from farrail.parts.field_info import FieldInfo, Group
from farrail.parts.frozen import Tagged
from farrail.parts.origin import Origin
from farrail.parts.provenance import Length, Quantity, RefractiveIndex, weakest

# Crown glass, taken where no one says; common practice, no source.
CROWN_INDEX = 1.5168


class Plate(Tagged):
    """A plane plate known by thickness and index."""

    kind: Literal["plate"] = "plate"
    thickness_mm: Annotated[Length, FieldInfo("thickness", "Measure with a caliper", group=Group.GLASS)]
    index: Annotated[RefractiveIndex, FieldInfo("index", "1.5168 for crown glass if not known", "", Group.GLASS)]

    @classmethod
    def instead_of(cls, other: "PrintedShift") -> "Plate":
        """Return a plate of crown glass that shifts as a box prints it."""
        thick = round(other.shift_mm / (1.0 - 1.0 / CROWN_INDEX), 3)
        return cls(
            thickness_mm=Quantity.of(thick, Origin.ASSUMED, note=say("from the printed shift, as crown glass")),
            index=Quantity.of(CROWN_INDEX, Origin.ASSUMED, note=say("crown glass taken")),
        )

    @property
    def shift_mm(self) -> float:
        """Paraxial focus shift, away from the optic."""
        return paraxial_shift_mm(self.thickness_mm.value, self.index.value)

    @property
    def drawn_thickness_mm(self) -> float:
        """The thickness it is drawn with."""
        return self.thickness_mm.value

    @property
    def as_plate(self) -> tuple[float, float]:
        """Thickness and index, for what an oblique ray meets."""
        return self.thickness_mm.value, self.index.value

    @property
    def shift_span_mm(self) -> tuple[float, float]:
        """The shift at both ends of what is unknown of it."""
        thick, index = self.thickness_mm, self.index
        return paraxial_shift_mm(thick.low, index.low), paraxial_shift_mm(thick.high, index.high)

    @property
    def origin(self) -> Origin:
        """The weaker origin of thickness and index."""
        return weakest([self.thickness_mm.origin, self.index.origin])

    @property
    def tolerance_mm(self) -> float:
        """What the tolerance of its thickness does to the shift."""
        return paraxial_shift_mm(self.thickness_mm.tolerance, self.index.value)

    @property
    def working(self) -> str:
        """The arithmetic behind the shift, with its numbers."""
        t, n = self.thickness_mm.value, self.index.value
        return say("{t:.2f}·(1 − 1/{n:.5g}) = {shift_mm:.3f}", t=t, n=n, shift_mm=self.shift_mm)


class PrintedShift(Tagged):
    """Glass of which the box prints the focus shift itself."""

    kind: Literal["printed_shift"] = "printed_shift"
    focus_shift_mm: Annotated[
        Length,
        FieldInfo("printed focus shift", "As its box prints it, or its optical thickness: 1.32 t/n", group=Group.GLASS),
    ]

    @classmethod
    def instead_of(cls, other: Plate) -> "PrintedShift":
        """Return the shift a plate makes, to be typed over by what its box prints."""
        return cls(focus_shift_mm=Quantity.of(round(other.shift_mm, 4), Origin.ASSUMED, note=other.working))

    @property
    def shift_mm(self) -> float:
        """The printed shift."""
        return self.focus_shift_mm.value

    @property
    def drawn_thickness_mm(self) -> float:
        """About three times the shift: the rule of thumb, used for the drawing alone."""
        return 3.0 * self.focus_shift_mm.value

    @property
    def as_plate(self) -> tuple[float, float]:
        """Thickness and index, for what an oblique ray meets: three times the shift, of index 1.5."""
        return self.drawn_thickness_mm, 1.5

    @property
    def shift_span_mm(self) -> tuple[float, float]:
        """The shift at both ends of what is unknown of it."""
        return self.focus_shift_mm.low, self.focus_shift_mm.high

    @property
    def origin(self) -> Origin:
        """Where the printed figure came from."""
        return self.focus_shift_mm.origin

    @property
    def tolerance_mm(self) -> float:
        """Tolerance of the printed shift."""
        return self.focus_shift_mm.tolerance

    @property
    def working(self) -> str:
        """The printed figure."""
        return say("{shift_mm:.3f} as printed", shift_mm=self.shift_mm)


Glass = Annotated[Plate | PrintedShift, Field(discriminator="kind")]


def sensor_glass(_: object) -> Plate:
    """Return the plate an included glass begins with: 2 mm of crown glass, until a person says."""
    crown = Quantity.of(CROWN_INDEX, Origin.ASSUMED, note=say("crown glass taken"))
    return Plate(thickness_mm=Quantity.of(2.0, Origin.ASSUMED), index=crown)
