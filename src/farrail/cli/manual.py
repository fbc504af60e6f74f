"""The manual: one page for the program and one for each command, made from the command line itself (man-pages(7))."""

from farrail import __version__
from farrail.cli.described import Command, Word
from farrail.language import N_, say

FILES = (
    ("name.farrail.json", N_("A workbook: one open JSON file; see far-rail schema.")),
    ("~/.config/far-rail", N_("Settings of the window.")),
    ("~/.local/state/far-rail", N_("Unsaved work, offered at the next start, and the log of errors.")),
)
EXITS = (
    ("0", N_("Fine.")),
    ("1", N_("A finding stops the train, there is no plan or no answer, or a row of a table was left out.")),
    ("2", N_("Bad input; one sentence says what is wrong.")),
    ("3", N_("An error of the program itself; the details are in a log.")),
)


def pages(program: Command) -> dict[str, str]:
    """Return every page by its name, such as `far-rail-plan`.

    Args:
        program: the command line.
    """
    return {name(command): page(command) for command in program.walk()}


def name(command: Command) -> str:
    """Return the name of a command's page."""
    return "-".join(("far-rail", *command.words))


def page(command: Command) -> str:
    """Return the page of a command as roff."""
    lines = [
        f'.TH "{_plain(name(command).upper())}" "1" "" "Far Rail {__version__}" "Far Rail"',
        f".SH {say('NAME')}",
        f"{_plain(name(command))} \\- {_plain(command.brief[:1].lower() + command.brief[1:])}",
        f".SH {say('SYNOPSIS')}",
        *_synopsis(command),
        f".SH {say('DESCRIPTION')}",
        *_paragraphs(command.told),
    ]
    for title, words in ((say("ARGUMENTS"), command.arguments), (say("OPTIONS"), command.options)):
        if words:
            lines += [f".SH {title}", *(line for word in words for line in _told(word))]
    if command.commands:
        lines.append(f".SH {say('COMMANDS')}")
        for one in command.commands:
            lines += [".TP", f"\\fB{_plain(' '.join(one.words))}\\fP", _plain(f"{one.brief}.")]
    if not command.words:
        lines.append(f".SH {say('FILES')}")
        for file, told in FILES:
            lines += [".TP", f"\\fI{_plain(file)}\\fP", _plain(str(told))]
    lines.append(f".SH {say('EXIT STATUS')}")
    for code, told in EXITS:
        lines += [".TP", f"\\fB{code}\\fP", _plain(str(told))]
    lines += [f".SH {say('SEE ALSO')}", ", ".join(f"\\fB{_plain(one)}\\fP(1)" for one in _also(command))]
    return "\n".join(lines) + "\n"


def _also(command: Command) -> list[str]:
    above = [command.words[:count] for count in range(len(command.words))]
    return ["-".join(("far-rail", *words)) for words in (*above, *(one.words for one in command.commands))] or [
        "far-rail"
    ]


def _synopsis(command: Command) -> list[str]:
    call = " ".join(("far-rail", *command.words))
    bits = [f"\\fB{_plain(call)}\\fP"]
    if not command.words:
        file, command_word, more = say("FILE"), say("COMMAND"), say("ARGUMENTS")
        return [f"{bits[0]} [\\fI{file}\\fP]", ".br", f"{bits[0]} \\fI{command_word}\\fP [\\fI{more}\\fP]"]
    if command.commands:
        bits.append(f"\\fI{say('COMMAND')}\\fP")
    bits += [f"\\fI{_plain(word.names[0])}\\fP" for word in command.arguments]
    for word in command.options:
        told = f"\\fB{_plain(word.names[-1])}\\fP" + (f" \\fI{_plain(word.value)}\\fP" if word.value else "")
        bits.append((told if word.wanted else f"[{told}]") + (" ..." if word.again else ""))
    return [" ".join(bits)]


def _told(word: Word) -> list[str]:
    head = ", ".join(f"\\fB{_plain(one)}\\fP" for one in word.names)
    if word.value and word.names[0].startswith("-"):
        head += f" \\fI{_plain(word.value)}\\fP"
    return [".TP", head, _plain(word.told) or say("As its name says.")]


def _paragraphs(text: str) -> list[str]:
    lines: list[str] = []
    for paragraph in text.split("\n\n"):
        lines += [".PP", _plain(" ".join(paragraph.split()))]
    return lines[1:] if lines else []


def _plain(text: str) -> str:
    """Return text that roff prints as it is."""
    safe = text.replace("\\", "\\e").replace("-", "\\-")
    return f"\\&{safe}" if safe.startswith((".", "'")) else safe
