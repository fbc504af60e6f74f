"""The calculators of `calc_field.py` as commands."""

from typing import Annotated, NoReturn

import typer

from farrail.cli.number import number
from farrail.cli.options import AsJson, FNumber, Focal, ImageHeight, Index, Thickness

Width = Annotated[float, typer.Option(parser=number, help="Width of the sensor in mm.")]
Height = Annotated[float, typer.Option(parser=number, help="Height of the sensor in mm.")]
Pixel = Annotated[float | None, typer.Option(parser=number, help="Pixel in µm.")]


def add_to(calculators: typer.Typer) -> None:
    """Add the commands."""

    @calculators.command("image-circle")
    def image_circle_command(
        width: Width,
        height: Height,
        diameter: Annotated[float, typer.Option(parser=number, help="Image circle in mm.")],
        as_json: AsJson = False,
    ) -> NoReturn:
        """What of a frame an image circle covers, and the largest frame inside it."""
        from farrail.cli import calc, calc_field

        raise SystemExit(calc.show(calc_field.image_circle(width, height, diameter), as_json=as_json))

    @calculators.command("field-of-view")
    def field_of_view_command(
        width: Width,
        height: Height,
        focal: Focal,
        pixel: Pixel = None,
        as_json: AsJson = False,
    ) -> NoReturn:
        """What a frame covers, and how fine its pixels are."""
        from farrail.cli import calc, calc_field

        raise SystemExit(calc.show(calc_field.field_of_view(width, height, focal, pixel), as_json=as_json))

    @calculators.command("tilt")
    def tilt_command(
        half_diagonal: Annotated[float, typer.Option(parser=number, help="Half diagonal of the frame in mm.")],
        f_number: FNumber,
        pixel: Pixel = None,
        flange: Annotated[float, typer.Option(parser=number, help="Diameter of the flange in mm.")] = 42.0,
        as_json: AsJson = False,
    ) -> NoReturn:
        """How far a sensor may be tilted, in degrees and in shim across the flange."""
        from farrail.cli import calc, calc_field

        raise SystemExit(calc.show(calc_field.tilt_budget(half_diagonal, f_number, pixel, flange), as_json=as_json))

    @calculators.command("passband-shift")
    def passband_shift_command(
        line: Annotated[float, typer.Option(parser=number, help="Wavelength of the line in nm.")],
        f_number: FNumber,
        index: Annotated[float, typer.Option(parser=number, help="Effective index of the coating.")] = 2.0,
        width: Annotated[float | None, typer.Option(parser=number, help="Full width of the passband in nm.")] = None,
        obstruction: Annotated[
            float, typer.Option(parser=number, help="Central obstruction, fraction of the diameter.")
        ] = 0.0,
        as_json: AsJson = False,
    ) -> NoReturn:
        """How far a cone shifts a narrow passband, and how much of its line still passes."""
        from farrail.cli import calc, calc_field

        answer = calc_field.passband_shift(line, index, f_number, width, obstruction)
        raise SystemExit(calc.show(answer, as_json=as_json))

    @calculators.command("plate-aberration")
    def plate_aberration_command(
        thickness: Thickness,
        f_number: FNumber,
        index: Index = 1.5168,
        as_json: AsJson = False,
    ) -> NoReturn:
        """Spherical aberration that a plate adds to a cone, and how much refocusing removes."""
        from farrail.cli import calc, calc_field

        raise SystemExit(calc.show(calc_field.plate_aberration(thickness, index, f_number), as_json=as_json))

    @calculators.command("front-corner")
    def front_corner_command(
        focal: Focal,
        f_number: FNumber,
        pupil_depth: Annotated[float, typer.Option(parser=number, help="Entrance pupil behind the thread seat in mm.")],
        height: ImageHeight,
        disc: Annotated[list[str] | None, typer.Option(help="A round opening: diameter@distance ahead.")] = None,
        as_json: AsJson = False,
    ) -> NoReturn:
        """What round openings ahead of a lens leave of the light at an image height."""
        from farrail.cli import calc, calc_field

        answer = calc_field.front_corner(focal, f_number, pupil_depth, disc or [], height)
        raise SystemExit(calc.show(answer, as_json=as_json))
