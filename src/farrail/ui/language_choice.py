"""The window's language: kept for the next start, and changed at once by making the windows again."""

from collections.abc import Callable, Iterator
from functools import partial

from PySide6.QtCore import QCoreApplication, QLibraryInfo, QTranslator

from farrail import language
from farrail.language import say
from farrail.ui.session import Session
from farrail.ui.widgets.palette import Entry

# Each by its own name, so that whoever speaks it finds it in any language.
NAMES = {"en": "English", "de": "Deutsch"}
AS_SYSTEM = ""
QT_TRANSLATOR = "qt_translator"


def translate_qt(app: QCoreApplication) -> None:
    """Have Qt's own dialogs speak the language in force too, as far as Qt has it."""
    for old in app.findChildren(QTranslator, QT_TRANSLATOR):
        app.removeTranslator(old)
        old.deleteLater()
    if language.current() == language.ENGLISH:
        return
    translator = QTranslator(app)
    translator.setObjectName(QT_TRANSLATOR)
    if translator.load(f"qtbase_{language.current()}", QLibraryInfo.path(QLibraryInfo.LibraryPath.TranslationsPath)):
        app.installTranslator(translator)


def choices(session: Session, anew: Callable[[], None]) -> Iterator[Entry]:
    """Return the languages there are, and following the system; the callback makes the windows again."""
    named = [(say("Language: {name}", name=NAMES.get(code, code)), code) for code in language.languages()]
    for title, code in (*named, (say("Language: as the system has it"), AS_SYSTEM)):
        chosen = language.saved() == code
        act = partial(choose, session, code, anew)
        yield Entry(title, say("in use") if chosen else say("language"), act, chosen)


def choose(session: Session, code: str, anew: Callable[[], None]) -> None:
    """Use a language from now on, in every window and at every start; "" follows the system."""
    try:
        language.save(code)
    except OSError as error:
        session.message.emit(say("The language cannot be saved ({strerror}).", strerror=error.strerror), True)
        return
    before = language.current()
    language.choose(code or language.of_environment())
    if language.current() == before:
        return
    app = QCoreApplication.instance()
    if app is not None:
        translate_qt(app)
    anew()
