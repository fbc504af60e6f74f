"""`far-rail calc ...`: one formula at a time, with its working."""

from dataclasses import dataclass

from farrail.cli.printing import FINE, number, print_json
from farrail.errors import BadInput
from farrail.language import Text, say
from farrail.optics import plates
from farrail.optics.focus import DEPTH_OF_FOCUS_SOURCE, depth_of_focus_mm
from farrail.optics.pupils import CLEAR_DIAMETER_SOURCE, clear_diameter_needed_mm
from farrail.strict_json import plain


@dataclass(frozen=True)
class Answer:
    """One named result with its arithmetic."""

    name: str
    value: float
    unit: str
    working: str


@dataclass(frozen=True)
class Calculation:
    """What a calculator gives: the main answer first."""

    answers: tuple[Answer, ...]
    source: Text


def show(calculation: Calculation, *, as_json: bool) -> int:
    """Print a calculation; returns the exit code."""
    main = calculation.answers[0]
    if as_json:
        values = {a.name: {"value": plain(a.value), "unit": a.unit, "working": a.working} for a in calculation.answers}
        print_json(
            {
                "value": plain(main.value),
                "unit": main.unit,
                "values": values,
                "working": main.working,
                "source": str(calculation.source),
            }
        )
        return FINE
    for answer in calculation.answers:
        print(f"{answer.name:<22} {number(answer.value, answer.unit):>10} {answer.unit}   {answer.working}")
    print(say("source: {source}", source=calculation.source))
    return FINE


def glass_shift(thickness_mm: float, index: float, f_number: float | None) -> Calculation:
    """Focus shift of a plane plate; with an f-number, that of the cone's edge ray first."""
    t, n = thickness_mm, index
    paraxial = plates.paraxial_shift_mm(t, n)
    answers = [
        Answer(
            "paraxial_mm",
            paraxial,
            "mm",
            say("t·(1 − 1/n) = {t:g}·(1 − 1/{n:g}) = {paraxial:.5f}", t=t, n=n, paraxial=paraxial),
        )
    ]
    if f_number is not None:
        marginal = plates.marginal_shift_mm(t, n, f_number)
        text = say(
            "t·[1 − cos u/sqrt(n² − sin² u)], tan u = 1/(2·{f_number:g}) = {marginal:.5f}",
            f_number=f_number,
            marginal=marginal,
        )
        answers.insert(0, Answer("edge_ray_mm", marginal, "mm", text))
    reduced = plates.reduced_thickness_mm(t, n)
    answers.append(
        Answer(
            "reduced_thickness_mm", reduced, "mm", say("t/n = {t:g}/{n:g} = {reduced:.5f}", t=t, n=n, reduced=reduced)
        )
    )
    return Calculation(tuple(answers), plates.SOURCE)


def filter_diameter(
    diagonal_mm: float,
    distance_mm: float,
    f_number: float | None,
    pupil_distance_mm: float | None,
    aperture_mm: float | None,
    focal_mm: float | None,
) -> Calculation:
    """Clear diameter a filter needs for an unclipped corner, from f-number and pupil or from aperture and focal length.

    Raises:
        BadInput: neither pair is complete, or a number cannot be used.
    """
    for name, value in (("diagonal", diagonal_mm), ("distance", distance_mm)):
        positive_length(name, value)
    if aperture_mm is not None and focal_mm is not None:
        positive_length("aperture", aperture_mm)
        positive_length(say("focal length"), focal_mm)
        f_number = focal_mm / aperture_mm if f_number is None else f_number
        pupil_distance_mm = focal_mm if pupil_distance_mm is None else pupil_distance_mm
    if f_number is None:
        raise BadInput("Give --aperture and --focal, or --f-number with --pupil-distance.")
    pupil = float("inf") if pupil_distance_mm is None else pupil_distance_mm
    positive_length(say("pupil distance"), pupil, infinite=True)
    needed = clear_diameter_needed_mm(f_number, pupil, diagonal_mm, distance_mm)
    cone = distance_mm / f_number
    ratio = "0" if pupil == float("inf") else say("{distance_mm:g}/{pupil:g}", distance_mm=distance_mm, pupil=pupil)
    text = say(
        "2h·|1 − x/L| + x/N = {diagonal_mm:g}·|1 − {ratio}| + {distance_mm:g}/{f_number:.4g} = {needed:.4f}",
        diagonal_mm=diagonal_mm,
        ratio=ratio,
        distance_mm=distance_mm,
        f_number=f_number,
        needed=needed,
    )
    return Calculation(
        (
            Answer("clear_diameter_mm", needed, "mm", text),
            Answer(
                "cone_mm",
                cone,
                "mm",
                say(
                    "x/N = {distance_mm:g}/{f_number:.4g} = {cone:.4f}",
                    distance_mm=distance_mm,
                    f_number=f_number,
                    cone=cone,
                ),
            ),
            Answer("frame_mm", needed - cone, "mm", say("2h·|1 − x/L| = {cone:.4f}", cone=needed - cone)),
        ),
        CLEAR_DIAMETER_SOURCE,
    )


def depth_of_focus(f_number: float, wavelength_nm: float) -> Calculation:
    """Quarter-wave depth of focus, to either side and in all."""
    half = depth_of_focus_mm(f_number, wavelength_nm)
    text = say(
        "2λN² = 2·{wavelength_nm:g} nm·{f_number:g}² = {half:.6f}",
        wavelength_nm=wavelength_nm,
        f_number=f_number,
        half=half,
    )
    return Calculation(
        (
            Answer("half_depth_mm", half, "mm", text),
            Answer("whole_depth_mm", 2.0 * half, "mm", say("4λN² = {half:.6f}", half=2.0 * half)),
        ),
        DEPTH_OF_FOCUS_SOURCE,
    )


def positive_length(name: str, value: float, *, infinite: bool = False) -> None:
    """Refuse what is no length above zero."""
    if not (0.0 < value <= 1e6 or (infinite and value == float("inf"))):
        raise BadInput("A {name} of {value:g} mm cannot be used; give a length above 0.", name=name, value=value)
