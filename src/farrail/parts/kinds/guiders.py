"""Off-axis guiders."""

from collections.abc import Iterator
from typing import Annotated, Literal

from farrail.language import N_, say
from farrail.parts.base import Housing, PartBase
from farrail.parts.connections import Connection, Gender, thread
from farrail.parts.field_info import FieldInfo, Group
from farrail.parts.glass import Glass, Plate
from farrail.parts.in_beam import Aperture, ApertureRole, Installation
from farrail.parts.provenance import Diameter, Length, assumed, weakest
from farrail.parts.usual import COMMON, HOUSING_THREADS, IN, OUT, Usual, key, size

# A usual prism is so wide and so high; common practice, no source.
USUAL_PRISM_MM = 8.0


def _usual_prism_glass(_: "OffAxisGuider") -> Plate:
    return Plate(thickness_mm=assumed(USUAL_PRISM_MM), index=assumed(1.5168, note=say("crown glass taken")))


class OffAxisGuider(Housing):
    """Picks light for a guide camera beside the frame, with a prism toward the part's top.

    `prism_edge_mm` runs from the axis to the prism's near edge, `prism_at_mm` from the front face to its middle,
    `guide_port_mm` from there to the shoulder of the guide port, drawn in; `prism_glass` is the glass the guide's light
    passes.
    """

    kind_name = N_("off-axis guider")
    rank = 80
    module = True

    kind: Literal["off_axis_guider"] = "off_axis_guider"
    prism_edge_mm: Annotated[
        Length | None,
        FieldInfo("Axis to prism's edge", "Distance of the prism's edge from the axis", group=Group.GUIDING),
    ] = None
    prism_width_mm: Annotated[
        Diameter | None, FieldInfo("Prism, width", "Usually 8 mm, assumed so where not given", group=Group.GUIDING)
    ] = None
    prism_height_mm: Annotated[
        Diameter | None, FieldInfo("Prism, high", "Usually 8 mm, assumed so where not given", group=Group.GUIDING)
    ] = None
    prism_at_mm: Annotated[
        Length | None, FieldInfo("Front face to prism's middle", "Half its length where not given", group=Group.GUIDING)
    ] = None
    guide_port_mm: Annotated[
        Length | None, FieldInfo("Prism to guide port", "Prism's middle to the port's shoulder", group=Group.GUIDING)
    ] = None
    guide_connection: Annotated[
        Connection | None, FieldInfo("Guide port: connection", "Thread of the guide camera's port", group=Group.GUIDING)
    ] = None
    guide_travel_mm: Annotated[
        Length | None,
        FieldInfo(
            "Guide port: focuser", "Travel of the port, from the position it was measured in", group=Group.GUIDING
        ),
    ] = None
    prism_glass: Annotated[
        Glass | None,
        FieldInfo(
            "Prism", "The glass its light passes", group=Group.GUIDING, begins=_usual_prism_glass, first="thickness_mm"
        ),
    ] = None

    def inner_apertures(self, filled: Installation) -> Iterator[Aperture]:
        """Yield the prism, which covers part of the light, where its edge is known.

        Unknown sizes are taken as 8 mm and its place as the middle (common practice, no source).
        """
        edge = self.prism_edge_mm
        if edge is not None:
            width, height = (
                q if q is not None else assumed(USUAL_PRISM_MM, note=say("a usual prism"))
                for q in (self.prism_width_mm, self.prism_height_mm)
            )  # fmt: skip
            at = self.prism_at_mm.value if self.prism_at_mm is not None else filled.span_mm / 2.0
            yield Aperture(
                self, ApertureRole.PRISM, width, "prism_edge_mm", at, at,
                weakest([edge.origin, width.origin, height.origin]), height=height,
                centre_mm=(0.0, edge.value + height.value / 2.0), passes=0.0,
            )  # fmt: skip

    @classmethod
    def template(cls) -> "OffAxisGuider":
        """Return one of M48."""
        return cls(
            id="new-guider", name=say("New off-axis guider"), outer_diameter_mm=70,
            front=thread(48.0, 0.75, Gender.INTERNAL), rear=thread(48.0, 0.75, Gender.EXTERNAL),
            path_length_mm=assumed(17),
        )  # fmt: skip

    @classmethod
    def usual_sizes(cls) -> Iterator[Usual[PartBase]]:
        """Yield one of each usual thread."""
        for diameter, pitch in HOUSING_THREADS:
            part = cls(
                id=key("guider", diameter),
                name=say("Off-axis guider M{diameter:g}×{pitch:g}", diameter=diameter, pitch=pitch),
                outer_diameter_mm=diameter + 24.0,
                front=thread(diameter, pitch, IN),
                rear=thread(diameter, pitch, OUT),
                path_length_mm=size(17.0),
                prism_edge_mm=size(12.0),
                prism_width_mm=size(8.0),
                prism_height_mm=size(8.0),
            )
            yield Usual(say("off-axis guiders"), part, COMMON)
