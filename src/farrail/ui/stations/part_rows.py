"""The rows of a part's sheet, and the edit that typing over one of them means."""

from typing import Any

from farrail.errors import BadInput, EditRefused
from farrail.exchange.cells import read_cell, written
from farrail.parts.written_ends import connection_cell, parse_connection_cell
from farrail.parts.connections import Connection
from farrail.parts.fields import PartField, Shape, ValueField, field_at, fields_of, value_at, value_fields
from farrail.parts.provenance import Origin, Quantity, Span
from farrail.parts.registry import Part
from farrail.ui.widgets.ledger import Cell, Row
from farrail.ui.widgets.row_keys import FieldKey, ValueKey
from farrail.ui.widgets.value_card import quantity_text
from farrail.workbook.edits.shelf import SetField, SetKitPrice, parse_reading
from farrail.workbook.history import Edit
from farrail.workbook.workbook import Workbook

ANSWERS = {True: "yes", False: "no", None: "maker silent"}


def value_rows(part: Part) -> list[Row]:
    """Return a row for each value with provenance."""
    return [_value_row(field) for field in value_fields(part)]


def plain_rows(part: Part, workbook: Workbook) -> list[Row]:
    """Return a row for each field without provenance."""
    rows = []
    for field in fields_of(type(part)):
        there, value = value_at(part, field.path)
        if not field.told or not there or field.shape is Shape.QUANTITY:
            continue
        if field.shape is Shape.CONNECTION:
            if value is not None:
                rows.append(_connection_row(field.label, value, field.path))
            continue
        rows.append(_plain_row(field, _shown(field, value)))
        if field.path == "kit" and value:
            cost = workbook.kit_prices.get(value)
            rows.append(_row("Price of the whole kit", "" if cost is None else f"{cost:g}", "kit_price", clears=True))
    return rows


def _shown(field: PartField, value: Any) -> str:
    if field.shape in (Shape.YES_OR_NO, Shape.YES_NO_OR_SILENT):
        return ANSWERS[value]
    if value is None:
        return ""
    return f"{value:g}" if field.shape is Shape.NUMBER else written(field, value)


def edit_of(part: Part, path: str, text: str, workbook: Workbook) -> Edit:
    """Return the edit that typing a text over a plain row means.

    Raises:
        BadInput: the text is no value of that kind.
        EditRefused: likewise.
    """
    label = f"Edit {part.name}"
    if path == "kit_price":
        return SetKitPrice(part.kit, _number(text), label=f"Price {part.kit}")
    field = field_at(type(part), path)
    if field is None:
        raise EditRefused(f"{part.name} has no value “{path}”.")
    return SetField(part.id, path, _parsed(field, text, workbook), label=label)


def _parsed(field: PartField, text: str, workbook: Workbook) -> Any:
    if field.shape is Shape.CONNECTION:
        return _connection(text, workbook)
    words = " ".join(text.lower().split())
    if field.shape is Shape.CHOICE:
        return _one_of(words.replace("home made", "home-made"), list(field.choices), field.label.lower())
    if field.shape is Shape.YES_OR_NO:
        return _one_of(words, ["yes", "no"], "answer") == "yes"
    if field.shape is Shape.YES_NO_OR_SILENT:
        word = _one_of(words.removeprefix("maker "), ["yes", "no", "silent"], "answer")
        return None if word == "silent" else word == "yes"
    if field.shape is Shape.TABLE:
        return read_cell(field, text) if text.strip() else ()
    if field.shape is Shape.WHOLE:
        whole = parse_reading(text, Origin.MEASURED).value
        return int(whole) if whole == int(whole) else whole
    if field.shape is Shape.NUMBER:
        return _number(text) if field.optional else parse_reading(text, Origin.MEASURED).value
    return text


def _number(text: str) -> float | None:
    return parse_reading(text, Origin.MEASURED).value if text.strip() else None


def _one_of(word: str, words: list[str], what: str) -> str:
    if word not in words:
        raise EditRefused(f"“{word[:30]}” is no {what}; write one of {', '.join(words)}.")
    return word


def _connection(text: str, workbook: Workbook) -> Connection:
    """Read a connection: one the shelf knows by its label, or any in the words of the tables."""
    words = " ".join(text.split()).casefold()
    for part in workbook.shelf:
        for end in ("front", "rear"):
            connection = getattr(part, end, None)
            if connection is not None and connection.label.casefold() == words:
                return Connection.model_validate(connection.model_dump() | {"engagement_mm": None})
    try:
        return parse_connection_cell(text)
    except BadInput:
        raise BadInput(
            f"“{text.strip()[:40]}” is not a connection; write a thread such as M48x0.75 external 4.5 (the last number "
            "is how far it engages, in mm)."
        ) from None


def _value_row(field: ValueField) -> Row:
    quantity = field.quantity
    if quantity is None:
        cells = (
            Cell(field.label, tip=field.help),
            Cell("not known", "steel", edit=""),
            Cell("give one", "steel", origin=Origin.ASSUMED),
        )
        return Row(cells, ValueKey(field.path))
    several = f" ({len(quantity.readings)})" if len(quantity.readings) > 1 else ""
    tip = quantity.in_use.note
    cells = (
        Cell(field.label, tip=field.help),
        Cell(quantity_text(quantity, field.unit), edit=_edit_text(quantity), tip=tip),
        Cell(f"{quantity.origin}{several}", "steel", origin=quantity.origin, tip=tip),
    )
    return Row(cells, ValueKey(field.path))


def _edit_text(quantity: Quantity) -> str:
    use = quantity.in_use
    if isinstance(use, Span):
        return f"{use.low:g} to {use.high:g}"
    spread = f" ± {use.tolerance:g}" if use.tolerance else ""
    return f"{use.value:g}{spread}"


def _connection_row(label: str, connection: Connection, path: str) -> Row:
    depth = connection.engagement_mm
    engages = "" if depth is None or connection.gender.value == "none" else f", {depth:g} mm"
    told = "nobody has looked how far it engages" if depth is None else f"engages {depth:g} mm"
    cells = (
        Cell(label),
        Cell(f"{connection.label}{engages}", edit=connection_cell(connection).replace("x", "×", 1),
             tip=f"{connection.label}; {told}"),
        Cell(""),
    )  # fmt: skip
    return Row(cells, FieldKey(path))


def _plain_row(field: PartField, text: str) -> Row:
    unit = " mm" if field.shape is Shape.NUMBER and field.path.endswith("_mm") else ""
    tip = ", ".join(field.choices) if field.choices else field.help or (text if field.shape is Shape.TEXT else "")
    clears = field.optional and field.shape in (Shape.TEXT, Shape.NUMBER, Shape.TABLE)
    return _row(field.label, text, field.path, unit, tip, clears=clears)


def _row(label: str, text: str, path: str, unit: str = "", tip: str = "", *, clears: bool = False) -> Row:
    shown = f"{text}{unit}" if text else "–"
    cell = Cell(shown, "" if text else "steel", edit=text, tip=tip, clears=clears)
    return Row((Cell(label, tip=tip), cell, Cell("")), FieldKey(path))
