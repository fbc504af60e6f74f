"""The calculators of `calc_bench.py` as commands."""

from typing import Annotated, NoReturn

import typer

from farrail.cli.number import number
from farrail.cli.options import AsJson, FNumber, Focal, ImageHeight, Index, Thickness
from farrail.optics.seen import Seen


def add_to(calculators: typer.Typer) -> None:
    """Add the commands."""

    @calculators.command("stack-up")
    def stack_up_command(
        each: Annotated[
            list[float], typer.Option(parser=number, help="A part's tolerance ± in mm; once for each part.")
        ],
        error: Annotated[
            float | None, typer.Option(parser=number, help="The error of the train as entered, mm.")
        ] = None,
        allowed: Annotated[float | None, typer.Option(parser=number, help="The tolerance ± of the optic, mm.")] = None,
        as_json: AsJson = False,
    ) -> NoReturn:
        """Tolerance stack-up of several parts, and the chance to be within tolerance."""
        from farrail.cli import calc, calc_bench

        raise SystemExit(calc.show(calc_bench.stack_up(each, error, allowed), as_json=as_json))

    @calculators.command("reducer")
    def reducer_command(
        focal: Focal,
        aperture: Annotated[float, typer.Option(parser=number, help="Aperture of the telescope in mm.")],
        corrector: Annotated[float, typer.Option(parser=number, help="Its focal length in mm; negative for a Barlow.")],
        distance: Annotated[float, typer.Option(parser=number, help="Corrector to sensor in mm.")],
        as_json: AsJson = False,
    ) -> NoReturn:
        """What a reducer or Barlow makes of a telescope: focal length, f-number, exit pupil."""
        from farrail.cli import calc, calc_bench

        raise SystemExit(calc.show(calc_bench.reducer(focal, aperture, corrector, distance), as_json=as_json))

    @calculators.command("far-focus")
    def far_focus_command(
        focal: Focal,
        long: Annotated[float, typer.Option(parser=number, help="How much the train is too long, mm.")],
        as_json: AsJson = False,
    ) -> NoReturn:
        """The farthest distance a lens focuses at when it is too far from the sensor."""
        from farrail.cli import calc, calc_bench

        raise SystemExit(calc.show(calc_bench.far_focus(focal, long), as_json=as_json))

    @calculators.command("entrance-pupil")
    def entrance_pupil_command(
        focal: Focal,
        f_number: FNumber,
        clear: Annotated[float, typer.Option(parser=number, help="Clear diameter of the opening in mm.")],
        ahead: Annotated[float, typer.Option(parser=number, help="Distance ahead of the thread seat, mm.")],
        height: Annotated[float, typer.Option(parser=number, help="Image height where it was seen, mm.")],
        seen: Annotated[Seen, typer.Option(help="Share of the corner that was dark.")] = Seen.HALF,
        as_json: AsJson = False,
    ) -> NoReturn:
        """Position of a lens's entrance pupil, from where an opening appeared in the corner."""
        from farrail.cli import calc, calc_bench

        answer = calc_bench.entrance_pupil(focal, f_number, clear, ahead, height, seen)
        raise SystemExit(calc.show(answer, as_json=as_json))

    @calculators.command("opening")
    def opening_command(
        f_number: FNumber,
        clear: Annotated[float, typer.Option(parser=number, help="Clear diameter in mm.")],
        distance: Annotated[float, typer.Option(parser=number, help="Opening to sensor in mm, glass as t/n.")],
        height: ImageHeight,
        pupil_distance: Annotated[
            float | None, typer.Option(parser=number, help="Exit pupil to sensor in mm; telecentric when left out.")
        ] = None,
        as_json: AsJson = False,
    ) -> NoReturn:
        """What a round opening ahead of the sensor leaves at an image height."""
        from farrail.cli import calc, calc_bench

        answer = calc_bench.opening(f_number, pupil_distance, clear, distance, height)
        raise SystemExit(calc.show(answer, as_json=as_json))

    @calculators.command("glass-ahead")
    def glass_ahead_command(
        thickness: Thickness,
        angle: Annotated[float, typer.Option(parser=number, help="Angle of the ray in degrees.")],
        index: Index = 1.5168,
        as_json: AsJson = False,
    ) -> NoReturn:
        """How much glass ahead of a lens shortens the way to its pupil."""
        from farrail.cli import calc, calc_bench

        raise SystemExit(calc.show(calc_bench.glass_ahead(thickness, index, angle), as_json=as_json))

    @calculators.command("dust")
    def dust_command(
        ring: Annotated[float, typer.Option(parser=number, help="Diameter of the ring on the sensor in mm.")],
        f_number: FNumber,
        as_json: AsJson = False,
    ) -> NoReturn:
        """Distance of a dust mote from the sensor."""
        from farrail.cli import calc, calc_bench

        raise SystemExit(calc.show(calc_bench.dust(ring, f_number), as_json=as_json))

    @calculators.command("sky")
    def sky_command(
        width: Annotated[float, typer.Option(parser=number, help="Width of the sensor in mm.")],
        focal: Focal,
        sun_high: Annotated[float, typer.Option(parser=number, help="Height of the Sun, degrees.")] = 20.0,
        sun_right: Annotated[float, typer.Option(parser=number, help="Sun to the right of the view, degrees.")] = 90.0,
        most: Annotated[float, typer.Option(parser=number, help="Polarised share at 90° from the Sun.")] = 0.8,
        as_json: AsJson = False,
    ) -> NoReturn:
        """How unevenly a polariser darkens a clear sky across a level frame."""
        from farrail.cli import calc, calc_bench

        raise SystemExit(calc.show(calc_bench.sky(width, focal, sun_high, sun_right, most), as_json=as_json))
