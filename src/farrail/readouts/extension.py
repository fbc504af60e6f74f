"""Extension: what stands between a lens and its camera on purpose, and what it does to the cone of light."""

from dataclasses import dataclass

from farrail.parts.kinds import Bellows, CameraLens, ExtensionTube, ReversingRing, Teleconverter
from farrail.parts.provenance import Origin, weakest
from farrail.train.layout import Layout

MEANT = (ExtensionTube, Bellows, ReversingRing)


@dataclass(frozen=True)
class Extension:
    """What a lens's flange distance grows by on purpose.

    Attributes:
        tubes_mm: extension tubes, bellows and rings, before or behind a teleconverter.
        behind_mm: of these, what stands behind the teleconverter.
        carried_mm: the teleconverter's own length, which keeps the lens's distance.
        words: the lengths as a sum, "" where there is none.
        origin: the weakest of them.
    """

    tubes_mm: float = 0.0
    behind_mm: float = 0.0
    carried_mm: float = 0.0
    words: str = ""
    origin: Origin = Origin.MEASURED

    @property
    def whole_mm(self) -> float:
        """By how much the camera stands farther away than without."""
        return self.tubes_mm + self.carried_mm


def extension_of(layout: Layout) -> Extension:
    """Return a train's extension; nothing for a telescope or with a corrector."""
    if not isinstance(layout.optic, CameraLens) or layout.corrector is not None:
        return Extension()
    tubes, behind, carried = 0.0, 0.0, 0.0
    words, origins = [], []
    for placed in layout.rear:
        length = placed.length.value
        if isinstance(placed.part, Teleconverter):
            carried += length
        elif isinstance(placed.part, MEANT):
            tubes += length
            behind += length if carried else 0.0
        else:
            continue
        words.append(f"{length:.2f}")
        origins.append(placed.length.origin)
    return Extension(tubes, behind, carried, " + ".join(words), weakest(origins))


def native_distance_mm(lens: CameraLens, converter: Teleconverter) -> float:
    """Return how far before the sensor a teleconverter acts with the camera on its rear: from its middle on."""
    return converter.path_length_mm.value / 2.0 + lens.flange_focal_distance_mm.value


def teleconverter_of(layout: Layout) -> Teleconverter | None:
    """Return a train's teleconverter, the first where there are several."""
    return next((p.part for p in layout.rear if isinstance(p.part, Teleconverter)), None)
