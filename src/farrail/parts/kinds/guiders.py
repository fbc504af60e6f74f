"""Off-axis guiders."""

from collections.abc import Iterator
from typing import Annotated, Literal

from farrail.language import N_, say
from farrail.parts.base import Housing, PartBase
from farrail.parts.connections import Connection, Gender, thread
from farrail.parts.field_info import FieldInfo, Group
from farrail.parts.glass import Glass, Plate
from farrail.parts.in_beam import Aperture, ApertureRole, Installation
from farrail.parts.not_entered import Default, Use
from farrail.parts.provenance import Diameter, Length, assumed, weakest, widest
from farrail.parts.usual import COMMON, HOUSING_THREADS, IN, OUT, Usual, key, size

# A prism is so wide and so high where no one says, at least, usually and at most; common practice, no source.
LEAST_PRISM_MM, USUAL_PRISM_MM, MOST_PRISM_MM = 6.0, 8.0, 12.0


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
        Diameter | None, FieldInfo("Prism, width", "6 to 12 mm, usually 8, where not given", group=Group.GUIDING)
    ] = None
    prism_height_mm: Annotated[
        Diameter | None, FieldInfo("Prism, high", "6 to 12 mm, usually 8, where not given", group=Group.GUIDING)
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

        Sizes that are not entered are drawn as 8 mm and its place as the middle; see `not_entered` for their intervals.
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

    def not_entered(self, use: Use) -> Iterator[Default]:
        """Yield how large the prism may be and where in the housing, where its edge is known and so it matters."""
        if self.prism_edge_mm is None:
            return
        for path in ("prism_width_mm", "prism_height_mm"):
            if getattr(self, path) is None:
                yield Default(path, LEAST_PRISM_MM, MOST_PRISM_MM, USUAL_PRISM_MM)
        if self.prism_at_mm is None:
            yield Default("prism_at_mm", *self.prism_place_mm, self.path_length_mm.value / 2.0)

    @property
    def prism_place_mm(self) -> tuple[float, float]:
        """The ends between which its middle is, behind the front face: where not entered, all of it is inside."""
        if self.prism_at_mm is not None:
            return widest(self.prism_at_mm)
        length, half = self.path_length_mm.value, USUAL_PRISM_MM / 2.0
        return (half, length - half) if length > USUAL_PRISM_MM else (length / 2.0, length / 2.0)

    @property
    def prism_high_mm(self) -> tuple[float, float]:
        """The ends between which its height is."""
        height = self.prism_height_mm
        return (LEAST_PRISM_MM, MOST_PRISM_MM) if height is None else widest(height)

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
