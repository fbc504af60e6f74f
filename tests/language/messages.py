"""Every message of the program, found in its source: what a catalogue has to hold.

`python -m tests.language.messages` prints what a catalogue lacks and what nothing says any more.
"""

import ast
import json
import re
from collections.abc import Iterator
from enum import StrEnum
from inspect import cleandoc
from pathlib import Path

from farrail import errors
from farrail.language import FOLDER
from farrail.parts.provenance import Origin
from farrail.parts.shelved import Status
from farrail.readouts.finding import Severity
from farrail.workbook.shelf_view import Facet

ROOT = Path(__file__).parents[2]
SOURCE = ROOT / "src" / "farrail"
# Errors keep their message themselves.
ERRORS = {name for name, member in vars(errors).items() if isinstance(member, type) and issubclass(member, Exception)}
# Enumerations whose members are said as words.
WORDS: tuple[type[StrEnum], ...] = (Origin, Severity, Facet, Status)
LETTERS = re.compile(r"[^\W\d_]{2,}")
NAMED = re.compile(r"\{[^{}]*\}")
# Tables whose words are said where they are shown.
TABLES = {"text/meanings.py": "MEANINGS", "text/glossary.py": "TERMS"}


def messages() -> dict[str, str]:
    """Return every message there is, with the first file that says it."""
    found: dict[str, str] = {}
    for path in sorted(SOURCE.rglob("*.py")):
        place = path.relative_to(SOURCE).as_posix()
        for message in _in(ast.parse(path.read_text("utf-8")), place):
            if worth(message):
                found.setdefault(message, place)
    for path in sorted((SOURCE / "assets" / "sheets").glob("*.j2")):
        for message in re.findall(r'say\("([^"]+)"', path.read_text("utf-8")):
            found.setdefault(message, path.name)
    for words in WORDS:
        for member in words:
            found.setdefault(f"{words.__name__}.{member.value}", words.__module__)
    return found


def worth(message: str) -> bool:
    """Whether a message holds words: what is only numbers, signs and units is alike in every language."""
    return bool(LETTERS.search(NAMED.sub("", message).replace("mm", "").replace("µm", "").replace("log2", "")))


def _in(tree: ast.Module, place: str) -> Iterator[str]:
    for node in ast.walk(tree):
        if isinstance(node, ast.Call):
            name = node.func.id if isinstance(node.func, ast.Name) else ""
            count = {"say": 1, "say_n": 2, "Told": 2, "Error": 1}.get("Error" if name in ERRORS else name, 0)
            for argument in node.args[:count]:
                if isinstance(argument, ast.Constant) and isinstance(argument.value, str):
                    yield argument.value
        elif isinstance(node, ast.FunctionDef) and any("command" in ast.unparse(one) for one in node.decorator_list):
            if place.startswith("cli/"):
                yield cleandoc(ast.get_docstring(node) or "")
        elif isinstance(node, ast.Assign) and TABLES.get(place) in [getattr(one, "id", "") for one in node.targets]:
            assert isinstance(node.value, ast.Dict)
            for key, value in zip(node.value.keys, node.value.values, strict=True):
                for node_ in (key, value) if place == "text/glossary.py" else (value,):
                    assert isinstance(node_, ast.Constant)
                    yield str(node_.value)


def main() -> None:
    """Print what each catalogue lacks, and what nothing says any more."""
    wanted = messages()
    print(f"{len(wanted)} messages")
    for path in sorted(FOLDER.glob("*.json")):
        kept = json.loads(path.read_text("utf-8"))
        for message in wanted:
            if message not in kept:
                print(f"{path.stem} lacks: {message!r} ({wanted[message]})")
        for message in kept:
            if message not in wanted:
                print(f"{path.stem} does not need: {message!r}")


if __name__ == "__main__":
    main()
