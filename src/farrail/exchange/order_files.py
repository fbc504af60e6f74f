"""An adapter's drawing as DXF."""

from pathlib import Path

from farrail.assembly.order import AdapterOrder, outline, thread_lines
from farrail.assembly.order_words import callout, order_words
from farrail.errors import BadInput
from farrail.exchange.drawings import as_bytes
from farrail.workbook.store import write_bytes


def write_order_dxf(order: AdapterOrder, out: Path) -> None:
    """Write the section of a piece with its axis, its main dimensions and its notes, in mm.

    Raises:
        BadInput: the name does not end in .dxf.
        StoreError: it cannot be written there.
    """
    from ezdxf import units
    from ezdxf.filemanagement import new

    if out.suffix.lower() != ".dxf":
        raise BadInput(
            "The kind of “{name}” is not known; give a name that ends in {endings}.",
            name=out.name,
            endings=".dxf, .pdf",
        )
    drawing = new("R2010", units=units.MM, setup=True)
    space = drawing.modelspace()
    for layer in ("piece", "threads", "axis", "dimensions", "notes"):
        drawing.layers.add(layer)
    upper = outline(order)
    for half in (upper, [(x, -y) for x, y in upper]):
        space.add_lwpolyline(half, close=True, dxfattribs={"layer": "piece"})
    for (x0, y0), (x1, y1) in thread_lines(order):
        for side in (1.0, -1.0):
            space.add_line((x0, side * y0), (x1, side * y1), dxfattribs={"layer": "threads", "lineweight": 13})
    left, right = min(x for x, _ in upper), max(x for x, _ in upper)
    space.add_line((left - 5.0, 0.0), (right + 5.0, 0.0), dxfattribs={"layer": "axis", "linetype": "CENTER"})
    below = -order.outer_mm / 2.0
    space.add_linear_dim(
        base=(0.0, below - 8.0), p1=(0.0, below), p2=(order.length_mm, below), dxfattribs={"layer": "dimensions"}
    ).render()
    middle = order.length_mm / 2.0
    for x, across in ((middle, order.bore_mm), (right + 12.0, order.outer_mm)):
        space.add_linear_dim(
            base=(x, 0.0), p1=(middle, -across / 2.0), p2=(middle, across / 2.0), angle=90, text="Ø<>",
            dxfattribs={"layer": "dimensions"},
        ).render()  # fmt: skip
    above = order.outer_mm / 2.0
    for end, shoulder, away in ((order.front, 0.0, -1.0), (order.rear, order.length_mm, 1.0)):
        foot = shoulder + away * (end.depth_mm if end.external else -end.depth_mm)
        space.add_linear_dim(
            base=(0.0, above + 8.0), p1=(shoulder, above), p2=(foot, above), text="<> " + callout(end),
            dxfattribs={"layer": "dimensions"},
        ).render()  # fmt: skip
    for number, text in enumerate(order_words(order)):
        place = (left, below - 20.0 - 6.0 * number)
        space.add_text(text, height=3.0, dxfattribs={"layer": "notes", "insert": place})
    write_bytes(out, as_bytes(drawing))
