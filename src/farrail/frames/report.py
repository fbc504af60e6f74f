"""What frames say of a train, the verdict first: the same words in the window and on the command line."""

from farrail.frames.flat import FlatReading
from farrail.frames.kinds import FrameKind
from farrail.frames.look import Looked
from farrail.frames.picture import Picture
from farrail.frames.stars import LEAST_FRAMES
from farrail.frames.words import (
    SIDES,
    dust_words,
    flat_words,
    ruler_words,
    sky_words,
    stars_words,
    stayed_words,
    tilt_words,
)
from farrail.language import N_, say
from farrail.readouts.corner_stars import Spaced

# How far apart a flange's screws are where no one says: for so much a shim is shown.
FLANGE_MM = 60.0
# Smaller differences from the prediction are not worth a sentence.
LEAST_DIFFERENCE_STOPS = 0.03
LEAST_SPACING_MM = 0.005
SPACED = {
    Spaced.RIGHT: N_("So the stars show no spacing error."),
    Spaced.SHORT: N_("With this corrector that means the spacing is too short."),
    Spaced.LONG: N_("With this corrector that means the spacing is too long."),
    Spaced.UNKNOWN: N_(
        "Which way that is with this corrector is not known: log how corner stars look at "
        "two spacings, then see Calibration."
    ),
}


def looked_words(looked: Looked, flange_mm: float = FLANGE_MM) -> list[str]:
    """Return what frames say.

    Args:
        looked: what was found in them.
        flange_mm: how far apart the flange's screws are.
    """
    if looked.kind is FrameKind.FLAT:
        return [line for number in range(len(looked.flats)) for line in flat_lines(looked, number)]
    if looked.kind is FrameKind.DUST:
        return _dust(looked) or [say("No dust is seen.")]
    if looked.sky is not None:
        return sky_words(looked.sky)
    return _stars(looked, flange_mm) if looked.stars is not None else ruler_words(looked.rule)


def flat_lines(looked: Looked, number: int) -> list[str]:
    """Return what one of several flats says; of a set each line names its own, and falloff is shown once."""
    picture, flat = looked.flats[number]
    sentences = flat_words(flat)
    if len(looked.flats) == 1:
        return [*sentences, *_against(flat)]
    sentences[0] = f"{_named(picture)}: {sentences[0]}"
    return [*sentences[:2], *(sentences[2:] if number == 0 else [])] if flat.depth is None else sentences


def _named(picture: Picture) -> str:
    return (
        picture.name
        if picture.focal_mm is None
        else say("{name}, {focal_mm:g} mm", name=picture.name, focal_mm=picture.focal_mm)
    )


def _against(flat: FlatReading) -> list[str]:
    """Return where a flat differs most from what the train predicts."""
    worst = flat.worst
    if worst is None or abs(worst[0]) < LEAST_DIFFERENCE_STOPS:
        return []
    stops, side = worst
    where = SIDES[side] or say("middle")
    than = say("darker") if stops < 0.0 else say("brighter")
    return [
        say(
            "It differs most from the prediction at the {where}: {stops:.2f} stops {than}.",
            where=where,
            stops=abs(stops),
            than=than,
        )
    ]


def _dust(looked: Looked) -> list[str]:
    sentences = [dust_words(one) for one in looked.motes]
    if looked.stays:
        sentences = [
            f"{line} {stayed_words(stays=stays)}" if one.sure else line
            for one, line, stays in zip(looked.motes, sentences, looked.stays, strict=True)
        ]
    return sentences


def _spacing_words(error_mm: float) -> str:
    """Return how far the spacing is off as the train is placed."""
    if abs(error_mm) < LEAST_SPACING_MM:
        return say("The current spacing is right.")
    if error_mm < 0.0:
        return say("The current spacing is {error_mm:.2f mm} short.", error_mm=-error_mm)
    return say("The current spacing is {error_mm:.2f mm} long.", error_mm=error_mm)


def _stars(looked: Looked, flange_mm: float) -> list[str]:
    assert looked.stars is not None
    lines = stars_words(looked.stars)
    if looked.spaced is not None:
        laid = looked.error_mm
        lines.insert(1, str(SPACED[looked.spaced]) + ("" if laid is None else f" {_spacing_words(laid)}"))
    if looked.tilt is not None:
        # Tilt goes first: it is what the run was taken for.
        return tilt_words(looked.tilt, flange_mm, looked.width_mm, looked.height_mm, looked.allowed_tilt_deg) + lines
    if looked.unplaced:
        lines.append(
            say(
                "{unplaced} of {frames} frames lack the focuser position (FOCUSPOS in µm): enter "
                "it for each to measure the tilt.",
                unplaced=looked.unplaced,
                frames=looked.frames,
            )
        )
    elif looked.frames > 1:
        lines.append(
            say(
                "Tilt cannot be measured: {least_frames} or more focuser positions on both sides of focus are needed.",
                least_frames=LEAST_FRAMES,
            )
        )
    return lines
