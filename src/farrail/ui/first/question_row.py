"""One line of a route's ledger: what is asked, where one writes or chooses, where one reads it."""

from functools import partial

from PySide6.QtCore import QEvent, QObject, QSignalBlocker, Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import (
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QMenu,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from farrail.language import say
from farrail.parts.registry import Part
from farrail.ui.theme.fonts import MEDIUM, REGULAR, font, text_width_px
from farrail.ui.widgets.plain import Label, plain_title
from farrail.workbook.routes.question import FROM_SHELF, Question, RouteContext
from farrail.workbook.routes.words import ask_of, choice_name

LABEL_PX, FIELD_PX = 182, 308
# So wide a line of choices becomes at most, in the smallest window too, and so much a button adds to its text.
CHOICES_PX, BUTTON_PX = 440, 24


class QuestionRow(QWidget):
    """A question with its field or its choices; what is refused stays in the field, with its reason under it."""

    # An answer is given: the question's key, its text.
    answered = Signal(str, str)
    # A field was left with another text than it had: the question's key, the text.
    left = Signal(str, str)
    # The hand is on this question: its key.
    entered = Signal(str)
    # A person is typing: the question's key, the text so far.
    typing = Signal(str, str)

    def __init__(self, route: str, question: Question, parent: QWidget | None = None) -> None:
        """Arrange the line."""
        super().__init__(parent)
        self.setObjectName(f"question_{question.key}")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.question, self._route = question, route
        ask = ask_of(route, question.stem)
        self.label = Label(str(ask.what))
        self.label.setFixedWidth(LABEL_PX)
        self.label.setWordWrap(True)
        self.where = Label(str(ask.where))
        self.where.setWordWrap(True)
        self.where.setProperty("role", "steel")
        self.reason = Label()
        self.reason.setObjectName(f"reason_{question.key}")
        self.reason.setProperty("role", "stop")
        self.reason.setWordWrap(True)
        self.reason.hide()
        self.field: QLineEdit | None = None
        self.buttons: dict[str, QPushButton] = {}
        self._told = ""
        self._words: tuple[str, ...] = ()
        self._usual = QWidget()
        # It takes what room there is, and asks for none: a small window must not be pushed apart.
        self._usual.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self._usual.hide()
        self._offered = QHBoxLayout(self._usual)
        self._offered.setContentsMargins(0, 0, 0, 2)
        self._offered.setSpacing(4)
        self._offered.addStretch(1)
        self._shelf = QPushButton(say("From the shelf"))
        self._shelf.setObjectName(f"shelf_{question.key}")
        self._shelf.setProperty("choice", "true")
        self._menu = QMenu(self)
        self._shelf.setMenu(self._menu)
        self._shelf.hide()
        grid = QGridLayout(self)
        grid.setContentsMargins(10, 3, 8, 3)
        grid.setHorizontalSpacing(14)
        grid.setVerticalSpacing(1)
        grid.addWidget(self.label, 0, 0, Qt.AlignmentFlag.AlignTop)
        if question.choices:
            grid.addWidget(self._choices(), 0, 1, 1, 2)
            grid.addWidget(self.where, 1, 1, 1, 2)
            self.label.setContentsMargins(0, 5, 0, 0)
        else:
            grid.addWidget(self._line(str(ask.such_as), str(ask.what)), 0, 1, Qt.AlignmentFlag.AlignTop)
            grid.addWidget(self.where, 0, 2, Qt.AlignmentFlag.AlignTop)
            self.where.setContentsMargins(0, 6, 0, 0)
            self.where.setMinimumWidth(170)
            self.label.setContentsMargins(0, 6, 0, 0)
        grid.addWidget(self.reason, 2, 1, 1, 2)
        grid.addWidget(self._usual, 3, 1, 1, 2)
        grid.setColumnStretch(1, 3)
        grid.setColumnStretch(2, 4)

    def _line(self, such_as: str, what: str) -> QWidget:
        self._such_as = such_as
        self.field = field = QLineEdit()
        field.setObjectName(f"answer_{self.question.key}")
        field.setAccessibleName(what)
        field.setPlaceholderText(such_as)
        field.setMinimumWidth(190)
        field.setMaximumWidth(FIELD_PX)
        field.returnPressed.connect(self._give)
        field.editingFinished.connect(self._leave)
        field.textEdited.connect(lambda text: self.typing.emit(self.question.key, text))
        field.textEdited.connect(self._offer_usual)
        field.installEventFilter(self)
        box = QWidget()
        row = QHBoxLayout(box)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(6)
        row.addWidget(field)
        row.addWidget(self._shelf)
        return box

    def _choices(self) -> QWidget:
        box = QWidget()
        column = QVBoxLayout(box)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        row = QHBoxLayout()
        row.setSpacing(5)
        room = float(CHOICES_PX)
        for choice in self.question.choices:
            wide = text_width_px(choice_name(self._route, choice), 13, REGULAR) + BUTTON_PX
            room -= wide
            if room < 0:
                row.addStretch(1)
                column.addLayout(row)
                row, room = QHBoxLayout(), CHOICES_PX - wide
                row.setSpacing(5)
            button = QPushButton(choice_name(self._route, choice))
            button.setObjectName(f"choose_{self.question.key}_{choice}")
            button.setAccessibleName(f"{self.label.text()}: {button.text()}")
            button.setProperty("choice", "true")
            button.setCheckable(True)
            button.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
            button.clicked.connect(partial(self._choose, choice))
            button.installEventFilter(self)
            self.buttons[choice] = button
            row.addWidget(button)
        row.addWidget(self._shelf)
        row.addStretch(1)
        column.addLayout(row)
        return box

    def refresh(self, stand: RouteContext) -> None:
        """Show the answer as the workbook has it, and what can be chosen from."""
        told = self.question.told(stand) if stand.train is not None else ""
        if self.field is not None and (told != self._told or not self.field.hasFocus()) and self.reason.isHidden():
            with QSignalBlocker(self.field):
                self.field.setText(told)
                self.field.setCursorPosition(0)
        self._told = told
        for choice, button in self.buttons.items():
            button.setChecked(choice == told)
        if self.field is not None:
            self._words = self.question.usual(stand)
        self._fill_shelf(stand)

    def _fill_shelf(self, stand: RouteContext) -> None:
        """Offer the parts of the shelf that could be here; those of this very train are answers already."""
        laid = set() if stand.train is None else set(stand.train.part_ids())
        parts = [p for p in stand.workbook.shelf if p.kind in self.question.kinds and p.id not in laid]
        self._shelf.setVisible(bool(parts))
        self._menu.clear()
        for part in parts:
            self._offer(part)

    def _offer(self, part: Part) -> None:
        action = self._menu.addAction(plain_title(part.name))
        action.setObjectName(f"take_{part.id}")
        action.triggered.connect(lambda: self.answered.emit(self.question.key, f"{FROM_SHELF}{part.id}"))

    def set_stand(self, stand: str) -> None:
        """Show the question as `answered`, in `hand`, or to come `later`."""
        self.label.setFont(font(13, MEDIUM if stand == "hand" else REGULAR))
        for widget, name, value in (
            (self, "stand", stand), (self.field, "stand", stand),
            (self.label, "role", "" if stand == "hand" else "steel"),
        ):  # fmt: skip
            if widget is not None and widget.property(name) != value:
                widget.setProperty(name, value)
                widget.style().unpolish(widget)
                widget.style().polish(widget)
        if self.field is not None:
            self.field.setPlaceholderText(say("not known") if stand == "answered" else self._such_as)
            if stand == "hand":
                self._offer_usual("" if self.field.text() == self._told else self.field.text())
            else:
                self._usual.hide()
        self.where.setVisible(not self.question.choices or stand == "hand")

    def take_focus(self) -> None:
        """Put the hand on this question."""
        if self.field is not None:
            self.field.setFocus(Qt.FocusReason.TabFocusReason)
            self.field.selectAll()
            return
        chosen = next((b for b in self.buttons.values() if b.isChecked()), None)
        (chosen or next(iter(self.buttons.values()))).setFocus(Qt.FocusReason.TabFocusReason)

    def refuse(self, why: str) -> None:
        """Say why an answer cannot be taken; what was written stays."""
        self.reason.setText(why)
        self.reason.setVisible(bool(why))
        if self.field is not None:
            self.field.setAccessibleDescription(why)

    def _offer_usual(self, text: str = "") -> None:
        """Offer usual answers that go with what is typed so far, as many as have room."""
        while self._offered.count() > 1:
            item = self._offered.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                # Placed out and taken away in one turn it would be shown after all, as a window of its own.
                widget.hide()
                widget.setParent(None)
                widget.deleteLater()
        words = text.casefold().replace("x", "×").split()
        fitting = [w for w in self._words if all(one in w.casefold().replace("x", "×") for one in words)]
        room = max(self.width() - LABEL_PX - 60.0, 300.0)
        for word in fitting:
            room -= text_width_px(word, 12, REGULAR) + 24
            if room < 0:
                break
            button = QPushButton(word)
            button.setProperty("usual", "true")
            button.setObjectName(f"usual_{self.question.key}_{word}")
            button.setAccessibleName(f"{self.label.text()}: {word}")
            button.setFont(font(12, REGULAR))
            # Down goes from the field to the first of them; Tab goes on to the next question.
            button.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
            button.clicked.connect(partial(self.answered.emit, self.question.key, word))
            button.installEventFilter(self)
            self._offered.insertWidget(self._offered.count() - 1, button)
        self._usual.setVisible(self._offered.count() > 1 and self.property("stand") == "hand")

    def _walk(self, step: int) -> None:
        """Go along the usual answers with the arrows, and back to the field before the first."""
        items = [self._offered.itemAt(n) for n in range(self._offered.count() - 1)]
        buttons = [None if item is None else item.widget() for item in items]
        at = next((n for n, b in enumerate(buttons) if b is not None and b.hasFocus()), -1) + step
        where = buttons[at] if 0 <= at < len(buttons) else self.field if at < 0 else None
        if where is not None:
            where.setFocus(Qt.FocusReason.TabFocusReason)

    def _choose(self, choice: str) -> None:
        self.answered.emit(self.question.key, choice)

    def _give(self) -> None:
        """Enter: take what is written, and go on."""
        assert self.field is not None
        self.answered.emit(self.question.key, self.field.text())

    def _leave(self) -> None:
        """The field was left: what was changed in it is taken where it is."""
        assert self.field is not None
        if not self.field.hasFocus() and self.field.text() != self._told and self.reason.isHidden():
            self.left.emit(self.question.key, self.field.text())

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Say when the hand comes here; Escape brings the answer back that was."""
        if event.type() == QEvent.Type.FocusIn:
            self.entered.emit(self.question.key)
        elif isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Right: 1, Qt.Key.Key_Up: -1, Qt.Key.Key_Left: -1}.get(
                Qt.Key(event.key()), 0
            )
            sideways = event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right)
            if step and self._usual.isVisible() and not (watched is self.field and (sideways or step < 0)):
                self._walk(step)
                return True
            if event.key() == Qt.Key.Key_Escape and self.field is not None and self.field.text() != self._told:
                self.refuse("")
                self.field.setText(self._told)
                self.typing.emit("", "")
                return True
        return super().eventFilter(watched, event)
