"""The rows of a part's sheet, and the edit that typing over one of them means."""

from typing import Any, get_args

from farrail.errors import BadInput, EditRefused
from farrail.exchange.cells import (
    connection_cell,
    near_cell,
    parse_connection_cell,
    parse_near,
    parse_pupils,
    pupils_cell,
)
from farrail.optics.projection import Projection
from farrail.parts.connections import Connection
from farrail.parts.fields import ValueField, value_fields
from farrail.parts.kinds import Camera, CameraLens, FilterHolder, FilterWheel, Gradation, Part, SheetFilter, Status
from farrail.parts.provenance import Origin, Quantity, Span
from farrail.ui.widgets.ledger import Cell, Row
from farrail.ui.widgets.value_card import quantity_text
from farrail.workbook.edits.shelf import SetField, SetKitPrice, parse_reading
from farrail.workbook.history import Edit
from farrail.workbook.workbook import Workbook

ALLOWED_WORDS = {True: "yes", False: "no", None: "maker silent"}
CLEARABLE = ("maker", "note", "kit", "price", "kit_price", "entrance_pupils", "near_points")
# Fields that are yes or no, as the sheet calls them.
YES_OR_NO = {
    "prime_focus": "Train ahead of the mirror", "gasket": "Gasket", "polariser": "Polariser", "achromat": "Achromat",
    "baffle": "Plate against stray light",
}  # fmt: skip
PROJECTIONS = get_args(Projection)


def value_rows(part: Part) -> list[Row]:
    """Return a row for each value with provenance."""
    return [_value_row(field) for field in value_fields(part)]


def plain_rows(part: Part, workbook: Workbook) -> list[Row]:
    """Return a row for each field without provenance."""
    rows = []
    for end, label in (("front", "Front connection"), ("rear", "Rear connection")):
        connection = getattr(part, end, None)
        if connection is not None:
            rows.append(_connection_row(label, connection, end))
    if isinstance(part, Camera) and part.front_ring is not None:
        rows.append(_connection_row("Behind its front ring", part.front_ring.behind, "front_ring.behind"))
    if isinstance(part, Camera) and part.window is not None:
        text = ALLOWED_WORDS[part.window.allowed_for]
        rows.append(_plain_row("Distance allows for window", text, "window.allowed_for", tip="yes, no, or silent"))
    rows.append(_plain_row("Outer diameter, drawn", f"{part.outer_diameter_mm:g}", "outer_diameter_mm", " mm"))
    if isinstance(part, (FilterWheel, FilterHolder)):
        rows.append(_plain_row("Slots", f"{part.slots}", "slots"))
    if isinstance(part, SheetFilter):
        rows.append(_plain_row("Gradation", part.gradation.value, "gradation", tip=", ".join(Gradation)))
    for path, label in YES_OR_NO.items():
        answer = getattr(part, path, None)
        if isinstance(answer, bool):
            rows.append(_plain_row(label, "yes" if answer else "no", path, tip="yes or no"))
    if isinstance(part, CameraLens):
        rows += _lens_rows(part)
    rows.append(_plain_row("Owned", f"{part.owned}", "owned"))
    rows.append(_plain_row("Status", part.status.value, "status", tip=", ".join(s.value for s in Status)))
    price = "" if part.price is None else f"{part.price:g}"
    rows.append(_plain_row("Price", price, "price"))
    rows.append(_plain_row("Kit", part.kit, "kit", tip="The kit it comes in and is bought with"))
    if part.kit:
        cost = workbook.kit_prices.get(part.kit)
        rows.append(_plain_row("Price of the whole kit", "" if cost is None else f"{cost:g}", "kit_price"))
    rows.append(_plain_row("Name", part.name, "name"))
    rows.append(_plain_row("Maker", part.maker, "maker"))
    rows.append(_plain_row("Note", part.note, "note", tip=part.note))
    return rows


def _lens_rows(lens: CameraLens) -> list[Row]:
    """Return a lens's projection and its tables over the focal length."""
    rows = [_plain_row("Projection", lens.projection, "projection", tip=", ".join(PROJECTIONS))]
    example = "17 mm: 27 measured ;; 35 mm: 28 assumed"
    rows.append(_plain_row("Entrance pupils, of a zoom", pupils_cell(lens.entrance_pupils), "entrance_pupils",
                           tip=f"How far behind the seat at which focal length, such as {example}"))  # fmt: skip
    example = "24 mm: 380 published @@ 0.17 published ;; 70 mm: 420 published @@ 0.21 published"
    rows.append(_plain_row("Nearest foci, of a zoom", near_cell(lens.near_points), "near_points",
                           tip=f"Nearest distance and magnification by focal length, such as {example}"))  # fmt: skip
    return rows


def edit_of(part: Part, path: str, text: str, workbook: Workbook) -> Edit:
    """Return the edit that typing a text over a plain row means.

    Raises:
        BadInput: the text is no value of that kind.
        EditRefused: likewise.
    """
    label = f"Edit {part.name}"
    if path == "kit_price":
        return SetKitPrice(part.kit, _number(text), label=f"Price {part.kit}")
    return SetField(part.id, path, _parsed(path, text, workbook), label=label)


def _parsed(path: str, text: str, workbook: Workbook) -> Any:
    leaf = path.rpartition(".")[2]
    if leaf in ("front", "rear", "behind"):
        return _connection(text, workbook)
    if leaf in ("owned", "slots"):
        whole = parse_reading(text, Origin.MEASURED).value
        return int(whole) if whole == int(whole) else whole
    words = " ".join(text.lower().split())
    if leaf == "status":
        return Status(_one_of(words.replace("home made", "home-made"), [s.value for s in Status], "status"))
    if leaf == "gradation":
        return Gradation(_one_of(words, [g.value for g in Gradation], "gradation"))
    if leaf == "projection":
        return _one_of(words, list(PROJECTIONS), "projection")
    if leaf == "entrance_pupils":
        return parse_pupils(text) if text.strip() else ()
    if leaf == "near_points":
        return parse_near(text) if text.strip() else ()
    if leaf in YES_OR_NO:
        return _one_of(words, ["yes", "no"], "answer") == "yes"
    if leaf == "allowed_for":
        word = _one_of(words.removeprefix("maker "), ["yes", "no", "silent"], "answer")
        return None if word == "silent" else word == "yes"
    if leaf == "outer_diameter_mm":
        return parse_reading(text, Origin.MEASURED).value
    if leaf == "price":
        return _number(text)
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
            Cell(field.label),
            Cell("not known", "steel", edit=""),
            Cell("give one", "steel", origin=Origin.ASSUMED),
        )
        return Row(cells, ("value", field.path))
    several = f" ({len(quantity.readings)})" if len(quantity.readings) > 1 else ""
    tip = quantity.in_use.note
    cells = (
        Cell(field.label),
        Cell(quantity_text(quantity, field.unit), edit=_edit_text(quantity), tip=tip),
        Cell(f"{quantity.origin}{several}", "steel", origin=quantity.origin, tip=tip),
    )
    return Row(cells, ("value", field.path))


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
    return Row(cells, ("field", path))


def _plain_row(label: str, text: str, path: str, unit: str = "", tip: str = "") -> Row:
    shown = f"{text}{unit}" if text else "–"
    cell = Cell(shown, "" if text else "steel", edit=text, tip=tip, clears=path in CLEARABLE)
    return Row((Cell(label), cell, Cell("")), ("field", path))
