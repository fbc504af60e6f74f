"""Kinds of part that bring a lens closer: close-up lenses, tubes, bellows, teleconverters, reversing rings."""

from typing import Literal

from farrail.parts.base import Adjustable, FixedLength
from farrail.parts.provenance import Dioptres, Factor


class CloseUpLens(FixedLength):
    """A converging lens screwed on ahead of another; it acts in the middle of its length.

    `dioptres` is its power in 1/m. A label such as “10x” on such a lens means +10 dioptres.
    """

    kind: Literal["close_up_lens"] = "close_up_lens"
    dioptres: Dioptres
    # Two or more elements that correct each other's colour.
    achromat: bool = False


class ExtensionTube(FixedLength):
    """Moves a lens away from the camera on purpose: its length is extension and not a miss."""

    kind: Literal["extension_tube"] = "extension_tube"


class Bellows(Adjustable):
    """An extension of variable length; the setting belongs to the train it is laid in."""

    kind: Literal["bellows"] = "bellows"


class Teleconverter(FixedLength):
    """A diverging group between a lens and its camera; it keeps the lens's flange distance and multiplies the image."""

    kind: Literal["teleconverter"] = "teleconverter"
    factor: Factor


class ReversingRing(FixedLength):
    """Joins a lens to something by its filter thread.

    Laid behind an optic that is turned round, its length is extension. In a front stack it carries a second lens,
    turned round on the front of the first.
    """

    kind: Literal["reversing_ring"] = "reversing_ring"
