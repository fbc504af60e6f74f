"""Small questions asked in a popover: a line of text, or a new train."""

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QComboBox, QLineEdit, QPushButton, QWidget

from farrail.language import say
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.telescopes import Telescope
from farrail.ui.session import Session
from farrail.ui.widgets.popover import Popover
from farrail.workbook.edits.trains import AddTrain


class AskLine(Popover):
    """Ask for one line of text."""

    def __init__(self, title: str, text: str, hint: str, take: Callable[[str], object], parent: QWidget) -> None:
        """Ask; `take` is called with what was typed when Enter is pressed."""
        super().__init__(title, parent, 300)
        self.field = QLineEdit(text)
        self.field.setObjectName("ask_field")
        self.field.selectAll()
        self.field.setAccessibleName(title)
        self.field.returnPressed.connect(self._done)
        self.body.addWidget(self.field)
        self.add_line(hint, role="steel", size=12)
        self._take = take
        self.field.setFocus(Qt.FocusReason.PopupFocusReason)

    def _done(self) -> None:
        text = self.field.text()
        self.close()
        self._take(text)


class AskTrain(Popover):
    """Ask with which optic and camera a train is to start."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        """Arrange the question."""
        super().__init__(say("Start a train"), parent, 340)
        self._session = session
        self._name = QLineEdit(say("New train"))
        self._name.setObjectName("new_train_name")
        self._name.selectAll()
        self._optic, self._camera = QComboBox(), QComboBox()
        self._optic.setObjectName("new_train_optic")
        self._camera.setObjectName("new_train_camera")
        self._name.setAccessibleName(say("Name of the train"))
        self._optic.setAccessibleName(say("Optic"))
        self._camera.setAccessibleName(say("Camera"))
        for part in session.workbook.shelf:
            if isinstance(part, (Telescope, CameraLens)):
                self._optic.addItem(part.name, part.id)
            elif isinstance(part, Camera):
                self._camera.addItem(part.name, part.id)
        self._camera.addItem(say("no camera yet"), None)
        for caption, widget in ((say("Name"), self._name), (say("Optic"), self._optic), (say("Camera"), self._camera)):
            self.add_line(caption, role="steel", size=12)
            self.body.addWidget(widget)
        self._name.setFocus(Qt.FocusReason.PopupFocusReason)
        start = QPushButton(say("Start"))
        start.setObjectName("new_train_start")
        start.setEnabled(self._optic.count() > 0)
        start.clicked.connect(self._start)
        self._name.returnPressed.connect(self._start)
        self.body.addSpacing(6)
        self.body.addWidget(start)
        if self._optic.count() == 0:
            self.add_line(say("The shelf has no telescope or camera lens yet; add one in Parts."), role="stop", size=12)

    def _start(self) -> None:
        optic = self._optic.currentData()
        if optic is None:
            return
        if self._session.do(AddTrain(self._name.text(), optic, self._camera.currentData())):
            self._session.show_train(self._session.workbook.trains[-1].id)
            self.close()
