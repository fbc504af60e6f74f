"""Findings about frame and cone: image circle, passband, plates, focuser travel, guide sensor, mirror's shadow."""

from collections.abc import Iterator

from farrail.optics.tilt import allowed_tilt_deg
from farrail.parts.kinds.telescopes import Corrector
from farrail.readouts.field.coverage import circle_against
from farrail.readouts.finding import Finding, Severity
from farrail.readouts.light.sharpness import aberration_of, passbands_of, tilt_plates_of
from farrail.readouts.spacing.focuser_and_guider import (
    GUIDE_TOLERANCE_MM,
    guiding_of,
    hidden_in_obstruction,
    shadow_of,
    travel_of,
)
from farrail.train.layout import Layout
from farrail.units import mm_to_micrometres

# Shares of a line below which a narrow filter deserves a look, and is the wrong one; common practice, no source.
LOOK_PASSES, STOP_PASSES = 0.85, 0.5
# Light lost to the train's own shadow that deserves a look; common practice, no source.
LOOK_SHADOW = 0.15


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


def _circle(layout: Layout) -> Iterator[Finding]:
    camera = layout.camera
    circle = circle_against(layout, camera) if camera is not None else None
    if circle is not None and circle.margin_mm < -1e-9:
        yield Finding(
            "light.sensor_larger_than_circle", Severity.LOOK, {"circle": circle}, part=circle.part,
            figure="light.image_circle_cover",
        )  # fmt: skip


def _passband(layout: Layout) -> Iterator[Finding]:
    for band in passbands_of(layout):
        least = band.passes if band.corner is None else min(band.passes, band.corner)
        if least < LOOK_PASSES:
            severity = Severity.STOP if band.passes < STOP_PASSES and band.in_beam else Severity.LOOK
            yield Finding(
                "light.narrowband_in_fast_cone", severity, {"band": band}, part=band.part,
                figure=f"light.passband.{band.part}", which=band.part,
            )  # fmt: skip


def _plates(layout: Layout) -> Iterator[Finding]:
    aberration, tolerable, _ = aberration_of(layout)
    if aberration > tolerable:
        values = {"aberration_um": mm_to_micrometres(aberration), "tolerable_um": mm_to_micrometres(tolerable)}
        yield Finding("light.plate_aberration", Severity.LOOK, values, figure="light.plate_aberration_um")


def _travel(layout: Layout) -> Iterator[Finding]:
    travel = travel_of(layout)
    if travel is not None and travel.reached is False:
        yield Finding(
            "spacing.focuser_out_of_travel", Severity.STOP, {"travel": travel}, part=layout.optic.id,
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
                "spacing.no_image", Severity.STOP, {"part": part.name, "focal_mm": part.lens_focal_mm.value},
                placed.place, part.id, which=part.id,
            )  # fmt: skip
        else:
            yield Finding(
                "light.effective_focal_length", Severity.NOTE,
                {"part": part.name, "focal_mm": layout.optic.focal_length_mm.value, "power": power.power},
                placed.place, part.id, figure="light.focal_length_mm", which=part.id,
            )  # fmt: skip


def _guiding(layout: Layout) -> Iterator[Finding]:
    for guide in guiding_of(layout):
        hung, kind, severity = guide.hung, "spacing.guide_place", Severity.NOTE
        if guide.spacing_mm < 0:
            kind, severity = "spacing.guide_no_room", Severity.LOOK
        elif hung is not None and hung.misfit is not None:
            kind, severity = "spacing.guide_misfit", Severity.STOP
        elif hung is not None and not hung.focuses:
            kind, severity = "spacing.guide_error", Severity.LOOK
        elif hung is not None:
            kind = "spacing.guide_focuses"
        yield Finding(
            kind, severity, {"guide": guide, "hung": hung, "tolerance_mm": GUIDE_TOLERANCE_MM}, guide.place, guide.part,
            figure=f"spacing.guide.{guide.part}_mm", which=guide.part,
        )  # fmt: skip


def _tilt_plates(layout: Layout) -> Iterator[Finding]:
    camera = layout.camera
    for placed, moved, most in tilt_plates_of(layout):
        assert camera is not None
        allowed = allowed_tilt_deg(camera.diagonal_mm / 2.0, layout.first_order.effective_f_number.value)
        values = {"part": placed.part.name, "moved_um": mm_to_micrometres(moved), "most_deg": most.value,
                  "allowed_deg": allowed}  # fmt: skip
        yield Finding(
            "light.tilt_plate", Severity.NOTE, values, placed.place, placed.part.id,
            figure=f"light.tilt_plate.{placed.part.id}_um", which=placed.part.id,
        )  # fmt: skip


def _shadow(layout: Layout) -> Iterator[Finding]:
    shadow = shadow_of(layout)
    if shadow is not None:
        hidden = hidden_in_obstruction(layout)
        severity = Severity.LOOK if shadow[0] > LOOK_SHADOW and not hidden else Severity.NOTE
        values = {"share": shadow[0], "part": shadow[1], "hidden": hidden}
        yield Finding("light.train_shadow", severity, values, part=shadow[2], figure="light.train_shadow")
