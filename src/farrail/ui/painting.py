"""Painting that ends even after an error: a device that goes while it is painted on crashes the program."""

from collections.abc import Iterator
from contextlib import contextmanager

from PySide6.QtGui import QPaintDevice, QPainter


@contextmanager
def painting(device: QPaintDevice) -> Iterator[QPainter]:
    """Paint on a device; an error while painting ends it too, for a device that goes while it is painted on crashes."""
    painter = QPainter(device)
    try:
        yield painter
    finally:
        painter.end()
