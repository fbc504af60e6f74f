"""The figures of focuser travel, guide cameras and the shadow of the train itself."""

from collections.abc import Iterator

from farrail.parts.kinds.telescopes import Telescope
from farrail.readouts.figure import Figure
from farrail.readouts.spacing.figure_texts import FocuserTravel, GuideSpacing, TrainShadowShare
from farrail.readouts.spacing.focuser_and_guider import guiding_of, shadow_of, travel_of
from farrail.train.layout import Layout


def focuser_and_guider_figures(layout: Layout) -> Iterator[Figure]:
    """Yield the figures that apply."""
    travel, optic = travel_of(layout), layout.optic
    if travel is not None:
        yield Figure(FocuserTravel(travel_mm=travel.travel_mm), travel.needed_mm, travel.origin)
    for guide in guiding_of(layout):
        yield Figure(GuideSpacing(guide=guide), guide.spacing_mm, guide.origin, which=guide.part)
    shadow = shadow_of(layout)
    if shadow is not None and isinstance(optic, Telescope):
        aperture = optic.aperture_mm
        yield Figure(
            TrainShadowShare(part=shadow[1], aperture_mm=aperture.value), 100.0 * shadow[0], aperture.origin,
        )  # fmt: skip
