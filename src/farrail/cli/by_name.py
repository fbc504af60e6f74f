"""What needs the window's half of the program: found by name, so that nothing of the command line needs Qt."""

from importlib import import_module
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from farrail.assembly.order import AdapterOrder
    from farrail.assembly.ring import RingShape


def open_window(arguments: list[str]) -> int:
    """Have the window's half do something; returns the exit code."""
    code: int = import_module("farrail.ui.start").run(arguments)
    return code


def order_pdf(piece: "AdapterOrder", out: Path) -> None:
    """Draw an order on paper."""
    import_module("farrail.ui.order_sheet").write_order_pdf(piece, out)


def template(shape: "RingShape", out: Path) -> None:
    """Write a ring's paper template."""
    import_module("farrail.ui.ring_sheet").write_template(shape, out)
