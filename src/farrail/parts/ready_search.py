"""Finding a ready-made size by what people call it: synonyms, inches, lengths; whole words and numbers first."""

import re
from collections.abc import Iterable, Sequence
from functools import lru_cache

from farrail.parts.base import PartBase
from farrail.parts.usual import Usual

# Words for a kind of part, in English and German, beside its own name.
SYNONYMS: dict[str, tuple[str, ...]] = {
    "spacer": ("extension", "extender", "tube", "distanzring", "verlängerung"),
    "extension_tube": ("macro", "tube", "makro", "zwischenring"),
    "adapter": ("step-up", "step-down", "stepup", "stepdown", "stepping", "step", "t-ring", "mount", "stepring"),
    "off_axis_guider": ("oag", "guider", "prism", "nachführung"),
    "filter_wheel": ("carousel", "fw", "filterrad"),
    "filter_drawer": ("tray", "slider", "filterschublade"),
    "round_filter": ("cpl", "polarizer", "polariser", "polfilter", "nd", "uv"),
    "sheet_filter": ("grad", "graduated", "gnd", "nd", "verlauf", "plate"),
    "close_up_lens": ("achromat", "dioptre", "diopter", "macro", "makro", "nahlinse"),
    "bellows": ("macro", "makro", "balgen"),
    "teleconverter": ("converter", "extender", "barlow", "multiplier", "konverter"),
    "corrector": ("flattener", "reducer", "coma", "reduzierer", "ebner"),
    "camera": ("body", "sensor", "gehäuse"),
    "coupling_ring": ("front", "cpl"),
    "filter_holder": ("holder", "slots", "halter"),
    "adjustable_spacer": ("helical", "helicoid", "variable", "verstellbar"),
    "rotator": ("rotating", "drehbar"),
    "hood": ("shade", "shield", "gegenlichtblende"),
    "pouch": ("bag", "case", "tasche"),
    "telescope": ("scope", "refractor", "reflector", "newtonian", "fernrohr"),
    "camera_lens": ("objective", "prime", "zoom", "objektiv"),
}
# Names of threads and sizes that stand for another.
STANDS_FOR = {"t2": "m42", "t-2": "m42", "t-thread": "m42", "31.7mm": "1.25in", "31.75mm": "1.25in", "50.8mm": "2in"}


def find_sizes(text: str, sizes: Sequence[Usual[PartBase]]) -> list[tuple[int, Usual[PartBase]]]:
    """Return the ready-made sizes that a text asks for, each with its number, the best first within their groups.

    Args:
        text: what is typed, such as `spacer M42 5` or `2 inch filter`; "" for all.
        sizes: all there are.
    """
    wanted = _words(text)
    found = []
    for number, item in enumerate(sizes):
        name, group = _words(item.part.name), _words(item.group)
        known = SYNONYMS.get(str(item.part.kind), ())
        scores = [max(2 * _score(word, name, known), 2 * _score(word, group, ()) - 1) for word in wanted]
        if all(score > 0 for score in scores):
            found.append((sum(scores), number, item))
    best: dict[str, int] = {}
    for score, _, item in found:
        best[item.group] = max(best.get(item.group, 0), score)
    order = {group: place for place, group in enumerate(dict.fromkeys(item.group for item in sizes))}
    found.sort(key=lambda one: (-best[one[2].group], order[one[2].group], -one[0], one[1]))
    return [(number, item) for _, number, item in found]


@lru_cache(maxsize=4096)
def _words(text: str) -> tuple[str, ...]:
    """Return a text's words: an inch size is one word, a size in mm a number, and × is ×."""
    text = text.casefold().replace("×", "x").replace(",", ".")
    text = re.sub(r'(\d(?:[\d.]*))\s*(?:"|″|inch(?:es)?\b|in\b|zoll\b)', r"\1in ", text)
    text = re.sub(r"(?<=\d)x(?=\d)", "×", text)
    found = [STANDS_FOR.get(word, word) for word in re.split(r"[\s/]+", text) if word]
    bare = (re.sub(r"(?<=\d)mm\.?$", "", word) for word in found if word not in ("mm", "x", "×"))
    return tuple(word.strip(".;:()") for word in bare)


def _score(word: str, words: Iterable[str], known: tuple[str, ...]) -> int:
    """Return 3 for a whole word, 2 for its beginning or a synonym, 1 for a part of a word, 0 for none."""
    score = 2 if any(one.startswith(word) for one in known) else 0
    number = re.fullmatch(r"[+]?\d[\d.]*", word) is not None
    for one in words:
        # A thread is found without its pitch.
        if one == word or one.partition("×")[0] == word:
            return 3
        if one.startswith(word):
            # 5 is not the beginning of 50.
            score = max(score, 1 if number else 2)
        elif word in one and len(word) > 1:
            score = max(score, 1)
    return score
