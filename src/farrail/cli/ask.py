"""`far-rail ask FILE --width 18 --min-distance 90 --max-stops 2`: what on the shelf fills the frame with a subject."""

from pathlib import Path

from farrail.cli.printing import FINE, STOPPED, print_json
from farrail.errors import BadInput
from farrail.language import say
from farrail.parts.kinds.cameras import Camera
from farrail.planning.answer_words import distance_words, f_number_words, stops_words
from farrail.planning.ask import Answer, Asked, Wish, ask
from farrail.quantities import unit_word
from farrail.readouts.close_up.model import CloseUp
from farrail.readouts.names import loss_name, scale_name
from farrail.train.layout import build_layout
from farrail.train.train import Train
from farrail.workbook.store import read_file
from farrail.workbook.workbook import Workbook

SHOWN = 12


def run(file: Path, train: str | None, wish: Wish, *, as_json: bool) -> int:
    """Print the combinations that fulfil a wish; returns the exit code, 1 when none does.

    Raises:
        FarRailError: the file or the train cannot be read, or no lens mates with its camera.
    """
    workbook = read_file(file).workbook
    chosen = workbook.train(train) if train is not None else _close_up_train(workbook)
    camera = workbook.by_id.get(chosen.camera or "")
    if not isinstance(camera, Camera):
        raise BadInput(
            "Train “{name}” has no camera; add one, or choose another --train.",
            name=chosen.name,
        )
    asked = ask(wish, workbook.by_id, camera, chosen.conditions.f_number)
    if as_json:
        print_json(as_data(asked, camera))
    else:
        _print(asked, camera)
    return FINE if asked.answers else STOPPED


def _close_up_train(workbook: Workbook) -> Train:
    """Return the first train that is equipped for close-up, else the first with a camera.

    Raises:
        BadInput: there is none.
    """
    with_camera = [train for train in workbook.trains if train.camera is not None]
    for train in with_camera:
        if CloseUp(build_layout(train, workbook.by_id)).equipped:
            return train
    if not with_camera:
        raise BadInput("No train in “{name}” has a camera; add one first.", name=workbook.name)
    return with_camera[0]


def as_data(asked: Asked, camera: Camera) -> dict[str, object]:
    """Return what came of a wish as JSON data."""
    return {
        "camera": camera.id,
        "width_mm": asked.wish.width_mm,
        "magnification": asked.magnification,
        "tried": asked.tried,
        "answers": [_answer(answer) for answer in asked.answers],
        "misses": [_answer(answer) | {"why": answer.why} for answer in asked.misses],
        "reasons": [{"words": str(words), "combinations": count} for words, count in asked.reasons],
    }


def _answer(answer: Answer) -> dict[str, object]:
    c = answer.combination
    return {
        "words": c.words,
        "lens": c.lens.id,
        "turned_round": c.reversed,
        "ahead": [part.id for part in c.ahead],
        "carried": None if c.carried is None else c.carried.id,
        "behind": [part.id for part in c.behind],
        "magnification": answer.magnification,
        "working_distance_mm": answer.distance_mm,
        "stops": answer.stops,
        "effective_f_number": answer.effective_f_number,
        **_ends(answer),
        "missing": [part.id for part in c.missing],
        "price": c.price,
        "focal_mm": c.focal_mm,
        "corner_stops": answer.corner_stops,
        "cautions": list(answer.cautions),
    }


def _ends(answer: Answer) -> dict[str, object]:
    """Return the intervals of an answer whose lens is not wholly known."""
    ends = answer.ends
    if ends is None:
        return {"certain": not answer.why}
    return {
        "certain": ends.certain,
        "working_distance_low_mm": None if ends.distance_mm is None else ends.distance_mm[0],
        "working_distance_high_mm": None if ends.distance_mm is None else ends.distance_mm[1],
        "stops_low": ends.stops[0],
        "stops_high": ends.stops[1],
        "effective_f_number_low": ends.f_number[0],
        "effective_f_number_high": ends.f_number[1],
    }


def _print(asked: Asked, camera: Camera) -> None:
    scale = scale_name(asked.magnification)
    print(
        say(
            "{width_mm:g mm} on {name} needs {scale}; {done} of {tried} combinations do it.",
            width_mm=asked.wish.width_mm,
            name=camera.name,
            scale=scale,
            done=asked.done,
            tried=asked.tried,
        )
    )
    for answer in asked.answers[:SHOWN]:
        c = answer.combination
        cost = (
            say("price not known")
            if c.price is None
            else say("to buy {price:g}", price=c.price)
            if c.missing
            else say("owned")
        )
        figures = say(
            "{distance} {unit} from the front glass  {stops} stops  f/{f_number}",
            distance=distance_words(answer),
            unit=unit_word("mm"),
            stops=stops_words(answer),
            f_number=f_number_words(answer),
        )
        possible = "" if answer.certain else say(" (possible, not certain)")
        print(f"  {figures}  {cost}{possible}")
        print(f"      {c.words}")
        for caution in answer.cautions:
            print(say("      but {caution}", caution=caution))
        if answer.vignettes:
            print(say("      but corners {loss_name}", loss_name=loss_name(answer.corner_stops or 0.0)))
    left = len(asked.answers) - SHOWN
    if left > 0:
        print(say("  and {left} more; --json gives them all.", left=left))
    if not asked.answers:
        print(say("  None of your parts can do it. Closest:"))
        for answer in asked.misses[:SHOWN]:
            print(f"      {answer.combination.words}: {answer.why}")
    if asked.reasons:
        print(say("  Of the others ") + "; ".join(f"{count} {words}" for words, count in asked.reasons) + ".")
