"""The shipped typeface: Inter with tabular figures, DejaVu Sans for what it lacks."""

from collections.abc import Iterator
from contextlib import contextmanager
from functools import lru_cache
from pathlib import Path

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QFont, QFontDatabase, QFontMetricsF, QPainter, QStaticText, QTransform

FAMILY = "Inter"
FALLBACK = "DejaVu Sans"
_FILES = ("Inter-Regular.otf", "Inter-Medium.otf", "Inter-SemiBold.otf", "DejaVuSans.ttf")
_FOLDER = Path(__file__).parents[2] / "assets" / "fonts"


def load_fonts() -> None:
    """Load the fonts that ship with the package; call once, after the application object exists."""
    for name in _FILES:
        QFontDatabase.addApplicationFont(str(_FOLDER / name))


_on_paper = False


@contextmanager
def on_paper() -> Iterator[None]:
    """Set type for a document that is read again: figures of one width are glyphs that no reader takes for text."""
    global _on_paper  # one application, one way of setting type
    _on_paper = True
    _forget()
    try:
        yield
    finally:
        _on_paper = False
        _forget()


def _forget() -> None:
    for kept in (font, text_width_px, elided, _set_text):
        kept.cache_clear()


@lru_cache(maxsize=64)
def font(size_px: int = 13, weight: QFont.Weight = QFont.Weight.Normal) -> QFont:
    """Return the interface's font at a pixel size, its figures all of one width; not to be changed by the caller."""
    made = QFont()
    made.setFamilies([FAMILY, FALLBACK])
    made.setPixelSize(size_px)
    made.setWeight(weight)
    # Said either way: what is not said comes from the application's own font.
    made.setFeature(QFont.Tag("tnum"), 0 if _on_paper else 1)
    if _on_paper:
        # Signs raised or widened beside figures are such glyphs too.
        made.setFeature(QFont.Tag("calt"), 0)
    made.setHintingPreference(QFont.HintingPreference.PreferNoHinting)
    return made


@lru_cache(maxsize=2048)
def text_width_px(text: str, size_px: int, weight: QFont.Weight = QFont.Weight.Normal) -> float:
    """Return how wide a text is drawn."""
    return QFontMetricsF(font(size_px, weight)).horizontalAdvance(text)


@lru_cache(maxsize=2048)
def elided(text: str, size_px: int, weight: QFont.Weight, room_px: float) -> str:
    """Return a text cut to a width, ending in an ellipsis where it was cut."""
    return QFontMetricsF(font(size_px, weight)).elidedText(text, Qt.TextElideMode.ElideRight, room_px)


@lru_cache(maxsize=2048)
def _set_text(text: str, size_px: int, weight: QFont.Weight) -> tuple[QStaticText, float]:
    made = QStaticText(text)
    made.setTextFormat(Qt.TextFormat.PlainText)
    made.setPerformanceHint(QStaticText.PerformanceHint.AggressiveCaching)
    made.prepare(QTransform(), font(size_px, weight))
    return made, QFontMetricsF(font(size_px, weight)).ascent()


def draw_text(
    painter: QPainter, x: float, baseline: float, text: str, size_px: int, weight: QFont.Weight = QFont.Weight.Normal
) -> None:
    """Draw a line of text in the painter's pen, set once and kept: the drawing's names change seldom."""
    made, ascent = _set_text(text, size_px, weight)
    painter.setFont(font(size_px, weight))
    painter.drawStaticText(QPointF(x, baseline - ascent), made)


REGULAR = QFont.Weight.Normal
MEDIUM = QFont.Weight.Medium
STRONG = QFont.Weight.DemiBold
