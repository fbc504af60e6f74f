"""What is between a guider's port and its guide camera, from the shelf, so that both cameras focus together."""

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass, replace

from farrail.cancel import Cancel
from farrail.language import say
from farrail.parts.connections import Connection, Gender
from farrail.parts.inventory_item import PartId
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.guiders import OffAxisGuider
from farrail.parts.registry import Part
from farrail.planning.pieces import Task, microns, pieces_at_hand, useful
from farrail.planning.search import Window, search
from farrail.readouts.spacing.focuser_and_guider import GUIDE_TOLERANCE_MM, Guiding, guiding_of, hung_mm
from farrail.train.layout import Layout, build_layout
from farrail.train.train import GuidePort, Train


@dataclass(frozen=True)
class GuideWay:
    """What to place on a guide port.

    Attributes:
        guider: the guider's name.
        camera: the guide camera's name.
        names: what is between, from the port on; empty where the camera sits on the port itself.
        train: the train with it; None where nothing available does.
        error_mm: what is then left, the port drawn out as far as helps; what there is room for where nothing does.
    """

    guider: str
    camera: str
    names: tuple[str, ...]
    train: Train | None
    error_mm: float


def guide_ways(train: Train, shelf: Mapping[PartId, Part], cancel: Cancel | None = None) -> tuple[GuideWay, ...]:
    """Return what to place on each guide port of a train that has a guide camera and is not in focus as it hangs.

    Raises:
        Undecided: cancelled, or out of time.
    """
    layout = build_layout(train, shelf)
    ways = (_way(layout, guide, shelf, cancel) for guide in guiding_of(layout))
    return tuple(way for way in ways if way is not None)


def refusal_of(way: GuideWay) -> str:
    """Return why nothing available brings a guide camera into focus, in a sentence; "" where something does."""
    if way.train is not None:
        return ""
    if way.error_mm < 0.0:
        return say(
            "{camera} is {error_mm:.1f mm} too long for the port of {guider}.",
            camera=way.camera,
            error_mm=-way.error_mm,
            guider=way.guider,
        )
    return say(
        "None of your spacers fills the {error_mm:.2f mm} between the port of {guider} and {camera}.",
        error_mm=way.error_mm,
        guider=way.guider,
        camera=way.camera,
    )


def _way(layout: Layout, guide: Guiding, shelf: Mapping[PartId, Part], cancel: Cancel | None) -> GuideWay | None:
    index = guide.place.index
    placed = layout.rear[index]
    guider, port = placed.part, placed.laid.guide
    camera = shelf.get(port.camera) if port is not None else None
    if not isinstance(guider, OffAxisGuider) or not isinstance(camera, Camera) or guide.hung is None:
        return None
    if guide.hung.focuses and guide.hung.misfit is None:
        return None
    # A port whose thread nothing was entered is taken to fit the camera.
    start = guider.guide_connection or _mate(camera.front)
    own, aim = hung_mm(camera), guide.spacing_mm
    task = Task(layout, (), (), (), start, camera.front, microns(own), frozenset())
    travel = guider.guide_travel_mm.value if guider.guide_travel_mm is not None else 0.0
    low, high = aim - travel - GUIDE_TOLERANCE_MM, aim + GUIDE_TOLERANCE_MM
    window = Window(microns(low), microns(high), microns(min(max(aim - travel / 2.0, low), high)))
    # What the train itself holds is not available, what hangs on this port now is.
    held = Counter(layout.train.part_ids()) - Counter(port.between if port is not None else ())
    pieces = [replace(p, stock=p.stock - held[p.part.id]) for p in pieces_at_hand(shelf, task)]
    pieces = useful([p for p in pieces if p.stock > 0 and p.shortest_um == p.longest_um], task)
    found = search(task, pieces, window, cancel=cancel)
    if found is None:
        return GuideWay(guide.name, camera.name, (), None, aim - own)
    laid = tuple(piece.part.id for piece, _ in found.gaps[0])
    hung = placed.laid.model_copy(update={"guide": GuidePort(camera=camera.id, between=laid)})
    rows = tuple(hung if n == index else one for n, one in enumerate(layout.train.rear_train))
    with_it = layout.train.model_copy(update={"rear_train": rows})
    after = next(g for g in guiding_of(build_layout(with_it, shelf)) if g.place.index == index)
    assert after.hung is not None
    names = tuple(piece.part.name for piece, _ in found.gaps[0])
    return GuideWay(guide.name, camera.name, names, with_it, after.hung.error_mm)


def _mate(connection: Connection) -> Connection:
    """Return the other half of a connection."""
    halves = {Gender.EXTERNAL: Gender.INTERNAL, Gender.INTERNAL: Gender.EXTERNAL}
    return connection.model_copy(update={"gender": halves.get(connection.gender, connection.gender)})
