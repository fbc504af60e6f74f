"""The calculators of `calc_close_up.py` as commands."""

from typing import Annotated, NoReturn

import typer

from farrail.cli.number import number
from farrail.cli.options import AsJson, Engraved, Focal


def add_to(calculators: typer.Typer) -> None:
    """Add the commands."""

    @calculators.command("close-up-lens")
    def close_up_lens_command(
        dioptres: Annotated[float, typer.Option(parser=number, help="Power of the close-up lens.")],
        distance: Annotated[
            float | None, typer.Option(parser=number, help="Distance from it to the subject without it, in mm.")
        ] = None,
        width: Annotated[
            float | None, typer.Option(parser=number, help="Width of the field there without it, in mm.")
        ] = None,
        focal: Annotated[
            float | None, typer.Option(parser=number, help="Focal length of the lens behind it, in mm.")
        ] = None,
        as_json: AsJson = False,
    ) -> NoReturn:
        """How near and how large with a close-up lens, from a measured pair of distance and width."""
        from farrail.cli import calc, calc_close_up

        raise SystemExit(calc.show(calc_close_up.close_up_lens(dioptres, distance, width, focal), as_json=as_json))

    @calculators.command("extension")
    def extension_command(
        focal: Focal,
        extension: Annotated[float, typer.Option(parser=number, help="Length of tubes or bellows in mm.")],
        magnification: Annotated[
            float, typer.Option(parser=number, help="Magnification by its own focusing; 0 at infinity.")
        ] = 0.0,
        f_number: Engraved = 4.0,
        as_json: AsJson = False,
    ) -> NoReturn:
        """How large, how near and how dark a lens gets on extension."""
        from farrail.cli import calc, calc_close_up

        answer = calc_close_up.extension(focal, extension, magnification, f_number)
        raise SystemExit(calc.show(answer, as_json=as_json))

    @calculators.command("reversed")
    def reversed_command(
        focal: Focal,
        image_distance: Annotated[
            float | None, typer.Option(parser=number, help="Principal plane to the sensor in mm.")
        ] = None,
        on: Annotated[
            float | None, typer.Option(parser=number, help="Focal length of the lens it is reversed on, in mm.")
        ] = None,
        as_json: AsJson = False,
    ) -> NoReturn:
        """Magnification of a reversed lens, on extension or on another lens."""
        from farrail.cli import calc, calc_close_up

        raise SystemExit(calc.show(calc_close_up.reversed_lens(focal, image_distance, on), as_json=as_json))

    @calculators.command("focus-stack")
    def focus_stack_command(
        depth: Annotated[float, typer.Option(parser=number, help="How deep the subject is, in mm.")],
        magnification: Annotated[float, typer.Option(parser=number, help="Magnification on the sensor.")],
        f_number: Engraved,
        blur: Annotated[
            float, typer.Option(parser=number, help="Largest blur on the sensor in µm; a pixel is usual.")
        ] = 5.0,
        overlap: Annotated[
            float, typer.Option(parser=number, help="How much of each slice the next repeats, in per cent.")
        ] = 25.0,
        interval: Annotated[float, typer.Option(parser=number, help="From frame to frame in s.")] = 2.0,
        as_json: AsJson = False,
    ) -> NoReturn:
        """Number of frames for a focus stack, their spacing and the time needed."""
        from farrail.cli import calc, calc_close_up

        answer = calc_close_up.stack_plan(depth, magnification, f_number, blur, overlap, interval)
        raise SystemExit(calc.show(answer, as_json=as_json))

    @calculators.command("shutter")
    def shutter_command(
        stops: Annotated[float, typer.Option(parser=number, help="Stops the filters take.")],
        base: Annotated[str, typer.Option(help="Metered time without them, such as 1/60 or 2 s.")],
        as_json: AsJson = False,
    ) -> NoReturn:
        """How long to expose with filters on."""
        from farrail.cli import calc, calc_close_up

        raise SystemExit(calc.show(calc_close_up.shutter(stops, base), as_json=as_json))

    @calculators.command("density")
    def density_command(
        density: Annotated[float | None, typer.Option(parser=number, help="Optical density.")] = None,
        stops: Annotated[float | None, typer.Option(parser=number, help="Stops.")] = None,
        transmission: Annotated[
            float | None, typer.Option(parser=number, help="Light that passes, in per cent.")
        ] = None,
        as_json: AsJson = False,
    ) -> NoReturn:
        """Optical density, stops and transmission: one as the others."""
        from farrail.cli import calc, calc_close_up

        raise SystemExit(calc.show(calc_close_up.density(density, stops, transmission), as_json=as_json))
