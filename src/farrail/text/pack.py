"""What to pack, as plain rows: parts, the pouches and cases they go into, tools and small spares."""

from farrail.assembly.packing import Assignment, Packing, cases_of, packing_of, taken_for, with_cases
from farrail.assembly.steps import steps_of
from farrail.language import N_, say
from farrail.quantities import headed, mass_words
from farrail.readouts.read import Readout
from farrail.text.steps import TOOLS
from farrail.train.rows import Shelf

SPARES = N_("knobs, screws, a gasket, cloths, caps for every end")


def pack_rows(readouts: list[Readout], shelf: Shelf | None = None) -> list[dict[str, object]]:
    """Return what to pack for trains, shared parts once, then the tools their steps need and small spares.

    Each row has a key, what it is (case, part, tool, spares), a name, a count, a note, and `into`: the name of the
    pouch or case it goes into, "" for none.

    Args:
        readouts: the trains, read.
        shelf: where pouches and cases are; None: nothing is put into any.
    """
    taken = taken_for(readout.layout for readout in readouts)
    packing = _packing(taken, shelf)
    inside = {one.part.id for one in taken if one.count > one.loose}
    rows = _cased(packing)
    boxed = {part.id: count for packed in packing.packed for part, count in packed.pieces}
    for one in taken:
        count = one.count - boxed.get(one.part.id, 0)
        if count:
            notes = [_mass(one.part.mass_g), say("stays in its seat") if one.part.id in inside else ""]
            rows.append(_row("part", one.part.id, one.part.name, count, ", ".join(note for note in notes if note)))
    rows += [_row("tool", f"tool-{key}", headed(name)) for key, name in _tools(readouts).items()]
    return [*rows, _row("spares", "spares", say("Small spares"), note=str(SPARES))]


def _row(what: str, key: str, name: str, count: int = 1, note: str = "", into: str = "") -> dict[str, object]:
    return {"key": key, "what": what, "name": name, "count": count, "note": note, "into": into}


def _packing(taken: tuple[Assignment, ...], shelf: Shelf | None) -> Packing:
    return packing_of(taken, () if shelf is None else cases_of(shelf))


def _cased(packing: Packing) -> list[dict[str, object]]:
    """Return a row for each pouch or case in use, and after it one for each part that goes in."""
    rows = []
    for number, packed in enumerate(packing.packed, start=1):
        case = packed.case
        key = f"{case.id}-{number}"
        weight = "" if case.mass_g is None else f", {mass_words(case.mass_g)}"
        rows.append(
            _row(
                "case",
                key,
                case.name,
                note=say("{count} of {holds}{weight}", count=packed.count, holds=case.holds, weight=weight),
            )
        )
        rows += [
            _row("part", f"{key}:{part.id}", part.name, count, _mass(part.mass_g), case.name)
            for part, count in packed.pieces
        ]
    return rows


def _tools(readouts: list[Readout]) -> dict[str, str]:
    steps = [step for readout in readouts for step in steps_of(readout.layout)]
    return {step.tool.value: str(TOOLS[step.tool]) for step in steps if step.tool is not None}


def _mass(mass_g: float | None) -> str:
    return "" if mass_g is None else mass_words(mass_g)


def packed_mass(readouts: list[Readout], shelf: Shelf | None = None) -> str:
    """Return what all parts of trains and their cases weigh together.

    With it how many no one has weighed, and how many pieces found no place; "" where there is nothing to say.

    Args:
        readouts: the trains, read.
        shelf: where pouches and cases are; None: nothing is put into any.
    """
    taken = taken_for(readout.layout for readout in readouts)
    packing = _packing(taken, shelf)
    every = with_cases(packing, taken)
    known = sum(one.count * one.part.mass_g for one in every if one.part.mass_g is not None)
    missing = sum(one.count for one in every if one.part.mass_g is None)
    told = []
    if known and not missing:
        told.append(say("All parts together {mass_words}.", mass_words=mass_words(known)))
    elif known:
        are = say("part is") if missing == 1 else say("parts are")
        told.append(
            say(
                "What is weighed comes to {mass_words}; {missing} {are} not.",
                mass_words=mass_words(known),
                missing=missing,
                are=are,
            )
        )
    if packing.without_place:
        names = ", ".join(part.name for part, _ in packing.without_place)
        told.append(say("No place is left in a pouch or case for {names}.", names=names))
    return " ".join(told)
