"""Photos and scenes as small as tell one from another: tests of other things need not wait for them."""

from farrail.preview import tiles
from farrail.ui.widgets import photo_frame

SMALL_PX, WHOLE_PX = 64, photo_frame.MOST_PX


def small_photos() -> None:
    """Make photos few pixels wide, of scenes in few points."""
    tiles.QUICK, tiles.FINE = (96, 64), (192, 128)
    photo_frame.MOST_PX = SMALL_PX
