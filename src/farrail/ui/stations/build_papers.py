"""What the Build station writes to take along or to have made: the sheet, a ring, an adapter's drawing."""

from collections.abc import Callable, Sequence
from datetime import date
from pathlib import Path

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QWidget

from farrail.assembly.order import order_for
from farrail.assembly.order_words import order_words
from farrail.assembly.ring import ring_for
from farrail.assembly.ring_words import ring_words
from farrail.errors import FarRailError
from farrail.exchange.order_files import write_order_dxf
from farrail.exchange.ring_files import write_ring
from farrail.language import N_, say
from farrail.train.train import Side
from farrail.ui.build_sheet import ENDINGS, write_sheet_of
from farrail.ui.order_sheet import write_order_pdf
from farrail.ui.ring_sheet import write_template
from farrail.ui.session import Session
from farrail.ui.widgets.save_name import ask_where
from farrail.workbook.edits.trains import id_stem

RINGS = N_("For a printer (*.stl *.3mf);;For a cutter (*.dxf);;Paper template and gauge strip (*.pdf)")
ORDERS = N_("PDF drawing (*.pdf);;DXF drawing (*.dxf)")
LETTER, LARGE = N_("PDF sheet, Letter (*.pdf)"), N_("PDF sheet in large type, for the dark (*.pdf)")
A4, PHONE = N_("PDF sheet, A4 (*.pdf)"), N_("Page for a phone (*.html)")

SHEET_TIP = N_("Drawing, ledger, steps, cautions and pack list, as PDF or one HTML file for a phone")
PRINT_TIP = N_("Preview of the build sheet, and printing")
RING_TIP = N_("A plain ring as thick as the train is short, for the picked joint: STL, 3MF or DXF")


class BuildPapers(QWidget):
    """A row of buttons, each of which asks for a name and writes one thing."""

    # The sheet is to be printed.
    print_wanted = Signal()

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        """Make the row.

        Args:
            session: what is open.
            parent: the widget it is in.
        """
        super().__init__(parent)
        self.session = session
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        for name, text, tip, run in (
            ("build_sheet", say("Sheet…"), SHEET_TIP, self._write_sheet),
            ("build_print", say("Print…"), PRINT_TIP, self.print_wanted.emit),
            ("build_ring", say("Ring…"), RING_TIP, self._write_ring),
        ):
            button = QPushButton(text)
            button.setObjectName(name)
            button.setToolTip(str(tip))
            button.clicked.connect(run)
            row.addWidget(button)
        drawing = QPushButton(say("Order drawing ▾"))
        drawing.setObjectName("build_order")
        drawing.setToolTip(say("Drawing of a custom adapter for a machinist: PDF or DXF"))
        menu = QMenu(drawing)
        for name, text, whole in (
            ("build_order_gap", say("For the gap at the picked joint…"), False),
            ("build_order_whole", say("One piece from the datum to the camera…"), True),
        ):
            action = menu.addAction(text)
            action.setObjectName(name)
            action.triggered.connect(lambda _, whole=whole: self._write_order(whole=whole))
        drawing.setMenu(menu)
        row.addWidget(drawing)
        row.addStretch(1)

    def _say(self, words: str, *, wrong: bool = False) -> None:
        self.session.message.emit(words, wrong)

    def _write(
        self, title: str, stem: str, kinds: str, endings: Sequence[str], write: Callable[[Path, str], None]
    ) -> bool:
        """Ask where, and write it there; returns whether it was written."""
        start = str(Path.home() / f"{stem}{endings[0]}")
        chosen = ask_where(self, title, start, kinds, endings)
        if chosen is None:
            return False
        path, kind = chosen
        try:
            write(path, kind)
        except FarRailError as error:
            self._say(str(error), wrong=True)
            return False
        return True

    def _picked_joint(self) -> int | None:
        picked = self.session.selection
        return picked.index if picked.joint and picked.side is Side.REAR else None

    def _write_sheet(self) -> None:
        train = self.session.train
        if train is None:
            return

        def write(path: Path, kind: str) -> None:
            today = date.today().isoformat()
            write_sheet_of(self.session, path, today, letter=kind == str(LETTER), large=kind == str(LARGE))
            self._say(say("The build sheet of {name} is written to {path}.", name=train.name, path=path))

        self._write(
            say("Write the build sheet"),
            id_stem(train.name),
            ";;".join(map(str, (A4, LETTER, LARGE, PHONE))),
            list(ENDINGS),
            write,
        )

    def _write_ring(self) -> None:
        """Write the ring that the train is short of, for the joint picked on the rail or the last one."""
        readout = self.session.readout
        if readout is None:
            return
        try:
            shape = ring_for(readout, self._picked_joint())
        except FarRailError as error:
            self._say(str(error), wrong=True)
            return

        def write(path: Path, _: str) -> None:
            (write_template if path.suffix.lower() == ".pdf" else write_ring)(shape, path)

        endings = [".stl", ".3mf", ".dxf", ".pdf"]
        if self._write(
            say("Write the ring"),
            say("ring {thickness_mm:.2f}", thickness_mm=shape.thickness_mm),
            str(RINGS),
            endings,
            write,
        ):
            self._say(" ".join(ring_words(shape)), wrong=shape.holds is False)

    def _write_order(self, *, whole: bool) -> None:
        """Write the drawing of a piece for the picked joint or the last, or of one in place of everything."""
        readout = self.session.readout
        if readout is None:
            return
        try:
            order = order_for(readout, None if whole else self._picked_joint(), None, whole=whole)
        except FarRailError as error:
            self._say(str(error), wrong=True)
            return

        def write(path: Path, _: str) -> None:
            (write_order_pdf if path.suffix.lower() == ".pdf" else write_order_dxf)(order, path)

        if self._write(
            say("Write the drawing"),
            say("adapter {length_mm:.2f}", length_mm=order.length_mm),
            str(ORDERS),
            [".pdf", ".dxf"],
            write,
        ):
            self._say(". ".join(order_words(order)[:4]) + ".")
