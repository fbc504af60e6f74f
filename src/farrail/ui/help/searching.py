"""Looking something up in the help: by the words of a question, their stems and what else people call things."""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from farrail.ui.help.pages import Page

# Words of a question that say nothing of what it is about, in both languages.
EMPTY = frozenset({
    "a", "an", "and", "are", "as", "at", "be", "by", "do", "does", "for", "from", "how", "i", "in", "is", "it",
    "me", "my", "of", "on", "one", "or", "should", "the", "to", "what", "when", "where", "which", "why", "with",
    "who", "will", "can", "need", "der", "die", "das", "ein", "eine", "einen", "ist", "sind", "wie", "was", "wo",
    "warum", "welche", "welcher", "welches", "ich", "mein", "meine", "meiner", "für", "von", "zu", "zum", "und",
    "oder", "wird",
})  # fmt: skip
# What people call things, and what the pages call them.
SYNONYMS = {
    "backfocus": "back focus", "backfocu": "back focus", "register": "flange", "nodal": "parallax",
    "polarizer": "polariser", "vignette": "vignetting", "flattener": "corrector", "cfz": "focus zone",
    "csv": "table", "spreadsheet": "table", "macro": "close", "extension": "tube", "diopter": "lens",
    "setting": "settings", "female": "male", "gender": "male", "oag": "guide", "guider": "guide",
}  # fmt: skip
ENDINGS = ("ing", "ies", "es", "s", "en", "n", "e")
LEAST_STEM = 3


@dataclass(frozen=True)
class Hit:
    """A page with what was looked for.

    Attributes:
        key: the page.
        text: a text on it to go to: the best heading, or what was typed.
    """

    key: str
    text: str


def looked_up(asked: str, pages: Sequence[Page]) -> tuple[Hit, ...]:
    """Return the pages that answer, the best first; all, in their order, where nothing is asked."""
    if not asked:
        return tuple(Hit(page.key, "") for page in pages)
    wanted = [stem for stem in _stems(asked) if stem not in EMPTY] or _stems(asked)
    scored = []
    for number, page in enumerate(pages):
        literal = asked.casefold() in page.text.casefold()
        best, where = _best_section(wanted, page)
        share = best if best >= 1.0 or len(wanted) == 1 else best * 0.9
        if literal or share >= LEAST_SHARE:
            scored.append(
                (-share - 0.5 * literal, number, Hit(page.key, where if best > 0.0 and not literal else asked))
            )
    return tuple(hit for _, _, hit in sorted(scored, key=lambda one: one[:2]))


# So much of what is asked must be in one section of a page.
LEAST_SHARE = 0.6


def _best_section(wanted: Sequence[str], page: Page) -> tuple[float, str]:
    """Return how much of a question the best section of a page holds, and its heading; a heading counts double."""
    best, where = 0.0, ""
    for heading, body in _sections(page):
        in_heading, in_body = set(_stems(heading)), set(_stems(body))
        found = sum(_held(stem, in_heading) or _held(stem, in_body) for stem in wanted)
        named = sum(_held(stem, in_heading) for stem in wanted)
        score = (found + named) / len(wanted)
        if score > best:
            best, where = score, heading
    return best, where


def _sections(page: Page) -> Iterator[tuple[str, str]]:
    for part in re.split(r"^#+ ", page.text, flags=re.M)[1:]:
        heading, _, body = part.partition("\n")
        yield heading.strip(), body


def _held(stem: str, stems: set[str]) -> bool:
    return stem in stems or (len(stem) > 4 and any(one.startswith(stem) for one in stems))


def _stems(text: str) -> list[str]:
    words = re.findall(r"[^\W_]+(?:[.×][\d]+)?", text.casefold())
    found = []
    for word in words:
        for said in (SYNONYMS.get(word) or SYNONYMS.get(_stem(word)) or word).split():
            found.append(_stem(said))
    return found


def _stem(word: str) -> str:
    ending = next((end for end in ENDINGS if word.endswith(end) and len(word) - len(end) >= LEAST_STEM), "")
    return word[: len(word) - len(ending)] if ending else word
