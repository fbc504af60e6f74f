"""Picking a connection instead of spelling it: its family, its size, which half, how far it engages."""

from PySide6.QtCore import QSignalBlocker, Signal
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QSizePolicy, QWidget

from farrail.language import N_, say
from farrail.parts.connections import Bayonet, Connection, Gender, Nosepiece, OnlyFits, Plain, Standard, Thread
from farrail.parts.usual import FILTER_THREADS_MM
from farrail.parts.written_ends import NAMED
from farrail.ui.widgets.plain import Label
from farrail.ui.widgets.short_field import short_field
from farrail.units import inches_to_mm

PLAIN = "plain"
FAMILIES: dict[str, type] = {
    "thread": Thread, "bayonet": Bayonet, "nosepiece": Nosepiece, PLAIN: Plain, "only_fits": OnlyFits,
}  # fmt: skip
NAMES = {
    "thread": N_("thread"), "bayonet": N_("bayonet"), "nosepiece": N_("nosepiece"), PLAIN: N_("plain or held"),
    "only_fits": N_("only fits"),
}  # fmt: skip
NOT_KNOWN = ""
_THREADS = ((42.0, 0.75), (48.0, 0.75), (54.0, 0.75), (63.0, 1.0), (68.0, 1.0), (28.5, 0.6))


def usual_standards(family: str) -> list[Standard]:
    """Return the usual sizes of a family; common practice, no source."""
    if family == "thread":
        lenses = [
            Thread(diameter_mm=float(across), pitch_mm=1.0 if across >= 105 else 0.75) for across in FILTER_THREADS_MM
        ]
        return [*(Thread(diameter_mm=d, pitch_mm=p) for d, p in _THREADS), NAMED["c mount"], *lenses]
    if family == "bayonet":
        return [one for one in NAMED.values() if isinstance(one, Bayonet)]
    if family == "nosepiece":
        return [Nosepiece(diameter_mm=inches_to_mm(inches)) for inches in (1.25, 2.0)]
    if family == PLAIN:
        return [Plain(diameter_mm=across) for across in (31.0, 36.0, 42.0, 48.0, 50.0, 54.0)]
    return []


class ConnectionPicker(QWidget):
    """Shows a connection as four choices; each change is shown at once."""

    # The connection as it is picked now; None where nothing is known of it.
    picked = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        """Arrange the choices."""
        super().__init__(parent)
        self.setObjectName("connection_picker")
        self._connection: Connection | None = None
        self._shelf: tuple[Standard, ...] = ()
        self._standards: list[Standard] = []
        self._family, self._size, self._gender = QComboBox(), QComboBox(), QComboBox()
        for box, name, title in (
            (self._family, "pick_family", say("Family of the connection")),
            (self._size, "pick_size", say("Size of the connection")),
            (self._gender, "pick_gender", say("External or internal")),
        ):  # fmt: skip
            box.setObjectName(name)
            box.setAccessibleName(title)
            box.setToolTip(title)
        self._family.addItem(say("not known"), NOT_KNOWN)
        for family in FAMILIES:
            self._family.addItem(str(NAMES[family]), family)
        for words, gender in ((say("external"), Gender.EXTERNAL), (say("internal"), Gender.INTERNAL)):
            self._gender.addItem(words, gender.value)
        self._family.setFixedWidth(108)
        self._gender.setFixedWidth(92)
        self._size.setMinimumWidth(92)
        self._size.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self._size.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self._depth = short_field("pick_depth", say("Engagement, mm; empty if not known"), say("depth"), 50)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(6)
        for widget in (self._family, self._size, self._gender, self._depth):
            row.addWidget(widget)
        row.addWidget(Label("mm"))
        self._family.activated.connect(lambda _: self._choose_family())
        self._size.activated.connect(lambda _: self._tell())
        self._gender.activated.connect(lambda _: self._tell())
        self._depth.editingFinished.connect(self._tell_depth)

    def show_connection(self, connection: Connection | None, shelf: tuple[Standard, ...]) -> None:
        """Show a connection; `shelf` are those to choose from first."""
        self._connection, self._shelf = connection, shelf
        known = connection is not None and connection.known
        family = next((word for word, kind in FAMILIES.items() if known and connection is not None
                       and isinstance(connection.standard, kind)), NOT_KNOWN)  # fmt: skip
        for box in (self._family, self._size, self._gender, self._depth):
            box.blockSignals(True)
        self._family.setCurrentIndex(self._family.findData(family))
        self._fill_sizes(family, connection.standard if known and connection is not None else None)
        faces = family in (NOT_KNOWN, PLAIN)
        self._gender.setEnabled(not faces)
        if connection is not None and connection.gender is not Gender.NONE:
            self._gender.setCurrentIndex(self._gender.findData(connection.gender.value))
        depth = None if connection is None else connection.engagement_mm
        self._depth.setEnabled(not faces)
        self._depth.setText("" if depth is None or faces else say("{depth:g}", depth=depth))
        for box in (self._family, self._size, self._gender, self._depth):
            box.blockSignals(False)

    def _fill_sizes(self, family: str, now: Standard | None) -> None:
        kind = FAMILIES.get(family)
        self._standards = [] if kind is None else list(
            dict.fromkeys([*([now] if now is not None else []), *(s for s in self._shelf if isinstance(s, kind)),
                           *usual_standards(family)])
        )  # fmt: skip
        with QSignalBlocker(self._size):
            self._size.clear()
            for standard in self._standards:
                self._size.addItem(standard.label)
            self._size.setCurrentIndex(0)
        self._size.setEnabled(len(self._standards) > 0)

    def _choose_family(self) -> None:
        family = str(self._family.currentData())
        if family == NOT_KNOWN:
            self.picked.emit(None)
            return
        self._fill_sizes(family, None)
        if self._standards:
            self._tell()

    def _tell(self) -> None:
        index = self._size.currentIndex()
        if not 0 <= index < len(self._standards):
            return
        standard = self._standards[index]
        old = self._connection
        same = old is not None and old.standard == standard
        plain = isinstance(standard, Plain)
        self.picked.emit(Connection(
            standard=standard, gender=Gender.NONE if plain else Gender(self._gender.currentData()),
            engagement_mm=0.0 if plain else old.engagement_mm if same and old is not None else None,
        ))  # fmt: skip

    def _tell_depth(self) -> None:
        """Take how far it engages; what is no depth stays in the field, marked."""
        old = self._connection
        text = self._depth.text().strip().replace(",", ".").removesuffix("mm").strip()
        try:
            depth = float(text) if text else None
            told = old is not None and depth != old.engagement_mm
            made = old.model_copy(update={"engagement_mm": depth}) if old is not None else None
            good = depth is None or 0.0 <= depth <= 100.0
        except ValueError:
            told, made, good = False, None, False
        self._depth.refuse("" if good else say("Enter 0 to 100 mm, such as 4.5, or leave it empty."))
        if good and told and made is not None:
            self.picked.emit(made)
