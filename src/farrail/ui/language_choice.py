"""The window's language: kept for the next start, for titles and labels are made while modules load."""

from collections.abc import Iterator
from functools import partial

from PySide6.QtCore import QLibraryInfo, QTranslator
from PySide6.QtWidgets import QApplication

from farrail import language
from farrail.language import say
from farrail.ui.session import Session
from farrail.ui.widgets.palette import Entry

# Each by its own name, so that who speaks it finds it whatever the window speaks now.
NAMES = {"en": "English", "de": "Deutsch"}
AS_SYSTEM = ""


def translate_qt(app: QApplication) -> None:
    """Have Qt's own dialogs speak the language in force too, as far as Qt has it."""
    if language.current() == language.ENGLISH:
        return
    translator = QTranslator(app)
    if translator.load(f"qtbase_{language.current()}", QLibraryInfo.path(QLibraryInfo.LibraryPath.TranslationsPath)):
        app.installTranslator(translator)


def choices(session: Session) -> Iterator[Entry]:
    """Return the languages there are, and following the system, as the palette finds them."""
    named = [(say("Language: {name}", name=NAMES.get(code, code)), code) for code in language.languages()]
    for title, code in (*named, (say("Language: as the system has it"), AS_SYSTEM)):
        chosen = language.kept() == code
        yield Entry(title, say("in use") if chosen else say("language"), partial(choose, session, code), chosen)


def choose(session: Session, code: str) -> None:
    """Keep a language; it is spoken from the next start on."""
    try:
        language.keep(code)
    except OSError as error:
        session.message.emit(say("The language cannot be kept ({strerror}).", strerror=error.strerror), True)
        return
    name = NAMES.get(code, "") or say("the system's language")
    session.message.emit(say("{name} is spoken from the next start on.", name=name), False)
