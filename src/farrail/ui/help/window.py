"""The window of the help: pages at the left, one of them at the right, and a field that looks through all."""

from collections.abc import Sequence

from PySide6.QtCore import Qt, QUrl
from PySide6.QtGui import QImage, QKeySequence, QShortcut, QTextBlockFormat, QTextCharFormat, QTextCursor, QTextFormat
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QListWidget, QListWidgetItem, QTextBrowser, QVBoxLayout, QWidget

from farrail import lengths
from farrail.language import current, say
from farrail.ui.help.drawings import SCHEME, drawing_of
from farrail.ui.help.pages import Page
from farrail.ui.help.searching import looked_up
from farrail.ui.theme.apply import current_theme, style
from farrail.ui.theme.fonts import STRONG, font
from farrail.ui.widgets.clearing import clearable

WIDE_PX, HIGH_PX = 860, 640
LIST_PX = 254
# What is looked for is so far below the window's top.
ABOVE_PX = 40


class HelpText(QTextBrowser):
    """A page with its drawing, which is made when the page is shown."""

    def loadResource(self, kind: int, name: QUrl | str) -> object:
        """Return the drawing that a page names."""
        address = QUrl(name)
        if address.scheme() == SCHEME:
            unit = lengths.current().name
            return drawing_of(address.path(), current_theme().name, unit, current()) or QImage()
        return super().loadResource(kind, address)


class HelpWindow(QWidget):
    """Shows the help beside the window it was asked from, and stays until it is closed."""

    def __init__(self, pages: Sequence[Page], parent: QWidget) -> None:
        """Place it out on some pages."""
        super().__init__(parent, Qt.WindowType.Window)
        self.setObjectName("help_window")
        style(self)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setWindowTitle(say("Help – Far Rail"))
        self.setAutoFillBackground(True)
        self._pages = {page.key: page for page in pages}
        self._before: list[str] = []
        # Where on each page what is looked for was found.
        self._at: dict[str, str] = {}
        self._shown = ""
        self.search = QLineEdit()
        self.search.setObjectName("help_search")
        self.search.setPlaceholderText(say("Look for a word"))
        self.search.setAccessibleName(say("Look for a word in the help"))
        clearable(self.search)
        self.list = QListWidget()
        self.list.setObjectName("help_pages")
        self.list.setAccessibleName(say("Pages"))
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setTextElideMode(Qt.TextElideMode.ElideRight)
        self.text = HelpText()
        self.text.setObjectName("help_text")
        self.text.setAccessibleName(say("The page"))
        self.text.setOpenLinks(False)
        self.text.setFont(font(14))
        self.text.document().setDocumentMargin(22.0)
        left = QVBoxLayout()
        left.setSpacing(8)
        left.addWidget(self.search)
        left.addWidget(self.list, 1)
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 14, 14, 14)
        row.setSpacing(14)
        self.list.setFixedWidth(LIST_PX)
        self.search.setFixedWidth(LIST_PX)
        row.addLayout(left)
        row.addWidget(self.text, 1)
        self.resize(WIDE_PX, HIGH_PX)
        self._connect()
        self._fill("")

    def _connect(self) -> None:
        self.search.textChanged.connect(self._fill)
        self.search.returnPressed.connect(self.list.setFocus)
        self.list.currentItemChanged.connect(self._picked)
        self.text.anchorClicked.connect(self._follow)
        back = QShortcut(QKeySequence(QKeySequence.StandardKey.Back), self)
        back.activated.connect(self.back)
        for keys in (QKeySequence(Qt.Key.Key_Escape), QKeySequence(QKeySequence.StandardKey.Close)):
            QShortcut(keys, self).activated.connect(self.close)
        QShortcut(QKeySequence(QKeySequence.StandardKey.Find), self).activated.connect(self.search.setFocus)

    def _picked(self, item: QListWidgetItem | None, _: QListWidgetItem | None) -> None:
        if item is not None:
            self._open(_key(item))

    def show_page(self, key: str, looked_for: str = "") -> None:
        """Show a page, at the first place a text is there."""
        if self.search.text():
            self.search.clear()
        for number in range(self.list.count()):
            if _key(self.list.item(number)) == key:
                self.list.setCurrentRow(number)
        self._open(key)
        if looked_for:
            self._mark(looked_for)

    def back(self) -> None:
        """Show the page that was shown before."""
        if self._before:
            key = self._before.pop()
            self._shown = ""
            self.show_page(key)

    def _open(self, key: str) -> None:
        if key == self._shown or key not in self._pages:
            return
        if self._shown:
            self._before.append(self._shown)
        self._shown = key
        theme = current_theme()
        self.text.document().setDefaultStyleSheet(f"a {{ color: {theme.accent}; }}")
        self.text.setMarkdown(self._pages[key].text)
        self._space_out()
        self.text.moveCursor(QTextCursor.MoveOperation.Start)
        if self.search.text():
            self._mark(self._at.get(key, self.search.text()))

    def _space_out(self) -> None:
        """Give paragraphs and headings the room they are read in."""
        cursor = QTextCursor(self.text.document())
        block = self.text.document().begin()
        while block.isValid():
            look = block.blockFormat()
            heading = look.headingLevel()
            look.setTopMargin(16.0 if heading > 1 else 0.0)
            look.setBottomMargin(10.0 if heading == 1 else 8.0)
            # A line that is a drawing is as high as the drawing.
            share = 100.0 if "\ufffc" in block.text() else 125.0
            look.setLineHeight(share, QTextBlockFormat.LineHeightTypes.ProportionalHeight.value)
            cursor.setPosition(block.position())
            cursor.setBlockFormat(look)
            if heading:
                size = QTextCharFormat()
                size.setFont(font(20 if heading == 1 else 16, STRONG))
                size.clearProperty(QTextFormat.Property.FontSizeAdjustment)
                cursor.select(QTextCursor.SelectionType.BlockUnderCursor)
                cursor.setCharFormat(size)
            block = block.next()

    def _mark(self, text: str) -> None:
        self.text.moveCursor(QTextCursor.MoveOperation.Start)
        if self.text.find(text):
            # Near the top: what is said of it follows.
            bar = self.text.verticalScrollBar()
            bar.setValue(bar.value() + self.text.cursorRect().top() - ABOVE_PX)

    def _follow(self, link: QUrl) -> None:
        self.show_page(link.toString())

    def _fill(self, wanted: str) -> None:
        """List the pages that hold a text, all without one."""
        asked = wanted.strip()
        shown, found = self._shown, looked_up(asked, tuple(self._pages.values()))
        self._at = {hit.key: hit.text for hit in found}
        self.list.blockSignals(True)
        self.list.clear()
        for hit in found:
            item = QListWidgetItem(self._pages[hit.key].title)
            item.setData(Qt.ItemDataRole.UserRole, hit.key)
            self.list.addItem(item)
            if hit.key == shown and not asked:
                self.list.setCurrentItem(item)
        self.list.blockSignals(False)
        if asked and self.list.count():
            self.list.setCurrentRow(0)
            self._open(_key(self.list.item(0)))
            self._mark(self._at.get(_key(self.list.item(0)), asked))


def _key(item: QListWidgetItem) -> str:
    return str(item.data(Qt.ItemDataRole.UserRole))
