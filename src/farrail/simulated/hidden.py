"""Something wrong with a train, drawn by dice, for the simulated bench camera: to be found from its frames."""

import numpy as np

from farrail.frames.kinds import FrameKind
from farrail.language import say
from farrail.parts.in_beam import GlassRole
from farrail.parts.kinds.telescopes import ShortStars
from farrail.readouts.corner_stars import rule_of, spaced_by_stars
from farrail.readouts.read import Readout
from farrail.simulated.bench_camera import HiddenMote, Truth
from farrail.train.train import Sky

HOW_OFTEN_A_COVER = 0.25
HOW_OFTEN_A_SPACING = 0.6


def hidden_truth(readout: Readout, kind: FrameKind, seed: int, focus_um: float = 0.0) -> Truth:
    """Return what a frame of a kind hides; the same seed hides the same.

    Args:
        readout: the train.
        kind: what the frame shows.
        seed: of the dice.
        focus_um: where the focuser is.
    """
    dice = np.random.default_rng(seed)
    light = readout.light
    if kind is FrameKind.FLAT:
        rear = [
            (number, one) for number, one in enumerate(light.imaged)
            if not one.image.front and one.image.half_height_mm is None and one.image.distance_mm > 5.0
        ]  # fmt: skip
        if not rear:
            front = any(one.image.front and one.acts for one in light.imaged)
            return Truth(seed=seed, deeper_mm=float(dice.uniform(-4.0, 4.0)) if front else 0.0)
        covers = [n for n, one in enumerate(light.imaged) if one.image.passes is not None and not one.image.front]
        if covers and dice.uniform() < HOW_OFTEN_A_COVER:
            return Truth(reaches=((covers[0], float(dice.uniform(2.0, 5.0))),), seed=seed)
        # Of what is near the corner's bundle one is narrower than it should be, and off the axis.
        near = sorted(rear, key=lambda item: item[1].has_mm - item[1].needed_mm)[:4]
        number, one = near[int(dice.integers(len(near)))]
        wide = min(one.placed.diameter.value, one.needed_mm * float(dice.uniform(0.8, 0.95)))
        off = dice.uniform(-0.05, 0.05, 2) * wide
        lamp = dice.uniform(-0.02, 0.02, 2)
        hidden = ((number, wide, float(off[0]), float(off[1])),)
        return Truth(apertures=hidden, gradient=(float(lamp[0]), float(lamp[1])), seed=seed)
    if kind is FrameKind.DUST:
        motes = []
        glass = [g for g in readout.layout.trace.glass if g.role in (GlassRole.WINDOW, GlassRole.FILTER)]
        camera = readout.layout.camera
        for pane in glass[-2:] if camera is not None else ():
            assert camera is not None
            right = float(dice.uniform(-0.35, 0.35)) * camera.sensor_width_mm.value
            up = float(dice.uniform(-0.3, 0.3)) * camera.sensor_height_mm.value
            distance, _ = readout.layout.first_order.seen_from_sensor(pane.z_front_mm)
            if distance > 0.5:
                motes.append(HiddenMote(float(distance), right, up, float(dice.uniform(0.15, 0.3))))
        return Truth(motes=tuple(motes), seed=seed, exposed=0.7)
    if kind is FrameKind.SKY:
        sky = Sky(
            sun_high_deg=float(dice.uniform(5.0, 45.0)), sun_right_deg=float(dice.uniform(-120.0, 120.0)),
            most_polarised=float(dice.uniform(0.4, 0.85)),
        )  # fmt: skip
        return Truth(seed=seed, sky=sky)
    if kind is FrameKind.RULER:
        return Truth(seed=seed, rule_mm=float(dice.uniform(20.0, 120.0)))
    tilt, field = dice.uniform(-220.0, 220.0, 2), float(dice.uniform(-60.0, 60.0))
    spacing = 0.0
    if spaced_by_stars(readout, radial=None) is not None and dice.uniform() < HOW_OFTEN_A_SPACING:
        spacing = float(dice.uniform(0.5, 1.0) * dice.choice((-1.0, 1.0)))
    return Truth(
        across_um=float(tilt[0]), upright_um=float(tilt[1]), curvature_um=field, focus_um=focus_um,
        spacing_mm=spacing, short_is_radial=rule_of(readout) is not ShortStars.TANGENTIAL,
        # The noise is another at each place of the focuser.
        seed=seed * 1000 + int(focus_um) % 997, seeing_px=2.2,
    )  # fmt: skip


def truth_words(truth: Truth, readout: Readout, kind: FrameKind) -> list[str]:
    """Return what was hidden."""
    if kind is FrameKind.FLAT:
        named = [one.placed.part.name for one in readout.light.imaged]
        told = [
            say("{named} reaches in {reach:.2f} mm farther than the train has it.", named=named[n], reach=reach)
            for n, reach in truth.reaches
        ]
        if truth.deeper_mm:
            told.append(
                say(
                    "The entrance pupil is {deeper_mm:+.2f} mm deeper than in the train.",
                    deeper_mm=truth.deeper_mm,
                )
            )
        told += [
            say(
                "{named} is {wide:.2f} mm wide, its middle {right:+.2f} mm right and {up:+.2f} mm up of the axis.",
                named=named[n],
                wide=wide,
                right=right,
                up=up,
            )
            for n, wide, right, up in truth.apertures
        ]
        return told or [say("There is no fault to hide: this train has no aperture behind its optic.")]
    if kind is FrameKind.DUST:
        return [
            say(
                "A mote of {wide_mm:.2f} mm, {distance_mm:.2f} mm in front of the sensor.",
                wide_mm=mote.wide_mm,
                distance_mm=mote.distance_mm,
            )
            for mote in truth.motes
        ]
    if kind is FrameKind.SKY and truth.sky is not None:
        side = "right" if truth.sky.sun_right_deg > 0.0 else "left"
        return [
            say(
                "The Sun is {sun_high_deg:.0f}° high, {sun_right_deg:.0f}° to the {side}; the air "
                "polarises {most_polarised:.0f} %.",
                sun_high_deg=truth.sky.sun_high_deg,
                sun_right_deg=abs(truth.sky.sun_right_deg),
                side=side,
                most_polarised=100.0 * truth.sky.most_polarised,
            )
        ]
    if kind is FrameKind.RULER:
        return [say("{rule_mm:.2f} mm of the rule fill the frame's width.", rule_mm=truth.rule_mm)]
    spaced = (
        []
        if not truth.spacing_mm
        else [
            say(
                "The spacing is {spacing_mm:.2f} mm {also}.",
                spacing_mm=abs(truth.spacing_mm),
                also=say("short") if truth.spacing_mm < 0.0 else say("long"),
            )
        ]
    )
    return [
        say(
            "Focus is {across_um:+.0f} µm farther out at the picture's right than at its left, "
            "{upright_um:+.0f} µm at its top than at its bottom, {curvature_um:+.0f} µm in the "
            "corner.",
            across_um=truth.across_um,
            upright_um=truth.upright_um,
            curvature_um=truth.curvature_um,
        ),
        *spaced,
    ]
