"""What brings a lens closer: close-up lenses, tubes, bellows, teleconverters, reversing rings."""

from collections.abc import Iterator
from typing import Annotated, Literal

from farrail.language import N_, say
from farrail.parts.base import Adjustable, FixedLength, PartBase
from farrail.parts.connections import Bayonet, Connection, Gender, thread
from farrail.parts.field_info import FieldInfo, Group
from farrail.parts.in_beam import Aperture, ApertureRole, Extends, Installation, Measure, Outline, ThinLens
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.lens_shapes import close_up, pair
from farrail.parts.provenance import Dioptres, Factor, Quantity, assumed, weakest
from farrail.parts.registers import BAYONET_REGISTERS_MM
from farrail.parts.usual import COMMON, IN, OUT, Usual, key, machined, size

CLOSE_UP_THREADS_MM = (49, 52, 55, 58, 62, 67, 72, 77)
CLOSE_UP_DIOPTRES = (1.0, 2.0, 3.0, 4.0, 10.0)
TUBE_LENGTHS_MM = (10.0, 12.0, 16.0, 20.0, 25.0, 36.0)
_MOUNT = Bayonet(name="44 mm SLR bayonet", throat_mm=42.0)
_LENS, _BODY = (Connection(standard=_MOUNT, gender=gender) for gender in (Gender.EXTERNAL, Gender.INTERNAL))


class CloseUpLens(FixedLength):
    """A converging lens screwed on ahead of another; it acts in the middle of its length.

    `dioptres` is its power in 1/m. A label such as “10x” on such a lens means +10 dioptres.
    """

    kind_name = N_("close-up lens")
    rank = 170
    stands_ahead = True
    brings_closer = True

    kind: Literal["close_up_lens"] = "close_up_lens"
    dioptres: Annotated[Dioptres, FieldInfo("Power", "+4 dpt; a label “10x” means +10 dpt", "dpt", Group.POWER)]
    # Two or more elements that correct each other's colour.
    achromat: Annotated[bool, FieldInfo("Achromat", "Two or more elements", group=Group.POWER)] = False

    def outline(self, span_mm: float, bore_mm: float) -> Outline:
        """Return its glass, and its power as its label."""
        power = self.dioptres.value
        return Outline(close_up(span_mm, bore_mm, power, achromat=self.achromat), measure=Measure.POWER, value=power)

    @classmethod
    def template(cls) -> "CloseUpLens":
        """Return +4 dioptres of 52 mm."""
        return cls(
            id="new-close-up-lens", name=say("New close-up lens +4"), outer_diameter_mm=56, path_length_mm=assumed(5),
            front=thread(52.0, 0.75, IN), rear=thread(52.0, 0.75, OUT), dioptres=assumed(4),
            clear_aperture_mm=assumed(49),
        )  # fmt: skip

    @classmethod
    def usual_sizes(cls) -> Iterator[Usual[PartBase]]:
        """Yield the usual powers in the usual threads."""
        for across in CLOSE_UP_THREADS_MM:
            for power in CLOSE_UP_DIOPTRES:
                part = cls(
                    id=key("close-up", across, power),
                    name=say("Close-up lens +{power:g}, {across} mm", power=power, across=across),
                    outer_diameter_mm=across + 3.0, front=thread(across, 0.75, IN), rear=thread(across, 0.75, OUT),
                    path_length_mm=size(5.0), clear_aperture_mm=size(across - 4.0), dioptres=size(power),
                )  # fmt: skip
                note = say("; often labelled 10x") if power == 10.0 else ""
                yield Usual(say("close-up lenses"), part, f"{COMMON}{note}")


class ExtensionTube(FixedLength):
    """Moves a lens away from the camera on purpose: its length is extension and not a miss."""

    kind_name = N_("extension tube")
    rank = 180
    brings_closer = True
    extends = Extends.ON_PURPOSE

    kind: Literal["extension_tube"] = "extension_tube"

    @classmethod
    def template(cls) -> "ExtensionTube":
        """Return 20 mm."""
        return cls(
            id="new-tube", name=say("New extension tube 20"), outer_diameter_mm=62, front=_BODY, rear=_LENS,
            path_length_mm=assumed(20),
        )  # fmt: skip

    @classmethod
    def usual_sizes(cls) -> Iterator[Usual[PartBase]]:
        """Yield the usual lengths for each bayonet."""
        for name, (_, throat) in BAYONET_REGISTERS_MM.items():
            bayonet = Bayonet(name=name, throat_mm=throat)
            for length in TUBE_LENGTHS_MM:
                part = cls(
                    id=key("tube", name, length),
                    name=say("Extension tube {length:g} mm, {name}", length=length, name=name),
                    outer_diameter_mm=throat + 20.0, front=Connection(standard=bayonet, gender=IN),
                    rear=Connection(standard=bayonet, gender=OUT), path_length_mm=machined(length),
                )  # fmt: skip
                yield Usual(say("extension tubes"), part, COMMON)


class Bellows(Adjustable):
    """An extension of variable length; the setting belongs to the train it is placed in."""

    kind_name = N_("bellows")
    rank = 190
    brings_closer = True
    extends = Extends.ON_PURPOSE

    kind: Literal["bellows"] = "bellows"

    @classmethod
    def template(cls) -> "Bellows":
        """Return 35 to 140 mm."""
        return cls(
            id="new-bellows", name=say("New bellows"), outer_diameter_mm=80, front=_BODY, rear=_LENS,
            shortest_mm=assumed(35), longest_mm=assumed(140),
        )  # fmt: skip

    @classmethod
    def usual_sizes(cls) -> Iterator[Usual[PartBase]]:
        """Yield the usual ones for each bayonet."""
        for name, (_, throat) in BAYONET_REGISTERS_MM.items():
            bayonet = Bayonet(name=name, throat_mm=throat)
            part = cls(
                id=key("bellows", name), name=say("Bellows 35 to 140 mm, {name}", name=name), outer_diameter_mm=80.0,
                front=Connection(standard=bayonet, gender=IN), rear=Connection(standard=bayonet, gender=OUT),
                shortest_mm=size(35.0), longest_mm=size(140.0),
            )  # fmt: skip
            yield Usual(say("bellows"), part, COMMON)


class Teleconverter(FixedLength):
    """A diverging group between a lens and its camera; it keeps the lens's flange distance and multiplies the image."""

    kind_name = N_("teleconverter")
    rank = 200
    extends = Extends.CARRIED

    kind: Literal["teleconverter"] = "teleconverter"
    factor: Annotated[Factor, FieldInfo("Factor", "As it is named, such as 1.4", "×", Group.POWER)]

    def thin_lens(self) -> ThinLens:
        """Return it as the thin lens in its middle that makes its factor with the camera on its rear."""
        return ThinLens(factor=self.factor, place_known=True)

    def outline(self, span_mm: float, bore_mm: float) -> Outline:
        """Return its lenses, and its factor as its label."""
        return Outline(pair(span_mm, bore_mm), measure=Measure.FACTOR, value=self.factor.value)

    @classmethod
    def template(cls) -> "Teleconverter":
        """Return 1.4×."""
        return cls(
            id="new-teleconverter", name=say("New teleconverter 1.4×"), outer_diameter_mm=64, front=_BODY, rear=_LENS,
            path_length_mm=assumed(20), factor=assumed(1.4),
        )  # fmt: skip

    @classmethod
    def usual_sizes(cls) -> Iterator[Usual[PartBase]]:
        """Yield the usual ones for each bayonet."""
        for name, (_, throat) in BAYONET_REGISTERS_MM.items():
            bayonet = Bayonet(name=name, throat_mm=throat)
            for factor in (1.4, 2.0):
                part = cls(
                    id=key("teleconverter", name, factor),
                    name=say("Teleconverter {factor:g}×, {name}", factor=factor, name=name),
                    outer_diameter_mm=throat + 22.0, front=Connection(standard=bayonet, gender=IN),
                    rear=Connection(standard=bayonet, gender=OUT), path_length_mm=size(20.0 if factor < 2.0 else 40.0),
                    factor=size(factor),
                )  # fmt: skip
                yield Usual(say("teleconverters"), part, COMMON)


class ReversingRing(FixedLength):
    """Joins a lens to something by its filter thread.

    Placed behind an optic that is flipped, its length is extension. In a front stack it carries a second lens,
    flipped on the front of the first.
    """

    kind_name = N_("reversing ring")
    rank = 210
    brings_closer = True
    extends = Extends.ON_PURPOSE

    kind: Literal["reversing_ring"] = "reversing_ring"

    def inner_apertures(self, filled: Installation) -> Iterator[Aperture]:
        """Yield the pupil of a lens it carries, as far ahead as that lens's entrance pupil is behind its thread."""
        lens = filled.carried
        if isinstance(lens, CameraLens):
            depth, f_number = lens.entrance_pupil_depth_mm, lens.f_number
            wide = Quantity.of(
                lens.focal_length_mm.value / f_number.value, weakest([lens.focal_length_mm.origin, f_number.origin])
            )
            yield Aperture(
                lens, ApertureRole.CARRIED_PUPIL, wide, "f_number", -depth.high, -depth.low, depth.origin
            )  # fmt: skip

    @classmethod
    def template(cls) -> "ReversingRing":
        """Return one of 52 mm."""
        return cls(
            id="new-reversing-ring", name=say("New reversing ring"), outer_diameter_mm=62, rear=_LENS,
            front=thread(52.0, 0.75, OUT), path_length_mm=assumed(7),
        )  # fmt: skip

    @classmethod
    def usual_sizes(cls) -> Iterator[Usual[PartBase]]:
        """Yield the usual ones for each bayonet."""
        for name, (_, throat) in BAYONET_REGISTERS_MM.items():
            bayonet = Bayonet(name=name, throat_mm=throat)
            for across in CLOSE_UP_THREADS_MM:
                part = cls(
                    id=key("reversing", name, across),
                    name=say("Reversing ring {across} mm, {name}", across=across, name=name),
                    outer_diameter_mm=throat + 18.0, front=thread(across, 0.75, OUT),
                    rear=Connection(standard=bayonet, gender=OUT), path_length_mm=size(7.0),
                )  # fmt: skip
                yield Usual(say("reversing rings"), part, COMMON)
