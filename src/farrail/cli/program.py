"""The subcommands and their arguments."""

from enum import StrEnum
from pathlib import Path
from typing import Annotated, NoReturn

import typer

from farrail import __version__
from farrail.assembly.stages import Start
from farrail.cli import (
    calc_bench_commands,
    calc_close_up_commands,
    calc_commands,
    calc_field_commands,
    evidence_commands,
)
from farrail.cli.by_name import open_window, order_pdf, template
from farrail.cli.completion import NamesOf, Shell
from farrail.cli.number import number
from farrail.cli.options import AsJson, Force, check_free, names_of
from farrail.cli.printing import FINE, as_json
from farrail.cli.table_choice import What
from farrail.errors import BadInput
from farrail.language import say
from farrail.parts.origin import Origin
from farrail.planning.aim import Aim

app = typer.Typer(
    name="far-rail",
    help="Far Rail puts the real parts of an optical train on one rail and predicts what the sensor will see.\n\n"
    "Without a command it opens its window: far-rail [FILE].",
    no_args_is_help=True,
    add_completion=False,
    pretty_exceptions_enable=False,
    rich_markup_mode=None,
)


class View(StrEnum):
    """What a picture shows."""

    RAIL = "rail"
    LIGHT = "light"
    FRAME = "frame"


calculators = typer.Typer(help="One formula at a time, with its working.", no_args_is_help=True)
app.add_typer(calculators, name="calc")
calc_field_commands.add_to(calculators)
calc_close_up_commands.add_to(calculators)
calc_bench_commands.add_to(calculators)
calc_commands.add_to(calculators)
evidence_commands.add_to(app)


@app.callback(invoke_without_command=True)
def _version(
    version: Annotated[bool, typer.Option("--version", help="Print the version.")] = False,
    _inches: Annotated[bool, typer.Option("--inches", help="Show lengths in inches; JSON and CSV stay in mm.")] = False,
) -> None:
    # Lengths are chosen before this is loaded, as the language is: `--inches` is only named here.
    if version:
        print(say("Far Rail {version__}", version__=__version__))
        raise typer.Exit(FINE)


@app.command("readout")
def readout_command(
    file: Annotated[Path, typer.Argument(help="A workbook, name.farrail.json.")],
    train: Annotated[str, typer.Option("--train", help="Name or id of a train in it.")],
    every: Annotated[bool, typer.Option("--all", help="Every figure by its id, with its working.")] = False,
    as_json: AsJson = False,
) -> NoReturn:
    """Print a train's verdict, findings and main figures; exit code 1 when a finding stops it."""
    from farrail.cli import readout

    raise SystemExit(readout.run(file, train, every=every, as_json=as_json))


@app.command("plan")
def plan_command(
    file: Annotated[Path, typer.Argument(help="A workbook, name.farrail.json.")],
    train: Annotated[
        list[str],
        typer.Option(
            "--train",
            "--trains",
            help="Name or id of a train in it; several, given again or with commas, share one set of purchases.",
        ),
    ],
    kept_whole: Annotated[
        bool, typer.Option("--kept-whole", help="Of several trains: no part moves from one to another.")
    ] = False,
    aim: Annotated[Aim, typer.Option("--aim", help="Where published figures differ: which to aim at.")] = Aim.IN_USE,
    reorder: Annotated[bool, typer.Option("--reorder", help="Also try housings in other places and flipped.")] = False,
    as_json: AsJson = False,
) -> NoReturn:
    """Fill a train's gap from the shelf, or those of several; exit code 1 when that is impossible."""
    from farrail.cli import plan

    names = names_of(train)
    if len(names) > 1:
        raise SystemExit(plan.run_together(file, names, kept_whole=kept_whole, as_json=as_json))
    if kept_whole:
        raise BadInput("--kept-whole is for several trains; name two or more with --train.")
    raise SystemExit(plan.run(file, names[0] if names else "", aim=aim, reorder=reorder, as_json=as_json))


@app.command("need")
def need_command(
    file: Annotated[Path, typer.Argument(help="A workbook, name.farrail.json.")],
    train: Annotated[str, typer.Option("--train", help="Name or id of a train in it.")],
    part: Annotated[str | None, typer.Argument(help="Name or id of a part of it; left out: what is missing.")] = None,
    at: Annotated[
        float | None, typer.Option("--at", help="Focal length, mm, at which the front stack is to be clear.")
    ] = None,
    magnification: Annotated[
        float | None, typer.Option("--magnification", help="Magnification wanted of a tube or ring.")
    ] = None,
    as_json: AsJson = False,
) -> NoReturn:
    """Print what a part of a train must measure: depth, clear width, length."""
    from farrail.cli import need

    raise SystemExit(need.run(file, train, part, focal_mm=at, magnification=magnification, as_json=as_json))


@app.command("fixes")
def fixes_command(
    file: Annotated[Path, typer.Argument(help="A workbook, name.farrail.json.")],
    train: Annotated[str, typer.Option("--train", help="Name or id of a train in it.")],
    as_json: AsJson = False,
) -> NoReturn:
    """Print what frees dark corners of a lens with filters, the best first."""
    from farrail.cli import fixes

    raise SystemExit(fixes.run(file, train, as_json=as_json))


@app.command("rings")
def rings_command(
    file: Annotated[Path, typer.Argument(help="A workbook, name.farrail.json.")],
    swapped: Annotated[
        bool, typer.Option("--swapped", help="One ring is moved between all lenses of its size.")
    ] = False,
    as_json: AsJson = False,
) -> NoReturn:
    """Print which filter size serves every lens, and which step rings to buy; exit code 1 where none does."""
    from farrail.cli import rings

    raise SystemExit(rings.run(file, swapped=swapped, as_json=as_json))


@app.command("steps")
def steps_command(
    file: Annotated[Path, typer.Argument(help="A workbook, name.farrail.json.")],
    train: Annotated[str, typer.Option("--train", help="Name or id of a train in it.")],
    start: Annotated[
        Start,
        typer.Option("--start", help="Where to begin: bench, bag, a filter change, the site, or taking it apart."),
    ] = Start.BENCH,
    as_json: AsJson = False,
) -> NoReturn:
    """Print how a train goes together: steps in order, and cautions."""
    from farrail.cli import steps

    raise SystemExit(steps.run(file, train, start=start, as_json=as_json))


@app.command("ask")
def ask_command(
    file: Annotated[Path, typer.Argument(help="A workbook, name.farrail.json.")],
    width: Annotated[
        str, typer.Option("--width", help="How much of the subject fills the frame's width, mm: 22, or 22 ± 5 %.")
    ],
    min_distance: Annotated[
        float, typer.Option("--min-distance", parser=number, help="Least working distance, mm.")
    ] = 0.0,
    max_stops: Annotated[
        float, typer.Option("--max-stops", parser=number, help="Most stops lost against infinity.")
    ] = 99.0,
    no_reversed: Annotated[bool, typer.Option("--no-reversed", help="Without reversed lenses.")] = False,
    train: Annotated[str | None, typer.Option("--train", help="The train that gives camera and aperture.")] = None,
    as_json: AsJson = False,
) -> NoReturn:
    """Find the parts that fill the frame with a subject; exit code 1 if there are none."""
    from farrail.cli import ask
    from farrail.planning.ask import Wish, width_and_tolerance

    wide, tolerance = width_and_tolerance(width)
    wish = Wish(wide, min_distance, max_stops, tolerance, not no_reversed)
    raise SystemExit(ask.run(file, train, wish, as_json=as_json))


@app.command("edit")
def edit_command(
    file: Annotated[Path, typer.Argument(help="A workbook, name.farrail.json.")],
    part: Annotated[str | None, typer.Argument(help="Name or id of a part on its shelf.")] = None,
    field: Annotated[
        str | None, typer.Argument(help="Which value, such as path_length_mm; see docs/format.md.")
    ] = None,
    value: Annotated[str | None, typer.Argument(help="The value: 12.05, “12.05 ±0.02”, “10x”, a name.")] = None,
    origin: Annotated[Origin, typer.Option("--as", help="Where the number came from.")] = Origin.PUBLISHED,
    lines: Annotated[
        Path | None, typer.Option("--lines", help="A file of edits, one JSON object a line; - is standard input.")
    ] = None,
    new: Annotated[bool, typer.Option("--new", help="With --lines: begin an empty workbook.")] = False,
    name: Annotated[str | None, typer.Option("--name", help="Name of the workbook.")] = None,
) -> NoReturn:
    """Put a value or whole lines of edits into a workbook; refused while a window has it open.

    The earlier version stays as a backup. docs/edits.md lists the edits.
    """
    from farrail.cli import edit

    if lines is not None:
        if part is not None:
            raise BadInput("With --lines no part is named; the lines say everything.")
        raise SystemExit(edit.run_lines(file, lines, new=new, name=name))
    if name is not None and part is None and not new:
        raise SystemExit(edit.rename(file, name))
    if part is None or field is None or value is None or new:
        raise BadInput("Give a part, a field and a value; or --lines with a file of edits.")
    raise SystemExit(edit.run(file, part, field, value, origin))


@app.command("csv")
def csv_command(
    file: Annotated[Path, typer.Argument(help="A workbook, name.farrail.json.")],
    what: Annotated[What, typer.Argument(help="The shelf, or a train's figures or findings.")] = What.SHELF,
    train: Annotated[str | None, typer.Option("--train", help="Name or id of a train in it.")] = None,
    out: Annotated[Path | None, typer.Option("--out", help="Write to this file instead of printing.")] = None,
    parts: Annotated[
        Path | None, typer.Option("--import", help="A CSV table of parts to put on the shelf; - is standard input.")
    ] = None,
    force: Force = False,
) -> NoReturn:
    """Print a table as CSV, or put the parts of one on the shelf; exit code 1 where a row was left out."""
    from farrail.cli import table

    if parts is not None:
        raise SystemExit(table.bring_in(file, parts))
    if out is not None:
        check_free(out, force=force)
    raise SystemExit(table.run(file, what, train, out))


@app.command("schema")
def schema_command() -> None:
    """Print the JSON Schema of the workbook file."""
    from farrail.workbook.workbook import Workbook

    schema = Workbook.model_json_schema()
    print(as_json({"$schema": "https://json-schema.org/draft/2020-12/schema", **schema}))


@app.command("pages")
def pages_command(
    folder: Annotated[Path, typer.Option("--docs", help="The folder of the pages.")] = Path("docs"),
) -> None:
    """Write the tables of docs/format.md and docs/figures.md from what the program knows."""
    from farrail.cli import pages

    pages.run(folder)


@app.command("demo")
def demo_command(
    save: Annotated[Path | None, typer.Option("--save", help="Write the demo workbook to this file.")] = None,
) -> NoReturn:
    """Open the demo workbook, or write it to a file."""
    from farrail.demo.hallan_skerry import demo_workbook
    from farrail.workbook.store import write_file

    if save is not None:
        write_file(save, demo_workbook())
        raise SystemExit(FINE)
    raise SystemExit(open_window(["demo"]))


@app.command("sheet")
def sheet_command(
    file: Annotated[Path, typer.Argument(help="A workbook, name.farrail.json.")],
    out: Annotated[Path, typer.Argument(help="What to write: a name that ends in .pdf or .html.")],
    train: Annotated[str, typer.Option("--train", help="Name or id of a train in it.")],
    letter: Annotated[bool, typer.Option("--letter", help="A PDF on Letter instead of A4.")] = False,
    large: Annotated[bool, typer.Option("--large", help="A PDF in large type, for the dark.")] = False,
    force: Force = False,
) -> NoReturn:
    """Write a train's build sheet, without a display: drawing, running total, steps, cautions, pack list."""
    check_free(out, force=force)
    raise SystemExit(open_window(["sheet", str(file), train, str(out), str(int(letter)), str(int(large))]))


@app.command("pack")
def pack_command(
    file: Annotated[Path, typer.Argument(help="A workbook, name.farrail.json.")],
    train: Annotated[list[str], typer.Option("--train", help="Name or id of a train in it; may be given again.")],
    as_json: AsJson = False,
) -> NoReturn:
    """Print what to pack for one train or several, shared parts once."""
    from farrail.cli import steps

    raise SystemExit(steps.pack(file, names_of(train), as_json=as_json))


@app.command("ring")
def ring_command(
    file: Annotated[Path, typer.Argument(help="A workbook, name.farrail.json.")],
    out: Annotated[Path, typer.Argument(help="What to write: a name that ends in .stl, .3mf, .dxf or .pdf.")],
    train: Annotated[str, typer.Option("--train", help="Name or id of a train in it.")],
    joint: Annotated[
        int | None, typer.Option("--joint", help="Which joint behind the optic, from 1; without it, the last.", min=1)
    ] = None,
    thickness: Annotated[
        float | None,
        typer.Option("--thickness", parser=number, help="Thickness in mm; without it, what the train is short of."),
    ] = None,
    chamfer: Annotated[float, typer.Option("--chamfer", parser=number, help="Width of the chamfer, in mm.")] = 0.0,
    force: Force = False,
) -> NoReturn:
    """Write a plain ring for a missing spacer or shim, to print or to cut."""
    from farrail.cli import ring

    check_free(out, force=force)
    raise SystemExit(ring.run(file, out, train, joint, thickness, chamfer, template))


@app.command("order")
def order_command(
    file: Annotated[Path, typer.Argument(help="A workbook, name.farrail.json.")],
    out: Annotated[Path, typer.Argument(help="What to write: a name that ends in .pdf or .dxf.")],
    train: Annotated[str, typer.Option("--train", help="Name or id of a train in it.")],
    joint: Annotated[
        int | None, typer.Option("--joint", help="Which joint behind the optic, from 1; without it, the last.", min=1)
    ] = None,
    length: Annotated[
        float | None,
        typer.Option("--length", parser=number, help="Thickness in mm; without it, what the train is short of."),
    ] = None,
    whole: Annotated[bool, typer.Option("--whole", help="One piece from the datum to the camera.")] = False,
    force: Force = False,
) -> NoReturn:
    """Draw an adapter to order from a machinist."""
    from farrail.cli import order

    check_free(out, force=force)
    raise SystemExit(order.run(file, out, train, joint, length, whole, order_pdf))


@app.command("picture")
def picture_command(
    file: Annotated[Path, typer.Argument(help="A workbook, name.farrail.json.")],
    out: Annotated[Path, typer.Argument(help="What to write: a name that ends in .png, .svg or .pdf.")],
    train: Annotated[str, typer.Option("--train", help="Name or id of a train in it.")],
    view: Annotated[
        View, typer.Option("--view", help="The cut section, the light over the frame, or the photo the train takes.")
    ] = View.RAIL,
    scene: Annotated[
        str | None,
        typer.Option("--scene", help="Scene of the photo: dusk, night, pool, flat, or the file of your own photo."),
    ] = None,
    width: Annotated[int | None, typer.Option("--width", help="Width of the photo in pixels.")] = None,
    stops: Annotated[float, typer.Option("--stops", help="Exposure of the photo above the meter, in stops.")] = 0.0,
    focal: Annotated[
        float | None, typer.Option("--focal", help="Focal length your own photo was taken at, mm.")
    ] = None,
    sensor: Annotated[
        float | None, typer.Option("--sensor", help="Width of the sensor your own photo was taken with, mm.")
    ] = None,
    as_json: AsJson = False,
    force: Force = False,
) -> NoReturn:
    """Draw a train's rail, its light, or the photo it takes as a picture, without a display."""
    check_free(out, force=force)
    if view is View.FRAME:
        from farrail.cli import frame_picture

        raise SystemExit(
            frame_picture.run(
                file, out, train, scene, width=width, stops=stops, focal_mm=focal, sensor_mm=sensor, as_json=as_json
            )
        )
    raise SystemExit(open_window(["picture", str(file), train, view.value, str(out)]))


@app.command("pictures")
def pictures_command(
    out: Annotated[Path, typer.Option("--out", help="Folder to draw into.")] = Path("docs/screenshots"),
    only: Annotated[list[str] | None, typer.Option("--only", help="A view by its name; all without.")] = None,
) -> NoReturn:
    """Draw every main view from the demo, without a display."""
    raise SystemExit(open_window(["pictures", str(out), *(only or [])]))


@app.command("man")
def man_command(
    command: Annotated[str, typer.Argument(help="A command, such as plan; left out: the program itself.")] = "",
    folder: Annotated[Path | None, typer.Option("--folder", help="Write every page into this folder.")] = None,
) -> NoReturn:
    """Print a page of the manual."""
    from farrail.cli import citizen

    raise SystemExit(citizen.print_manual(app, command, folder))


@app.command("completion")
def completion_command(shell: Annotated[Shell, typer.Argument(help="bash, zsh or fish.")]) -> NoReturn:
    """Print what a shell reads to complete the program's words."""
    from farrail.cli import citizen

    raise SystemExit(citizen.print_completion(app, shell))


@app.command("names", hidden=True)
def names_command(
    file: Annotated[Path, typer.Argument(help="A workbook, name.farrail.json.")],
    of: Annotated[NamesOf, typer.Argument(help="trains or parts.")],
) -> NoReturn:
    """Print the names in a workbook, a line each: what a shell completes from."""
    from farrail.cli import citizen

    raise SystemExit(citizen.print_names(file, of))


@app.command("install-desktop")
def install_desktop_command(
    take_away: Annotated[bool, typer.Option("--undo", help="Remove what was installed.")] = False,
    into: Annotated[
        Path | None, typer.Option("--into", help="Another data folder, in the layout of a package.")
    ] = None,
) -> NoReturn:
    """Put the program on this account's desktop: menu entry, icons, file type, manual, completion."""
    from farrail.cli import citizen

    raise SystemExit(citizen.install_desktop(app, take_away=take_away, into=into))


@app.command("doctor")
def doctor_command(as_json: AsJson = False) -> NoReturn:
    """Look whether this machine has what the program needs, and say what to do where it has not."""
    raise SystemExit(open_window(["doctor", str(int(as_json))]))
