"""Questions about a lens that decide what may be ahead of it: hood, projection, aperture in use, shift."""

import math
import re
from typing import get_args

from farrail.errors import BadInput
from farrail.language import N_, say
from farrail.optics.projection import Projection
from farrail.parts.connections import OnlyFits
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity
from farrail.parts.written import plain_text, shown
from farrail.workbook.edits.lens_settings import SetGelatin, SetShift, SetTilt
from farrail.workbook.edits.trains import SetFNumber
from farrail.workbook.edits.typed import parse_value
from farrail.workbook.routes.common import lens_of
from farrail.workbook.routes.question import Question, RouteContext, present

HOODS = ("hood_fixed", "hood_comes_off", "no_hood")
# Above this focal length no fisheye is made for a frame of the usual sizes; common practice, no source.
FISHEYE_MM = 18.0
_SHIFT = re.compile(r"(?P<mm>\d+(?:[.,]\d+)?)\s*(?:mm\s*)?(?P<way>right|left|up|down|rechts|links|oben|unten)", re.I)
_MOST = re.compile(r"(?:at\s+most|up\s+to|max\.?|±|höchstens|bis)?\s*(\d.*)", re.I)
_TILT = re.compile(r"(-?\d+(?:[.,]\d+)?)?\s*°?(?:[\s,;]*(?:at\s+most|up\s+to|max\.?|±|höchstens|bis)\s*(\d.*))?", re.I)
_WAYS = {
    "right": (1.0, 0.0), "rechts": (1.0, 0.0), "left": (-1.0, 0.0), "links": (-1.0, 0.0),
    "up": (0.0, 1.0), "oben": (0.0, 1.0), "down": (0.0, -1.0), "unten": (0.0, -1.0),
}  # fmt: skip
_SIDE_WORDS = {"right": N_("right"), "left": N_("left"), "up": N_("up"), "down": N_("down")}


def _lens(stand: RouteContext) -> CameraLens | None:
    lens = lens_of(stand)
    return lens if isinstance(lens, CameraLens) else None


def _without_thread(stand: RouteContext) -> bool:
    lens = _lens(stand)
    return lens is not None and (lens.front is None or isinstance(lens.front.standard, OnlyFits))


def hood_question() -> Question:
    """Return the question about the hood of a lens without a filter thread."""

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        if text not in (*HOODS, ""):
            raise BadInput("“{shown}” is not one of the choices here.", shown=shown(text))
        return stand.with_value(present(lens_of(stand)).id, "hood", text or "hood_unknown")

    def told(stand: RouteContext) -> str:
        lens = _lens(stand)
        return "" if lens is None or lens.hood == "hood_unknown" else lens.hood

    return Question("lens.hood", tell, told, _without_thread, HOODS)


def projection_question() -> Question:
    """Return the question how a lens places directions on the frame, asked of those short enough for a fisheye."""
    names: tuple[str, ...] = get_args(Projection)

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        word = text.strip().casefold() or "rectilinear"
        if word not in names:
            raise BadInput("“{shown}” is not one of the choices here.", shown=shown(text))
        return stand.with_value(present(lens_of(stand)).id, "projection", word)

    def told(stand: RouteContext) -> str:
        lens = _lens(stand)
        return "" if lens is None else lens.projection

    def asked(stand: RouteContext) -> bool:
        lens = _lens(stand)
        return lens is not None and lens.focal_length_mm.high <= FISHEYE_MM

    return Question("lens.projection", tell, told, asked, names, preset=True)


def aperture_question() -> Question:
    """Return the question at which aperture the lens is used; it is judged wide open where nothing is said."""

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        wanted = parse_value("f_number", text, origin).value if text.strip() else None
        lens = _lens(stand)
        if wanted is not None and lens is not None and wanted < lens.f_number.low - 1e-9:
            raise BadInput(
                "The lens opens to f/{widest:g} at most; give that or a larger number.", widest=lens.f_number.low
            )
        return stand.after(SetFNumber(stand.train_id, wanted))

    def told(stand: RouteContext) -> str:
        number = None if stand.train is None else stand.train.conditions.f_number
        return "" if number is None else say("f/{number:g}", number=number)

    def usual(stand: RouteContext) -> tuple[str, ...]:
        return ("f/8", "f/11", "f/16", "f/5.6")

    return Question("lens.aperture", tell, told, lambda s: lens_of(s) is not None, usual=usual)


def shift_question() -> Question:
    """Return the question how far a lens is shifted and tilted, and how far it can be."""

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        shift, _, tilt = re.split("(tilt(?:ed)?|geneigt|verschwenkt)", plain_text(text).casefold() + "tilt")[:3]
        stand = _shifted(stand, shift.strip(" ,;"), text, origin)
        return _tilted(stand, tilt.strip(" ,;°"), text, origin)

    def told(stand: RouteContext) -> str:
        lens, train = _lens(stand), stand.train
        if lens is None or train is None:
            return ""
        words = []
        if lens.most_shift_mm is not None:
            right, up = train.conditions.shift_right_mm, train.conditions.shift_up_mm
            ways = ((right, "right" if right > 0.0 else "left"), (up, "up" if up > 0.0 else "down"))
            words = [say("{mm:g} {way}", mm=abs(mm), way=_SIDE_WORDS[way]) for mm, way in ways if mm]
            words.append(say("at most {most:g}", most=lens.most_shift_mm.value))
        if lens.most_tilt_deg is not None:
            words.append(say("tilt {deg:g}", deg=train.conditions.tilt_deg))
            words.append(say("at most {most:g}", most=lens.most_tilt_deg.value))
        return ", ".join(words)

    def asked(stand: RouteContext) -> bool:
        lens = _lens(stand)
        return lens is not None and lens.longest_focal_mm is None

    return Question("lens.shift", tell, told, asked)


def _shifted(stand: RouteContext, plain: str, text: str, origin: Origin) -> RouteContext:
    lens = present(lens_of(stand))
    stand = stand.after(SetShift(stand.train_id, 0.0, 0.0))
    if plain in ("", "none", "no", "0"):
        return stand.with_value(lens.id, "most_shift_mm", None)
    found = list(_SHIFT.finditer(plain))
    rest = _SHIFT.sub("", plain).strip(" ,;")
    most = _MOST.fullmatch(rest)
    if (rest and most is None) or not (found or most):
        raise BadInput("“{shown}” is not a shift; write 8 up, or 8 up, at most 12.", shown=shown(text))
    right = sum(_number(one["mm"]) * _WAYS[one["way"]][0] for one in found)
    up = sum(_number(one["mm"]) * _WAYS[one["way"]][1] for one in found)
    # Whoever shifts so far has a lens that does; how much farther it goes was not said.
    limit = Quantity.of(math.hypot(right, up), Origin.ASSUMED)
    if most is not None:
        limit = Quantity(readings=(parse_value("most_shift_mm", most[1], origin),))
    stand = stand.with_value(lens.id, "most_shift_mm", limit)
    return stand.after(SetShift(stand.train_id, right, up))


def _tilted(stand: RouteContext, plain: str, text: str, origin: Origin) -> RouteContext:
    lens = present(lens_of(stand))
    stand = stand.after(SetTilt(stand.train_id, 0.0))
    if plain in ("", "none", "no", "0"):
        return stand.with_value(lens.id, "most_tilt_deg", None)
    match = _TILT.fullmatch(plain)
    if match is None:
        raise BadInput("“{shown}” is not a tilt; write tilt 2, or tilt 2, at most 8.", shown=shown(text))
    down = _number(match[1]) if match[1] is not None else 0.0
    limit = Quantity.of(abs(down), Origin.ASSUMED)
    if match[2] is not None:
        limit = Quantity(readings=(parse_value("most_tilt_deg", match[2], origin),))
    stand = stand.with_value(lens.id, "most_tilt_deg", limit)
    return stand.after(SetTilt(stand.train_id, down))


def gelatin_question() -> Question:
    """Return the question about a gelatin filter behind a lens that takes none ahead."""

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        lens, plain = present(lens_of(stand)), plain_text(text).casefold()
        stand = stand.after(SetGelatin(stand.train_id, None))
        if plain in ("", "none", "no", "0"):
            return stand.with_value(lens.id, "gelatin_slot", False)
        thick = parse_value("gelatin_mm", text, origin).value
        return stand.with_value(lens.id, "gelatin_slot", True).after(SetGelatin(stand.train_id, thick))

    def told(stand: RouteContext) -> str:
        thick = None if stand.train is None else stand.train.conditions.gelatin_mm
        return "" if thick is None else f"{thick:g}"

    return Question("lens.gelatin", tell, told, _without_thread)


def _number(text: str) -> float:
    return float(text.replace(",", "."))
