"""The languages: complete, with the values of the English, fitting into the window, followed by the command line."""

import json
import os
import pickle
import re
import subprocess
import sys
from collections.abc import Iterable, Iterator
from pathlib import Path

import pytest
from babel.messages.catalog import Message
from tests.language.messages import ROOT, SOURCE, catalogue, compiled, messages, strings, template, wrong_values
from tests.language.style import breaks, comments, fragments

from farrail import language
from farrail.demo.hallan_skerry import demo_workbook
from farrail.errors import BadInput
from farrail.language import DOMAIN, FOLDER, begun_large, begun_small, names_in, say, say_n, word
from farrail.parts.origin import Origin
from farrail.parts.written import read_written
from farrail.parts.written_ends import connection_cell, connection_typed, parse_connection, parse_connections
from farrail.readouts.read import read
from farrail.ui.help.pages import FOLDER as HELP
from farrail.ui.help.pages import WRITTEN
from farrail.workbook.store import write_file

# Words that are names in the demo as well, or alike in both languages.
OWN_NAMES = {"Adapter", "Rotator"}
# How many are left; a change may lower these numbers, not raise them.
FRAGMENTS, OLD_COMMENTS = 88, 33
OTHERS = tuple(code for code in language.languages() if code != language.ENGLISH)


def pairs(code: str) -> Iterator[tuple[str, str]]:
    """Yield every message with its translation, each form of a plural by itself."""
    for message in catalogue(code):
        if message.id:
            texts = (message.id,) if isinstance(message.id, str) else message.id
            yield from zip(texts, strings(message), strict=True)


@pytest.fixture
def german() -> Iterator[None]:
    language.choose("de")
    yield
    language.choose(language.ENGLISH)


def test_german_is_there() -> None:
    assert "de" in OTHERS


@pytest.mark.parametrize("code", OTHERS)
def test_a_catalogue_holds_every_message_and_no_other(code: str) -> None:
    def keys(of: Iterable[Message]) -> set[tuple[str | None, object]]:
        return {(message.context, message.id) for message in of if message.id}

    assert keys(catalogue(code)) == keys(template())
    assert not [message for message, translated in pairs(code) if not translated]
    assert not [message.id for message in catalogue(code) if message.id and message.fuzzy]


@pytest.mark.parametrize("code", OTHERS)
def test_what_the_program_reads_is_compiled_from_what_translators_write(code: str) -> None:
    assert (FOLDER / code / "LC_MESSAGES" / f"{DOMAIN}.mo").read_bytes() == compiled(code)


@pytest.mark.parametrize("code", OTHERS)
def test_a_translation_has_the_values_and_edges_of_the_message(code: str) -> None:
    for message, translated in pairs(code):
        if '{"' in message:
            # A line of JSON shown as it is written: no values.
            continue
        assert names_in(message) == names_in(translated), message
        # What is put together keeps the spaces and line breaks it is put together with.
        assert message[:1].isspace() == translated[:1].isspace(), message
        assert translated.count("\n") == message.count("\n"), message
        # Nothing of the other's quotation marks.
        assert "”" not in translated, message


def test_every_message_is_given_the_values_it_names() -> None:
    assert not list(wrong_values())


def test_messages_keep_to_the_rules_of_style() -> None:
    broken = [(place, m.text, rule) for m, place in messages().items() for rule in breaks(f"{m.text}\n{m.plural}")]
    assert not broken


def test_what_is_left_of_older_ways_of_writing_only_shrinks() -> None:
    # Pieces glued into other messages: rows of the command line, clauses, and formulas that begin with a bracket.
    assert len(fragments()) <= FRAGMENTS
    found = [(path.name, line, rule) for path in SOURCE.rglob("*.py") for line, text in comments(path)
             for rule in breaks(text)]  # fmt: skip
    assert len(found) <= OLD_COMMENTS, found[:20]


def shown(*languages: str) -> set[str]:
    """Return every text of the window that starts in the first language and is switched to each further one."""
    command = [sys.executable, "-m", "tests.language.shown", *languages]
    environment = {**os.environ, "PYTHONPATH": f"{ROOT / 'src'}{os.pathsep}{ROOT}"}
    told = subprocess.run(command, capture_output=True, text=True, cwd=ROOT, env=environment, check=True)
    return {line.split(": ", 1)[1] for line in told.stdout.splitlines() if ": " in line}


@pytest.mark.parametrize("chosen", [("de",), ("en", "de", "en")])
def test_the_window_is_wholly_in_its_language_also_when_it_is_switched(chosen: tuple[str, ...]) -> None:
    texts = shown(*chosen)
    wrong, right = (0, 1) if chosen[-1] == "de" else (1, 0)
    named = {pair[wrong] for pair in pairs("de")} - {pair[right] for pair in pairs("de")}
    begun = tuple(start for start in (text.split("{")[0] for text in named if "{" in text) if len(start) >= 10)
    left = {text for text in texts if text in named or text.startswith(begun)}
    # Names that the demo workbook's parts were given.
    given = {part.name for part in demo_workbook().shelf}
    assert len(texts) > 1000
    assert not {text for text in left if text not in given and text not in OWN_NAMES}


@pytest.mark.parametrize("code", OTHERS)
def test_help_is_written_in_every_language(code: str) -> None:
    for key in WRITTEN:
        page = (HELP / code / f"{key}.md").read_text("utf-8").replace("Strg+", "Ctrl+").replace("Umschalt+", "Shift+")
        english = (HELP / "en" / f"{key}.md").read_text("utf-8")
        assert page.startswith("# ")
        assert sorted(re.findall(r"\]\(([^)]+)\)", page)) == sorted(re.findall(r"\]\(([^)]+)\)", english)), key
        assert page.count("\n\n") == english.count("\n\n"), key
        assert set(re.findall(r"Ctrl\+\S+?\b", page)) == set(re.findall(r"Ctrl\+\S+?\b", english)), key


@pytest.mark.timeout(240)
# Inches take more places, German more letters.
@pytest.mark.parametrize(("code", "size", "unit"), [("en", "1280x800", "in"), ("de", "1040x680", "mm")])
def test_nothing_is_too_long_for_the_window(code: str, size: str, unit: str) -> None:
    command = [sys.executable, "-m", "tests.language.over_long", code, size, unit]
    environment = {**os.environ, "PYTHONPATH": f"{ROOT / 'src'}{os.pathsep}{ROOT}"}
    told = subprocess.run(command, capture_output=True, text=True, cwd=ROOT, env=environment)
    assert told.returncode == 0, told.stdout + told.stderr[-2000:]


def test_numbers_and_plurals(german: None) -> None:
    assert say("The train is {miss:.2f mm} too long.", miss=1.25) == "Der Aufbau ist 1,25 mm zu lang."
    assert say_n("{count} observation", "{count} observations", 1, count=1) == "1 Beobachtung"
    assert say_n("{count} observation", "{count} observations", 3, count=3) == "3 Beobachtungen"
    # Whole numbers and texts are left as they are.
    assert say("{value:g} mm, reversed", value=1000.0) == "1000 mm, umgekehrt"
    assert say("{name} in {name_2}", name="Ring 8.7", name_2="x") == "Ring 8.7 in x"
    assert word(Origin.MEASURED) == "gemessen"
    assert begun_small("Zug verdoppeln") == "Zug verdoppeln"


def test_no_figure_names_a_side_in_the_language_of_the_source(german: None) -> None:
    workbook = demo_workbook()
    told = {f.label for train in workbook.trains for f in read(train, workbook.by_id).figures.values()}
    words = {word for label in told for word in re.findall(r"[a-z]+", label)}
    assert not words & {"width", "height", "diagonal", "top", "bottom", "left", "right", "middle", "corner", "edge"}
    assert {"Bildfeld, Breite", "Lichtverlust in der Mitte des Bildrands oben"} <= {
        begun_large(label) for label in told
    }


def test_an_error_is_told_in_the_language_of_the_moment() -> None:
    error = BadInput("“{text}” is not a number; write one such as 2, 2.5, 2,5 or 2mm.", text="zwei")
    assert str(error).startswith("“zwei” is not a number")
    language.choose("de")
    try:
        assert str(error).startswith("„zwei“ ist keine Zahl")
    finally:
        language.choose(language.ENGLISH)
    again = pickle.loads(pickle.dumps(error))
    assert type(again) is BadInput
    assert str(again) == str(error)


def test_an_unknown_language_is_english() -> None:
    language.choose("xx")
    assert language.current() == language.ENGLISH
    assert say("Vignetting") == "Vignetting"


def run(*words: str, **more: str) -> str:
    plain = {name: value for name, value in os.environ.items() if name not in ("LC_ALL", "LC_MESSAGES", "LANG")}
    command = [sys.executable, "-m", "farrail", *words]
    told = subprocess.run(command, capture_output=True, text=True, env={**plain, **more})
    return told.stdout + told.stderr


def test_the_command_line_follows_the_system_and_json_never_changes(tmp_path: Path) -> None:
    file = tmp_path / "demo.farrail.json"
    write_file(file, demo_workbook())
    command = ("readout", str(file), "--train", "witch-broom")
    english = run(*command, XDG_CONFIG_HOME=str(tmp_path))
    german = run(*command, LANG="de_DE.UTF-8", XDG_CONFIG_HOME=str(tmp_path))
    assert "The train is 0.02 mm too long, within tolerance." in english
    assert "Der Aufbau ist 0,02 mm zu lang, innerhalb der Toleranz." in german
    assert run(*command, LANG="fr_FR.UTF-8", XDG_CONFIG_HOME=str(tmp_path)) == english
    as_json = run(*command, "--json", XDG_CONFIG_HOME=str(tmp_path))
    assert run(*command, "--json", LC_ALL="de_DE.UTF-8", XDG_CONFIG_HOME=str(tmp_path)) == as_json
    assert json.loads(as_json)
    assert run("plan", str(file), "--train", "nix", LANG="de", XDG_CONFIG_HOME=str(tmp_path)).count("\n") == 1


def test_a_language_is_kept_for_the_next_start(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path))
    assert language.saved() == ""
    language.save("de")
    assert language.saved() == "de"
    told = run("calc", "depth-of-focus", "--f-number", "4", XDG_CONFIG_HOME=str(tmp_path))
    assert "Quelle:" in told
    (tmp_path / "far-rail" / "language").write_text("../../etc/passwd\n")
    assert language.saved() == ""


@pytest.mark.parametrize(("code", "unit"), [("de", "in")])
def test_every_figure_of_the_window_is_read_again_as_it_stands(code: str, unit: str) -> None:
    told = subprocess.run(
        [sys.executable, "-m", "tests.language.given_back", code, unit],
        capture_output=True, text=True, cwd=ROOT, env={**os.environ, "PYTHONPATH": f"{ROOT / 'src'}:{ROOT}"},
    )  # fmt: skip
    assert told.returncode == 0, told.stdout + told.stderr[-2000:]


def test_a_length_is_read_in_the_words_of_the_other_language() -> None:
    assert (read_written("6 bis 12").low, read_written("von 6 bis 12 mm").high) == (6.0, 12.0)
    assert read_written("zwischen 54 und 56").high == 56.0
    assert read_written("2 Zoll").low == pytest.approx(50.8)
    assert read_written("90 Grad", "°").low == 90.0


@pytest.mark.parametrize(
    ("text", "same"),
    [
        ("M42x0,75 außen", "M42x0.75 external"), ("M48 x 0,75 Innengewinde", "M48x0.75 internal"),
        ("IG M54x0,75", "M54x0.75 internal"), ("C mount aussen 4", "C mount external 4"),
    ],
)  # fmt: skip
def test_a_connection_is_read_in_the_words_of_the_other_language(text: str, same: str) -> None:
    assert parse_connection(text) == parse_connection(same)


def test_a_connection_is_told_and_given_back_in_the_language_of_the_moment(german: None) -> None:
    end = parse_connection("M48x0.75 external 4.5")
    assert end.label.endswith(" außen")
    assert connection_typed(end) == "M48.0×0.75 außen 4.5"
    assert parse_connection(connection_typed(end)) == end
    assert parse_connections("M48x0,75 innen auf M42x0,75 außen") == parse_connections(
        "M48x0.75 internal to M42x0.75 external"
    )
    # Tables keep their words, whoever reads them.
    assert connection_cell(end) == "M48.0x0.75 external 4.5"


def test_the_ids_of_ready_made_parts_are_the_same_in_every_language() -> None:
    told = (
        "import sys; from farrail import language; language.choose(sys.argv[1]);"
        "from farrail.parts.registry import usual_sizes;"
        "print(*(f'{one.part.id}|{one.part.name}' for one in usual_sizes()), sep='\\n')"
    )
    listed = {}
    for code in language.languages():
        run_in = {**os.environ, "PYTHONPATH": str(ROOT / "src")}
        done = subprocess.run(
            [sys.executable, "-c", told, code], capture_output=True, text=True, env=run_in, check=True
        )
        listed[code] = [line.split("|") for line in done.stdout.splitlines()]
    english = listed[language.ENGLISH]
    assert len(english) > 500
    for code in OTHERS:
        assert [key for key, _ in listed[code]] == [key for key, _ in english]
        assert sum(name != other for (_, name), (_, other) in zip(listed[code], english, strict=True)) > 400
