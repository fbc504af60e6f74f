"""The calculators of `calc.py` as commands."""

from typing import Annotated, NoReturn

import typer

from farrail.cli.number import number
from farrail.cli.options import AsJson, FNumber, Index, Thickness
from farrail.optics.focus import DEFAULT_WAVELENGTH_NM


def add_to(calculators: typer.Typer) -> None:
    """Add the commands."""

    @calculators.command("glass-shift")
    def glass_shift_command(
        thickness: Thickness,
        index: Index,
        f_number: Annotated[
            float | None, typer.Option(parser=number, help="f-number of the cone, for its edge ray.")
        ] = None,
        as_json: AsJson = False,
    ) -> NoReturn:
        """Focus shift of a plate of glass, away from the optic."""
        from farrail.cli import calc

        raise SystemExit(calc.show(calc.glass_shift(thickness, index, f_number), as_json=as_json))

    @calculators.command("filter-diameter")
    def filter_diameter_command(
        diagonal: Annotated[float, typer.Option(parser=number, help="Sensor diagonal in mm.")],
        distance: Annotated[float, typer.Option(parser=number, help="Filter to sensor in mm, glass counted as t/n.")],
        aperture: Annotated[float | None, typer.Option(parser=number, help="Aperture of the optic in mm.")] = None,
        focal: Annotated[
            float | None, typer.Option(parser=number, help="Focal length in mm; the pupil is then the objective.")
        ] = None,
        f_number: Annotated[float | None, typer.Option(parser=number, help="f-number of the cone.")] = None,
        pupil_distance: Annotated[
            float | None, typer.Option(parser=number, help="Exit pupil to sensor in mm; telecentric when left out.")
        ] = None,
        as_json: AsJson = False,
    ) -> NoReturn:
        """How large a filter must be, clear, for an unclipped corner."""
        from farrail.cli import calc

        answer = calc.filter_diameter(diagonal, distance, f_number, pupil_distance, aperture, focal)
        raise SystemExit(calc.show(answer, as_json=as_json))

    @calculators.command("depth-of-focus")
    def depth_of_focus_command(
        f_number: FNumber,
        wavelength: Annotated[float, typer.Option(parser=number, help="Wavelength in nm.")] = DEFAULT_WAVELENGTH_NM,
        as_json: AsJson = False,
    ) -> NoReturn:
        """Depth of focus: how far the sensor may be from focus, to either side."""
        from farrail.cli import calc

        raise SystemExit(calc.show(calc.depth_of_focus(f_number, wavelength), as_json=as_json))
