"""How the program's texts are written: words not to use, fragments, plurals, signs and lengths of sentences.

`python -m tests.language.style` lists what breaks the rules in messages, and how many comments and docstrings do.
"""

import ast
import re
import tokenize
from collections.abc import Iterator
from pathlib import Path

from tests.language.messages import ROOT, SOURCE, messages

# Words of an older, private way of speaking, each with what stands for it now.
AVOIDED = {
    r"\b(lay|laid|lays|laying)\b": "add, place; actual",
    r"\blies?\b": "is, sits",
    r"(?<!copy )\bstands?\b(?! (by|for)\b)": "is, sits, rests on",
    r"\bstood\b": "was",
    r"\b(tell|tells|told)\b": "show, say, entered",
    r"\bnobody\b": "not entered, unknown",
    r"\bsomebody\b": "a person, you",
    r"\bteach(es)?\b|\blearnt\b": "calibrate, calibrated",
    r"\btake over\b|\btaken over\b": "apply",
    r"\bat hand\b": "that you own",
    r"\bregister\b": "flange focal distance",
    r"\bturned round\b": "reversed, flipped, rotated",
    r"\bmeant for\b": "for",
    r"\bas far as is known\b": "with the values entered",
    r"\b(whatever|whichever)\b": "any",
    r"\bjudged otherwise\b": "the verdict changes",
    r"\bbegin anew\b|\banew\b": "again, start over",
    r"\bvoid\b": "no longer valid",
    r"\bmend\b": "fix",
    r"\bclear to\b|\bwide inside\b": "clear aperture",
    r"\bdoubt\b": "uncertainty",
    r"\bspoken of\b|\bspeaks? of\b": "about",
    r"\bborne\b": "allowed",
}
SENTENCE_WORDS = 30


def breaks(text: str) -> Iterator[str]:
    """Yield each rule that a text breaks."""
    for pattern, instead in AVOIDED.items():
        found = re.search(pattern, text, re.IGNORECASE)
        if found:
            yield f"“{found[0]}”: {instead}"
    if re.match(r"(of|with|which|what|how)\b[^.?!]*$", text, re.IGNORECASE):
        yield "a label begins with a noun or a verb"
    if re.search(r"\b(1 [a-z]+s|\w+\(s\))\b", text) and "{" not in text[: text.find("(s)") + 1]:
        yield "a plural that is none"
    if re.search(r"(?<![\w{.])-\d", text):
        yield "a hyphen for a minus"
    for sentence in re.split(r"(?<=[.!?:;])\s", text):
        # A formula with its numbers put in is no sentence.
        if len(sentence.split()) > SENTENCE_WORDS and " = " not in sentence:
            yield f"a sentence of more than {SENTENCE_WORDS} words"


def fragments() -> dict[str, str]:
    """Return the messages that are glued into others: they start or end with a space or punctuation."""
    return {m.text: place for m, place in messages().items() if re.match(r"^[\s,;.(]", m.text) or m.text.endswith(" ")}


def comments(path: Path) -> Iterator[tuple[int, str]]:
    """Yield the comments and docstrings of a file with their lines."""
    with path.open("rb") as file:
        for token in tokenize.tokenize(file.readline):
            if token.type == tokenize.COMMENT:
                yield token.start[0], token.string
    for node in ast.walk(ast.parse(path.read_text("utf-8"))):
        if isinstance(node, ast.Module | ast.ClassDef | ast.FunctionDef | ast.AsyncFunctionDef):
            text = ast.get_docstring(node)
            if text:
                yield node.body[0].lineno, text


def main() -> None:
    """Print what breaks the rules."""
    for message, place in messages().items():
        for text in filter(None, (message.text, message.plural)):
            for rule in breaks(text):
                print(f"{place}: {text!r}: {rule}")
    glued = fragments()
    print(f"{len(glued)} fragments")
    count = 0
    for path in sorted(SOURCE.rglob("*.py")):
        for line, text in comments(path):
            for rule in breaks(text):
                count += 1
                print(f"{path.relative_to(ROOT)}:{line}: {rule}")
    print(f"{count} comments and docstrings")


if __name__ == "__main__":
    main()
