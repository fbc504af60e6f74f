"""The front stack's figures in words."""

from farrail.optics.polarised_sky import SOURCE as SKY_SOURCE
from farrail.readouts.figure import Figure
from farrail.text.names import whole_name
from farrail.text.values import Values, number
from farrail.text.working import Teller, Told, told

SOURCE = "apertures projected along the corner's rays on to the entrance pupil"
SIZE_SOURCE = "similar triangles from the entrance pupil: 2[(E + z)·d/2f + f/2N]"


def _corner(f: Figure, v: Values) -> Told:
    numbers = (
        f"f {v.focal_mm:g} mm, f/{v.f_number:.3g}, E {v.depth_mm:.1f} mm, {v.apertures} apertures: {number(f.number)}"
    )
    label = "corner loss added by the front stack"
    return told(label, "−log2 of the pupil left open, darkest corner", numbers, SOURCE)


def _clean(label: str, f: Figure, v: Values) -> Told:
    formula = f"loss stays at or below {v.limit_stops:g} stops from there to {v.high_mm:g} mm"
    if f.value is None:
        lost = "dark" if v.lost_stops == float("inf") else f"{v.lost_stops:.2f} stops"
        return told(label, formula, f"at {v.high_mm:g} mm it still loses {lost}", SOURCE, "none")
    value = f.number
    numbers = f"{value:.1f} mm, of {v.low_mm:g} to {v.high_mm:g} mm; at {value:.1f}: {v.lost_stops:.2f} stops"
    return told(label, formula, numbers, SOURCE)


def _first_clean(f: Figure, v: Values) -> Told:
    return _clean("first clean focal length", f, v)


def _visible(f: Figure, v: Values) -> Told:
    return _clean("shortest focal length without visible loss", f, v)


def _depth(f: Figure, v: Values) -> Told:
    lengths = " + ".join(f"{mm:.1f}" for mm in v.lengths_mm)
    return told(
        "depth of the front stack", "Σ lengths ahead of the thread seat", f"{lengths} = {f.number:.1f} mm",
        "sum of the parts' lengths",
    )  # fmt: skip


def _limiting(_: Figure, v: Values) -> Told:
    name = "none" if v.aperture is None else whole_name(v.aperture)
    return told("darkens the corner most", "largest loss of one aperture alone", name, SOURCE, name)


def _height(word: str) -> Teller:
    def tell(f: Figure, v: Values) -> Told:
        return told(
            f"image height of its {word}", "(E + z)·h/f + k·f/2N = r, k 1, 0, −1", f"{word} at h {f.number:.3f} mm",
            SOURCE,
        )  # fmt: skip

    return tell


def _sky(f: Figure, v: Values) -> Told:
    marks = ", ".join(f"{stops:.2f}" for stops in v.marks)
    sun = f"Sun {v.sky.sun_high_deg:g}° high, {v.sky.sun_right_deg:g}° to the right, P_max {v.sky.most_polarised:g}"
    return told(
        "sky uneven through the polariser", "T = ½[1 + P(2(a·e)² − 1)], largest less least across the frame",
        f"{sun}: {marks} stops from left to right; {f.number:.2f} apart", SKY_SOURCE,
    )  # fmt: skip


def _step_back(f: Figure, v: Values) -> Told:
    numbers = f"{v.first_clean_mm:.1f}/{v.focal_mm:g} = {f.number:.2f}"
    return told(
        "stand as far away, for the same framing clean", "first clean focal length / focal length now", numbers,
        "magnification of a far subject goes as the focal length",
    )  # fmt: skip


def _sheet(f: Figure, v: Values) -> Told:
    assert isinstance(f.value, tuple)
    wide, high, free = f.value
    numbers = f"E + z {v.ahead_mm:.1f} mm, f {v.focal_mm:g} mm: {wide:.1f} × {high:.1f}"
    value = f"{wide:.1f} × {high:.1f} mm, {free:.1f} to turn freely"
    return told(f"sheet needed in slot {v.slot + 1}", "2[(E + z)·d/2f + f/2N]", numbers, SIZE_SOURCE, value)


TELLERS: dict[str, Teller] = {
    "front.corner_loss_stops": _corner,
    "front.first_clean_mm": _first_clean,
    "front.visible_mm": _visible,
    "front.depth_mm": _depth,
    "front.limiting_part": _limiting,
    "front.onset_mm": _height("onset"),
    "front.half_mm": _height("half"),
    "front.dark_mm": _height("dark"),
    "front.step_back": _step_back,
    "front.sheet.*_mm": _sheet,
    "front.sky_uneven_stops": _sky,
}
