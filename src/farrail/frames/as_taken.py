"""A train set as a frame says it was set: focal length and aperture out of its file."""

import math

from farrail.errors import BadInput
from farrail.frames.picture import Picture
from farrail.parts.kinds.closer import Teleconverter
from farrail.parts.kinds.lenses import CameraLens
from farrail.readouts.read import Readout, read
from farrail.train.rows import Shelf
from farrail.train.train import with_conditions

# A file rounds the focal length: so far beyond a zoom's ends it may be, as a share.
ROUNDED = 0.03


def as_taken(picture: Picture, readout: Readout, shelf: Shelf) -> Readout:
    """Return a train read as it was set when a picture was taken, as far as its file says; a telescope as it is.

    Raises:
        BadInput: the picture does not fit the sensor, or was taken at a focal length the lens does not have.
    """
    layout = readout.layout
    camera, lens = layout.camera, layout.optic
    if camera is not None:
        picture.check_on(camera.sensor_width_mm.value, camera.sensor_height_mm.value)
    if not isinstance(lens, CameraLens):
        return readout
    low = lens.focal_length_mm.value
    high = low if lens.longest_focal_mm is None else lens.longest_focal_mm.value
    focal = picture.focal_mm
    if focal is not None:
        # Behind a teleconverter some cameras store the lens's own focal length, some what comes of it.
        factor = math.prod(one.factor.value for placed in layout.rear if isinstance(one := placed.part, Teleconverter))
        if focal > high * (1.0 + ROUNDED):
            focal /= factor
        if not low * (1.0 - ROUNDED) <= focal <= high * (1.0 + ROUNDED):
            raise BadInput(
                "{name} was taken at {focal_mm:g} mm, and {name_2} reaches {low:g} to {high:g} mm; "
                "choose the train that took it.",
                name=picture.name,
                focal_mm=picture.focal_mm,
                name_2=lens.name,
                low=low,
                high=high,
            )
        focal = min(max(focal, low), high) if high > low else None
    if focal is None and picture.f_number is None:
        return readout
    return read(with_conditions(layout.train, focal, picture.f_number), shelf)
