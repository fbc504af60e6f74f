"""Findings about frame and cone: image circle, passband, plates, focuser travel, guide sensor, mirror's shadow."""

from collections.abc import Iterator

from farrail.parts.kinds.telescopes import Corrector
from farrail.readouts.field.coverage import circle_against
from farrail.readouts.finding import Finding, Severity
from farrail.readouts.light.sharpness import aberration_of, passbands_of
from farrail.readouts.spacing.focuser_and_guider import guiding_of, shadow_of, travel_of
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
    yield from _shadow(layout)


def _circle(layout: Layout) -> Iterator[Finding]:
    camera = layout.camera
    circle = circle_against(layout, camera) if camera is not None else None
    if camera is None or circle is None or circle.margin_mm >= -1e-9:
        return
    yield Finding(
        "light.sensor_larger_than_circle", Severity.LOOK,
        f"The sensor's diagonal is {-circle.margin_mm:.1f} mm larger than the image circle.",
        f"{circle.diagonal_mm:.1f} against {circle.diameter.value:.1f} mm: {100 * circle.covered:.0f} % of the frame "
        "lies inside it. Crop to what is inside, or take a smaller sensor.",
        circle.part, figure="light.image_circle_cover",
    )  # fmt: skip


def _passband(layout: Layout) -> Iterator[Finding]:
    for band in passbands_of(layout):
        if band.passes < LOOK_PASSES:
            severity = Severity.STOP if band.passes < STOP_PASSES else Severity.LOOK
            yield Finding(
                f"light.narrowband_in_fast_cone:{band.part}", severity,
                f"{band.name} passes only {100 * band.passes:.0f} % of its own line in this cone.",
                f"The cone shifts its passband by {band.mean_nm:.2f} nm on the mean and {band.edge_nm:.2f} nm at the "
                f"edge, and it is {band.width_nm:g} nm wide. Take a wider one, one made for fast cones, or stop down.",
                band.part, figure=f"light.passband.{band.part}",
            )  # fmt: skip


def _plates(layout: Layout) -> Iterator[Finding]:
    aberration, tolerable, _ = aberration_of(layout)
    if aberration > tolerable:
        yield Finding(
            "light.plate_aberration", Severity.LOOK,
            f"The glass in the beam adds {mm_to_micrometres(aberration):.0f} µm of spherical aberration.",
            f"{mm_to_micrometres(tolerable):.0f} µm can be refocused away at this f-number; use thinner glass.",
            figure="light.plate_aberration_um",
        )  # fmt: skip


def _travel(layout: Layout) -> Iterator[Finding]:
    travel = travel_of(layout)
    if travel is None or travel.reached is not False:
        return
    if travel.needed_mm < 0:
        text = f"Focus lies {-travel.needed_mm:.1f} mm inside the focuser's inner stop."
        reason = "Take length out of the train, or use a part that needs less; racking in further is not possible."
    else:
        beyond = travel.needed_mm - (travel.travel_mm or 0.0)
        text = f"Focus lies {beyond:.1f} mm beyond the focuser's travel."
        reason = f"Add {beyond:.1f} mm or more ahead of the train with an extension."
    yield Finding(
        "spacing.focuser_out_of_travel", Severity.STOP, text, reason, layout.optic.id,
        figure="spacing.focuser_travel_mm",
    )  # fmt: skip


def _power(layout: Layout) -> Iterator[Finding]:
    power = layout.first_order.power
    for placed in layout.rear:
        part = placed.part
        if not isinstance(part, Corrector) or part.lens_focal_mm is None or layout.sensor_mm is None:
            continue
        if power is None:
            yield Finding(
                f"spacing.no_image:{part.id}", Severity.STOP,
                f"{part.name} makes no image where the sensor stands.",
                f"Its focal length is {part.lens_focal_mm.value:g} mm: the sensor must stand nearer than that.",
                part.id,
            )  # fmt: skip
        elif placed is power.placed:
            yield Finding(
                f"light.effective_focal_length:{part.id}", Severity.NOTE,
                f"{part.name} makes {layout.optic.focal_length_mm.value * power.power.magnification:.0f} mm of "
                f"{layout.optic.focal_length_mm.value:g} mm.",
                f"At {power.power.distance_mm:.1f} mm before the sensor it works at {power.power.magnification:.3f}×; "
                "the distance changes that.",
                part.id, figure="light.focal_length_mm",
            )  # fmt: skip


def _guiding(layout: Layout) -> Iterator[Finding]:
    for guide in guiding_of(layout):
        figure = f"spacing.guide.{guide.part}_mm"
        if guide.spacing_mm < 0:
            yield Finding(
                f"spacing.guide_no_room:{guide.part}", Severity.LOOK,
                f"The guide sensor cannot focus with the main one: its place lies {-guide.spacing_mm:.1f} mm inside.",
                "Put length between the guider and the main camera, or use a shorter guide port.",
                guide.part, figure=figure,
            )  # fmt: skip
        else:
            yield Finding(
                f"spacing.guide_place:{guide.part}", Severity.NOTE,
                f"The guide sensor focuses {guide.spacing_mm:.1f} mm behind the port of {guide.name}.",
                "Set the guide camera so that its sensor, not its shoulder, lies there.",
                guide.part, figure=figure,
            )  # fmt: skip


def _shadow(layout: Layout) -> Iterator[Finding]:
    shadow = shadow_of(layout)
    if shadow is not None:
        severity = Severity.LOOK if shadow[0] > LOOK_SHADOW else Severity.NOTE
        yield Finding(
            "light.train_shadow", severity,
            f"The train blocks {100 * shadow[0]:.1f} % of the mirror's light; {shadow[1]} is its widest part.",
            "Everything ahead of the mirror stands in its light; a slimmer part there gains it back.",
            shadow[2], figure="light.train_shadow",
        )  # fmt: skip
