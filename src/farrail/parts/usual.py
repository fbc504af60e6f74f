"""Usual sizes: what can be had almost anywhere, each with where its size comes from.

Sizes are from memory of the trade and marked "common practice" unless a standard is named; every value is assumed
until a person measures it.
"""

import math
from dataclasses import dataclass
from typing import Generic, TypeVar

from farrail.language import N_, Text, say
from farrail.parts.connections import Connection, Gender, Plain
from farrail.parts.glass import CROWN_INDEX, Plate
from farrail.parts.provenance import Quantity, assumed

COMMON = N_("common practice")
# Filter threads in front of lenses, of 0.75 mm pitch but for the largest; common practice, no source.
FILTER_THREADS_MM = (49, 52, 55, 58, 62, 67, 72, 77, 82, 86, 95, 105)
# Threads and pitches that housings of a train usually have; common practice, no source.
HOUSING_THREADS = ((42.0, 0.75), (48.0, 0.75), (54.0, 0.75), (68.0, 1.0))
# Up to which length a turned part may be off by how much: ISO 2768-1:1989, class f (fine), from memory.
GENERAL_FINE_MM = ((6.0, 0.05), (30.0, 0.1), (120.0, 0.15), (400.0, 0.2), (1000.0, 0.3), (math.inf, 0.5))
AnyPart = TypeVar("AnyPart", covariant=True)
IN, OUT = Gender.INTERNAL, Gender.EXTERNAL


@dataclass(frozen=True)
class Usual(Generic[AnyPart]):
    """One size that can be put on a shelf: the group it is listed in, the part, and where its size comes from."""

    group: str
    part: AnyPart
    source: Text


def size(value: float, source: Text = COMMON) -> Quantity:
    """Return an assumed size with its source."""
    return assumed(value, note=str(source))


def machined(length_mm: float) -> Quantity:
    """Return an assumed length of a turned part, with the general tolerance it is usually made to.

    Source: ISO 2768-1:1989, class f (fine), from memory.
    """
    tolerance = next(tolerance for up_to, tolerance in GENERAL_FINE_MM if length_mm <= up_to)
    return assumed(length_mm, tolerance, say("{common}; its tolerance by ISO 2768-1, fine, from memory", common=COMMON))


def key(*words: object) -> str:
    """Return the id of a ready-made part."""
    text = "-".join(f"{w:g}" if isinstance(w, float) else str(w) for w in words)
    return "ready-" + "".join(c if c.isalnum() else "-" for c in text.lower()).strip("-")


def crown(thickness_mm: float, source: Text = COMMON) -> Plate:
    """Return a plate of crown glass."""
    return Plate(thickness_mm=size(thickness_mm, source), index=size(CROWN_INDEX, say("crown glass taken")))


def rim(diameter_mm: float) -> Connection:
    """Return a flat face without thread."""
    return Connection(standard=Plain(diameter_mm=diameter_mm), gender=Gender.NONE, engagement_mm=0.0)
