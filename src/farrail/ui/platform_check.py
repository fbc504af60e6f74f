"""What the window needs from the machine, checked before Qt is asked: a missing piece would abort without a word."""

import ctypes
import ctypes.util
import os

from farrail.errors import FarRailError
from farrail.language import N_

HEADLESS_WORDS = N_(
    "there is no display to open a window on; without one every command works, such as far-rail readout, "
    "far-rail plan, far-rail ask, far-rail picture and far-rail demo --save FILE (far-rail help lists them)."
)
# Library and the Debian package that brings it.
X11_LIBRARIES = (
    ("libxcb-cursor.so.0", "libxcb-cursor0"),
    ("libxcb-icccm.so.4", "libxcb-icccm4"),
    ("libxcb-keysyms.so.1", "libxcb-keysyms1"),
    ("libxcb-shape.so.0", "libxcb-shape0"),
    ("libxcb-image.so.0", "libxcb-image0"),
    ("libxcb-render-util.so.0", "libxcb-render-util0"),
    ("libxkbcommon-x11.so.0", "libxkbcommon-x11-0"),
)


def check_display() -> None:
    """Refuse to start where a window cannot open.

    Raises:
        FarRailError: no display, one that does not answer, or a system library that is missing.
    """
    platform = os.environ.get("QT_QPA_PLATFORM", "")
    if platform and not platform.startswith("xcb"):
        return
    if not platform and os.environ.get("WAYLAND_DISPLAY"):
        return
    if not os.environ.get("DISPLAY"):
        raise FarRailError("The window cannot open: {headless_words}", headless_words=HEADLESS_WORDS)
    missing = [package for library, package in X11_LIBRARIES if not _loads(library)]
    if missing:
        raise FarRailError(
            "The window cannot open: system libraries of Qt are missing; run: sudo apt-get "
            "install -y --no-install-recommends {listed}",
            listed=" ".join(missing),
        )
    if not _display_answers():
        shown = os.environ["DISPLAY"]
        raise FarRailError(
            "The window cannot open: the display {shown} does not answer; {headless_words}",
            shown=shown,
            headless_words=HEADLESS_WORDS,
        )


def _loads(library: str) -> bool:
    try:
        ctypes.CDLL(library)
    except OSError:
        return False
    return True


def _display_answers() -> bool:
    """Ask the X server for a connection the way Qt will."""
    try:
        xcb = ctypes.CDLL("libxcb.so.1")
    except OSError:
        return False
    xcb.xcb_connect.restype = ctypes.c_void_p
    xcb.xcb_connect.argtypes = [ctypes.c_char_p, ctypes.c_void_p]
    xcb.xcb_connection_has_error.argtypes = [ctypes.c_void_p]
    xcb.xcb_disconnect.argtypes = [ctypes.c_void_p]
    connection = xcb.xcb_connect(None, None)
    failed = bool(xcb.xcb_connection_has_error(connection))
    xcb.xcb_disconnect(connection)
    return not failed
