"""The pages of the help, as Markdown: written ones from the assets, glossary and figures made by the program."""

from dataclasses import dataclass
from pathlib import Path

from farrail.language import N_, current, say
from farrail.quantities import headed
from farrail.readouts.figure import kinds_of_figures, meaning_of
from farrail.readouts.read import Readout
from farrail.text.glossary import TERMS
from farrail.ui.help.drawings import DRAWINGS, SCHEME
from farrail.ui.widgets.working import figure_text

FOLDER = Path(__file__).parents[2] / "assets" / "help"
GLOSSARY, FIGURES = "glossary", "figures"
# In the order a person comes by them.
WRITTEN = (
    "start", "questions", "tables", "rail", "parts", "back-focus", "spacing-plan", "map", "photo", "front",
    "entrance-pupil", "close-up",
    "exposure", "build", "log", "frames", "findings", "compare",
)  # fmt: skip
SUBJECTS = {
    "spacing": N_("Spacing"), "light": N_("Vignetting"), "front": N_("Filters"), "closeup": N_("Close-up"),
    "exposure": N_("Exposure"),
}  # fmt: skip


@dataclass(frozen=True)
class Page:
    """One page.

    Attributes:
        key: what links lead to it.
        title: its heading.
        text: the whole of it, as Markdown.
    """

    key: str
    title: str
    text: str


def pages(readout: Readout | None) -> tuple[Page, ...]:
    """Return every page.

    Args:
        readout: of the train in view, whose figures the page of figures shows.
    """
    written = tuple(_written(key, current()) for key in WRITTEN)
    return tuple(_illustrated(page) for page in (*written, figures_page(readout), glossary_page()))


def _illustrated(page: Page) -> Page:
    """Return a page with its drawing and what to see in it, behind its first paragraph."""
    drawing = DRAWINGS.get(page.key)
    if drawing is None:
        return page
    head, _, rest = page.text.partition("\n\n")
    first, _, rest = rest.partition("\n\n") if not rest.lstrip().startswith("#") else ("", "", rest)
    image = f"![{page.title}]({SCHEME}:{page.key})"
    pieces = (head, first, image, f"*{drawing.caption}*", rest)
    return Page(page.key, page.title, "\n\n".join(piece.strip("\n") for piece in pieces if piece.strip()))


def _written(key: str, language: str) -> Page:
    path = FOLDER / language / f"{key}.md"
    text = (path if path.exists() else FOLDER / "en" / f"{key}.md").read_text("utf-8")
    return Page(key, text.split("\n", 1)[0].removeprefix("# ").strip(), text)


def glossary_page() -> Page:
    """Return the words of the field, in the order of the alphabet."""
    told = sorted((headed(say(term)), say(meaning)) for term, meaning in TERMS.items())
    lines = [f"**{term}.** {meaning}\n" for term, meaning in told]
    title = say("Glossary")
    return Page(GLOSSARY, title, "\n".join((f"# {title}\n", *lines)))


def figures_page(readout: Readout | None) -> Page:
    """Return what each figure means, those of the train in view with their values and labels."""
    title_of_all = say("Meaning of each figure")
    lines = [f"# {title_of_all}\n"]
    if readout is not None:
        name = readout.layout.train.name
        told = say("With the values of {name}; click a figure on a page to see how it is calculated.", name=name)
        lines.append(f"*{told}*\n")
    now = {} if readout is None else {figure.kind: figure for figure in reversed(list(readout.figures.values()))}
    for subject, title in SUBJECTS.items():
        shown = [f"## {title}\n"]
        elsewhere = []
        for kind in kinds_of_figures():
            if not kind.startswith(f"{subject}."):
                continue
            figure = now.get(kind)
            if figure is None:
                elsewhere.append(f"- {meaning_of(kind)}\n")
            else:
                starred = "" if "*" in kind else f", {figure_text(figure)}"
                shown.append(f"**{headed(figure.label)}**{starred}. {meaning_of(kind)}\n")
        if elsewhere:
            shown += [f"*{say('In other trains:') if len(shown) > 1 else say('Not in this train:')}*\n", *elsewhere]
        lines += shown
    return Page(FIGURES, title_of_all, "\n".join(lines))
