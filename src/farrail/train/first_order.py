"""A train's first-order record: focal length, f-number, pupils with their sign, power; worked out once a layout."""

import math
from dataclasses import dataclass
from functools import cached_property

from farrail.errors import BadInput
from farrail.language import say
from farrail.optics.oblique import STRAIGHT, Directions
from farrail.optics.power import Power
from farrail.optics.pupils import Pupil
from farrail.parts.base import Optic
from farrail.parts.in_beam import Extends
from farrail.parts.kinds.closer import Teleconverter
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.telescopes import Corrector, Telescope
from farrail.parts.lens_defaults import pupil_ratio_default
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, unknown, weakest
from farrail.train.axial_stop import AxialStop, axial_stop
from farrail.train.placed import Placed, PlacedGlass
from farrail.train.trace import PlacedLens, TracedRows
from farrail.train.train import Side
from farrail.train.zoom_tables import f_number_at, pupil_depth_at, pupil_walk_at

FARTHEST_PUPIL_MM, NEAREST_PUPIL_MM = 99_999.0, 0.01
FARTHEST_REGISTERS, FARTHEST_FOCALS = 4.0, 2.0
LEAST_F_NUMBER, LARGEST_F_NUMBER = 0.3, 1000.0


@dataclass(frozen=True)
class PlacedPower:
    """A powered part of the train with the power it has at its place."""

    power: Power
    z_mm: float
    placed: Placed
    origin: Origin
    # How far its front principal plane is ahead of `z_mm`, its rear one.
    ahead_mm: float = 0.0

    @property
    def first_mm(self) -> float:
        """Its front principal plane on the rail, from which what is ahead is counted."""
        return self.z_mm - self.ahead_mm

    @property
    def focus_mm(self) -> float:
        """Where the image is that it takes up, on the rail, glass ahead of it not counted."""
        return self.first_mm + self.power.native_focus_mm


@dataclass(frozen=True)
class Extension:
    """What a lens's flange distance grows by on purpose.

    Attributes:
        tubes_mm: extension tubes, bellows and rings, before or behind a teleconverter.
        behind_mm: of these, what is behind the teleconverter.
        carried_mm: the teleconverter's own length, which keeps the lens's distance.
        lengths_mm: the single lengths, in the order the light meets them.
        origin: the weakest of them.
    """

    tubes_mm: float = 0.0
    behind_mm: float = 0.0
    carried_mm: float = 0.0
    lengths_mm: tuple[float, ...] = ()
    origin: Origin = Origin.MEASURED

    @property
    def whole_mm(self) -> float:
        """By how much the camera is farther away than without."""
        return self.tubes_mm + self.carried_mm


@dataclass(frozen=True)
class RingSetting:
    """How a lens's own focusing ring is set.

    Attributes:
        drawn_out_mm: how far the lens has moved toward the scene.
        focal_share: its focal length there over the one at infinity.
        cone: its effective f-number there over N(1 + m/p).
    """

    drawn_out_mm: float = 0.0
    focal_share: float = 1.0
    cone: float = 1.0


AT_INFINITY = RingSetting()


@dataclass(frozen=True)
class FirstOrder:
    """What the readouts need to know of a placed train's optic; each member is worked out when first asked for."""

    layout: TracedRows

    @property
    def optic(self) -> Optic:
        """The train's optic."""
        return self.layout.optic

    @cached_property
    def own_focal_length(self) -> Quantity:
        """The optic's own focal length; of a zoom what it is set to, its shortest where nothing is set."""
        optic, wanted = self.optic, self.layout.train.conditions.focal_mm
        if wanted is not None and isinstance(optic, CameraLens) and optic.longest_focal_mm is not None:
            return Quantity.of(wanted, optic.focal_length_mm.origin, note=say("as set for this train"))
        return optic.focal_length_mm

    @cached_property
    def entrance_pupil(self) -> Quantity:
        """How far behind the thread seat the entrance pupil is at the focal length set; 0 for a telescope.

        A zoom's is interpolated in its table, with the weaker origin of both neighbours; beyond its ends the last
        holds.
        """
        optic = self.optic
        if not isinstance(optic, CameraLens):
            return Quantity.of(0.0, Origin.ASSUMED, note=say("taken at the front"))
        return pupil_depth_at(optic, self.own_focal_length.value)

    @cached_property
    def powers(self) -> tuple[PlacedPower, ...]:
        """The train's powered parts, in the order the light meets them.

        Worked out from the sensor: each makes the image that the next one takes up. One that makes no image there is
        left out: a finding says so.
        """
        sensor = self.layout.sensor_mm
        found: list[PlacedPower] = []
        for met in reversed(self.layout.trace.lenses):
            if sensor is None:
                break
            behind = found[-1] if found else None
            to = sensor if behind is None else behind.first_mm
            distance = self.image_distance_mm(met.z_mm, to) + (0.0 if behind is None else behind.power.native_focus_mm)
            one = self._by_factor(met, distance) if met.lens.factor is not None else _thin(met, distance)
            if one is not None:
                found.append(one)
        return tuple(reversed(found))

    def reduced_mm(self, from_mm: float, to_mm: float) -> float:
        """Return a distance on the rail less the focus shift of all glass in it: t/n in place of t."""
        return to_mm - from_mm - _shift_between(self._plates, from_mm, to_mm)

    def image_distance_mm(self, from_mm: float, to_mm: float) -> float:
        """Return the distance at which an image forms: glass that a published distance includes is not subtracted."""
        return to_mm - from_mm - _shift_between(self._added_plates, from_mm, to_mm)

    @cached_property
    def _plates(self) -> tuple[tuple[float, float], ...]:
        return tuple((g.z_front_mm, g.glass.shift_mm) for g in self._rear_glass)

    @cached_property
    def _added_plates(self) -> tuple[tuple[float, float], ...]:
        return tuple((g.z_front_mm, g.glass.shift_mm) for g in self._rear_glass if g.adds_distance)

    @cached_property
    def _rear_glass(self) -> tuple[PlacedGlass, ...]:
        return tuple(g for g in self.layout.trace.glass if g.place.side is Side.REAR)

    @property
    def power(self) -> PlacedPower | None:
        """The powered part the sensor looks into, the last one; None where there is none."""
        return self.powers[-1] if self.powers else None

    @cached_property
    def magnification(self) -> float:
        """What all powered parts together make of the focal length."""
        return math.prod(one.power.magnification for one in self.powers)

    @property
    def power_origin(self) -> Origin:
        """The weakest input of the powered parts."""
        return weakest(one.origin for one in self.powers)

    def seen_from_sensor(self, z_mm: float) -> tuple[float, float]:
        """Return where something at a place of the rail appears from the sensor, and how large.

        Returns:
            Reduced distance before the sensor, negative where powered parts image it behind the sensor, and the signed
            scale of its size: negative where it is upside down.
        """
        if z_mm not in self._seen:
            self._seen[z_mm] = self._see(z_mm)
        return self._seen[z_mm]

    @cached_property
    def _seen(self) -> dict[float, tuple[float, float]]:
        """What was seen from the sensor already, by its place."""
        return {}

    def _see(self, z_mm: float) -> tuple[float, float]:
        sensor = self.layout.sensor_mm
        assert sensor is not None
        behind = [one for one in self.powers if z_mm < one.z_mm - 1e-9]
        if not behind:
            return max(self.reduced_mm(z_mm, sensor), 0.0), 1.0
        return _through(self, behind, self.reduced_mm(z_mm, behind[0].first_mm))

    def _by_factor(self, met: PlacedLens, distance_mm: float) -> PlacedPower | None:
        """Return a teleconverter as a diverging lens whose rear principal plane is its middle.

        With the camera on its rear it makes just its factor M of an image that is a flange distance behind its own
        front, where the lens alone would put it: 1/f = (1 − M)/s', s' its distance before the sensor, and the front
        principal plane is s'/M ahead of that image. Extension behind it makes it stronger.
        """
        optic, factor = self.optic, met.lens.factor
        if factor is None or not isinstance(optic, CameraLens) or self.layout.reversed:
            return None
        long = met.placed.part.length_at(met.placed.laid.setting_mm).value
        native = native_distance_mm(optic, long)
        origin = weakest([factor.origin, optic.flange_focal_distance_mm.origin])
        power = Power(-native / (factor.value - 1.0), distance_mm)
        ahead = native / factor.value - (optic.flange_focal_distance_mm.value - long / 2.0)
        return PlacedPower(power, met.z_mm, met.placed, origin, ahead)

    @cached_property
    def teleconverter(self) -> Teleconverter | None:
        """The train's teleconverter, the first where there are several."""
        return next((p.part for p in self.layout.rear if isinstance(p.part, Teleconverter)), None)

    @cached_property
    def focal_length(self) -> Quantity:
        """The focal length at the sensor: the optic's own, times what powered parts make of it."""
        own = self.own_focal_length
        if not self.powers:
            return own
        names = say(" and ").join(one.placed.part.name for one in self.powers)
        note = say(
            "{value:g} mm × {magnification:.3f} by {names} at this distance",
            value=own.value,
            magnification=self.magnification,
            names=names,
        )
        return Quantity.of(own.value * self.magnification, weakest([own.origin, self.power_origin]), note=note)

    @cached_property
    def shown_factor(self) -> float:
        """What an f-number shown of the train is of the optic's own: cameras count a teleconverter by its name.

        A corrector's factor follows from where it is; so does a teleconverter's, and what its extension makes of
        it is light lost and no other f-number.
        """
        lenses = [(one.placed.part.thin_lens(), one.power.magnification) for one in self.powers]
        return math.prod(own if lens is None or lens.factor is None else lens.factor.value for lens, own in lenses)

    @cached_property
    def f_number(self) -> Quantity:
        """The f-number of the cone at the sensor: as set for the train, else the optic's own."""
        wanted = self.layout.train.conditions.f_number
        if wanted is not None:
            return Quantity.of(wanted, Origin.MEASURED, note=say("as set for this train"))
        return self.own_f_number

    @cached_property
    def stop(self) -> AxialStop | None:
        """What stops the beam on the axis where that is not the optic's own pupil."""
        if self.layout.sensor_mm is None:
            return None
        seen = []
        for placed in self.layout.apertures:
            distance, scale = (0.0, 1.0) if placed.side is Side.FRONT else self.seen_from_sensor(placed.z_mm)
            seen.append((placed, distance, scale))
        return axial_stop(seen, self.pupil)

    @cached_property
    def effective_f_number(self) -> Quantity:
        """The f-number of the cone on the axis, N/√T0, where something stops it further down; else the one set."""
        stop, own = self.stop, self.f_number
        if stop is None:
            return own
        note = say("f/{own:.3g}, stopped down by {part}", own=own.value, part=stop.aperture.part.name)
        return Quantity.of(own.value / math.sqrt(stop.share), weakest([own.origin, stop.origin]), note=note)

    @cached_property
    def own_f_number(self) -> Quantity:
        """The f-number at the sensor with the optic wide open.

        A telescope's follows from its focal length and aperture; a powered part changes it as it does the focal
        length.
        """
        optic = self.optic
        if isinstance(optic, CameraLens):
            own = f_number_at(optic, self.own_focal_length.value)
            if not self.powers:
                return own
            value, origin = own.value * self.shown_factor, weakest([own.origin, self.power_origin])
            return Quantity.of(value, origin, note=say("the lens's own × the powered part"))
        assert isinstance(optic, Telescope)
        focal = self.focal_length
        value = focal.value / optic.aperture_mm.value
        if not LEAST_F_NUMBER <= value <= LARGEST_F_NUMBER:
            raise BadInput(
                "{name}: {value:g} mm over an aperture of {value_2:g} mm is f/{value_3:.3g}; "
                "f/{least_f_number:g} to f/{largest_f_number:g} can be. Check both figures.",
                name=optic.name,
                value=focal.value,
                value_2=optic.aperture_mm.value,
                value_3=value,
                least_f_number=LEAST_F_NUMBER,
                largest_f_number=LARGEST_F_NUMBER,
            )
        return Quantity.of(
            value, weakest([focal.origin, optic.aperture_mm.origin]), note=say("focal length / aperture")
        )

    @cached_property
    def exit_pupil(self) -> Quantity:
        """The exit pupil's distance before the sensor, negative where it is behind it.

        Known for a corrector or lens where its maker says so. A telescope's is its objective, seen through powered
        parts; behind a corrector whose power is not known it is taken there, assumed. A lens's follows from its pupil
        ratio; without one only a range can be said.
        """
        optic, corrector = self.optic, self.layout.corrector
        if corrector is not None and isinstance(corrector.part, Corrector):
            if corrector.part.exit_pupil_distance_mm is not None:
                return corrector.part.exit_pupil_distance_mm
        elif optic.exit_pupil_distance_mm is not None:
            return optic.exit_pupil_distance_mm
        if isinstance(optic, CameraLens):
            return lens_exit_pupil(optic, self.own_focal_length, self.layout.diagonal_mm)
        focal = optic.focal_length_mm
        if self.powers:
            first = self.powers[0]
            ahead = focal.value - first.power.native_focus_mm
            if ahead > 0.0:
                distance = _through(self, list(self.powers), ahead)[0]
                distance = math.copysign(min(max(abs(distance), NEAREST_PUPIL_MM), FARTHEST_PUPIL_MM), distance)
                origin = weakest([focal.origin, self.power_origin])
                names = say(" and ").join(one.placed.part.name for one in self.powers)
                return Quantity.of(
                    distance, origin, note=say("computed: the objective seen through {names}", names=names)
                )
        origin = focal.origin if corrector is None else Origin.ASSUMED
        return Quantity.of(focal.value, origin, note=say("pupil at the objective, one focal length away"))

    @cached_property
    def obstruction(self) -> float:
        """The pupil's central obstruction as a fraction of its diameter, the train's own shadow included."""
        optic = self.optic
        if not isinstance(optic, Telescope):
            return 0.0
        wide = optic.obstruction_mm.value if optic.obstruction_mm is not None else 0.0
        if optic.prime_focus:
            shadow = self.widest_ahead_of_mirror
            wide = max(wide, shadow[1] if shadow is not None else 0.0)
        return min(wide / optic.aperture_mm.value, 0.95)

    @cached_property
    def widest_ahead_of_mirror(self) -> tuple[str, float, str] | None:
        """The part of a train ahead of its mirror that blocks most: name, diameter, id; None for an empty train."""
        wide = [(p.part.name, p.part.outer_diameter_mm, p.part.id) for p in self.layout.rear]
        camera = self.layout.camera
        if camera is not None:
            wide.append((camera.name, camera.outer_diameter_mm, camera.id))
        return max(wide, key=lambda w: w[1], default=None)

    @cached_property
    def extension(self) -> Extension:
        """What is behind a lens on purpose; nothing for a telescope or with a corrector."""
        if not isinstance(self.optic, CameraLens) or self.layout.corrector is not None:
            return Extension()
        tubes, behind, carried = 0.0, 0.0, 0.0
        lengths, origins = [], []
        for placed in self.layout.rear:
            length, means = placed.length.value, placed.part.extends
            if means is Extends.CARRIED:
                carried += length
            elif means is Extends.ON_PURPOSE:
                tubes += length
                behind += length if carried else 0.0
            else:
                continue
            lengths.append(length)
            origins.append(placed.length.origin)
        return Extension(tubes, behind, carried, tuple(lengths), weakest(origins))

    @cached_property
    def pupil(self) -> Pupil:
        """The pupil the sensor looks into, the lens focused at infinity."""
        return self.pupil_focused(AT_INFINITY)

    def pupil_focused(self, ring: RingSetting) -> Pupil:
        """Return the pupil the sensor looks into with the lens's own focusing ring set.

        Extension behind a lens, and drawing it out, move the pupil away and so narrow cone and field alike; a
        teleconverter shows it nearer or farther, and larger or smaller. A lens whose focal length shrinks brings its
        pupil closer with it.
        """
        focal, n = self.focal_length.value, self.f_number.value
        distance, narrower = self._seen_pupil(n, ring)
        return Pupil(
            f_number=n * narrower * ring.cone,
            exit_distance_mm=distance,
            focal_length_mm=focal * ring.focal_share * narrower,
            obstruction=self.obstruction,
            directions=self.directions,
        )

    @cached_property
    def directions(self) -> Directions:
        """How the optic places directions on the frame, and how its entrance pupil walks, as far as that is known."""
        optic, camera = self.optic, self.layout.camera
        if not isinstance(optic, CameraLens):
            return STRAIGHT
        walk = pupil_walk_at(optic, self.own_focal_length.value)
        distortion = optic.distortion_percent
        return Directions(
            optic.projection,
            0.0 if camera is None else camera.diagonal_mm / 2.0,
            0.0 if distortion is None else distortion.value / 100.0,
            0.0 if walk is None else walk.value,
        )

    def _seen_pupil(self, f_number: float, ring: RingSetting) -> tuple[float, float]:
        """Return how far before the sensor the pupil is seen, and by how much what is behind narrows the cone."""
        layout, optic = self.layout, self.optic
        own, sensor = self.exit_pupil.value, layout.sensor_mm
        if not isinstance(optic, CameraLens) or layout.corrector is not None or sensor is None:
            return own, 1.0
        own *= ring.focal_share
        if layout.reversed:
            # The entrance pupil, f/N wide, faces the sensor from behind the thread.
            distance = max(sensor + self.entrance_pupil.value, 1.0)
            return distance, max(distance / self.own_focal_length.value, 0.1)
        away = self.extension.tubes_mm + ring.drawn_out_mm
        if not self.powers:
            return own + away, 1.0 + away / own
        # At infinity the lens's cone comes from a pupil `own` ahead of its own image, a flange distance behind its
        # flange; drawn out it is so much nearer the scene.
        pupil_z = layout.optic_rear_mm + optic.flange_focal_distance_mm.value - own - ring.drawn_out_mm
        seen, scale = _through(self, list(self.powers), self.powers[0].first_mm - pupil_z)
        seen = math.copysign(max(abs(seen), NEAREST_PUPIL_MM), seen)
        wide = own / (f_number / self.shown_factor) * abs(scale)
        return seen, abs(seen) / wide / f_number


def _shift_between(plates: tuple[tuple[float, float], ...], from_mm: float, to_mm: float) -> float:
    return sum([shift for front, shift in plates if from_mm - 1e-9 <= front < to_mm])


def _thin(met: PlacedLens, distance_mm: float) -> PlacedPower | None:
    """Return a corrector or reducer as a thin lens so far before what it focuses on; None where it makes no image."""
    focal = met.lens.focal
    if focal is None:
        return None
    try:
        power = Power(focal.value, distance_mm)
    except BadInput:
        return None
    place = Origin.ASSUMED if met.lens.at is None else met.lens.at.origin
    return PlacedPower(power, met.z_mm, met.placed, weakest([place, focal.origin]))


def _through(order: FirstOrder, powers: list[PlacedPower], ahead_mm: float) -> tuple[float, float]:
    """Return where something appears from the sensor through powered parts, and its signed scale.

    Args:
        order: the train's record.
        powers: the parts between it and the sensor, in the order the light meets them.
        ahead_mm: how far it is before the first one's front principal plane, reduced.
    """
    whole, image = 1.0, 0.0
    for number, one in enumerate(powers):
        if number:
            ahead_mm = order.image_distance_mm(powers[number - 1].z_mm, one.first_mm) - image
        image, scale = one.power.image_of(ahead_mm)
        whole *= scale
    sensor = order.layout.sensor_mm
    assert sensor is not None
    return order.image_distance_mm(powers[-1].z_mm, sensor) - image, whole


def lens_exit_pupil(lens: CameraLens, focal: Quantity, diagonal_mm: float) -> Quantity:
    """Return a lens's exit pupil at infinity, before the sensor: pupil ratio times focal length, else a range.

    Without a pupil ratio only what can be is said: not behind the rear glass, which is at the flange or a little
    ahead of it, and seldom farther than four times that or twice the focal length (common practice, no source).
    """
    if lens.pupil_ratio is not None:
        origin = weakest([lens.pupil_ratio.origin, focal.origin])
        note = say(
            "computed: pupil ratio {value:g} × {value_2:g} mm", value=lens.pupil_ratio.value, value_2=focal.value
        )
        return Quantity.of(lens.pupil_ratio.value * focal.value, origin, note=note)
    register = max(lens.flange_focal_distance_mm.value, 1.0)
    note = say("not known: from the flange on outward; measure both pupils' diameters for their ratio")
    farthest = max(FARTHEST_REGISTERS * register, FARTHEST_FOCALS * focal.value)
    return unknown(register, farthest, note, pupil_ratio_default(focal.value, diagonal_mm).typical * focal.value)


def native_distance_mm(lens: CameraLens, converter_mm: float) -> float:
    """Return how far before the sensor a teleconverter so long acts with the camera on its rear: from its middle on."""
    return converter_mm / 2.0 + lens.flange_focal_distance_mm.value
