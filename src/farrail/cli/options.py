"""The options that several commands ask for in the same words."""

from collections.abc import Sequence
from pathlib import Path
from typing import Annotated

import typer

from farrail.cli.number import number
from farrail.errors import BadInput

AsJson = Annotated[bool, typer.Option("--json", help="Print JSON.")]
Focal = Annotated[float, typer.Option(parser=number, help="Focal length in mm.")]
FNumber = Annotated[float, typer.Option(parser=number, help="f-number of the cone.")]
Engraved = Annotated[float, typer.Option(parser=number, help="f-number as engraved.")]
ImageHeight = Annotated[float, typer.Option(parser=number, help="Image height in mm.")]
Thickness = Annotated[float, typer.Option(parser=number, help="Glass thickness in mm.")]
Index = Annotated[float, typer.Option(parser=number, help="Refractive index.")]
Force = Annotated[bool, typer.Option("--force", help="Replace the file if it is there already.")]


def check_free(out: Path, *, force: bool) -> None:
    """Check that a file may be written.

    Args:
        out: the file to write.
        force: whether an existing file may be replaced.

    Raises:
        BadInput: the file exists and `force` is not given.
    """
    if out.is_file() and not force:
        raise BadInput("{name} is there already; give --force to replace it, or another name.", name=out)


def names_of(given: Sequence[str]) -> list[str]:
    """Return names that were given again and again, or several at once with commas between."""
    return [name.strip() for one in given for name in one.split(",") if name.strip()]
