"""Findings about frame and cone: image circle, passband, plates, focuser travel, guide sensor, mirror's shadow."""

from collections.abc import Iterator

from farrail.optics.field import pixel_scale_arcsec
from farrail.optics.tilt import allowed_tilt_deg
from farrail.parts.kinds.telescopes import Corrector, Telescope
from farrail.readouts.field.coverage import circle_against
from farrail.readouts.field.messages import (
    EffectiveFocalLength,
    NarrowbandInFastCone,
    PlateAberration,
    SamplingAgainstSeeing,
    SensorLargerThanCircle,
    TiltPlateReach,
    TrainShadow,
)
from farrail.readouts.finding import Finding, FindingText, Severity
from farrail.readouts.light.sharpness import aberration_of, passbands_of, tilt_plates_of
from farrail.readouts.spacing.focuser_and_guider import (
    GUIDE_TOLERANCE_MM,
    Guiding,
    guiding_of,
    hidden_in_obstruction,
    shadow_of,
    travel_of,
)
from farrail.readouts.spacing.messages import (
    GuideInFocus,
    GuideMisfit,
    GuideNoRoom,
    GuideOutOfFocus,
    GuidePlace,
    NoImage,
    OutOfTravel,
)
from farrail.train.layout import Layout
from farrail.units import MICROMETRES_PER_MM, mm_to_micrometres

# Shares of a line below which a narrow filter deserves a look, and is the wrong one; common practice, no source.
LOOK_PASSES, STOP_PASSES = 0.85, 0.5
# Light lost to the train's own shadow that deserves a look; common practice, no source.
LOOK_SHADOW = 0.15
# Seeing on a steady and on a usual night, seconds of arc; common practice, no source.
STEADY_ARCSEC, USUAL_ARCSEC = 2.0, 4.0


def field_findings(layout: Layout) -> Iterator[Finding]:
    """Yield the findings."""
    yield from _circle(layout)
    yield from _passband(layout)
    yield from _plates(layout)
    yield from _travel(layout)
    yield from _power(layout)
    yield from _guiding(layout)
    yield from _tilt_plates(layout)
    yield from _shadow(layout)
    yield from _sampling(layout)


def _circle(layout: Layout) -> Iterator[Finding]:
    camera = layout.camera
    circle = circle_against(layout, camera) if camera is not None else None
    if circle is not None and circle.margin_mm < -1e-9:
        yield Finding(
            SensorLargerThanCircle(circle=circle), Severity.LOOK, part=circle.part,
            figure="light.image_circle_cover",
        )  # fmt: skip


def _passband(layout: Layout) -> Iterator[Finding]:
    for band in passbands_of(layout):
        least = band.passes if band.corner is None else min(band.passes, band.corner)
        if least < LOOK_PASSES:
            severity = Severity.STOP if band.passes < STOP_PASSES and band.in_beam else Severity.LOOK
            yield Finding(
                NarrowbandInFastCone(band=band), severity, part=band.part,
                figure=f"light.passband.{band.part}", which=band.part,
            )  # fmt: skip


def _plates(layout: Layout) -> Iterator[Finding]:
    aberration, tolerable, _ = aberration_of(layout)
    if aberration > tolerable:
        yield Finding(
            PlateAberration(aberration_um=mm_to_micrometres(aberration), tolerable_um=mm_to_micrometres(tolerable)),
            Severity.LOOK,
            figure="light.plate_aberration_um",
        )


def _travel(layout: Layout) -> Iterator[Finding]:
    travel = travel_of(layout)
    if travel is not None and travel.reached is False:
        yield Finding(
            OutOfTravel(travel=travel), Severity.STOP, part=layout.optic.id,
            figure="spacing.focuser_travel_mm",
        )  # fmt: skip


def _power(layout: Layout) -> Iterator[Finding]:
    powers = {one.placed.index: one for one in layout.first_order.powers}
    for placed in layout.rear:
        part = placed.part
        if not isinstance(part, Corrector) or part.lens_focal_mm is None or layout.sensor_mm is None:
            continue
        power = powers.get(placed.index)
        if power is None:
            yield Finding(
                NoImage(part=part.name, focal_mm=part.lens_focal_mm.value), Severity.STOP,
                placed.place, part.id, which=part.id,
            )  # fmt: skip
        else:
            yield Finding(
                EffectiveFocalLength(part=part.name, focal_mm=layout.optic.focal_length_mm.value, power=power.power),
                Severity.NOTE,
                placed.place,
                part.id,
                figure="light.focal_length_mm",
                which=part.id,
            )


def _guiding(layout: Layout) -> Iterator[Finding]:
    for guide in guiding_of(layout):
        said, severity = _guide_text(guide)
        yield Finding(
            said, severity, guide.place, guide.part, figure=f"spacing.guide.{guide.part}_mm", which=guide.part
        )


def _guide_text(guide: Guiding) -> tuple[FindingText, Severity]:
    hung = guide.hung
    if guide.spacing_mm < 0:
        return GuideNoRoom(guide), Severity.LOOK
    if hung is None:
        return GuidePlace(guide), Severity.NOTE
    if hung.misfit is not None:
        return GuideMisfit(guide, hung, hung.misfit), Severity.STOP
    if not hung.focuses:
        return GuideOutOfFocus(guide, hung, GUIDE_TOLERANCE_MM), Severity.LOOK
    return GuideInFocus(guide, hung, GUIDE_TOLERANCE_MM), Severity.NOTE


def _tilt_plates(layout: Layout) -> Iterator[Finding]:
    camera = layout.camera
    for placed, moved, most in tilt_plates_of(layout):
        assert camera is not None
        allowed = allowed_tilt_deg(camera.diagonal_mm / 2.0, layout.first_order.effective_f_number.value)
        yield Finding(
            TiltPlateReach(
                part=placed.part.name, moved_um=mm_to_micrometres(moved), most_deg=most.value, allowed_deg=allowed
            ),
            Severity.NOTE,
            placed.place,
            placed.part.id,
            figure=f"light.tilt_plate.{placed.part.id}_um",
            which=placed.part.id,
        )


def _shadow(layout: Layout) -> Iterator[Finding]:
    shadow = shadow_of(layout)
    if shadow is not None:
        hidden = hidden_in_obstruction(layout)
        severity = Severity.LOOK if shadow[0] > LOOK_SHADOW and not hidden else Severity.NOTE
        yield Finding(
            TrainShadow(share=shadow[0], part=shadow[1], hidden=hidden),
            severity,
            part=shadow[2],
            figure="light.train_shadow",
        )


def _sampling(layout: Layout) -> Iterator[Finding]:
    camera = layout.camera
    if camera is None or camera.pixel_size_um is None or not isinstance(layout.optic, Telescope):
        return
    scale = pixel_scale_arcsec(camera.pixel_size_um.value / MICROMETRES_PER_MM, layout.first_order.focal_length.value)
    said = SamplingAgainstSeeing(
        scale_arcsec=scale, steady_px=STEADY_ARCSEC / scale, usual_px=USUAL_ARCSEC / scale
    )  # fmt: skip
    yield Finding(said, Severity.NOTE, part=camera.id, figure="light.pixel_scale_arcsec")
