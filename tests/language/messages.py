"""Every message of the program, found in its source, and the catalogues that translate them.

`python -m tests.language.messages` brings `farrail.po` of every language up to date with the source (new messages are
empty, old ones leave, no translation is guessed), compiles it, and prints what is still untranslated.
"""

import ast
import re
from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum
from inspect import cleandoc
from io import BytesIO
from pathlib import Path

from babel.messages.catalog import Catalog, Message
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po, write_po

from farrail import errors
from farrail.language import DOMAIN, ENGLISH, FOLDER, languages, names_in
from farrail.parts.inventory_item import Status
from farrail.parts.origin import Origin
from farrail.readouts.finding import Severity
from farrail.workbook.shelf_view import Facet

ROOT = Path(__file__).parents[2]
SOURCE = ROOT / "src" / "farrail"
# Errors keep their message themselves.
ERRORS = {name for name, member in vars(errors).items() if isinstance(member, type) and issubclass(member, Exception)}
# Enumerations whose members are shown as words.
WORDS: tuple[type[StrEnum], ...] = (Origin, Severity, Facet, Status)
LETTERS = re.compile(r"[^\W\d_]{2,}")
NAMED = re.compile(r"\{[^{}]*\}")
# Tables whose words are translated where they are shown.
TABLES = {"text/glossary.py": "TERMS"}


@dataclass(frozen=True)
class Found:
    """A message of the source: its text, its plural, and what it is a word of; "" for none."""

    text: str
    plural: str = ""
    context: str = ""


def messages() -> dict[Found, str]:
    """Return every message there is, with the first file that has it."""
    found: dict[Found, str] = {}
    for path in sorted(SOURCE.rglob("*.py")):
        place = path.relative_to(SOURCE).as_posix()
        for message in _in(ast.parse(path.read_text("utf-8")), place):
            if worth(message.text + message.plural):
                found.setdefault(message, place)
    for path in sorted((SOURCE / "assets" / "sheets").glob("*.j2")):
        for text in re.findall(r'say\("([^"]+)"', path.read_text("utf-8")):
            found.setdefault(Found(text), path.name)
    for words in WORDS:
        for member in words:
            found.setdefault(Found(member.value, context=words.__name__), f"{words.__module__}")
    # One with a plural answers for the same text without.
    plural = {message.text for message in found if message.plural}
    return {m: place for m, place in found.items() if m.plural or m.context or m.text not in plural}


def worth(message: str) -> bool:
    """Whether a message holds words: what is only numbers, signs and units is alike in every language."""
    return bool(LETTERS.search(NAMED.sub("", message).replace("mm", "").replace("µm", "").replace("log2", "")))


def catalogue(code: str) -> Catalog:
    """Return the catalogue of a language as its file has it."""
    return read_po(BytesIO(_po(code).read_bytes()), locale=code, domain=DOMAIN)


def compiled(code: str) -> bytes:
    """Return the catalogue of a language as the program reads it."""
    buffer = BytesIO()
    write_mo(buffer, catalogue(code))
    return buffer.getvalue()


def _po(code: str) -> Path:
    return FOLDER / code / "LC_MESSAGES" / f"{DOMAIN}.po"


def _in(tree: ast.Module, place: str) -> Iterator[Found]:
    for node in ast.walk(tree):
        if isinstance(node, ast.Call):
            if place.startswith("cli/"):
                yield from _help_in(node)
            name = node.func.id if isinstance(node.func, ast.Name) else ""
            count = {"say": 1, "N_": 1, "say_n": 2, "FieldInfo": 2, "Error": 1}.get(
                "Error" if name in ERRORS else name, 0
            )
            texts = [a.value for a in node.args[:count] if isinstance(a, ast.Constant) and isinstance(a.value, str)]
            if name == "say_n" and len(texts) == count:
                yield Found(*texts)
            else:
                yield from (Found(text) for text in texts)
        elif isinstance(node, ast.FunctionDef) and any("command" in ast.unparse(one) for one in node.decorator_list):
            if place.startswith("cli/"):
                yield Found(cleandoc(ast.get_docstring(node) or ""))
        elif isinstance(node, ast.ClassDef) and place.startswith("readouts/") and place.endswith("_texts.py"):
            # What a kind of figure means is its docstring.
            if any(isinstance(one, ast.Assign) and ast.unparse(one.targets[0]) == "kind" for one in node.body):
                yield Found(cleandoc(ast.get_docstring(node) or ""))
        elif isinstance(node, ast.Assign) and TABLES.get(place) in [getattr(one, "id", "") for one in node.targets]:
            assert isinstance(node.value, ast.Dict)
            for key, value in zip(node.value.keys, node.value.values, strict=True):
                for node_ in (key, value):
                    assert isinstance(node_, ast.Constant)
                    yield Found(str(node_.value))


def _help_in(call: ast.Call) -> Iterator[Found]:
    """Yield what an argument, an option or a group of the command line says of itself."""
    if ast.unparse(call.func) in ("typer.Option", "typer.Argument", "typer.Typer"):
        for word in call.keywords:
            if word.arg == "help" and isinstance(word.value, ast.Constant):
                yield Found(str(word.value.value).strip())


def wrong_values() -> Iterator[str]:
    """Yield the calls whose values are not those that their message names."""
    for path in sorted(SOURCE.rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text("utf-8"))):
            if not isinstance(node, ast.Call) or not isinstance(node.func, ast.Name):
                continue
            count = {"say": 1, "say_n": 2}.get(node.func.id, 1 if node.func.id in ERRORS else 0)
            given = {word.arg for word in node.keywords}
            # The form for one may say "an hour" without its number, and a line of JSON has braces of its own.
            texts = [a.value for a in node.args[:count] if isinstance(a, ast.Constant) and '{"' not in str(a.value)]
            wrong = [text for text in texts if None not in given and names_in(str(text)) != given]
            if wrong and not (node.func.id == "say_n" and wrong == texts[:1]):
                yield f"{path.relative_to(ROOT)}:{node.lineno}: {wrong[0]!r} with {sorted(map(str, given))}"


def template() -> Catalog:
    """Return the messages of the source as a catalogue without translations."""
    made = Catalog(project="Far Rail", charset="utf-8")
    for message, place in messages().items():
        text = (message.text, message.plural) if message.plural else message.text
        made.add(text, context=message.context or None, locations=[(place, 1)])
    return made


def strings(message: Message) -> tuple[str, ...]:
    """Return the translations of a message, one for each form of a plural."""
    return (message.string,) if isinstance(message.string, str) else tuple(message.string or ("",))


def main() -> None:
    """Bring every catalogue up to date, compile it, and print what it lacks."""
    wanted = template()
    for code in languages():
        if code == ENGLISH:
            continue
        held = catalogue(code)
        held.update(wanted, no_fuzzy_matching=True)
        held.obsolete.clear()
        with _po(code).open("wb") as file:
            write_po(file, held, width=118, sort_output=True, include_lineno=False, omit_header=False)
        _po(code).with_suffix(".mo").write_bytes(compiled(code))
        lacking = [one.id for one in held if one.id and not all(strings(one))]
        print(f"{code}: {len(held)} messages, {len(lacking)} untranslated")
        for text in lacking:
            print(f"  {text!r}")


if __name__ == "__main__":
    main()
