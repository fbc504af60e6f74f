"""My night train: camera, what focuses, its distances, then the parts between, one behind another."""

import re
from collections.abc import Callable
from dataclasses import replace

from farrail.errors import BadInput
from farrail.language import N_, say
from farrail.parts.blank import blank
from farrail.parts.connections import Gender
from farrail.parts.fields import value_at
from farrail.parts.kinds.cameras import Camera
from farrail.parts.kinds.filters import RoundFilter
from farrail.parts.kinds.lenses import CameraLens
from farrail.parts.kinds.seats import FilterSeat, FilterWheel
from farrail.parts.kinds.telescopes import Corrector, Telescope
from farrail.parts.origin import Origin
from farrail.parts.provenance import Quantity, Reading, Span
from farrail.parts.registry import Part
from farrail.parts.usual import rim
from farrail.parts.written import plain_text, read_pair, read_written, shown
from farrail.train.train import MountedPart, Side, Train
from farrail.workbook.edits.laying import laid_anew
from farrail.workbook.edits.typed import parse_value
from farrail.workbook.routes.common import (
    Beginning,
    camera_of,
    end_question,
    format_question,
    lens_of,
    mount_question,
    piece_ends,
    piece_length,
    piece_question,
)
from farrail.workbook.routes.guide import guide_questions
from farrail.workbook.routes.placeholders import new_part
from farrail.workbook.routes.question import FROM_SHELF, Question, RouteContext, begin, picked, present, value_question

BEGINNING = Beginning(N_("My night train"), "telescope")
# “7 slots, 36 mm, 2 mm thick”: of a wheel and its filters in one answer.
_WHEEL = re.compile(r"\s*(?P<slots>\d{1,2})\s*(?:slots?|positions?|places?|fächer|fach|plätze)\s*[,;:]?\s*", re.I)
_WIDE_AND_THICK = re.compile(
    r"(?P<wide>\d+(?:[.,]\d+)?\s*(?:mm|in|\")?)\s*[,;]\s+(?P<thick>\d+(?:[.,]\d+)?\s*(?:mm)?)\s*(?:thick|dick)?", re.I
)
MOST_SLOTS = 24
PIECES = ("filter_drawer", "filter_wheel", "off_axis_guider", "rotator", "tilt_plate", "adapter", "spacer", "shim")
MOST_PIECES = 10
WITH_CORRECTOR, BARE, PRIME, LENS = "telescope_corrector", "telescope", "prime_focus", "camera_lens"


def corrector_of(stand: RouteContext) -> Part | None:
    """The corrector that is first behind the telescope, or None."""
    part = stand.part(Side.REAR, 0)
    return part if isinstance(part, Corrector) else None


def _told_optic(stand: RouteContext) -> str:
    optic = stand.optic
    if isinstance(optic, CameraLens):
        return LENS
    if not isinstance(optic, Telescope):
        return ""
    if corrector_of(stand) is not None:
        return WITH_CORRECTOR
    # A blank telescope is what the rail begins with, and no answer yet.
    return PRIME if optic.prime_focus else "" if optic == _unnamed(optic) else BARE


def _unnamed(optic: Telescope) -> Part:
    return blank("telescope").model_copy(update={"id": optic.id, "name": optic.name})


def _tell_optic(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
    stand = begin(stand, str(BEGINNING.name), BEGINNING.optic)
    old = present(stand.optic)
    if text.startswith(FROM_SHELF):
        part = picked(stand, text, ("telescope", "camera_lens"))
        return stand.with_train(lambda t: t.model_copy(update={"optic": part.id})).without_unused(old.id)
    if text not in (WITH_CORRECTOR, BARE, PRIME, LENS):
        raise BadInput("“{shown}” is not one of the choices here.", shown=shown(text))
    wanted = "camera_lens" if text == LENS else "telescope"
    if old.kind != wanted:
        part = new_part(stand.workbook, wanted)
        with_part = stand.with_part(part)
        stand = with_part.with_train(lambda t: t.model_copy(update={"optic": part.id})).without_unused(old.id)
    optic, corrector = present(stand.optic), corrector_of(stand)
    if wanted == "telescope":
        stand = stand.with_value(optic.id, "prime_focus", text == PRIME)
    if text == WITH_CORRECTOR and corrector is None:
        flattener = new_part(stand.workbook, "corrector")
        stand = stand.with_part(flattener)
        return stand.with_train(lambda t: _rear(t, [laid_anew(flattener), *t.rear_train]))
    if text != WITH_CORRECTOR and corrector is not None:
        return stand.with_train(lambda t: _rear(t, list(t.rear_train[1:]))).without_unused(corrector.id)
    return stand


def _rear(train: Train, row: list[MountedPart]) -> Train:
    return train.model_copy(update={"rear_train": tuple(row)})


def _tell_size(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
    """Take a focal length with a focal ratio or an aperture: `432 f/6`, `600 mm, 150 mm`, or the focal length alone."""
    optic = present(stand.optic)
    if not text.strip():
        for path in ("focal_length_mm", "aperture_mm" if isinstance(optic, Telescope) else "f_number"):
            stand = stand.with_value(optic.id, path, value_at(blank(optic.kind), path)[1])
        return stand
    plain = plain_text(text).casefold()
    focal_text, ratio, rest = plain.partition("f/")
    if ratio:
        if not focal_text.strip(" ,"):
            raise BadInput("“{shown}” lacks the focal length; write 432 f/6.", shown=shown(text))
        number = parse_value("f_number", rest, origin)
    else:
        focal_text, _, rest = plain.partition(",") if plain.count(",") == 1 and ", " in plain else (plain, "", "")
        number = None
    focal = parse_value("focal_length_mm", focal_text.strip(" ,"), origin)
    stand = stand.with_value(optic.id, "focal_length_mm", Quantity(readings=(focal,)))
    if isinstance(optic, CameraLens):
        value = number if number is not None else parse_value("f_number", rest, origin) if rest.strip() else None
        stand = stand if value is None else stand.with_value(optic.id, "f_number", Quantity(readings=(value,)))
    else:
        across = None
        if number is not None:
            if number.value <= 0.0:
                raise BadInput("“{shown}” has a focal ratio that cannot be one; write 432 f/6.", shown=shown(text))
            across = Reading(value=round(focal.value / number.value, 3), origin=origin)
        elif rest.strip():
            across = Reading(value=read_written(rest).low, origin=origin)
        stand = stand if across is None else stand.with_value(optic.id, "aperture_mm", Quantity(readings=(across,)))
    return stand.with_value(optic.id, "status", "owned") if origin is not Origin.ASSUMED else stand


def _told_size(stand: RouteContext) -> str:
    optic = stand.optic
    if optic is None or isinstance(value_at(optic, "focal_length_mm")[1].in_use, Span):
        return ""
    focal = value_at(optic, "focal_length_mm")[1].value
    if isinstance(optic, Telescope):
        known = not isinstance(optic.aperture_mm.in_use, Span)
        return (
            say("{focal:g} f/{focal_2:.4g}", focal=focal, focal_2=focal / optic.aperture_mm.value)
            if known
            else say("{focal:g}", focal=focal)
        )
    return say("{focal:g} f/{value:g}", focal=focal, value=value_at(optic, "f_number")[1].value)


def _telescope_alone(stand: RouteContext) -> Part | None:
    return stand.optic if isinstance(stand.optic, Telescope) and corrector_of(stand) is None else None


def _datum_owner(stand: RouteContext) -> Part | None:
    """What the parts behind are screwed to: the corrector where there is one, else the optic."""
    return corrector_of(stand) or stand.optic


def _tell_datum(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
    part = present(corrector_of(stand))
    return stand.with_value(part.id, "datum", text.strip() or blank("corrector").model_dump()["datum"])


def _told_datum(stand: RouteContext) -> str:
    part = corrector_of(stand)
    return "" if not isinstance(part, Corrector) or part.datum == "rear shoulder" else part.datum


_RING_LENGTH = value_question("camera.ring", camera_of, "front_ring.length_mm")


def _tell_ring(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
    after = _RING_LENGTH.tell(stand, text, origin)
    camera = after.camera
    if isinstance(camera, Camera) and camera.front_ring is not None:
        ring, flange = camera.front_ring.length_mm.low, camera.flange_to_sensor_mm.high
        if ring > flange:
            raise BadInput(
                "The front ring is longer than flange to sensor, {flange:g} mm; give its own length, such as 5.",
                flange=flange,
            )
    return after


def _ring_off(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
    bare = text == "off"
    return stand.with_train(lambda t: t.model_copy(update={"camera_bare": bare}))


def _has_ring(stand: RouteContext) -> bool:
    return isinstance(stand.camera, Camera) and stand.camera.front_ring is not None


def _first_piece(stand: RouteContext) -> int:
    return 1 if corrector_of(stand) is not None else 0


def _piece(number: int) -> list[Question]:
    """Return the questions about one piece; where it is in the row depends on whether a corrector does."""
    side = Side.REAR

    def at(make: Callable[[int], Question]) -> Question:
        without, behind = make(0), make(1)

        def one(stand: RouteContext) -> Question:
            return behind if _first_piece(stand) else without

        return Question(
            without.key, lambda s, t, o: one(s).tell(s, t, o), lambda s: one(s).told(s), lambda s: one(s).asked(s),
            without.choices, lambda s: one(s).usual(s), without.kinds, without.needed,
        )  # fmt: skip

    return [
        at(lambda first: piece_question(side, number, first, PIECES, BEGINNING)),
        at(lambda first: piece_length(side, number, first, "length")),
        at(lambda first: piece_ends(side, number, first)),
        at(lambda first: _filter_question(number, first)),
        *guide_questions(number, lambda stand: _first_piece(stand) + number - 1),
    ]


def _slots_of(text: str) -> tuple[int | None, str]:
    """Return how many slots a wheel has, None where nothing is said of them, and what is written behind that."""
    match = _WHEEL.match(text)
    return (None, text) if match is None else (int(match["slots"]), text[match.end() :])


def _sizes(text: str) -> tuple[float | None, str]:
    """Return how wide a filter is, None where only its glass is shown, and the thickness of its glass as written."""
    both = _WIDE_AND_THICK.fullmatch(text.strip())
    if both:
        return read_written(both["wide"]).low, both["thick"]
    if not any(mark in text.casefold() for mark in ("x", "×", "by")):
        return None, text
    wide, thick = read_pair(text)
    return max(wide, thick), say("{wide:g}", wide=min(wide, thick))


def _filter_question(number: int, first: int) -> Question:
    """Return the question how thick the filter in a drawer or wheel is."""
    place = first + number - 1

    def seat(stand: RouteContext) -> bool:
        return isinstance(stand.part(Side.REAR, place), FilterSeat)

    def inside(stand: RouteContext) -> RoundFilter | None:
        if not seat(stand):
            return None
        held = stand.row(Side.REAR)[place].filter_in_beam
        part = stand.workbook.by_id.get(held or "")
        return part if isinstance(part, RoundFilter) else None

    def tell(stand: RouteContext, text: str, origin: Origin) -> RouteContext:
        glass = inside(stand)
        if text.startswith(FROM_SHELF):
            return _seated(stand, picked(stand, text, ("round_filter",)).id)
        if not text.strip():
            return _seated(stand, None).without_unused(glass.id) if glass is not None else stand
        slots, text = _slots_of(text)
        if slots is not None:
            stand = with_slots(stand, slots)
            if not text.strip():
                return stand
        wide, thick_text = _sizes(text)
        thick = Quantity(readings=(parse_value("glass.thickness_mm", thick_text, origin),))
        if wide is None:
            # How wide it is was not said: as wide as its seat can be, so that nothing is blamed on a guess.
            wide = present(stand.part(Side.REAR, place)).outer_diameter_mm - 10.0
        if glass is None:
            bare = new_part(stand.workbook, "round_filter", name=say("Filter"))
            stand = _seated(stand.with_part(bare), bare.id)
            glass = inside(stand)
        edge = rim(wide)
        for path, value in (("front", edge), ("rear", edge), ("outer_diameter_mm", wide)):
            stand = stand.with_value(present(glass).id, path, value)
        made = present(glass)
        for path in ("path_length_mm", "glass.thickness_mm"):
            stand = stand.with_value(made.id, path, thick)
        return stand.with_value(made.id, "status", "owned") if origin is not Origin.ASSUMED else stand

    def _seated(stand: RouteContext, filter_id: str | None) -> RouteContext:
        def change(train: Train) -> Train:
            row = list(train.rear_train)
            laid = row[place]
            filters = [*laid.filters] or [None]
            filters[min(laid.in_beam, len(filters) - 1)] = filter_id
            wheel = stand.workbook.by_id[laid.part].kind == "filter_wheel"
            kept = tuple(filters) if wheel else tuple(f for f in filters if f is not None)
            row[place] = laid.model_copy(update={"filters": kept})
            return _rear(train, row)

        return stand.with_train(change)

    def with_slots(stand: RouteContext, count: int) -> RouteContext:
        wheel = stand.part(Side.REAR, place)
        if not isinstance(wheel, FilterWheel):
            raise BadInput("Only a filter wheel has slots; write the filter alone, such as 36 x 2.")
        if not 1 <= count <= MOST_SLOTS:
            raise BadInput("A wheel has 1 to {most} slots.", most=MOST_SLOTS)
        stand = stand.with_value(wheel.id, "slots", count)

        def change(train: Train) -> Train:
            row = list(train.rear_train)
            filters = (*row[place].filters, *(None,) * count)[:count]
            row[place] = row[place].model_copy(
                update={"filters": filters, "in_beam": min(row[place].in_beam, count - 1)}
            )
            return _rear(train, row)

        return stand.with_train(change)

    def told(stand: RouteContext) -> str:
        wheel = stand.part(Side.REAR, place)
        glass = inside(stand)
        if glass is None:
            return ""
        known = glass.outer_diameter_mm != present(stand.part(Side.REAR, place)).outer_diameter_mm - 10.0
        across = say("{outer_diameter_mm:g} x ", outer_diameter_mm=glass.outer_diameter_mm) if known else ""
        size = say("{across}{drawn_thickness_mm:g}", across=across, drawn_thickness_mm=glass.glass.drawn_thickness_mm)
        return say("{slots} slots, {size}", slots=wheel.slots, size=size) if isinstance(wheel, FilterWheel) else size

    def usual(stand: RouteContext) -> tuple[str, ...]:
        return ("2", "3", "31 x 2", "36 x 2", "50 x 3")

    return Question(f"glass.{number}", tell, told, seat, usual=usual, kinds=("round_filter",))


QUESTIONS: tuple[Question, ...] = (
    format_question("camera.format", BEGINNING),
    value_question("camera.pixel", camera_of, "pixel_size_um"),
    value_question("camera.flange", camera_of, "flange_to_sensor_mm", needed=True,
                   usual=lambda _: ("17.5", "12.5", "6.5", "55")),
    end_question("camera.front", camera_of, "front", Gender.INTERNAL),
    replace(_RING_LENGTH, tell=_tell_ring),
    end_question("camera.ring_behind", lambda s: s.camera if _has_ring(s) else None, "front_ring.behind",
                 Gender.INTERNAL),
    Question("camera.ring_off", _ring_off, lambda s: "off" if s.train is not None and s.train.camera_bare else "on",
             _has_ring, ("on", "off")),
    Question("optic.what", _tell_optic, _told_optic, choices=(WITH_CORRECTOR, BARE, PRIME, LENS),
             kinds=("telescope", "camera_lens"), needed=True),
    Question("optic.size", _tell_size, _told_size, lambda s: s.optic is not None),
    value_question("corrector.back_focus", corrector_of, "back_focus_mm", needed=True, owns=True),
    value_question("corrector.factor", corrector_of, "reduction_factor"),
    value_question("corrector.tolerance", corrector_of, "spacing_tolerance_mm"),
    Question("corrector.datum", _tell_datum, _told_datum, lambda s: corrector_of(s) is not None),
    value_question("optic.back_focus", _telescope_alone, "back_focus_mm", needed=True, owns=True),
    value_question("optic.tolerance", _telescope_alone, "spacing_tolerance_mm"),
    mount_question("optic.mount", needed=True),
    end_question("optic.rear", lambda s: None if lens_of(s) is not None else _datum_owner(s), "rear", Gender.EXTERNAL),
    *(question for number in range(1, MOST_PIECES + 1) for question in _piece(number)),
)  # fmt: skip
