"""Telescopes, and the correctors that bring a datum of their own."""

from collections.abc import Iterator
from enum import StrEnum
from typing import Annotated, Literal

from pydantic import Field

from farrail.language import N_, say
from farrail.parts.base import Housing, Optic, PartBase
from farrail.parts.connections import Connection, Gender, thread
from farrail.parts.field_info import FieldInfo, Group
from farrail.parts.glass import Glass, sensor_glass
from farrail.parts.in_beam import ApertureRole, Outline, ThinLens
from farrail.parts.inventory_item import DrawnSize
from farrail.parts.lens_shapes import pair
from farrail.parts.not_entered import Default, Use
from farrail.parts.origin import Origin
from farrail.parts.provenance import (
    Diameter,
    Distance,
    Length,
    Quantity,
    ReductionFactor,
    SignedFocal,
    assumed,
    weakest,
)
from farrail.parts.registers import T_MOUNT_REGISTER_MM
from farrail.parts.usual import COMMON, IN, OUT, Usual, key, size

# Apertures with their focal ratios, and how much of the aperture the secondary covers; common practice, no source.
REFRACTORS = ((50, 5.0), (60, 6.0), (70, 6.0), (80, 6.0), (80, 7.0), (90, 6.0), (100, 7.0), (120, 7.0), (130, 7.0))
REFLECTORS = ((130, 5.0), (150, 4.0), (150, 5.0), (200, 4.0), (200, 5.0), (250, 4.0), (250, 5.0), (300, 4.0))
COMPOUNDS = ((100, 13.0), (125, 12.0), (150, 10.0), (200, 10.0), (235, 10.0), (280, 10.0))
COVERED_BY_SECONDARY = 0.35
CORRECTOR_THREADS = ((42.0, 0.75), (48.0, 0.75), (54.0, 0.75), (63.0, 1.0), (68.0, 1.0))

# What a corrector's back focus is counted from where no one says otherwise; stored as it is here.
REAR_SHOULDER = "rear shoulder"


class Telescope(Optic):
    """An objective or mirror in its tube, with the rear shoulder of its drawtube as datum."""

    kind_name = N_("telescope")
    rank = 10

    kind: Literal["telescope"] = "telescope"
    front: Annotated[
        Connection | None, FieldInfo("Front connection", "Thread of its dew shield, for parts ahead", group=Group.ENDS)
    ] = None
    aperture_mm: Annotated[Diameter, FieldInfo("Aperture", "Diameter of the objective or mirror", group=Group.OPTICS)]
    obstruction_mm: Annotated[
        Diameter | None, FieldInfo("Obstruction, diameter", "The secondary mirror in its holder", group=Group.OPTICS)
    ] = None
    # Required distance from the rear datum to the sensor when no corrector follows; None: the focuser finds it.
    back_focus_mm: Annotated[
        Length | None, FieldInfo("Back focus", "Rear shoulder to sensor, where the maker fixes it", group=Group.OPTICS)
    ] = None
    spacing_tolerance_mm: Annotated[
        Length | None, FieldInfo("Spacing tolerance ±", "Permitted error of the spacing", group=Group.OPTICS)
    ] = None
    # The drawtube ahead of the rear shoulder: how far it reaches in, and how wide it is inside.
    drawtube_length_mm: Annotated[
        Length | None, FieldInfo("Drawtube length inside the tube", "Ahead of the rear shoulder", group=Group.APERTURE)
    ] = None
    drawtube_clear_mm: Annotated[
        Diameter | None, FieldInfo("Drawtube, clear inside", "Narrowest diameter of the drawtube", group=Group.APERTURE)
    ] = None
    # Where the bare focus is behind the rear datum with the rack at its inner stop, and how far the rack travels.
    focal_plane_mm: Annotated[
        Length | None, FieldInfo("Focus behind datum, racked in", "Without any glass behind it", group=Group.FOCUSING)
    ] = None
    focuser_travel_mm: Annotated[
        Length | None, FieldInfo("Focuser travel", "From stop to stop", group=Group.FOCUSING)
    ] = None
    # The train is in front of the mirror, in its light.
    prime_focus: Annotated[
        bool, FieldInfo("Train ahead of the mirror", "It is then in the mirror's light", group=Group.OPTICS)
    ] = False
    tube_length_mm: DrawnSize = 120.0

    @property
    def body_mm(self) -> float:
        """How long its tube is drawn."""
        return self.tube_length_mm

    def drawtube(self) -> list[tuple[ApertureRole, Quantity, float]]:
        """Return both ends of the drawtube: which, how wide, and how far ahead of the rear shoulder."""
        clear, length = self.drawtube_clear_mm, self.drawtube_length_mm
        if clear is None:
            return []
        ends = [(ApertureRole.DRAWTUBE_REAR, clear, 0.0)]
        if length is not None:
            ends.insert(0, (ApertureRole.DRAWTUBE_FRONT, clear, length.value))
        return ends

    @classmethod
    def template(cls) -> "Telescope":
        """Return a small refractor."""
        return cls(
            id="new-telescope",
            name=say("New telescope"),
            outer_diameter_mm=90, rear=thread(48.0, 0.75, Gender.INTERNAL),
            focal_length_mm=assumed(400), aperture_mm=assumed(80),
        )  # fmt: skip

    @classmethod
    def usual_sizes(cls) -> Iterator[Usual[PartBase]]:
        """Yield the usual apertures at the usual focal ratios."""
        for own, word, sizes, covered in (
            ("Refractor", say("Refractor"), REFRACTORS, 0.0),
            ("Reflector", say("Reflector"), REFLECTORS, COVERED_BY_SECONDARY),
            ("Compound telescope", say("Compound telescope"), COMPOUNDS, COVERED_BY_SECONDARY),
        ):  # fmt: skip
            for across, ratio in sizes:
                part = cls(
                    id=key(own, across, ratio),
                    name=say("{word} {across} mm f/{ratio:g}", word=word, across=across, ratio=ratio),
                    outer_diameter_mm=across * 1.2,
                    rear=thread(48.0, 0.75, IN), focal_length_mm=size(across * ratio), aperture_mm=size(float(across)),
                    obstruction_mm=size(across * covered) if covered else None,
                )  # fmt: skip
                yield Usual(say("telescopes"), part, say("{common}; its rear thread taken", common=COMMON))


# A factor this close to 1 has no power.
NO_POWER = 1e-4
# Where the exit pupil of a corrector of unknown power can be, in focal lengths of the telescope, up to infinity.
NEAREST_EXIT_PUPIL, FARTHEST_MM = 0.25, 99_999.0


class ShortStars(StrEnum):
    """How corner stars are drawn out where a corrector is too near the sensor; designs differ."""

    RADIAL = "radial"
    TANGENTIAL = "tangential"


class Corrector(Housing):
    """A flattener or coma corrector: a new datum, at its rear shoulder, with its own requirement."""

    kind_name = N_("corrector")
    rank = 30

    kind: Literal["corrector"] = "corrector"
    back_focus_mm: Annotated[Length, FieldInfo("Back focus", "Its rear datum to the sensor", group=Group.OPTICS)]
    spacing_tolerance_mm: Annotated[
        Length, FieldInfo("Spacing tolerance ±", "Permitted error of the spacing", group=Group.OPTICS)
    ]
    datum: Annotated[
        str, Field(max_length=120), FieldInfo("Datum", "The surface its back focus is counted from", group=Group.OPTICS)
    ] = REAR_SHOULDER
    exit_pupil_distance_mm: Annotated[
        Distance | None, FieldInfo("Exit pupil to sensor", "From the maker or a measurement", group=Group.OPTICS)
    ] = None
    # Required distance from the telescope's datum to this part's front shoulder; None: the focuser sets it.
    telescope_distance_mm: Annotated[
        Length | None, FieldInfo("Telescope to this part", "Where its maker fixes that too", group=Group.OPTICS)
    ] = None
    telescope_tolerance_mm: Annotated[Length | None, FieldInfo("… tolerance ±", group=Group.OPTICS)] = None
    included_glass: Annotated[
        Glass | None,
        FieldInfo(
            "Included glass",
            "Glass its published distance already counts",
            group=Group.GLASS,
            begins=sensor_glass,
            first="thickness_mm",
        ),
    ] = None
    image_circle_mm: Annotated[
        Diameter | None, FieldInfo("Image circle", "Diameter it is made for", group=Group.OPTICS)
    ] = None
    # None: not known; one's own evenings calibrate it.
    short_stars: Annotated[
        ShortStars | None,
        FieldInfo(
            "Corner stars when too short", "Direction of drawn-out corner stars; designs differ", group=Group.OPTICS
        ),
    ] = None
    # What it makes of the telescope's focal length at its back focus; None: not known, or a flattener's 1.
    reduction_factor: Annotated[
        ReductionFactor | None,
        FieldInfo("Reduction factor", "As printed: 0.8 for a 0.8× reducer, above 1 for an extender", "×", Group.OPTICS),
    ] = None
    # Its own focal length as a thin lens, negative for one that diverges; None: taken as without power.
    lens_focal_mm: Annotated[
        SignedFocal | None,
        FieldInfo(
            "Own focal length (− diverges)", "Focal length of a reducer or Barlow", group=Group.OPTICS, stays_mm=True
        ),
    ] = None
    # Where that thin lens is behind the front shoulder; None: in the middle.
    principal_mm: Annotated[
        Length | None, FieldInfo("… thin lens behind front", "Where its power acts", group=Group.OPTICS)
    ] = None

    def thin_lens(self) -> ThinLens | None:
        """Return it as a thin lens where its focal length or its reduction factor is known."""
        focal = self.lens_focal_mm or self._focal_of_factor()
        return None if focal is None else ThinLens(focal=focal, at=self.principal_mm)

    def _focal_of_factor(self) -> Quantity | None:
        """Return the focal length that makes its printed factor at its back focus; None without a factor or at 1.

        The thin lens is p ahead of the datum and images at s' = back focus + p, so f = s'/(1 − F).
        """
        factor = self.reduction_factor
        if factor is None or abs(1.0 - factor.value) < NO_POWER:
            return None
        length, at = self.path_length_mm.value, self.principal_mm
        ahead = length / 2.0 if at is None else length - at.value
        origin = weakest([factor.origin, self.back_focus_mm.origin, Origin.ASSUMED if at is None else at.origin])
        return Quantity.of((self.back_focus_mm.value + ahead) / (1.0 - factor.value), origin)

    def not_entered(self, use: Use) -> Iterator[Default]:
        """Yield where its power acts, or where its exit pupil is where its power is not known."""
        if self.thin_lens() is not None:
            if self.principal_mm is None:
                length = self.path_length_mm.value
                yield Default("principal_mm", 0.0, length, length / 2.0)
        elif self.exit_pupil_distance_mm is None and use.focal_mm > 0.0:
            nearest = NEAREST_EXIT_PUPIL * use.focal_mm
            yield Default("exit_pupil_distance_mm", nearest, FARTHEST_MM, use.focal_mm, inverse=True)

    def outline(self, span_mm: float, bore_mm: float) -> Outline:
        """Return its two symbolic lenses."""
        return Outline(pair(span_mm, bore_mm))

    @classmethod
    def template(cls) -> "Corrector":
        """Return a flattener for 55 mm."""
        end = thread(48.0, 0.75, Gender.EXTERNAL)
        return cls(
            id="new-corrector", name=say("New corrector"), outer_diameter_mm=64, front=end, rear=end,
            path_length_mm=assumed(40), back_focus_mm=assumed(T_MOUNT_REGISTER_MM), spacing_tolerance_mm=assumed(0.5),
        )  # fmt: skip

    @classmethod
    def usual_sizes(cls) -> Iterator[Usual[PartBase]]:
        """Yield flatteners and coma correctors for the usual distance in the usual threads."""
        for own, word in (("Flattener", say("Flattener")), ("Coma corrector", say("Coma corrector"))):
            for diameter, pitch in CORRECTOR_THREADS:
                end = thread(diameter, pitch, OUT)
                part = cls(
                    id=key(own, diameter),
                    name=say("{word} M{diameter:g}, 55 mm", word=word, diameter=diameter),
                    outer_diameter_mm=diameter + 16.0,
                    front=thread(48.0, 0.75, OUT), rear=end, path_length_mm=size(40.0),
                    back_focus_mm=size(T_MOUNT_REGISTER_MM), spacing_tolerance_mm=size(0.5),
                )  # fmt: skip
                yield Usual(
                    say("correctors"),
                    part,
                    say("{common}; 55 mm, the T mount's, is what most are made for", common=COMMON),
                )
