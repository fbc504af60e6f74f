"""The row under a photo: its scene, its marks, and comparing with what is without filters."""

from pathlib import Path

from PySide6.QtWidgets import QComboBox, QFileDialog, QPushButton, QWidget

from farrail.language import N_, say
from farrail.preview.model import PreviewSettings, Scene
from farrail.ui.widgets.flow_layout import FlowLayout
from farrail.ui.widgets.photo_frame import PHOTOS, PhotoFrame

SCENES = {
    Scene.DUSK: N_("Sea stacks at dusk"), Scene.NIGHT: N_("Night field"), Scene.POOL: N_("Rock pool, close"),
    Scene.FLAT: N_("Even field"), Scene.PHOTO: N_("Your own photo"),
}  # fmt: skip
MARKS = {
    "contours": (N_("Contours"), N_("Lines of 0.1, 1/3, 1 and 2 stops of vignetting (1)")),
    "causes": (N_("Causes"), N_("The part that blocks most light at each corner (2)")),
    "crop": (N_("Crop"), N_("The largest crop free of vignetting (3)")),
    "ends": (N_("Blown, lost"), N_("Stripes where the photo is blown out or lost in noise (4)")),
}


class PhotoBar(QWidget):
    """What is photographed, and what is drawn over it."""

    def __init__(self, picture: PhotoFrame, parent: QWidget | None = None) -> None:
        """Make the row for a picture."""
        super().__init__(parent)
        self._picture = picture
        name = picture.objectName()
        row = FlowLayout(self, 4)
        self.scene = QComboBox()
        self.scene.setObjectName(f"{name}_scene")
        self.scene.setAccessibleName(say("Scene"))
        self.scene.setToolTip(say("Scene to photograph; a photo of your own can be dropped on the picture"))
        self.scene.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.scene.setMinimumContentsLength(10)
        self.scene.activated.connect(self._choose)
        row.addWidget(self.scene)
        self._marks: dict[str, QPushButton] = {}
        for mark, (text, tip) in MARKS.items():
            button = QPushButton(str(text))
            button.setObjectName(f"{name}_{mark}")
            button.setCheckable(True)
            button.setProperty("chip", "true")
            button.setToolTip(str(tip))
            button.clicked.connect(lambda on, mark=mark: picture.mark(mark, shown=on))
            self._marks[mark] = button
            row.addWidget(button)
        self.hold = QPushButton(say("Without filters"))
        self.hold.setObjectName(f"{name}_hold")
        self.hold.setProperty("chip", "true")
        self.hold.setToolTip(say("Hold to see the photo without what is ahead of the lens (Space); S splits it"))
        self.hold.pressed.connect(lambda: picture.compare(on=True))
        self.hold.released.connect(lambda: picture.compare(on=False))
        self.split = QPushButton(say("Split"))
        self.split.setObjectName(f"{name}_split")
        self.split.setCheckable(True)
        self.split.setProperty("chip", "true")
        self.split.setToolTip(say("A line to drag: without filters to its left, with filters to its right (S)"))
        self.split.clicked.connect(lambda on: picture.set_split(0.5 if on else None))
        row.addWidget(self.hold)
        row.addWidget(self.split)
        policy = self.sizePolicy()
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)
        picture.marks_changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show what is chosen."""
        picture = self._picture
        scenes = (*picture.scenes(), Scene.PHOTO)
        if [self.scene.itemData(n) for n in range(self.scene.count())] != list(scenes):
            self.scene.clear()
            for scene in scenes:
                more = "…" if scene is Scene.PHOTO else ""
                self.scene.addItem(f"{SCENES[scene]}{more}", scene)
        now = picture.settings.scene if picture.settings is not None else scenes[0]
        self.scene.setCurrentIndex(max(self.scene.findData(now), 0))
        self.scene.setEnabled(len(scenes) > 1)
        for mark, button in self._marks.items():
            button.setChecked(picture.marks[mark])
        for button in (self.hold, self.split):
            button.setVisible(picture.has_bare)
        self.split.setChecked(picture.split is not None)

    def _choose(self, number: int) -> None:
        scene = self.scene.itemData(number)
        if scene != Scene.PHOTO:
            self._picture.choose(PreviewSettings(Scene(scene)))
            return
        endings = " ".join(f"*{ending}" for ending in PHOTOS)
        chosen, _ = QFileDialog.getOpenFileName(
            self, say("A photo of your own"), "", say("Photos ({endings})", endings=endings)
        )
        if chosen:
            self._picture.use_photo(Path(chosen))
        else:
            self.refresh()
