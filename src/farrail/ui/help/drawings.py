"""A drawing for each page of the help, by the rail's own painter, of trains of the demo."""

import tempfile
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

from PySide6.QtCore import QPoint
from PySide6.QtGui import QImage

from farrail.language import N_, Message

# As wide and high as a drawing is on a page, and drawn so many times as fine.
WIDE_PX, HIGH_PX, FINE = 540, 236, 2
# The rail is so wide before it is made smaller: its words stay in proportion.
RAIL_PX = (900, 393)
SCHEME = "drawing"


@dataclass(frozen=True)
class Drawing:
    """What is drawn on a page.

    Attributes:
        train: id of a train of the demo.
        caption: what to see in it.
    """

    train: str
    caption: Message


DRAWINGS: dict[str, Drawing] = {
    "start": Drawing("lantern-wheel", N_(
        "A train on the rail: the telescope at the left, each part at its place and to scale, the camera "
        "at the right."
    )),
    "questions": Drawing("witch-broom-short", N_(
        "A train that is too short: the line “actual” ends before the line “required”. The difference is "
        "what is missing."
    )),
    "tables": Drawing("brae-cooled", N_(
        "Lens, adapter and camera: the flange focal distance runs from the lens mount, 0 on the ruler, to "
        "the sensor."
    )),
    "rail": Drawing("witch-broom", N_(
        "Diamonds on the axis are joints: click one to see what fits there. Above each part are its name "
        "and length."
    )),
    "parts": Drawing("brae-held", N_(
        "Each part is drawn from its own values: length, outer diameter, clear aperture, and the threads "
        "at both ends."
    )),
    "back-focus": Drawing("lantern-wheel", N_(
        "Back focus is counted from the rear of the corrector, 0 on the ruler, to the sensor. A third of "
        "the filter's thickness is added, since glass moves the focus back."
    )),
    "spacing-plan": Drawing("witch-broom-short", N_(
        "The gap between “actual” and “required” is what a combination of spacers has to fill."
    )),
    "map": Drawing("lantern-apsc", N_(
        "The upper bundle of light goes to the corner. Where it is wider than an opening, that part "
        "darkens the corner."
    )),
    "photo": Drawing("sea-stacks", N_(
        "The photo is made from this drawing: each opening ahead of the lens cuts its share of the light "
        "to the corner."
    )),
    "front": Drawing("sea-stacks", N_(
        "Filters ahead of a wide-angle lens: the corner's light passes far from the axis, so the foremost "
        "opening cuts first."
    )),
    "entrance-pupil": Drawing("sea-stacks-slim", N_(
        "The corner's light runs toward the entrance pupil, inside the lens. The deeper the pupil, the "
        "wider the filters."
    )),
    "close-up": Drawing("barnacles", N_(
        "A tube between lens and camera moves the lens away from the sensor: closer focus, larger "
        "subject."
    )),
    "exposure": Drawing("sea-stacks-slim", N_(
        "Each filter in the light takes its stops; the sum is how much longer the exposure is."
    )),
    "build": Drawing("lantern-reversed", N_(
        "A train goes together from the optic to the camera. Which way a wheel faces changes where its "
        "filters are."
    )),
    "log": Drawing("brae-held", N_(
        "An entry keeps the train as it was placed that day, so an old evening is compared with the train "
        "of then."
    )),
    "frames": Drawing("lantern-apsc", N_(
        "A flat shows the shadow of the narrowest opening, and from its edge how far ahead of the sensor "
        "that is."
    )),
    "findings": Drawing("witch-broom-short", N_(
        "A finding points at its part or joint on the rail when you click it."
    )),
    "compare": Drawing("lantern-reversed", N_(
        "Two trains are compared at one scale; this one has its wheel the other way round."
    )),
    "figures": Drawing("lantern-wheel", N_(
        "Lengths are counted along the axis from the datum, 0 on the ruler; to the right is positive."
    )),
    "glossary": Drawing("brae-cooled", N_(
        "From left to right: lens, adapter, camera. The axis is the line through all of them."
    )),
}  # fmt: skip


def drawing_of(key: str, theme: str, unit: str, language: str) -> QImage | None:
    """Return the drawing of a page; None for a page without one.

    Args:
        key: the page's.
        theme: name of the theme it is drawn in.
        unit: the unit that lengths are shown in.
        language: of its words.
    """
    return _drawn(key, theme, unit, language) if key in DRAWINGS else None


@lru_cache(maxsize=40)
def _drawn(key: str, theme: str, unit: str, language: str) -> QImage:  # noqa: ARG001 (drawn again for each)
    from farrail.demo.hallan_skerry import demo_workbook
    from farrail.ui.rail.view import RailView
    from farrail.ui.session import Session

    session = Session(demo_workbook(), Path(tempfile.gettempdir()))
    session.show_train(DRAWINGS[key].train)
    rail = RailView(session)
    rail.resize(*RAIL_PX)
    image = QImage(WIDE_PX * FINE, HIGH_PX * FINE, QImage.Format.Format_ARGB32_Premultiplied)
    image.fill(0)
    image.setDevicePixelRatio(image.width() / RAIL_PX[0])
    rail.render(image, QPoint(0, 0))
    image.setDevicePixelRatio(FINE)
    rail.deleteLater()
    session.deleteLater()
    return image
