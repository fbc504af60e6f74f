"""A polariser on a wide sky: the Front station's page of Sun, air and how the polariser is turned."""

from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from farrail.errors import FarRailError
from farrail.language import N_, joined, say
from farrail.parts.origin import Origin
from farrail.readouts.front.model import Front
from farrail.readouts.front.polarised_sky import PolarisedSky, polarised_sky_of
from farrail.train.train import Sky
from farrail.ui.session import Session
from farrail.ui.widgets.ledger import Ledger
from farrail.ui.widgets.ledger_rows import Cell, Column, Row
from farrail.ui.widgets.plain import Label
from farrail.ui.widgets.row_keys import TermKey
from farrail.ui.widgets.short_field import short_field
from farrail.workbook.edits.shelf import parse_reading
from farrail.workbook.edits.trains import SetSky

# Field of a sky, what it is called, what it means, its bounds, and by how much what is typed is divided.
FIELDS = (
    ("sun_high_deg", N_("Sun high, °"), N_("Height of the Sun, −18 to 90°"), -18.0, 90.0, 1.0),
    (
        "sun_right_deg",
        N_("Sun to the right, °"),
        N_("From where the camera looks; negative: to the left"),
        -180.0,
        180.0,
        1.0,
    ),
    ("camera_up_deg", N_("Camera up, °"), N_("Height of the camera's view above the horizon (°)"), -90.0, 90.0, 1.0),
    (
        "most_polarised",
        N_("Polarised, %"),
        N_("At 90° from the Sun; about 80 in clear air, less in haze"),
        0.0,
        100.0,
        100.0,
    ),
    (
        "polariser_deg",
        N_("Polariser at, °"),
        N_("Its axis, from the right toward up; empty: darkest in the middle"),
        -180.0,
        180.0,
        1.0,
    ),
)
PLACES = (N_("left edge"), N_("quarter"), N_("middle"), N_("quarter"), N_("right edge"))


class SkyPage(QWidget):
    """Says where the Sun is and shows what the polariser leaves of the sky."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Arrange the page."""
        super().__init__(parent)
        self._session = session
        self.fields: dict[str, QLineEdit] = {}
        grid = QGridLayout()
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(4)
        for number, (key, title, meaning, *_) in enumerate(FIELDS):
            field = short_field(f"sky_{key}", str(meaning), say("darkest") if key == "polariser_deg" else "", 64)
            field.editingFinished.connect(self._keep)
            self.fields[key] = field
            label = Label(str(title))
            label.setBuddy(field)
            grid.addWidget(label, number // 2, 2 * (number % 2))
            grid.addWidget(field, number // 2, 2 * (number % 2) + 1)
        self.usual = QPushButton(say("Usual sky"))
        self.usual.setObjectName("sky_usual")
        self.usual.setToolTip(say("Sun 20° high and 90° to the right, clear air, the polariser darkest in the middle"))
        self.usual.clicked.connect(self._reset)
        grid.addWidget(self.usual, 2, 2, 1, 2)
        row = QHBoxLayout()
        row.addLayout(grid)
        row.addStretch(1)
        self.table = Ledger(
            "front_sky",
            say("Light the polariser removes from the sky"),
            (
                Column(say("In the picture")),
                Column(say("stops lost"), True, 92),
                Column(say("from middle"), True, 104),
            ),
        )
        self.table.verticalHeader().setDefaultSectionSize(24)
        self._text = Label()
        self._text.setObjectName("sky_text")
        self._text.setProperty("role", "steel")
        self._text.setWordWrap(True)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 4, 0, 0)
        box.setSpacing(6)
        box.addLayout(row)
        box.addWidget(self.table, 1)
        box.addWidget(self._text)

    def refresh(self, front: Front | None) -> PolarisedSky | None:
        """Show a train's sky; returns it for the picture."""
        sky = None if front is None else polarised_sky_of(front)
        train = self._session.train
        shown = (train.conditions.sky if train is not None else None) or Sky()
        for key, *_, divided in FIELDS:
            value = getattr(shown, key)
            if not self.fields[key].hasFocus():
                self.fields[key].setText("" if value is None else say("{divided:g}", divided=value * divided))
        self.usual.setEnabled(sky is not None and sky.given)
        if sky is None:
            self.table.set_rows([])
            self._text.setText(
                say("There is no polariser in front of the lens: add one to see its effect on a clear sky.")
            )
            return None
        middle = sky.marks[2]
        rows = []
        for number, (place, stops) in enumerate(zip(PLACES, sky.marks, strict=True)):
            off = say("{middle:+.2f}", middle=stops - middle).replace("-", "−")
            cells = (
                Cell(str(place)),
                Cell(say("{stops:.2f}", stops=stops), strong=True),
                Cell(off if number != 2 else "–", "steel"),
            )
            rows.append(Row(cells, TermKey(f"{number}")))
        self.table.set_rows(rows)
        band = (
            say("The dark band shows at this field of view.")
            if sky.wide
            else say("At this field of view that is hardly visible.")
        )
        assumed = "" if sky.given else say("The Sun's position is assumed.")
        self._text.setText(
            joined(
                say("{uneven_stops:.1f} stops uneven across the frame.", uneven_stops=sky.uneven_stops), band, assumed
            )
        )
        return sky

    def _keep(self) -> None:
        """Take what was typed; what cannot be is said, and the field goes back."""
        train = self._session.train
        if train is None:
            return
        now = train.conditions.sky or Sky()
        values: dict[str, float | None] = {}
        try:
            for key, title, _, low, high, divided in FIELDS:
                text = self.fields[key].text().strip()
                if not text:
                    # An empty field is a usual value again; of the polariser, darkest in the middle.
                    values[key] = Sky.model_fields[key].default
                    continue
                value = parse_reading(text, Origin.MEASURED).value
                if not low <= value <= high:
                    raise FarRailError(
                        "{title} {value:g} cannot be; give {low:g} to {high:g}.",
                        title=str(title).rsplit(",", 1)[0],
                        value=value,
                        low=low,
                        high=high,
                    )
                values[key] = value / divided
        except FarRailError as error:
            self._session.message.emit(str(error), True)
            for key, *_, divided in FIELDS:
                before = getattr(now, key)
                self.fields[key].setText("" if before is None else say("{divided:g}", divided=before * divided))
            return
        wanted = Sky.model_validate(values)
        if wanted != now:
            self._session.do(SetSky(train.id, wanted))

    def _reset(self) -> None:
        train = self._session.train
        if train is not None:
            self._session.do(SetSky(train.id, None, label=say("Go back to a usual sky")))
