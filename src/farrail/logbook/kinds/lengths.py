"""What a caliper or a scale says something about a train: a length across several parts, a mass."""

from typing import Annotated, Literal

from pydantic import Field

from farrail.language import N_
from farrail.logbook.observation import Compared, Observation, Off, numbers
from farrail.parts.field_info import FieldInfo
from farrail.parts.inventory_item import PartId
from farrail.parts.origin import Origin
from farrail.parts.provenance import weakest
from farrail.parts.registry import Part
from farrail.readouts.read import Readout
from farrail.train.layout import Layout

# So far off a caliper held across a train is, and a kitchen scale; common practice, no source.
LENGTH_OFF_MM, MASS_OFF_G = 0.1, 5.0


class PathLength(Observation):
    """A length measured across the rear train, shoulder to shoulder, or to the sensor."""

    kind_name = N_("length measured")
    calibrates = N_("the lengths of the parts measured across")
    rank = 80

    kind: Literal["path_length"] = "path_length"
    length_mm: Annotated[
        Annotated[float, Field(gt=0.0, le=10_000.0)],
        FieldInfo("Length", "Shoulder to shoulder, all of it screwed home"),
    ]
    first: Annotated[
        Annotated[int, Field(ge=1, le=61)] | None,
        FieldInfo("From part", "Its number in the rear train, 1 behind the optic; left out: from the datum", ""),
    ] = None
    last: Annotated[
        Annotated[int, Field(ge=1, le=61)] | None,
        FieldInfo("To part", "Its number; one more than the last part is the camera; left out: to the sensor", ""),
    ] = None
    off_mm: Annotated[Off, FieldInfo("± length")] = LENGTH_OFF_MM

    @classmethod
    def suits(cls, readout: Readout) -> bool:
        """Whether anything is behind the optic."""
        return bool(readout.layout.rear) or readout.layout.camera is not None

    def span(self, layout: Layout) -> range:
        """Return the places of the rear row measured across; one beyond the last part is the camera."""
        datum = 0 if layout.corrector is None else layout.corrector.index + 1
        begin = datum if self.first is None else self.first - 1
        camera = len(layout.rear)
        end = camera if self.last is None else self.last - 1
        if end == camera and layout.camera is None:
            end -= 1
        return range(begin, min(end, camera) + 1)

    def compared(self, readout: Readout) -> Compared | None:
        """Return the length beside the sum of what it runs across, gaps of threads that bottom included."""
        layout = readout.layout
        span = self.span(layout)
        if not span:
            return numbers(self.length_mm, None, "mm", 0.0, Origin.ASSUMED)
        total, origins = 0.0, []
        for index in span:
            # From the datum the joint right behind it counts; from a part's shoulder only what is behind that.
            total += gap_before(layout, index) if index > span[0] or self.first is None else 0.0
            if index < len(layout.rear):
                total += layout.rear[index].length.value
                origins.append(layout.rear[index].length.origin)
            elif layout.camera is not None:
                total += layout.camera.flange_to_sensor_mm.value
                origins.append(layout.camera.flange_to_sensor_mm.origin)
        return numbers(self.length_mm, total, "mm", self.off_mm, weakest(origins))


def gap_before(layout: Layout, index: int) -> float:
    """Return what stays open at the joint before a member of the rear train."""
    return sum(gap.length.value for gap in layout.gaps if gap.index == index)


class Weighed(Observation):
    """What a scale says of a part, or of all of the train."""

    kind_name = N_("mass")
    rank = 90

    kind: Literal["mass"] = "mass"
    mass_g: Annotated[
        Annotated[float, Field(gt=0.0, le=1_000_000.0)], FieldInfo("Mass", "Read from a kitchen scale", "g")
    ]
    # The part weighed; "": the whole train.
    part: Annotated[str, Field(max_length=80), FieldInfo("Part", "Left out: all of the train", "")] = ""
    off_g: Annotated[Off, FieldInfo("± mass", "", "g")] = MASS_OFF_G

    def compared(self, readout: Readout) -> Compared | None:
        """Return the mass beside what is known: the part's, or the sum where every part has been weighed."""
        parts: dict[PartId, Part] = dict(readout.layout.parts)
        if self.part:
            part = parts.get(self.part)
            known = None if part is None else part.mass_g
            return numbers(self.mass_g, known, "g", self.off_g, Origin.MEASURED)
        masses = [parts[part_id].mass_g for part_id in readout.layout.train.part_ids() if part_id in parts]
        weighed = [mass for mass in masses if mass is not None]
        whole = sum(weighed) if masses and len(weighed) == len(masses) else None
        return numbers(self.mass_g, whole, "g", self.off_g, Origin.MEASURED)
