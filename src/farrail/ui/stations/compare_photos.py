"""The photos of the trains compared, side by side: the same scene, each metered by itself."""

from collections.abc import Sequence

from PySide6.QtWidgets import QGridLayout, QWidget

from farrail.preview.model import PreviewSettings, usual_scene
from farrail.readouts.read import Readout
from farrail.train.rows import Shelf
from farrail.ui.session import Session
from farrail.ui.theme.fonts import MEDIUM, font
from farrail.ui.widgets.compare_curves import LETTERS
from farrail.ui.widgets.photo_frame import PhotoFrame
from farrail.ui.widgets.plain import Label


class ComparePhotos(QWidget):
    """One photo per train."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Make room for as many as can be compared."""
        super().__init__(parent)
        grid = self._grid = QGridLayout(self)
        grid.setContentsMargins(0, 6, 0, 0)
        grid.setHorizontalSpacing(12)
        grid.setVerticalSpacing(4)
        grid.setRowStretch(1, 1)
        self.photos: list[PhotoFrame] = []
        self._names: list[Label] = []
        for number, letter in enumerate(LETTERS):
            photo, name = PhotoFrame(session, f"compare_photo_{letter}", ("causes",)), Label()
            name.setFont(font(12, MEDIUM))
            grid.addWidget(name, 0, number)
            grid.addWidget(photo, 1, number)
            self.photos.append(photo)
            self._names.append(name)

    def show_trains(self, trains: Sequence[tuple[str, Readout, Shelf]]) -> None:
        """Show the photos of trains by name, all of the scene that suits the first."""
        settings = PreviewSettings(usual_scene(trains[0][1])) if trains else None
        for number, (photo, name) in enumerate(zip(self.photos, self._names, strict=True)):
            here = number < len(trains)
            photo.setVisible(here)
            name.setVisible(here)
            self._grid.setColumnStretch(number, 1 if here else 0)
            if here:
                title, readout, shelf = trains[number]
                name.setText(f"{LETTERS[number]}  {title}")
                photo.settings = settings
                photo.show_readout(readout, shelf)

    def end(self) -> None:
        """Give up what is under way: the window is closing."""
        for photo in self.photos:
            photo.end()
