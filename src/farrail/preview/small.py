"""A small picture of a train's photo, for paper and pages."""

from io import BytesIO

import numpy as np

from farrail.errors import FarRailError
from farrail.preview.model import FramePreview, PreviewSettings, frame_preview, usual_scene
from farrail.readouts.read import Readout

QUALITY = 88


def small_photo(readout: Readout, columns: int) -> FramePreview | None:
    """Return the photo a train takes of the scene that suits it; None where it takes none."""
    if readout.layout.camera is None:
        return None
    try:
        return frame_preview(readout, PreviewSettings(usual_scene(readout)), columns)
    except FarRailError:
        return None


def jpeg_of(made: FramePreview) -> bytes:
    """Return a photo as JPEG."""
    from PIL import Image

    buffer = BytesIO()
    Image.fromarray(np.ascontiguousarray(made.shown)).save(buffer, "JPEG", quality=QUALITY)
    return buffer.getvalue()
