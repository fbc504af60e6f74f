"""A DXF drawing as the bytes of its file."""

import io
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ezdxf.document import Drawing


def as_bytes(drawing: "Drawing") -> bytes:
    """Return a drawing as it is in a file."""
    sheet = io.StringIO()
    drawing.write(sheet)
    return sheet.getvalue().encode("utf-8")
