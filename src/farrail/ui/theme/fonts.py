"""The shipped typeface: Inter with tabular figures, DejaVu Sans for what it lacks."""

from importlib.resources import as_file, files

from PySide6.QtGui import QFont, QFontDatabase

FAMILY = "Inter"
FALLBACK = "DejaVu Sans"
_FILES = ("Inter-Regular.otf", "Inter-Medium.otf", "Inter-SemiBold.otf", "DejaVuSans.ttf")


def load_fonts() -> None:
    """Register the fonts that ship with the package; call once, after the application object exists."""
    folder = files("farrail").joinpath("assets", "fonts")
    for name in _FILES:
        with as_file(folder.joinpath(name)) as path:
            QFontDatabase.addApplicationFont(str(path))


def font(size_px: int = 13, weight: QFont.Weight = QFont.Weight.Normal) -> QFont:
    """Return the interface's font at a pixel size, its figures all of one width."""
    made = QFont()
    made.setFamilies([FAMILY, FALLBACK])
    made.setPixelSize(size_px)
    made.setWeight(weight)
    made.setFeature(QFont.Tag("tnum"), 1)
    made.setHintingPreference(QFont.HintingPreference.PreferNoHinting)
    return made


MEDIUM = QFont.Weight.Medium
STRONG = QFont.Weight.DemiBold
