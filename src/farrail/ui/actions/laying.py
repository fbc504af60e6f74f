"""Adding parts by hand: at a joint, behind what is picked, or as a filter into the seat under the hand."""

from collections.abc import Callable, Mapping
from functools import partial

from PySide6.QtWidgets import QMenu

from farrail.language import say
from farrail.parts.connections import Plain
from farrail.parts.inventory_item import PartId
from farrail.parts.kinds.ahead import CouplingRing, FilterHolder, HolderRing, Hood
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.cases import Case
from farrail.parts.kinds.closer import CloseUpLens, ReversingRing
from farrail.parts.kinds.filters import RoundFilter, SheetFilter
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.seats import FilterSeat, FilterWheel
from farrail.parts.registry import Part
from farrail.planning.belonging import Belongs, places_for
from farrail.train.train import GuidePort, Side, Train
from farrail.ui.selection import Selection
from farrail.ui.session import Session
from farrail.ui.widgets.plain import plain_title
from farrail.workbook.edits.front import CarryLens, SetDropIn, SetSheet
from farrail.workbook.edits.laying import LayPart, SetFilter, SetGuide, SetInBeam, can_lie
from farrail.workbook.edits.shelf import AddPart
from farrail.workbook.edits.trains import SetCamera, SetOptic

# What only ever is ahead of a lens.
# So many other places are offered.
MOST_PLACES = 3
FRONT_KINDS = (CloseUpLens, CouplingRing, FilterHolder, HolderRing, Hood)


def lay_at(session: Session, part_id: str, side: Side, index: int, *, flipped: bool = False) -> bool:
    """Place a part of the shelf at a joint and pick it."""
    train, part = session.train, session.workbook.by_id.get(part_id)
    if train is None or part is None:
        return False
    if not session.do(LayPart(train.id, part_id, index, side, flipped, label=say("Add {name}", name=part.name))):
        return False
    session.select(Selection(side, index))
    return True


def from_elsewhere(session: Session, part: Part, put: Callable[[PartId], object]) -> None:
    """Put a dragged part somewhere; one from another workbook comes on to the shelf first, with its provenance.

    Where the shelf has another part of that name, it asks which of them is meant.

    Args:
        session: the workbook it was dropped on.
        part: as it was dragged.
        put: puts a part of the shelf where it was dropped.
    """
    shelf = session.workbook.by_id
    if shelf.get(part.id) == part:
        put(part.id)
        return

    def add() -> None:
        # An id that is taken by another part gives way to a new one.
        before = set(session.workbook.by_id)
        if session.do(AddPart(part, label=say("Add {name}", name=part.name))):
            added = next(iter(set(session.workbook.by_id) - before), None)
            if added is not None:
                put(added)

    alike = next((one for one in shelf.values() if one.name == part.name and one.kind == part.kind), None)
    if alike is None:
        add()
    elif alike.model_copy(update={"id": part.id}) == part:
        put(alike.id)
    else:
        session.asked.emit(
            say("The shelf has another {name}, with other values.", name=part.name),
            (
                (say("Use the one on the shelf"), "drop_own", lambda: put(alike.id)),
                (say("Add the dragged one"), "drop_other", add),
            ),
        )


def lay_by_choice(session: Session, part_id: str) -> bool:
    """Use a part where the selection says: an optic or camera is exchanged, a bare filter goes into the picked seat."""
    train, part = session.train, session.workbook.by_id.get(part_id)
    if train is None or part is None:
        return False
    if isinstance(part, Case):
        session.message.emit(say("{name} is not part of a train; the pack list uses it.", name=part.name), True)
        return False
    if part.kind == "camera":
        return session.do(SetCamera(train.id, part.id, label=say("Use {name}", name=part.name)))
    if isinstance(part, CameraLens) and carry(session, part):
        return True
    picked = session.selection
    if isinstance(part, SheetFilter):
        if not picked.empty and not picked.joint and picked.side is Side.FRONT:
            return slide_in(session, part)
        return lay_where_it_belongs(session, part)
    if not can_lie(part):
        return session.do(SetOptic(train.id, part.id, label=say("Use {name}", name=part.name)))
    if not picked.empty and not picked.joint:
        if picked.side is Side.REAR and put_in_seat(session, part_id, picked.index):
            return True
        if picked.side is Side.FRONT and drop_in(session, part_id, picked.index):
            return True
    if picked.empty:
        return lay_where_it_belongs(session, part)
    return lay_at(session, part_id, picked.side, picked.index + (0 if picked.joint else 1))


def lay_where_it_belongs(session: Session, part: Part) -> bool:
    """Add a part where it mates, and offer the other such places; where there is none, say why."""
    train, shelf = session.train, session.workbook.by_id
    if train is None:
        return False
    places = places_for(train, shelf, part)
    if places:
        if not lay_in(session, part, places[0]):
            return False
        if len(places) > 1:
            _offer_elsewhere(session, part, train, places)
        return True
    if isinstance(part, SheetFilter):
        return slide_in(session, part)
    side = Side.FRONT if isinstance(part, FRONT_KINDS) else Side.REAR
    ends = say(" and ").join(end.label for end in part.ends if end is not None)
    session.asked.emit(
        say(
            "{name} ({ends}) mates with nothing that is free on this train; an adapter may be missing.",
            name=part.name,
            ends=ends,
        ),
        ((say("Add it anyway"), "lay_anyway", lambda: lay_at(session, part.id, side, len(train.row(side)))),),
    )
    return False


def _offer_elsewhere(session: Session, part: Part, train: Train, places: tuple[Belongs, ...]) -> None:
    """Offer the other places where a part just placed would go too."""
    shelf, laid = session.workbook.by_id, session.workbook

    def move(place: Belongs) -> None:
        if session.workbook is not laid:
            session.message.emit(say("The train has changed since; move the part on the rail."), True)
            return
        session.undo()
        lay_in(session, part, place)

    choices = [
        (place_name(train, shelf, place), f"lay_place_{number}", partial(move, place))
        for number, place in enumerate(places[1 : MOST_PLACES + 1], start=1)
    ]
    session.asked.emit(
        say("Added {place_name}. It also fits elsewhere:", place_name=place_name(train, shelf, places[0])),
        tuple(choices),
    )


def lay_in(session: Session, part: Part, place: Belongs) -> bool:
    """Place a part in a place it belongs to: at a joint, or in a seat or slot."""
    train, shelf = session.train, session.workbook.by_id
    if train is None or place.slot is None:
        return lay_at(session, part.id, place.side, place.index, flipped=place.flipped)
    holder = shelf[train.row(place.side)[place.index].part].name
    if place.side is Side.FRONT:
        label = say("Slide {name} into slot {slot}", name=part.name, slot=place.slot + 1)
        return session.do(SetSheet(train.id, place.index, place.slot, part.id, label=label))
    return session.do(
        SetFilter(
            train.id,
            place.index,
            place.slot,
            part.id,
            label=say("Put {name} into {holder}", name=part.name, holder=holder),
        )
    )


def place_name(train: Train, shelf: Mapping[str, Part], place: Belongs) -> str:
    """Return what a place is called: what it is in, or what it is behind."""
    row = train.row(place.side)
    if place.slot is not None:
        return say("into {name}", name=shelf[row[place.index].part].name)
    beside = shelf[row[place.index - 1].part] if place.index else shelf[train.optic]
    ahead = place.side is Side.FRONT
    return say("ahead of {name}", name=beside.name) if ahead else say("behind {name}", name=beside.name)


def carry(session: Session, lens: CameraLens) -> bool:
    """Screw a lens, flipped, on the reversing ring picked in the front stack; False where none is picked."""
    train, picked = session.train, session.selection
    if train is None or picked.joint or picked.side is not Side.FRONT or not 0 <= picked.index < len(train.front_stack):
        return False
    if not isinstance(session.workbook.by_id[train.front_stack[picked.index].part], ReversingRing):
        return False
    session.do(CarryLens(train.id, picked.index, lens.id, label=say("Screw {name} on, reversed", name=lens.name)))
    return True


def fill_ring_menu(menu: QMenu, session: Session, index: int) -> None:
    """Fill a menu with the lenses a reversing ring may carry."""
    train, shelf = session.train, session.workbook.by_id
    if train is None:
        return
    for part in shelf.values():
        if isinstance(part, CameraLens) and part.can_be_reversed:
            edit = CarryLens(train.id, index, part.id, label=say("Screw {name} on, reversed", name=part.name))
            menu.addAction(plain_title(part.name)).triggered.connect(lambda _=False, e=edit: session.do(e))
    if train.front_stack[index].lens is not None:
        gone = CarryLens(train.id, index, None, label=say("Take the lens off the ring"))
        menu.addSeparator()
        menu.addAction(say("Take it off")).triggered.connect(lambda: session.do(gone))


def fill_guide_menu(menu: QMenu, session: Session, index: int) -> None:
    """Fill a menu with the cameras that may hang on a guider's port."""
    train, shelf = session.train, session.workbook.by_id
    if train is None:
        return
    laid = train.rear_train[index]
    for part in shelf.values():
        if isinstance(part, Camera) and part.id != train.camera:
            between = laid.guide.between if laid.guide is not None else ()
            port = GuidePort(camera=part.id, between=between)
            edit = SetGuide(train.id, index, port, label=say("Hang {name} on the guide port", name=part.name))
            action = menu.addAction(plain_title(part.name))
            action.setCheckable(True)
            action.setChecked(laid.guide is not None and laid.guide.camera == part.id)
            action.triggered.connect(lambda _=False, e=edit: session.do(e))
    if laid.guide is not None:
        menu.addSeparator()
        gone = SetGuide(train.id, index, None, label=say("Take the guide camera off"))
        menu.addAction(say("Take it off")).triggered.connect(lambda: session.do(gone))
        if laid.guide.between:
            bare = SetGuide(train.id, index, GuidePort(camera=laid.guide.camera), label=say("Empty the guide port"))
            names = " + ".join(shelf[part].name for part in laid.guide.between)
            menu.addAction(plain_title(say("Take out {names}", names=names))).triggered.connect(
                lambda: session.do(bare)
            )


def put_in_seat(session: Session, part_id: str, index: int) -> bool:
    """Put an unmounted filter into the drawer or wheel at a place of the rear train; False where that is not it."""
    train, part = session.train, session.workbook.by_id.get(part_id)
    if train is None or not isinstance(part, RoundFilter) or not 0 <= index < len(train.rear_train):
        return False
    laid = train.rear_train[index]
    seat = session.workbook.by_id[laid.part]
    if not isinstance(seat, FilterSeat) or not isinstance(part.front.standard, Plain):
        return False
    slot = len(laid.filters)
    if isinstance(seat, FilterWheel):
        slot = laid.filters.index(None) if None in laid.filters else laid.in_beam
    return session.do(
        SetFilter(
            train.id, index, slot, part.id, label=say("Put {name} into {name_2}", name=part.name, name_2=seat.name)
        )
    )


def slide_in(session: Session, sheet: SheetFilter) -> bool:
    """Slide a sheet into the picked holder's first empty slot, or the front stack's first one that has any."""
    train, shelf = session.train, session.workbook.by_id
    if train is None:
        return False
    picked = session.selection
    places = list(range(len(train.front_stack)))
    if picked.side is Side.FRONT and not picked.joint and picked.index in places:
        places.insert(0, picked.index)
    for index in places:
        laid, holder = train.front_stack[index], shelf[train.front_stack[index].part]
        if not isinstance(holder, FilterHolder):
            continue
        filters = [*laid.filters, *(None,) * holder.slots][: holder.slots]
        if None in filters:
            slot = filters.index(None)
            label = say("Slide {name} into slot {slot}", name=sheet.name, slot=slot + 1)
            return session.do(SetSheet(train.id, index, slot, sheet.id, label=label))
    session.message.emit(
        say("No slot is free for {name}: add a holder in front of the lens, or empty a slot.", name=sheet.name), True
    )
    return False


def drop_in(session: Session, part_id: str, index: int) -> bool:
    """Drop a bare round filter into the holder at a place of the front stack; False where that is not it."""
    train, part = session.train, session.workbook.by_id.get(part_id)
    if train is None or not isinstance(part, RoundFilter) or not 0 <= index < len(train.front_stack):
        return False
    holder = session.workbook.by_id[train.front_stack[index].part]
    if not isinstance(holder, FilterHolder) or not isinstance(part.front.standard, Plain):
        return False
    return session.do(
        SetDropIn(train.id, index, part.id, label=say("Drop {name} into {name_2}", name=part.name, name_2=holder.name))
    )


def fill_holder_menu(menu: QMenu, session: Session, index: int) -> None:
    """Fill a menu with a holder's slots and its drop-in: exchange or empty each."""
    train, shelf = session.train, session.workbook.by_id
    if train is None:
        return
    laid, holder = train.front_stack[index], shelf[train.front_stack[index].part]
    if not isinstance(holder, FilterHolder):
        return
    filters = [*laid.filters, *(None,) * holder.slots][: holder.slots]
    for slot, sheet_id in enumerate(filters):
        name = shelf[sheet_id].name if sheet_id is not None else say("empty")
        sub = menu.addMenu(plain_title(say("Slot {slot}  {name}", slot=slot + 1, name=name)))
        for part in shelf.values():
            if isinstance(part, SheetFilter):
                edit = SetSheet(
                    train.id,
                    index,
                    slot,
                    part.id,
                    label=say("Slide {name} into slot {slot}", name=part.name, slot=slot + 1),
                )
                sub.addAction(plain_title(part.name)).triggered.connect(lambda _=False, e=edit: session.do(e))
        if sheet_id is not None:
            out = SetSheet(train.id, index, slot, None, label=say("Take {name} out", name=name))
            sub.addSeparator()
            sub.addAction(say("Take it out")).triggered.connect(lambda _=False, e=out: session.do(e))
    if holder.drop_in_mm is None:
        return
    name = shelf[laid.drop_in].name if laid.drop_in is not None else say("empty")
    sub = menu.addMenu(plain_title(say("Dropped in  {name}", name=name)))
    for part in shelf.values():
        if isinstance(part, RoundFilter) and isinstance(part.front.standard, Plain):
            put = SetDropIn(train.id, index, part.id, label=say("Drop {name} in", name=part.name))
            sub.addAction(plain_title(part.name)).triggered.connect(lambda _=False, e=put: session.do(e))
    if laid.drop_in is not None:
        gone = SetDropIn(train.id, index, None, label=say("Take {name} out", name=name))
        sub.addAction(say("Take it out")).triggered.connect(lambda _=False, e=gone: session.do(e))


def fill_slots_menu(menu: QMenu, session: Session, index: int) -> None:
    """Fill a menu with a seat's slots: turn one into the beam, exchange or empty it, or add a filter to the set."""
    train = session.train
    if train is None:
        return
    laid = train.rear_train[index]
    shelf = session.workbook.by_id
    filters = [p for p in shelf.values() if isinstance(p, RoundFilter)]
    wheel = isinstance(shelf[laid.part], FilterWheel)
    for slot, filter_id in enumerate(laid.filters):
        name = shelf[filter_id].name if filter_id is not None else say("empty")
        sub = menu.addMenu(plain_title(f"{slot + 1}  {name}{say('  (in the beam)') if slot == laid.in_beam else ''}"))
        if slot != laid.in_beam:
            turn = SetInBeam(train.id, index, slot, label=say("Turn {name} into the beam", name=name))
            sub.addAction(say("Turn into the beam")).triggered.connect(lambda _=False, e=turn: session.do(e))
            sub.addSeparator()
        _add_choices(sub, session, index, slot, filters)
        if filter_id is not None:
            out = SetFilter(train.id, index, slot, None, label=say("Take {name} out", name=name))
            sub.addSeparator()
            sub.addAction(say("Take it out")).triggered.connect(lambda _=False, e=out: session.do(e))
    if not wheel:
        _add_choices(menu.addMenu(say("Add a filter to the set")), session, index, len(laid.filters), filters)


def _add_choices(menu: QMenu, session: Session, index: int, slot: int, filters: list[RoundFilter]) -> None:
    train = session.train
    assert train is not None
    for part in filters:
        edit = SetFilter(
            train.id, index, slot, part.id, label=say("Put {name} into slot {slot}", name=part.name, slot=slot + 1)
        )
        menu.addAction(plain_title(part.name)).triggered.connect(lambda _=False, e=edit: session.do(e))
    if not filters:
        menu.addAction(say("No filters on the shelf")).setEnabled(False)
