"""The front stack's figures in words."""

from farrail.language import N_, Message, say
from farrail.optics.polarised_sky import SOURCE as SKY_SOURCE
from farrail.quantities import Values, number
from farrail.readouts.figure import Figure
from farrail.readouts.names import whole_name
from farrail.text.working import Teller, Told, told

SOURCE = N_("apertures projected along the corner's rays on to the entrance pupil")
SIZE_SOURCE = N_("similar triangles from the entrance pupil: 2[(E + z)·d/2f + f/2N]")


def _corner(f: Figure, v: Values) -> Told:
    numbers = say(
        "f {focal_mm:g} mm, f/{f_number:.3g}, E {depth_mm:.1f} mm, {apertures} apertures: {number}",
        focal_mm=v.focal_mm,
        f_number=v.f_number,
        depth_mm=v.depth_mm,
        apertures=v.apertures,
        number=number(f.number),
    )
    label = say("corner loss added by the front stack")
    return told(label, say("−log2 of the pupil left open, darkest corner"), numbers, SOURCE)


def _clean(label: str, f: Figure, v: Values) -> Told:
    formula = say(
        "loss stays at or below {limit_stops:g} stops from there to {high_mm:g} mm",
        limit_stops=v.limit_stops,
        high_mm=v.high_mm,
    )
    if f.value is None:
        lost = say("dark") if v.lost_stops == float("inf") else say("{lost_stops:.2f} stops", lost_stops=v.lost_stops)
        return told(
            label,
            formula,
            say("at {high_mm:g} mm it still loses {lost}", high_mm=v.high_mm, lost=lost),
            SOURCE,
            say("none"),
        )
    value = f.number
    numbers = say(
        "{value:.1f} mm, of {low_mm:g} to {high_mm:g} mm; at {value:.1f}: {lost_stops:.2f} stops",
        value=value,
        low_mm=v.low_mm,
        high_mm=v.high_mm,
        lost_stops=v.lost_stops,
    )
    return told(label, formula, numbers, SOURCE)


def _first_clean(f: Figure, v: Values) -> Told:
    return _clean(say("first clean focal length"), f, v)


def _visible(f: Figure, v: Values) -> Told:
    return _clean(say("shortest focal length without visible loss"), f, v)


def _depth(f: Figure, v: Values) -> Told:
    lengths = " + ".join(say("{mm:.1f}", mm=mm) for mm in v.lengths_mm)
    return told(
        say("depth of the front stack"),
        say("Σ lengths ahead of the thread seat"),
        say("{lengths} = {number:.1f} mm", lengths=lengths, number=f.number),
        say("sum of the parts' lengths"),
    )


def _limiting(_: Figure, v: Values) -> Told:
    name = say("none") if v.aperture is None else whole_name(v.aperture)
    return told(say("darkens the corner most"), say("largest loss of one aperture alone"), name, SOURCE, name)


def _height(word: Message) -> Teller:
    def tell(f: Figure, v: Values) -> Told:
        return told(
            say("image height of its {word}", word=word),
            "(E + z)·h/f + k·f/2N = r, k 1, 0, −1",
            say("{word} at h {number:.3f} mm", word=word, number=f.number),
            SOURCE,
        )

    return tell


def _sky(f: Figure, v: Values) -> Told:
    marks = ", ".join(say("{stops:.2f}", stops=stops) for stops in v.marks)
    sun = say(
        "Sun {sun_high_deg:g}° high, {sun_right_deg:g}° to the right, P_max {most_polarised:g}",
        sun_high_deg=v.sky.sun_high_deg,
        sun_right_deg=v.sky.sun_right_deg,
        most_polarised=v.sky.most_polarised,
    )
    return told(
        say("sky uneven through the polariser"),
        say("T = ½[1 + P(2(a·e)² − 1)], largest less least across the frame"),
        say("{sun}: {marks} stops from left to right; {number:.2f} apart", sun=sun, marks=marks, number=f.number),
        SKY_SOURCE,
    )


def _step_back(f: Figure, v: Values) -> Told:
    numbers = say(
        "{first_clean_mm:.1f}/{focal_mm:g} = {number:.2f}",
        first_clean_mm=v.first_clean_mm,
        focal_mm=v.focal_mm,
        number=f.number,
    )
    return told(
        say("distance for the same framing without vignetting"),
        say("first clean focal length / focal length now"),
        numbers,
        say("magnification of a far subject goes as the focal length"),
    )


def _sheet(f: Figure, v: Values) -> Told:
    assert isinstance(f.value, tuple)
    wide, high, free = f.value
    numbers = say(
        "E + z {ahead_mm:.1f} mm, f {focal_mm:g} mm: {wide:.1f} × {high:.1f}",
        ahead_mm=v.ahead_mm,
        focal_mm=v.focal_mm,
        wide=wide,
        high=high,
    )
    value = say(
        "{wide:.1f length} × {high:.1f mm}, {free:.1f length} to rotate freely", wide=wide, high=high, free=free
    )
    return told(
        say("filter size needed in slot {slot}", slot=v.slot + 1), "2[(E + z)·d/2f + f/2N]", numbers, SIZE_SOURCE, value
    )


TELLERS: dict[str, Teller] = {
    "front.corner_loss_stops": _corner,
    "front.first_clean_mm": _first_clean,
    "front.visible_mm": _visible,
    "front.depth_mm": _depth,
    "front.limiting_part": _limiting,
    "front.onset_mm": _height(N_("onset")),
    "front.half_mm": _height(N_("half")),
    "front.dark_mm": _height(N_("dark")),
    "front.step_back": _step_back,
    "front.sheet.*_mm": _sheet,
    "front.sky_uneven_stops": _sky,
}
