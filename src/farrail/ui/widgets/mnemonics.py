"""Letters that choose an entry of an open menu: each entry gets one of its own, its first letter where that is free."""

import re

from PySide6.QtWidgets import QMenu

HAS_ONE = re.compile(r"(?<!&)&(?!&)(\w)")


def give_letters(menu: QMenu) -> None:
    """Underline a letter in each entry of a menu that has none; entries beyond the letters there are get none."""
    entries = [action for action in menu.actions() if action.text() and not action.isSeparator()]
    taken = {found.group(1).casefold() for action in entries if (found := HAS_ONE.search(action.text()))}
    # Those with the fewest letters choose first.
    for action in sorted(entries, key=lambda one: len(set(one.text().casefold()))):
        text = action.text()
        if HAS_ONE.search(text):
            continue
        # First letters of words before all others.
        places = [m.start() for m in re.finditer(r"\b[^\W_]", text)]
        places += [m.start() for m in re.finditer(r"[^\W_]", text) if m.start() not in places]
        place = next((at for at in places if text[at].casefold() not in taken), None)
        if place is not None:
            taken.add(text[place].casefold())
            action.setText(f"{text[:place]}&{text[place:]}")


def keep_letters(menu: QMenu) -> None:
    """Give a menu its letters whenever it is shown."""
    menu.aboutToShow.connect(lambda: give_letters(menu))
