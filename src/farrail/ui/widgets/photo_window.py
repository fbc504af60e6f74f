"""The photo in a window of its own: it follows the train in view."""

from PySide6.QtCore import Qt
from PySide6.QtGui import QCloseEvent
from PySide6.QtWidgets import QDialog, QVBoxLayout, QWidget

from farrail.language import say
from farrail.ui.session import Session
from farrail.ui.widgets.photo_bar import PhotoBar
from farrail.ui.widgets.photo_frame import PhotoFrame

WIDE_PX, HIGH_PX = 960, 690


class PhotoWindow(QDialog):
    """A photo as large as the window."""

    def __init__(self, session: Session, like: PhotoFrame, parent: QWidget | None = None) -> None:
        """Show what another picture shows, with its scene and marks."""
        super().__init__(parent)
        self.setObjectName("photo_window")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setWindowTitle(say("Photo"))
        self._session = session
        self.picture = PhotoFrame(session, "window_photo")
        self.picture.settings, self.picture.marks = like.settings, dict(like.marks)
        self._bar = PhotoBar(self.picture)
        box = QVBoxLayout(self)
        box.setContentsMargins(10, 10, 10, 8)
        box.setSpacing(6)
        box.addWidget(self.picture, 1)
        box.addWidget(self._bar)
        self.resize(WIDE_PX, HIGH_PX)
        session.changed.connect(self._follow)
        self._follow()

    def _follow(self) -> None:
        readout = self._session.readout
        if readout is not None:
            self.setWindowTitle(readout.layout.train.name)
        self.picture.show_readout(readout)
        self._bar.refresh()

    def closeEvent(self, event: QCloseEvent) -> None:
        """Give up what is under way."""
        self._session.changed.disconnect(self._follow)
        self.picture.end()
        super().closeEvent(event)
