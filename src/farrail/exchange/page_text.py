"""Text of a part's data pasted as it is on a page: what is recognised in it, for a person to approve.

Plain patterns and no guessing: a number is taken only where a word before or behind it says what it is.
"""

import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass

from farrail.errors import FarRailError
from farrail.parts.connections import Gender
from farrail.parts.fields import Shape, field_at
from farrail.parts.origin import Origin
from farrail.parts.registry import KINDS, Part
from farrail.parts.written import read_pair
from farrail.parts.written_ends import parse_connection
from farrail.workbook.edits.typed import parse_value

LONGEST_PAGE = 20_000
_NUM = r"[+-]?\d+(?:[.,]\d+)?"
_LEN = rf"{_NUM}(?:\s*(?:±|\+/-)\s*{_NUM})?\s*(?:mm|cm|m|in|inch|inches|\"|µm|um)?"
# Between a word and its number are a few small words at most.
_GAP = r"\s*(?:of|is|at|to|=|:|about|ca\.?|approx\.?|ø|Ø|\(mm\)|,)*\s*"
_THREAD = re.compile(
    r"(?:(?P<before>male|female|internal|external)\s+)?(?P<name>M\s?\d+(?:[.,]\d+)?\s?[x×]\s?\d+(?:[.,]\d+)?)"
    r"(?:\s+thread)?(?:[\s,(]+(?P<after>male|female|internal|external))?",
    re.IGNORECASE,
)


@dataclass(frozen=True)
class Found:
    """One thing recognised in a page.

    Attributes:
        path: the field it is for.
        text: what would be typed into that field.
        words: the words of the page it was read from.
    """

    path: str
    text: str
    words: str


@dataclass(frozen=True)
class _Pattern:
    """Words that name a field, as a regular expression, and what is behind them."""

    paths: tuple[str, ...]
    words: str
    value: str = _LEN
    # The number is before the words.
    ahead: bool = False


_PATTERNS: tuple[_Pattern, ...] = (
    _Pattern(("path_length_mm",),
             r"(?:path length|optical length|mechanical length|shoulder to shoulder|body thickness|length|adds)"),
    _Pattern(("clear_aperture_mm",), r"(?:clear(?: aperture)?|free (?:aperture|diameter)|inner diameter)"),
    _Pattern(("outer_diameter_mm",), r"(?:outer diameter|outside diameter|overall diameter)"),
    _Pattern(("back_focus_mm",), r"(?:back ?focus(?: distance)?|working distance to (?:the )?sensor)"),
    _Pattern(("spacing_tolerance_mm",), r"(?:tolerance)(?:\s*±)?"),
    _Pattern(("flange_to_sensor_mm",), r"(?:flange(?: focal)?(?: distance)?(?: to sensor)?|sensor depth)"),
    _Pattern(("flange_focal_distance_mm",), r"(?:flange focal distance|register)"),
    _Pattern(("image_circle_mm",), r"(?:image circle)"),
    _Pattern(("focal_length_mm",), r"(?:focal length)"),
    _Pattern(("aperture_mm",), r"(?<!clear )(?<!free )(?:aperture|objective)"),
    _Pattern(("f_number",), r"(?:f/|1:)(?=\d)", _NUM),
    _Pattern(("pixel_size_um",), r"(?:pixel(?: size)?s?)", rf"{_NUM}\s*(?:µm|um|μm)"),
    _Pattern(("pixel_size_um",), r"(?:pixels?)", rf"{_NUM}\s*(?:µm|um|μm)", ahead=True),
    _Pattern(("nearest_mm",), r"(?:minimum focus(?:ing)? distance|closest focus(?:ing distance)?|nearest focus)"),
    _Pattern(("nearest_magnification",), r"(?:maximum magnification|magnification|reproduction ratio)",
             rf"(?:1\s*:\s*{_NUM}|{_NUM}\s*[x×]?)"),
    _Pattern(("dioptres",), r"(?:power|close-up)", rf"\+?{_NUM}\s*(?:dpt|dioptres?|D)?"),
    _Pattern(("dioptres",), r"(?:dioptres?|dpt)\b", rf"\+?{_NUM}", ahead=True),
    _Pattern(("density",), r"(?:optical density|density)", _NUM),
    _Pattern(("density",), r"(?=ND\s?\d)", r"ND\s?\d+(?:[.,]\d+)?"),
    _Pattern(("density",), r"(?:f-)?stops?\b", _NUM, ahead=True),
    _Pattern(("glass.thickness_mm",), r"(?:glass thickness|filter thickness|glass)"),
    _Pattern(("glass.focus_shift_mm",), r"(?:focus shift|back ?focus reduction|reduction)"),
    _Pattern(("line_nm",), r"(?:centre wavelength|center wavelength|cwl)", rf"{_NUM}\s*(?:nm)?"),
    _Pattern(("passband_nm",), r"(?:full width at half maximum|fwhm|bandwidth|half ?width)", rf"{_NUM}\s*(?:nm)?"),
    _Pattern(("effective_index",), r"(?:effective (?:refractive )?index)", _NUM),
    _Pattern(("shortest_mm",), r"(?:shortest|minimum length|from)"),
    _Pattern(("longest_mm",), r"(?:longest|maximum length)"),
    _Pattern(("sheet_width_mm", "width_mm"), r"(?:filter width|system)"),
    _Pattern(("factor",), r"(?:factor)", rf"{_NUM}\s*[x×]?"),
)  # fmt: skip


def read_page(text: str, part: Part) -> tuple[Found, ...]:
    """Return what is recognised in the text of a page for a part of a kind, each field once, as the page has it.

    Args:
        text: the page, or a line of it.
        part: the part it is about; only fields of its kind are looked for.
    """
    page = " ".join(text[:LONGEST_PAGE].replace("\u00a0", " ").split())
    found: dict[str, Found] = {}
    for one in (*_threads(page, part), *_pairs(page, part), *_named(page, part)):
        if one.path not in found and _can_be(part, one):
            found[one.path] = one
    return tuple(found.values())


def _named(page: str, part: Part) -> Iterator[Found]:
    for pattern in _PATTERNS:
        for path in pattern.paths:
            if field_at(KINDS[part.kind], path) is None:
                continue
            # A number ends where it ends: 1e400 is not 1.
            value, words = rf"(?P<value>{pattern.value})(?!\w|[.,]\d)", pattern.words
            told = rf"{value}\s*(?:{words})" if pattern.ahead else rf"(?:{words}){_GAP}{value}"
            match = re.search(rf"(?<![\w]){told}", page, re.IGNORECASE)
            if match:
                text = match["value"].strip()
                stops = path == "density" and pattern.ahead
                yield Found(path, f"{text} stops" if stops else text, match[0].strip())


def _pairs(page: str, part: Part) -> Iterator[Found]:
    """Yield a width and a height, for what has both: a sensor, a sheet."""
    for wide, high, words in (
        ("sensor_width_mm", "sensor_height_mm", r"sensor(?: size)?"),
        ("width_mm", "height_mm", r"(?:size|filter|sheet)?"),
    ):
        if field_at(KINDS[part.kind], wide) is None or (wide == "width_mm" and part.kind != "sheet_filter"):
            continue
        match = re.search(
            rf"(?:{words})\s*[:=]?\s*(?P<pair>{_NUM}\s*(?:mm)?\s*[x×]\s*{_NUM}\s*mm)", page, re.IGNORECASE
        )
        if match:
            sizes = read_pair(match["pair"])
            yield from (Found(path, f"{mm:g}", match[0].strip()) for path, mm in zip((wide, high), sizes, strict=True))


def _threads(page: str, part: Part) -> Iterator[Found]:
    """Yield the connections named, the first for the end toward the light."""
    kind = KINDS[part.kind]
    ends = [path for path in ("front", "rear") if (field := field_at(kind, path)) and field.shape is Shape.CONNECTION]
    if part.kind == "camera_lens":
        size = re.search(rf"(?:filter (?:thread|size)|front thread)[\s:ø=]*({_NUM})\s*(?:mm)?", page, re.IGNORECASE)
        if size:
            yield Found("front", f"M{size[1].replace(',', '.')}x0.75 internal", size[0])
        return
    named = [m for m in _THREAD.finditer(page) if m["before"] or m["after"]]
    for path, match in zip(ends, named, strict=False):
        gender = (match["before"] or match["after"]).lower()
        word = {"male": Gender.EXTERNAL, "female": Gender.INTERNAL}.get(gender, gender)
        yield Found(path, f"{match['name'].replace(' ', '')} {word}", match[0].strip(" ,("))


def _can_be(part: Part, found: Found) -> bool:
    """Whether what was read is a value of its field at all."""
    field = field_at(KINDS[part.kind], found.path)
    read: Callable[[], object] = lambda: parse_value(found.path, found.text, Origin.PUBLISHED)  # noqa: E731
    if field is not None and field.shape is Shape.CONNECTION:
        read = lambda: parse_connection(found.text)  # noqa: E731
    try:
        read()
    except FarRailError:
        return False
    return True
