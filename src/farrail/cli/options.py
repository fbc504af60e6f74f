"""The options that several commands ask for in the same words."""

from typing import Annotated

import typer

from farrail.cli.number import number

AsJson = Annotated[bool, typer.Option("--json", help="Print JSON.")]
Focal = Annotated[float, typer.Option(parser=number, help="Focal length in mm.")]
FNumber = Annotated[float, typer.Option(parser=number, help="f-number of the cone.")]
Engraved = Annotated[float, typer.Option(parser=number, help="f-number as engraved.")]
ImageHeight = Annotated[float, typer.Option(parser=number, help="Image height in mm.")]
Thickness = Annotated[float, typer.Option(parser=number, help="Glass thickness in mm.")]
Index = Annotated[float, typer.Option(parser=number, help="Refractive index.")]
