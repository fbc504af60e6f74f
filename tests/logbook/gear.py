"""Made-up gear with known truth, and observations made of it by rules written here, not by the code under test."""

import math

from farrail.logbook.learning.model import Evidence
from farrail.logbook.observation import Observation
from farrail.logbook.state import State, kept_parts
from farrail.parts.connections import Bayonet, Connection, Gender, Plain, thread
from farrail.parts.glass import Plate
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.kinds.lenses import CameraLens, PupilAt
from farrail.parts.kinds.tubes import Adapter, Spacer
from farrail.parts.provenance import Quantity, assumed, measured
from farrail.parts.registry import Part
from farrail.train.train import MountedPart, Train

IN, OUT = Gender.INTERNAL, Gender.EXTERNAL
MOUNT = Bayonet(name="44 mm SLR bayonet", throat_mm=42.0)
DAY = "2026-10-03"
# Half the diagonal of 36 × 24 mm, as models.md has it.
CORNER_MM = math.hypot(18.0, 12.0)


def lens(depth: Quantity, *, zoom: bool = True, **more: object) -> CameraLens:
    pupils = (PupilAt(focal_mm=17.0, depth_mm=depth), PupilAt(focal_mm=35.0, depth_mm=depth)) if zoom else ()
    told = {"projection": "rectilinear", "pupil_walk_mm": measured(0.0), **more}
    return CameraLens(
        id="lens", name="Lens", outer_diameter_mm=88, barrel_length_mm=96.0,
        rear=Connection(standard=MOUNT, gender=OUT), front=thread(82, 0.75, IN),
        focal_length_mm=measured(17.0 if zoom else 28.0),
        longest_focal_mm=measured(35.0) if zoom else None, f_number=measured(2.8),
        flange_focal_distance_mm=measured(44.0), entrance_pupil_depth_mm=depth, entrance_pupils=pupils, **told,
    )  # fmt: skip


def tube(name: str, length: float, clear: Quantity) -> Adapter:
    """A plain tube ahead of a lens: its narrowest opening is as wide at both its ends."""
    return Adapter(
        id=name, name=name, outer_diameter_mm=clear.value + 8.0, front=thread(82, 0.75, IN), rear=thread(82, 0.75, OUT),
        path_length_mm=measured(length), clear_aperture_mm=clear,
    )  # fmt: skip


def body() -> Camera:
    return Camera(
        id="body", name="Body", outer_diameter_mm=96, front=Connection(standard=MOUNT, gender=IN),
        flange_to_sensor_mm=measured(44.0), sensor_width_mm=measured(36.0), sensor_height_mm=measured(24.0),
    )  # fmt: skip


def glass(name: str, **more: object) -> RoundFilter:
    rim = Connection(standard=Plain(diameter_mm=36), gender=Gender.NONE)
    return RoundFilter(
        id=name, name=name, outer_diameter_mm=36, front=rim, rear=rim, path_length_mm=measured(2.0),
        glass=Plate(thickness_mm=measured(2.0), index=measured(1.5168)), **more,
    )  # fmt: skip


def spacer(name: str, length: Quantity) -> Spacer:
    end = thread(42, 0.75, OUT)
    return Spacer(id=name, name=name, outer_diameter_mm=50, front=thread(42, 0.75, IN), rear=end, path_length_mm=length)


def stack(*front: str, rear: tuple[str, ...] = (), name: str = "t") -> Train:
    return Train(
        id=name, name=name, optic="lens", front_stack=tuple(MountedPart(part=part) for part in front),
        rear_train=tuple(MountedPart(part=part) for part in rear), camera="body",
    )  # fmt: skip


def evidence(trains: list[Train], parts: list[Part], log: list[Observation]) -> Evidence:
    shelf = {part.id: part for part in parts}
    states = {t.id: State(id=t.id, day=DAY, train=t, parts=kept_parts(t, shelf)) for t in trains}
    return Evidence(log, states, shelf)


def focal_where_it_shows(radius: float, ahead: float, depth: float, n: float, touch: float, corner: float) -> float:
    """Solve (E + z)·h/f + k·f/(2N) = r for f by hand: a quadratic, its longer root.

    k·f²/(2N) − r·f + (E + z)·h = 0; with k = 0 it is f = (E + z)·h/r.
    """
    lever = (depth + ahead) * corner
    a = touch / (2.0 * n)
    if abs(a) < 1e-12:
        return lever / radius
    root = math.sqrt(radius * radius - 4.0 * a * lever)
    both = [(radius - root) / (2.0 * a), (radius + root) / (2.0 * a)]
    return min(f for f in both if f > 0.0)


UNKNOWN = assumed(27.0)
