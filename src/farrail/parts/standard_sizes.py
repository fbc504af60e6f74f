"""Sizes that can be had almost anywhere, for naming what to buy; common practice, no source."""

from farrail.language import say
from farrail.parts.connections import Connection, Gender, Plain, Thread
from farrail.parts.inventory_item import Status
from farrail.parts.kinds.tubes import SHIM_THICKNESSES_MM, SPACER_LENGTHS_MM, Shim, Spacer
from farrail.parts.provenance import assumed
from farrail.parts.registry import Part
from farrail.parts.usual import machined


def standard_spacers(standard: Thread) -> list[Part]:
    """Return the usual spacers of a thread, internal toward the scene and external toward the sensor."""
    front = Connection(standard=standard, gender=Gender.INTERNAL)
    rear = Connection(standard=standard, gender=Gender.EXTERNAL)
    return [
        Spacer(
            id=f"standard-spacer-{standard.diameter_mm:g}-{length:g}".replace(".", "-"),
            name=say("Spacer {label}, {length:g} mm", label=standard.label, length=length),
            outer_diameter_mm=standard.diameter_mm + 5.0, front=front, rear=rear, owned=0, status=Status.WANTED,
            path_length_mm=machined(length),
        )
        for length in SPACER_LENGTHS_MM
    ]  # fmt: skip


def standard_shims(diameter_mm: float) -> list[Part]:
    """Return the usual shims for a joint of a diameter."""
    face = Connection(standard=Plain(diameter_mm=diameter_mm), gender=Gender.NONE, engagement_mm=0.0)
    return [
        Shim(
            id=f"standard-shim-{thickness:g}".replace(".", "-"), name=say("Shim {thickness:g} mm", thickness=thickness),
            outer_diameter_mm=diameter_mm + 8.0, front=face, rear=face, owned=0, status=Status.WANTED,
            path_length_mm=assumed(thickness, note=say("a usual size")),
        )
        for thickness in SHIM_THICKNESSES_MM
    ]  # fmt: skip
