"""A kind no one makes: a wedge with a grey plate inside, for the test that one file is all a kind needs."""

from collections.abc import Iterator
from typing import Annotated, Literal

from farrail.language import N_
from farrail.parts.base import Housing, PartBase
from farrail.parts.field_info import FieldInfo, Group
from farrail.parts.glass import Glass, Plate
from farrail.parts.in_beam import (
    Aperture,
    ApertureRole,
    GlassPiece,
    GlassRole,
    Installation,
    LightLoss,
    LossReason,
    Outline,
)
from farrail.parts.lens_shapes import element
from farrail.parts.provenance import Diameter, Quantity, assumed, within
from farrail.parts.registers import t_mount
from farrail.parts.usual import IN, OUT, Usual, crown, key, size


class Wedge(Housing):
    """A wedge: it tilts what follows, holds a plate, and costs half a stop."""

    kind_name = N_("wedge")
    rank = 75
    module = True

    kind: Literal["wedge"] = "wedge"
    tilt_deg: Annotated[
        Annotated[Quantity, within(0.0, 10.0, "°")], FieldInfo("Wedge angle", "Between both faces", "°", Group.POWER)
    ]
    plate: Annotated[Glass, FieldInfo("Plate", "The glass inside", group=Group.GLASS)]
    waist_mm: Annotated[Diameter | None, FieldInfo("Waist", "Narrowest inside", group=Group.APERTURE)] = None
    sealed: Annotated[bool, FieldInfo("Sealed", "Nothing gets in", group=Group.BODY)] = False

    def inner_apertures(self, filled: Installation) -> Iterator[Aperture]:
        """Yield the waist a third of the way in."""
        if self.waist_mm is not None:
            at = filled.span_mm / 3.0
            yield Aperture(self, ApertureRole.CLEAR, self.waist_mm, "waist_mm", at, at, self.waist_mm.origin)

    def glass_pieces(self, filled: Installation) -> Iterator[GlassPiece]:
        """Yield the plate, its front 2 mm behind the front face."""
        yield GlassPiece(self, GlassRole.WINDOW, self.plate, 2.0, 30.0)

    def light_loss(self) -> LightLoss:
        """Return half a stop."""
        return LightLoss(0.5, self.tilt_deg.origin, LossReason.DENSITY, None, 0.15)

    def outline(self, span_mm: float, bore_mm: float) -> Outline:
        """Return one lens-like wedge."""
        return Outline((element(1.0, 3.0, bore_mm, 0.0, 1.0),))

    @classmethod
    def template(cls) -> "Wedge":
        """Return one of two degrees."""
        return cls(
            id="new-wedge", name="New wedge", outer_diameter_mm=60, front=t_mount(IN), rear=t_mount(OUT),
            path_length_mm=assumed(8), tilt_deg=assumed(2),
            plate=Plate(thickness_mm=assumed(3), index=assumed(1.5)),
        )  # fmt: skip

    @classmethod
    def usual_sizes(cls) -> Iterator[Usual[PartBase]]:
        """Yield two angles."""
        for angle in (1.0, 4.0):
            part = cls(
                id=key("wedge", angle), name=f"Wedge of {angle:g}°", outer_diameter_mm=60, front=t_mount(IN),
                rear=t_mount(OUT), path_length_mm=size(8.0), tilt_deg=size(angle), plate=crown(3.0),
            )  # fmt: skip
            yield Usual("wedges", part, "nobody makes it")
