"""The subcommands of what was seen: the log, calibration, comparison, and frames as evidence."""

from pathlib import Path
from typing import Annotated, NoReturn

import typer

from farrail.cli.number import number
from farrail.cli.options import AsJson, Force, check_free, names_of
from farrail.frames.kinds import FrameKind


def add_to(app: typer.Typer) -> None:
    """Add them to the program."""
    app.command("log")(log_command)
    app.command("calibrate")(calibrate_command)
    app.command("compare")(compare_command)
    app.command("frame")(frame_command)
    app.command("bench")(bench_command)


def log_command(
    file: Annotated[Path, typer.Argument(help="A workbook, name.farrail.json.")],
    train: Annotated[str | None, typer.Option("--train", help="Name or id of a train; left out: all.")] = None,
    seen: Annotated[
        Path | None, typer.Option("--import", help="A CSV table of observations to add to the log.")
    ] = None,
    frames: Annotated[
        Path | None,
        typer.Option("--frames", help="A folder of frames: print the entries they would make, train by train."),
    ] = None,
    apply: Annotated[bool, typer.Option("--apply", help="With --frames: add those entries to the log.")] = False,
    as_csv: Annotated[bool, typer.Option("--csv", help="Print CSV.")] = False,
    as_json: AsJson = False,
) -> NoReturn:
    """Print what was seen beside what was predicted, or add the observations of a table or of frames."""
    from farrail.cli import log

    if frames is not None:
        from farrail.cli import evening

        raise SystemExit(evening.run(file, frames, train, apply=apply, as_json=as_json))

    if seen is not None:
        raise SystemExit(log.bring_in(file, seen))
    raise SystemExit(log.run(file, train, as_json=as_json, as_csv=as_csv))


def calibrate_command(
    file: Annotated[Path, typer.Argument(help="A workbook, name.farrail.json.")],
    train: Annotated[str, typer.Option("--train", help="Name or id of a train in it.")],
    apply: Annotated[
        list[str] | None,
        typer.Option("--apply", help="Put a calibrated value into its part: its key, or a part's name."),
    ] = None,
    as_json: AsJson = False,
) -> NoReturn:
    """Print the calibration of a train's parts from the log, and what is still open."""
    from farrail.cli import log

    if apply:
        raise SystemExit(log.apply_values(file, train, names_of(apply)))
    raise SystemExit(log.calibrate(file, train, as_json=as_json))


def compare_command(
    file: Annotated[Path, typer.Argument(help="A workbook, name.farrail.json.")],
    trains: Annotated[
        list[str], typer.Option("--train", "--trains", help="Two to four trains: given again, or with commas.")
    ],
    as_json: AsJson = False,
) -> NoReturn:
    """Print two to four trains side by side, the better figure marked."""
    from farrail.cli import log

    raise SystemExit(log.compare(file, names_of(trains), as_json=as_json))


def frame_command(
    kind: Annotated[FrameKind, typer.Argument(help="What it shows: flat, stars, dust, ruler or sky.")],
    file: Annotated[Path, typer.Argument(help="The frame: FITS, TIFF, PNG, JPEG or raw.")],
    workbook: Annotated[Path, typer.Argument(help="A workbook, name.farrail.json.")],
    train: Annotated[str, typer.Option("--train", help="Name or id of the train that took it.")],
    more: Annotated[
        list[Path] | None,
        typer.Option(
            "--more",
            help="Further frames. Flats: each by itself; stars: through focus; dust: a filter or the camera turned.",
        ),
    ] = None,
    focus: Annotated[
        list[float] | None,
        typer.Option("--focus", parser=number, help="Stars: focuser position of each frame, µm."),
    ] = None,
    flange: Annotated[
        float, typer.Option("--flange", parser=number, help="Distance between the flange's screws, mm.")
    ] = 60.0,
    as_json: AsJson = False,
) -> NoReturn:
    """Print what a frame shows about the train that took it; exit code 1 if it shows nothing."""
    from farrail.cli import frame

    raise SystemExit(
        frame.run(kind, file, workbook, train, more=more or [], focus_um=focus or [], flange_mm=flange, as_json=as_json)
    )


def bench_command(
    kind: Annotated[FrameKind, typer.Argument(help="What to take: flat, stars, dust, ruler or sky.")],
    out: Annotated[Path, typer.Argument(help="The FITS file to write.")],
    workbook: Annotated[Path, typer.Argument(help="A workbook, name.farrail.json.")],
    train: Annotated[str, typer.Option("--train", help="Name or id of a train in it.")],
    seed: Annotated[
        int, typer.Option("--seed", help="Which fault to simulate; the same number gives the same fault.")
    ] = 1,
    focus: Annotated[float, typer.Option("--focus", parser=number, help="Stars: focuser position, µm.")] = 0.0,
    columns: Annotated[int, typer.Option("--columns", help="How many pixels wide.", min=64, max=9000)] = 1200,
    tell: Annotated[bool, typer.Option("--tell", help="Print the simulated fault.")] = False,
    force: Force = False,
) -> NoReturn:
    """Take a practice frame that simulates a fault in the train, for you to find (no camera needed)."""
    from farrail.cli import frame

    check_free(out, force=force)
    raise SystemExit(frame.bench(kind, out, workbook, train, seed=seed, focus_um=focus, tell=tell, columns=columns))
