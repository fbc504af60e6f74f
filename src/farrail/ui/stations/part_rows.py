"""The rows of a part's sheet, group by group, and the edit that typing over one of them means."""

from typing import Any

from farrail import lengths
from farrail.errors import BadInput, EditRefused
from farrail.exchange.cells import read_cell, written
from farrail.language import N_, say, word
from farrail.parts.choice_names import choice_name
from farrail.parts.connections import Connection
from farrail.parts.fields import Offered, PartField, Shape, field_at, offered_fields, value_at
from farrail.parts.groups import HEADINGS
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, Reading, Span
from farrail.parts.registry import Part
from farrail.parts.written import plain_text, read_pair
from farrail.parts.written_ends import connection_typed, parse_connection
from farrail.quantities import as_typed, inches, typed_text
from farrail.ui.widgets.ledger_rows import Cell, Row
from farrail.ui.widgets.row_keys import FieldKey, Heading, ValueKey
from farrail.ui.widgets.value_card import quantity_text
from farrail.workbook.edits.figures import Forget, SetFigures
from farrail.workbook.edits.several import Several
from farrail.workbook.edits.shelf import SetField, SetKitPrice, parse_reading
from farrail.workbook.edits.typed import parse_shift, parse_value
from farrail.workbook.history import Edit
from farrail.workbook.routes.question import several
from farrail.workbook.workbook import Workbook

ANSWERS = {True: N_("yes"), False: N_("no"), None: N_("maker silent")}
# As files have them; the window's own words are read besides.
_FILED = {"yes": True, "no": False, "silent": None, "maker silent": None}
NONE, NOT_KNOWN = N_("none"), (N_("not known"), "unknown", "?", "–")
KIT_PRICE = "kit_price"


def sheet_rows(part: Part, workbook: Workbook, first: str = "") -> list[Row]:
    """Return every field of a part under the headings of its groups.

    Args:
        part: the part.
        workbook: where it is kept.
        first: path of the value that decides a verdict now; it is marked to be measured first.
    """
    rows: list[Row] = []
    group = None
    for offered in offered_fields(part):
        field = offered.field
        if field.group is not group:
            group = field.group
            name = HEADINGS[group]
            rows.append(Row((Cell(str(name), strong=True), Cell(""), Cell("")), Heading(str(name)), heavy=True))
        if field.shape is Shape.QUANTITY:
            rows.append(_value_row(offered, field.path == first))
        elif field.shape is Shape.CONNECTION:
            rows.append(_connection_row(offered))
        else:
            rows.append(_plain_row(field, offered.value))
        if field.path == "kit" and offered.value:
            cost = workbook.kit_prices.get(offered.value)
            rows.append(
                _row(
                    say("Price of the whole kit"),
                    "" if cost is None else say("{cost:g}", cost=cost),
                    KIT_PRICE,
                    clears=True,
                )
            )
    return rows


def _shown(field: PartField, value: Any) -> str:
    if field.shape in (Shape.YES_OR_NO, Shape.YES_NO_OR_SILENT):
        return str(ANSWERS[value])
    if value is None or value == ():
        return ""
    if field.shape is Shape.CHOICE:
        return choice_name(str(value))
    return say("{value:g}", value=value) if field.shape is Shape.NUMBER else written(field, value)


def edit_of(part: Part, path: str, text: str, workbook: Workbook, origin: Origin) -> Edit:
    """Return the edit that typing a text over a row means.

    Raises:
        BadInput: the text is no value of that kind.
        EditRefused: likewise.
    """
    label = say("Edit {name}", name=part.name)
    if path == KIT_PRICE:
        return SetKitPrice(part.kit, _number(text), label=say("Price {kit}", kit=part.kit))
    field = field_at(type(part), path)
    if field is None:
        raise EditRefused("{name} has no value “{path}”.", name=part.name, path=path)
    empty = not text.strip() or text.strip().casefold() in map(str, NOT_KNOWN)
    if empty and field.shape in (Shape.QUANTITY, Shape.CONNECTION, Shape.TABLE, Shape.NUMBER):
        return Forget(part.id, path, label=say("{label} of {name} not known", label=field.label, name=part.name))
    if field.shape is Shape.QUANTITY:
        known = value_at(part, path)[1]
        span = known.in_use if isinstance(known, Quantity) else None
        if isinstance(span, Span) and text.strip() == edit_text(known, field.unit, stays_mm=field.stays_mm):
            # An interval left as its editor showed it keeps its own ends, which inches round.
            text = f"{span.low!r} to {span.high!r}{f' {field.unit}' if field.unit == 'mm' else ''}"
        elif field.unit == "mm" and isinstance(known, Quantity):
            text = as_typed(text, known.value, known.tolerance, stays_mm=field.stays_mm)
        elif field.unit == "mm" and not field.stays_mm:
            text = lengths.as_shown(text)
        return _figures(part, path, text, origin)
    if field.shape is Shape.NUMBER and field.path.endswith("_mm"):
        text = lengths.as_shown(text)
    return SetField(part.id, path, _parsed(field, text, workbook), label=label)


def _figures(part: Part, path: str, text: str, origin: Origin) -> Edit:
    measured = origin is Origin.MEASURED
    label = say("Measure {name}", name=part.name) if measured else say("Edit {name}", name=part.name)
    sides = ("sensor_width_mm", "sensor_height_mm")
    if path in sides and any(mark in text.casefold() for mark in ("x", "×", "by")):
        readings = [parse_value(path, say("{mm:g}", mm=mm), origin) for mm in read_pair(text)]
        return Several(tuple(SetFigures(part.id, side, (r,)) for side, r in zip(sides, readings, strict=True)), label)
    if path.endswith("focus_shift_mm"):
        thick = value_at(part, path.replace("focus_shift_mm", "thickness_mm"))[1]
        known = thick.value if isinstance(thick, Quantity) else None
        return SetFigures(part.id, path, (parse_shift(text, known, origin),), label)
    return SetFigures(part.id, path, tuple(parse_value(path, word, origin) for word in several(text)), label)


def _parsed(field: PartField, text: str, workbook: Workbook) -> Any:
    if field.shape is Shape.CONNECTION:
        return connection_of(field, text, workbook)
    words = plain_text(text).lower()
    if field.shape is Shape.CHOICE:
        return _one_of(words.replace("home made", "home-made"), field)
    if field.shape is Shape.YES_OR_NO:
        return _answer(words, (True, False))
    if field.shape is Shape.YES_NO_OR_SILENT:
        return _answer(words, (True, False, None))
    if field.shape is Shape.TABLE:
        return read_cell(field, text)
    if field.shape is Shape.WHOLE:
        whole = parse_reading(text, Origin.MEASURED).value
        if whole != int(whole):
            raise EditRefused("{whole:g} is no whole number; write one such as 2.", whole=whole)
        return int(whole)
    if field.shape is Shape.NUMBER:
        return _number(text)
    return text


def connection_of(field: PartField, text: str, workbook: Workbook) -> Connection | None:
    """Read a connection as a person writes it; what the shelf shows is understood by its label.

    Raises:
        BadInput: it is none.
    """
    if field.optional and text.strip().casefold() in ("none", str(NONE)):
        return None
    known = dict.fromkeys(end for part in workbook.shelf for end in part.ends if end is not None and end.known)
    try:
        return parse_connection(text, known)
    except BadInput as error:
        shape = say("the last number is how far it engages, in mm")
        raise BadInput(
            "{error}, such as M48x0.75 external 4.5 ({shape}).", error=str(error).rstrip("."), shape=shape
        ) from None


def _number(text: str) -> float | None:
    return parse_reading(text, Origin.MEASURED).value if text.strip() else None


def _answer(words: str, asked: tuple[bool | None, ...]) -> bool | None:
    """Return the answer that was given, in the window's words or as files have it."""
    given = _FILED | {str(told).casefold(): answer for answer, told in ANSWERS.items()}
    if words not in given or given[words] not in asked:
        raise _no_such(words, [str(ANSWERS[answer]) for answer in asked], say("answer"))
    return given[words]


def _one_of(given: str, field: PartField) -> str:
    """Return the choice that was given, in the window's words or as files have it."""
    named = {choice_name(choice).casefold(): choice for choice in field.choices}
    if given not in field.choices and given not in named:
        raise _no_such(given, list(named), field.label.lower())
    return given if given in field.choices else named[given]


def _no_such(given: str, words: list[str], what: str) -> EditRefused:
    listed = ", ".join(words)
    return EditRefused("“{word}” is no {what}; write one of {listed}.", word=given[:30], what=what, listed=listed)


def _value_row(offered: Offered, first: bool) -> Row:
    field, quantity = offered.field, offered.value
    tip = field.help
    if not isinstance(quantity, Quantity):
        cells = (
            Cell(field.label, tip=tip),
            Cell(say("not known"), "steel", edit="", clears=True),
            Cell(say("give one"), "steel", unknown=True),
        )
        return Row(cells, ValueKey(field.path))
    several_of = f" ({len(quantity.readings)})" if len(quantity.readings) > 1 else ""
    note = quantity.in_use.note
    length = isinstance(quantity.in_use, Reading) and field.unit == "mm"
    # Whoever measures in inches reads them here; the table stays in one unit.
    told = "; ".join(one for one in (inches(quantity.in_use.value) if length else "", note) if one)
    source = say("measure this first") if first else f"{word(quantity.origin)}{several_of}"
    cells = (
        Cell(field.label, tip=tip),
        Cell(
            quantity_text(quantity, field.unit, stays_mm=field.stays_mm),
            edit=edit_text(quantity, field.unit, stays_mm=field.stays_mm),
            tip=told,
            clears=True,
            again=True,
        ),
        Cell(source, "look" if first else "steel", origin=quantity.origin, tip=note, strong=first),
    )
    return Row(cells, ValueKey(field.path))


def edit_text(quantity: Quantity, unit: str = "mm", *, stays_mm: bool = False) -> str:
    """Return the figure in use as an editor shows it: as its cell does."""
    use = quantity.in_use
    if not isinstance(use, Span):
        return one_number(use, unit, stays_mm=stays_mm)
    low, high = (typed_text(end, unit=unit, stays_mm=stays_mm) for end in (use.low, use.high))
    # One unit is behind both ends.
    return say("{low} to {high}", low=low.split(" ")[0], high=high)


def one_number(known: Reading | Quantity, unit: str = "mm", *, stays_mm: bool = False) -> str:
    """Return one number and how far it may be off, as an editor shows it: the middle of what spans a range."""
    return typed_text(known.value, known.tolerance, unit, stays_mm=stays_mm)


def _connection_row(offered: Offered) -> Row:
    field, connection = offered.field, offered.value
    if not isinstance(connection, Connection):
        cells = (Cell(field.label, tip=field.help), Cell(str(NONE), "steel", edit=str(NONE), clears=True), Cell(""))
        return Row(cells, FieldKey(field.path))
    if not connection.known:
        cells = (Cell(field.label, tip=field.help), Cell(say("not known"), "steel", edit="", clears=True),
                 Cell(say("give one"), "steel", unknown=True))  # fmt: skip
        return Row(cells, FieldKey(field.path))
    depth = connection.engagement_mm
    engages = "" if depth is None or connection.gender.value == "none" else say(", {depth:g mm}", depth=depth)
    told = say("engagement not known") if depth is None else say("engages {depth:g mm}", depth=depth)
    cells = (
        Cell(field.label, tip=field.help),
        Cell(f"{connection.label}{engages}", edit=connection_typed(connection),
             tip=f"{connection.label}; {told}", clears=True),
        Cell(""),
    )  # fmt: skip
    return Row(cells, FieldKey(field.path))


def _plain_row(field: PartField, value: Any) -> Row:
    text = _shown(field, value)
    tip = ", ".join(field.choices) if field.choices else field.help or (text if field.shape is Shape.TEXT else "")
    clears = field.optional and field.shape in (Shape.TEXT, Shape.NUMBER, Shape.TABLE)
    if text and field.shape is Shape.NUMBER and field.path.endswith("_mm"):
        told = say("{value:g mm}", value=value)
        return _row(field.label, told, field.path, tip, edit=typed_text(float(value)), clears=clears)
    return _row(field.label, text, field.path, tip, clears=clears)


def _row(label: str, text: str, path: str, tip: str = "", *, edit: str | None = None, clears: bool = False) -> Row:
    told = text if edit is None else edit
    cell = Cell(text or "–", "" if text else "steel", edit=told, tip=tip, clears=clears)
    return Row((Cell(label, tip=tip), cell, Cell("")), FieldKey(path))
