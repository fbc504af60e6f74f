"""A train's first-order record: focal length, f-number, pupils with their sign, power; worked out once a layout."""

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from farrail.errors import BadInput
from farrail.optics.clipping import Array
from farrail.optics.power import Power
from farrail.optics.pupils import Pupil
from farrail.parts.base import Optic
from farrail.parts.in_beam import Extends
from farrail.parts.kinds.closer import Teleconverter
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.telescopes import Corrector, Telescope
from farrail.parts.provenance import Origin, Quantity, weakest
from farrail.train.placed import Placed
from farrail.train.trace import PlacedLens, TracedRows

FARTHEST_PUPIL_MM = 99_999.0


@dataclass(frozen=True)
class PlacedPower:
    """A powered part of the train with the power it has at its place."""

    power: Power
    z_mm: float
    placed: Placed
    origin: Origin


@dataclass(frozen=True)
class Extension:
    """What a lens's flange distance grows by on purpose.

    Attributes:
        tubes_mm: extension tubes, bellows and rings, before or behind a teleconverter.
        behind_mm: of these, what stands behind the teleconverter.
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
        """By how much the camera stands farther away than without."""
        return self.tubes_mm + self.carried_mm


@dataclass(frozen=True)
class FirstOrder:
    """What the readouts need to know of a laid train's optic; each member is worked out when first asked for."""

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
            return Quantity.of(wanted, optic.focal_length_mm.origin, note="as set for this train")
        return optic.focal_length_mm

    @cached_property
    def entrance_pupil(self) -> Quantity:
        """How far behind the thread seat the entrance pupil lies at the focal length set; 0 for a telescope.

        A zoom's is interpolated in its table, with the weaker origin of both neighbours; beyond its ends the last
        holds.
        """
        optic = self.optic
        if not isinstance(optic, CameraLens):
            return Quantity.of(0.0, Origin.ASSUMED, note="taken at the front")
        return pupil_depth_at(optic, self.own_focal_length.value)

    @cached_property
    def power(self) -> PlacedPower | None:
        """The train's powered part, the last one where there are several; None where there is none.

        One that makes no image where the sensor stands is none: a finding says so.
        """
        sensor = self.layout.sensor_mm
        for met in reversed(self.layout.trace.lenses):
            if met.lens.factor is not None:
                return self._by_factor(met)
            focal = met.lens.focal
            if sensor is None or focal is None:
                continue
            glass = sum(g.glass.shift_mm for g in self.layout.glass if g.z_front_mm >= met.z_mm - 1e-9)
            try:
                power = Power(focal.value, sensor - met.z_mm - glass)
            except BadInput:
                continue
            place = Origin.ASSUMED if met.lens.at is None else met.lens.at.origin
            return PlacedPower(power, met.z_mm, met.placed, weakest([place, focal.origin]))
        return None

    def _by_factor(self, met: PlacedLens) -> PlacedPower | None:
        """Return a teleconverter as a thin diverging lens in its middle.

        With the camera on its rear it makes just its factor M; from there 1/f = (1 − M)/s', s' its distance before
        the sensor. Extension behind it makes it stronger.
        """
        sensor, optic, factor = self.layout.sensor_mm, self.optic, met.lens.factor
        if sensor is None or factor is None or not isinstance(optic, CameraLens) or self.layout.reversed:
            return None
        native = native_distance_mm(optic, met.placed.part.length_at(met.placed.laid.setting_mm).value)
        origin = weakest([factor.origin, optic.flange_focal_distance_mm.origin])
        return PlacedPower(Power(-native / (factor.value - 1.0), sensor - met.z_mm), met.z_mm, met.placed, origin)

    @cached_property
    def teleconverter(self) -> Teleconverter | None:
        """The train's teleconverter, the first where there are several."""
        return next((p.part for p in self.layout.rear if isinstance(p.part, Teleconverter)), None)

    @cached_property
    def focal_length(self) -> Quantity:
        """The focal length at the sensor: the optic's own, times what a powered part makes of it."""
        own, power = self.own_focal_length, self.power
        if power is None:
            return own
        factor = power.power.magnification
        note = f"{own.value:g} mm × {factor:.3f} by {power.placed.part.name} at this distance"
        return Quantity.of(own.value * factor, weakest([own.origin, power.origin]), note=note)

    @cached_property
    def shown_factor(self) -> float:
        """What an f-number told of the train is of the optic's own: cameras count a teleconverter by its name.

        A corrector's factor follows from where it stands; so does a teleconverter's, and what its extension makes of
        it is light lost and no other f-number.
        """
        power = self.power
        if power is None:
            return 1.0
        lens = power.placed.part.thin_lens()
        return lens.factor.value if lens is not None and lens.factor is not None else power.power.magnification

    @cached_property
    def f_number(self) -> Quantity:
        """The f-number of the cone at the sensor: as set for the train, else the optic's own."""
        wanted = self.layout.train.conditions.f_number
        if wanted is not None:
            return Quantity.of(wanted, Origin.MEASURED, note="as set for this train")
        return self.own_f_number

    @cached_property
    def own_f_number(self) -> Quantity:
        """The f-number at the sensor with the optic wide open.

        A telescope's follows from its focal length and aperture; a powered part changes it as it does the focal
        length.
        """
        optic, power = self.optic, self.power
        if isinstance(optic, CameraLens):
            if power is None:
                return optic.f_number
            value = optic.f_number.value * self.shown_factor
            origin = weakest([optic.f_number.origin, power.origin])
            return Quantity.of(value, origin, note="the lens's own × the powered part")
        assert isinstance(optic, Telescope)
        focal = self.focal_length
        value = min(max(focal.value / optic.aperture_mm.value, 0.3), 1000.0)
        return Quantity.of(value, weakest([focal.origin, optic.aperture_mm.origin]), note="focal length / aperture")

    @cached_property
    def exit_pupil(self) -> Quantity:
        """The exit pupil's distance before the sensor.

        Known for a corrector or lens where its maker says so; a telescope's objective seen through a powered part;
        otherwise the pupil is taken at the objective, one focal length away, flagged assumed unless the telescope is
        bare (then that is where it is).
        """
        optic, corrector, power = self.optic, self.layout.corrector, self.power
        if corrector is not None and isinstance(corrector.part, Corrector):
            if corrector.part.exit_pupil_distance_mm is not None:
                return corrector.part.exit_pupil_distance_mm
            if power is not None and isinstance(optic, Telescope):
                ahead = optic.focal_length_mm.value - power.power.native_focus_mm
                distance = power.power.seen_through(ahead)[0] if ahead > 0.0 else math.inf
                # Behind the sensor or endlessly far: the chief rays run parallel or spread; a far pupil stands for
                # both.
                distance = distance if 1.0 < distance < FARTHEST_PUPIL_MM else FARTHEST_PUPIL_MM
                origin = weakest([optic.focal_length_mm.origin, power.origin])
                return Quantity.of(distance, origin, note=f"the objective seen through {power.placed.part.name}")
        elif optic.exit_pupil_distance_mm is not None:
            return optic.exit_pupil_distance_mm
        bare = corrector is None and isinstance(optic, Telescope)
        origin = optic.focal_length_mm.origin if bare else Origin.ASSUMED
        return Quantity.of(optic.focal_length_mm.value, origin, note="pupil at the objective, one focal length away")

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
        """What stands behind a lens on purpose; nothing for a telescope or with a corrector."""
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
        """The pupil the sensor looks into.

        Extension behind a lens moves the pupil away and so narrows cone and field alike; a teleconverter shows it
        nearer or farther, and larger or smaller.
        """
        focal, n = self.focal_length.value, self.f_number.value
        distance, narrower = self._seen_pupil(n)
        return Pupil(
            f_number=n * narrower,
            exit_distance_mm=distance,
            focal_length_mm=focal * narrower,
            obstruction=self.obstruction,
            projection=self.optic.projection if isinstance(self.optic, CameraLens) else "rectilinear",
        )

    def _seen_pupil(self, f_number: float) -> tuple[float, float]:
        """Return how far before the sensor the pupil is seen, and by how much what stands behind narrows the cone."""
        layout, optic = self.layout, self.optic
        own, sensor = self.exit_pupil.value, layout.sensor_mm
        if not isinstance(optic, CameraLens) or layout.corrector is not None or sensor is None:
            return own, 1.0
        if layout.reversed:
            # The entrance pupil, f/N wide, faces the sensor from behind the thread.
            distance = max(sensor + optic.entrance_pupil_depth_mm.value, 1.0)
            return distance, max(distance / self.own_focal_length.value, 0.1)
        power, tubes = self.power, self.extension.tubes_mm
        if power is None:
            return own + tubes, 1.0 + tubes / own
        # At infinity the lens's cone comes from a pupil `own` ahead of its own image, a flange distance behind its
        # flange.
        pupil_z = layout.optic_rear_mm + optic.flange_focal_distance_mm.value - own
        seen, scale = power.power.seen_through(power.z_mm - pupil_z)
        if not 1.0 < seen < FARTHEST_PUPIL_MM:
            return FARTHEST_PUPIL_MM, 1.0 + tubes / own
        wide = own / (f_number / self.shown_factor) * abs(scale)
        return seen, seen / wide / f_number


def native_distance_mm(lens: CameraLens, converter_mm: float) -> float:
    """Return how far before the sensor a teleconverter so long acts with the camera on its rear: from its middle on."""
    return converter_mm / 2.0 + lens.flange_focal_distance_mm.value


def pupil_depth_at(lens: CameraLens, focal_mm: float) -> Quantity:
    """Return a lens's entrance pupil depth at a focal length."""
    table = sorted(lens.entrance_pupils, key=lambda at: at.focal_mm)
    if not table:
        return lens.entrance_pupil_depth_mm
    if focal_mm <= table[0].focal_mm:
        return table[0].depth_mm
    if focal_mm >= table[-1].focal_mm:
        return table[-1].depth_mm
    after = next(number for number, at in enumerate(table) if at.focal_mm >= focal_mm)
    low, high = table[after - 1], table[after]
    share = (focal_mm - low.focal_mm) / (high.focal_mm - low.focal_mm)
    value = low.depth_mm.value + share * (high.depth_mm.value - low.depth_mm.value)
    origin = weakest([low.depth_mm.origin, high.depth_mm.origin])
    tolerance = max(low.depth_mm.tolerance, high.depth_mm.tolerance)
    return Quantity.of(value, origin, tolerance, f"between {low.focal_mm:g} and {high.focal_mm:g} mm")


def pupil_depths_mm(lens: CameraLens, focal_mm: Array) -> Array:
    """Return a lens's entrance pupil depth at many focal lengths, as `pupil_depth_at` does at one."""
    table = sorted(lens.entrance_pupils, key=lambda at: at.focal_mm)
    if not table:
        return np.full(focal_mm.shape, lens.entrance_pupil_depth_mm.value)
    depths: Array = np.interp(focal_mm, [at.focal_mm for at in table], [at.depth_mm.value for at in table])
    return depths
