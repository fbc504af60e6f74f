"""What people call commands and pages when they do not know this program's words; English and German."""

from collections.abc import Iterable

# What may be typed, and the words of commands and pages that are meant. Both languages at once: who reads German names
# of commands may still know the English word.
MEANT: dict[str, tuple[str, ...]] = {
    "delete": ("remove", "entfernen"), "erase": ("remove", "entfernen"), "löschen": ("entfernen",),
    "reverse": ("flip", "umdrehen"), "umkehren": ("umdrehen",), "wenden": ("umdrehen",),
    "rotate": ("turn", "drehen"), "rotieren": ("drehen",),
    "options": ("preferences", "settings", "einstellungen"), "config": ("preferences", "einstellungen"),
    "configuration": ("preferences", "einstellungen"), "settings": ("preferences", "einstellungen"),
    "optionen": ("einstellungen",), "konfiguration": ("einstellungen",),
    "corners": ("vignetting", "vignettierung"), "dark": ("vignetting", "lamp", "vignettierung"),
    "vignette": ("vignetting", "vignettierung"), "ecken": ("vignettierung",), "dunkle": ("vignettierung",),
    "night": ("dark-adapted",), "nacht": ("dunkeladaptiert",), "red": ("dark-adapted",), "rot": ("dunkeladaptiert",),
    "colours": ("theme", "farbschema"), "colors": ("theme", "farbschema"), "farben": ("farbschema",),
    "new": ("start", "begin", "beginnen", "neue"), "create": ("start", "new", "neue", "beginnen"),
    "neu": ("neue", "beginnen"), "setup": ("train", "aufbau"), "rig": ("train", "aufbau"), "clone": ("duplicate",),
    "copy": ("duplicate", "duplizieren"), "kopieren": ("duplizieren",),
    "exit": ("quit", "beenden"), "close": ("quit", "beenden"), "schließen": ("beenden",),
    "shortcuts": ("tastenkürzel",), "hotkeys": ("shortcuts", "tastenkürzel"), "kurzbefehle": ("tastenkürzel",),
    "manual": ("help", "hilfe"), "handbuch": ("hilfe",), "anleitung": ("hilfe",),
    "csv": ("table", "tabelle"), "spreadsheet": ("table", "tabelle"),
    "pdf": ("print", "drucken"), "png": ("picture", "bild"), "image": ("picture", "photo", "bild"),
    "backup": ("earlier", "frühere"), "version": ("earlier", "about", "frühere", "über"),
    "revert": ("undo", "earlier", "rückgängig"), "back": ("undo", "spacing", "rückgängig"),
    "backfocus": ("spacing", "back focus", "abstand"), "focus": ("spacing", "abstand"),
    "macro": ("close-up", "nah"), "makro": ("nah",), "fov": ("field", "frame", "feld", "bildfeld"),
    "inch": ("inches", "zoll"), "metric": ("millimetres", "millimeter"), "units": ("lengths", "längen"),
    "einheiten": ("längen",), "fullscreen": ("full screen", "vollbild"), "f-stop": ("aperture", "blende"),
    "stop": ("aperture", "exposure", "blende"), "diagnose": ("error",), "search": ("find", "finden", "suchen"),
    "guider": ("guide",), "magnification": ("close-up", "nah"), "pupil": ("pupil",), "diary": ("log",),
}  # fmt: skip


def hits(name: str, words: Iterable[str]) -> int:
    """Return how well a name answers what is typed.

    Args:
        name: of a command, page, part or figure, in small letters.
        words: what is typed, in small letters.

    Returns:
        2 where every word is in the name, 1 where some are other words for what does, 0 where one does not answer.
    """
    answer = 2
    for word in words:
        if word in name:
            continue
        if not any(meant in name for meant in MEANT.get(word, ())):
            return 0
        answer = 1
    return answer
