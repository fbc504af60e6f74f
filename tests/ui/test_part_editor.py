"""The part editor: every field of every kind is given, changed and forgotten; what is refused stays where it is."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QComboBox, QLabel, QLineEdit
from pytestqt.qtbot import QtBot
from tests.ui.hands import found, popover, press, type_over

from farrail.parts.connections import Bayonet, Connection, Gender, NotKnown, thread
from farrail.parts.fields import PartField, Shape, field_at, fields_of, offered_fields, value_at
from farrail.parts.inventory_item import Status
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.tubes import Spacer
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, Span
from farrail.parts.registry import KINDS
from farrail.ui.stations.parts import PartsStation
from farrail.ui.widgets.row_keys import FieldKey, ValueKey
from farrail.ui.window import MainWindow


@pytest.fixture
def station(window: MainWindow) -> PartsStation:
    window.stations.show_station("parts")
    QApplication.processEvents()
    return window.parts


def row_of(station: PartsStation, path: str) -> int:
    keys = [row.key for row in station.sheet.table.ledger.rows]
    return next(n for n, key in enumerate(keys) if isinstance(key, ValueKey | FieldKey) and key.path == path)


def say(station: PartsStation, path: str, text: str) -> None:
    """Type a text over a line, as the table hands it on when Enter is pressed."""
    model = station.sheet.table.ledger
    model.setData(model.index(row_of(station, path), 1), text, Qt.ItemDataRole.EditRole)


def now(station: PartsStation, path: str) -> object:
    assert station.shown is not None
    return value_at(station.session.workbook.by_id[station.shown], path)[1]


def two_answers(field: PartField) -> tuple[str, str]:
    """Return two texts that a person could give for a field."""
    examples: dict[Shape, tuple[str, str]] = {
        Shape.CONNECTION: ("M63x1 external", "44 mm SLR bayonet internal"),
        Shape.YES_OR_NO: ("yes", "no"), Shape.YES_NO_OR_SILENT: ("yes", "no"), Shape.WHOLE: ("3", "2"),
        Shape.NUMBER: ("61", "62"), Shape.TEXT: ("One", "Another"),
    }  # fmt: skip
    if field.shape is Shape.CHOICE:
        return field.choices[-1], field.choices[0]
    if field.shape is Shape.TABLE:
        assert field.row is not None
        more = " @@ 0.3 published" if len([f for f in field.row.model_fields.values() if f.is_required()]) > 2 else ""
        return f"20 mm: 30 published{more}", f"20 mm: 31 measured{more} ;; 40 mm: 33 assumed{more}"
    if field.shape is Shape.QUANTITY:
        return ("1.3", "1.4") if field.path.endswith(("index", "factor", "tilt_deg")) else ("2.5", "2 to 3")
    return examples[field.shape]


@pytest.mark.parametrize("kind", KINDS)
def test_every_field_of_a_kind_can_be_given_changed_and_forgotten(station: PartsStation, kind: str) -> None:
    station.add(kind)
    part_id = station.shown
    assert part_id is not None
    walked = set()
    # Records that are not there yet are begun by their first field; what is in them is then offered too.
    for _ in range(3):
        part = station.session.workbook.by_id[part_id]
        for field in [one.field for one in offered_fields(part) if one.field.path not in walked]:
            walked.add(field.path)
            # A record may begin with what the part has already: the other answer comes first there.
            for text in two_answers(field) if "." not in field.path else reversed(two_answers(field)):
                before = now(station, field.path)
                say(station, field.path, text)
                after = now(station, field.path)
                assert after != before or field.shape in (Shape.CHOICE, Shape.YES_OR_NO), (kind, field.path, text)
            if field.shape in (Shape.QUANTITY, Shape.CONNECTION) or (
                field.optional and field.shape is not Shape.CHOICE
            ):
                if field.shape not in (Shape.YES_OR_NO, Shape.YES_NO_OR_SILENT, Shape.WHOLE):
                    given = now(station, field.path)
                    say(station, field.path, "")
                    gone = now(station, field.path)
                    assert gone != given, (kind, field.path)
                    if isinstance(gone, Quantity):
                        assert gone.origin is Origin.ASSUMED
                    if isinstance(gone, Connection):
                        assert isinstance(gone.standard, NotKnown)
                say(station, field.path, two_answers(field)[0])
    told = {field.path for field in fields_of(KINDS[kind]) if field.told}
    assert walked == told


def test_the_same_number_again_says_where_it_comes_from(station: PartsStation, qtbot: QtBot) -> None:
    station.add("spacer")
    press(station, "reading_published", qtbot)
    for origin, button in ((Origin.PUBLISHED, "reading_published"), (Origin.MEASURED, "reading_measured")):
        press(station, button, qtbot)
        type_over(station.sheet.table, row_of(station, "path_length_mm"), 1, "10", qtbot)
        length = now(station, "path_length_mm")
        assert isinstance(length, Quantity)
        assert (length.value, length.origin) == (10.0, origin)
    # What a page says is kept beside what the caliper says; a slip on the page is typed over.
    press(station, "reading_published", qtbot)
    type_over(station.sheet.table, row_of(station, "path_length_mm"), 1, "10.5 and 10.8", qtbot)
    length = now(station, "path_length_mm")
    assert isinstance(length, Quantity)
    assert [(r.value, r.origin) for r in length.readings if isinstance(r, object)][-2:] == [
        (10.5, Origin.PUBLISHED), (10.8, Origin.PUBLISHED)]  # fmt: skip
    assert length.value == 10.5


def test_a_mistaken_figure_is_removed(station: PartsStation, qtbot: QtBot) -> None:
    station.add("spacer")
    say(station, "path_length_mm", "10.5 and 18.5")
    table = station.sheet.table
    table.setCurrentIndex(table.ledger.index(row_of(station, "path_length_mm"), 1))
    for index, left in ((1, [10.5]), (0, [])):
        press(station, "field_figures", qtbot)
        press(popover(), f"figure_remove_{index}", qtbot)
        length = now(station, "path_length_mm")
        assert isinstance(length, Quantity)
        assert [r.value for r in length.readings if not isinstance(r, Span) and r.origin is Origin.PUBLISHED] == left


def test_a_connection_is_picked_from_lists(station: PartsStation, qtbot: QtBot) -> None:
    station.add("spacer")
    table = station.sheet.table
    table.setCurrentIndex(table.ledger.index(row_of(station, "front"), 1))

    def choose(name: str, text: str) -> None:
        box = found(station, QComboBox, name)
        box.setCurrentText(text)
        assert box.currentText() == text, [box.itemText(n) for n in range(box.count())]
        box.activated.emit(box.currentIndex())
        QApplication.processEvents()

    choose("pick_family", "bayonet")
    choose("pick_size", "44 mm SLR bayonet")
    choose("pick_gender", "external")
    end = now(station, "front")
    assert isinstance(end, Connection)
    assert isinstance(end.standard, Bayonet)
    assert end.gender is Gender.EXTERNAL
    choose("pick_family", "thread")
    choose("pick_size", "M54×0.75")
    depth = found(station, QLineEdit, "pick_depth")
    for text, engages in (("nine", None), ("4,5", 4.5)):
        depth.selectAll()
        depth.insert(text)
        depth.textEdited.emit(text)
        depth.editingFinished.emit()
        end = now(station, "front")
        assert isinstance(end, Connection)
        assert end.engagement_mm == engages
    assert end == thread(54.0, 0.75, Gender.EXTERNAL, 4.5)
    choose("pick_family", "not known")
    end = now(station, "front")
    assert isinstance(end, Connection)
    assert not end.known


def test_a_lens_is_given_a_filter_thread_and_loses_it(station: PartsStation, qtbot: QtBot) -> None:
    station.add("camera_lens")
    assert now(station, "front") is None
    type_over(station.sheet.table, row_of(station, "front"), 1, "M72x0.75 internal", qtbot)
    assert now(station, "front") == thread(72.0, 0.75, Gender.INTERNAL)
    press(station, "field_unknown", qtbot)
    assert now(station, "front") is None


def test_a_label_that_is_shown_is_understood_in_the_other_half_too(station: PartsStation) -> None:
    station.add("adapter")
    for text, gender in (("44 mm SLR bayonet internal", Gender.INTERNAL), ("M54×0.75 external", Gender.EXTERNAL),
                         ("female M54 x 0,75", Gender.INTERNAL), ("2 in nosepiece male", Gender.EXTERNAL)):  # fmt: skip
        say(station, "rear", text)
        end = now(station, "rear")
        assert isinstance(end, Connection), text
        assert end.gender is gender, text


NOT_A_NUMBER = ("letters", "1e400", "9" * 1000, "\u05d0\u05d1\u05d2", "-5", "3..4..5", "1/0 in", "5 kg", "± 3")


@pytest.mark.parametrize("text", [*NOT_A_NUMBER, "M42x0", "M42 internal"])
@pytest.mark.parametrize("path", ["path_length_mm", "front", "clear_aperture_mm", "price", "owned"])
def test_what_is_refused_stays_with_its_reason_under_it(
    station: PartsStation, path: str, text: str, qtbot: QtBot
) -> None:
    station.add("filter_drawer")
    table, before = station.sheet.table, now(station, path)
    table.setFocus()
    table.setCurrentIndex(table.ledger.index(row_of(station, path), 1))
    qtbot.keyClick(table, Qt.Key.Key_F2)
    editor = table.findChildren(QLineEdit, "ledger_editor")[-1]
    editor.selectAll()
    editor.insert(text)
    qtbot.keyClick(editor, Qt.Key.Key_Return)
    reason = found(table, QLabel, "part_values_reason")
    assert reason.isVisible(), reason.text()
    assert reason.text().endswith((".", "such as M48x0.75 external 4.5")), reason.text()
    assert editor.text() == text[: editor.maxLength()] or text in editor.text()
    assert now(station, path) == before
    qtbot.keyClick(editor, Qt.Key.Key_Escape)
    QApplication.processEvents()
    assert not reason.isVisible()


def test_values_understand_what_people_write(station: PartsStation) -> None:
    station.add("camera")
    for path, text, value in (
        ("flange_to_sensor_mm", "0.69 in", 17.526), ("flange_to_sensor_mm", '1 1/4"', 31.75),
        ("flange_to_sensor_mm", "1,75 cm", 17.5), ("pixel_size_um", "0.00376 mm", 3.76),
        ("flange_to_sensor_mm", "17,5 ± 20 µm", 17.5),
    ):  # fmt: skip
        say(station, path, text)
        quantity = now(station, path)
        assert isinstance(quantity, Quantity), text
        assert quantity.value == pytest.approx(value), text
    flange = now(station, "flange_to_sensor_mm")
    assert isinstance(flange, Quantity)
    assert flange.tolerance == pytest.approx(0.02)
    say(station, "sensor_width_mm", "36x24")
    camera = station.session.workbook.by_id[station.shown or ""]
    assert isinstance(camera, Camera)
    assert (camera.sensor_width_mm.value, camera.sensor_height_mm.value) == (36.0, 24.0)
    station.add("camera_lens")
    say(station, "f_number", "f/2.8")
    say(station, "nearest_magnification", "1:4")
    lens = station.session.workbook.by_id[station.shown or ""]
    assert isinstance(lens, CameraLens)
    assert lens.f_number.value == 2.8
    assert lens.nearest_magnification is not None
    assert lens.nearest_magnification.value == 0.25
    station.add("round_filter")
    for text, density in (("ND1000", 3.0), ("ND 3.0", 3.0), ("10 stops", 3.0103), ("0.9", 0.9), ("ND64", 1.8062)):
        say(station, "density", text)
        quantity = now(station, "density")
        # ND1000 passes a thousandth: its density is lg 1000.
        assert isinstance(quantity, Quantity), text
        assert quantity.value == pytest.approx(density, abs=1e-4), text
    say(station, "glass.thickness_mm", "2")
    say(station, "glass.focus_shift_mm", "1.3186 t/n")
    shift = now(station, "glass.focus_shift_mm")
    # 2 mm of crown glass: t/n = 2 / 1.5168 = 1.3186, and the focus moves by what is left of 2.
    assert isinstance(shift, Quantity)
    assert shift.value == pytest.approx(2.0 - 2.0 / 1.5168, abs=1e-4)
    say(station, "glass.focus_shift_mm", "reduction 0.68")
    assert now(station, "glass.kind") == "printed_shift"


def test_an_example_is_had_by_typing_its_length(station: PartsStation) -> None:
    station.show_ready_made()
    station.sizes.search.setText("spacer m48 10 mm")
    table = station.sizes.table
    table.setCurrentIndex(table.ledger.index(1, 0))
    table.row_activated.emit(table.current_key(), 0)
    station._end_import(station.session.workbook.shelf[-1].id)
    part = station.session.workbook.shelf[-1]
    assert isinstance(part, Spacer)
    assert part.status is Status.EXAMPLE
    say(station, "path_length_mm", "10")
    assert station.session.workbook.by_id[part.id].status is Status.OWNED


def test_every_field_is_explained_in_one_line(station: PartsStation) -> None:
    for kind, made in KINDS.items():
        for field in fields_of(made):
            if field.told and field.shape is Shape.QUANTITY:
                assert field.help or field_at(made, field.path), (kind, field.path)


def test_a_pasted_page_fills_what_it_names_once_each_is_approved(station: PartsStation, qtbot: QtBot) -> None:
    station.add("filter_drawer")
    page = "path length 20.5 mm, M54x0.75 internal to M54x0.75 external, clear 46, box of 12"
    QApplication.clipboard().setText(page)
    station.paste_page()
    table = station.page.table
    assert [row.cells[1].text for row in table.ledger.rows] == [
        "Front connection", "Rear connection", "Length", "Clear aperture"]  # fmt: skip
    table.setCurrentIndex(table.ledger.index(3, 1))
    assert "clear 46" in found(station, QLabel, "page_words").text()
    table.row_activated.emit(table.current_key(), 1)  # leave the clear aperture
    press(station, "page_take", qtbot)
    length, clear = now(station, "path_length_mm"), now(station, "clear_aperture_mm")
    assert isinstance(length, Quantity)
    assert (length.value, length.origin) == (20.5, Origin.PUBLISHED)
    assert now(station, "front") == thread(54.0, 0.75, Gender.INTERNAL)
    assert clear is None or (isinstance(clear, Quantity) and clear.value != 46.0)
    station.session.undo()
    assert now(station, "front") != thread(54.0, 0.75, Gender.INTERNAL)  # one step


def test_where_bare_numbers_of_a_table_come_from_is_said_once(window: MainWindow, qtbot: QtBot) -> None:
    table = "kind,name,front,rear,path_length_mm\nspacer,Long ring,M42x0.75 internal,M42x0.75 external,13.5\n"
    window.stations.show_station("parts")
    window.parts.show_import(table, "the clipboard")
    press(window.parts.importing, "reading_measured", qtbot)
    press(window, "import_take", qtbot)
    ring = window.session.workbook.shelf[-1]
    assert isinstance(ring, Spacer)
    assert (ring.path_length_mm.origin, ring.outer_diameter_mm) == (Origin.MEASURED, 47.0)
