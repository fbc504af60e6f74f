"""`far-rail plan FILE --train NAME`: fill the gap from the shelf, or prove that it cannot be done."""

from pathlib import Path

from farrail.cli.printing import FINE, STOPPED, print_json
from farrail.language import begun_large, say
from farrail.planning.aim import Aim
from farrail.planning.guide import refusal_of
from farrail.planning.plan import Plan, plan
from farrail.planning.proposal import Proposal
from farrail.planning.together import Together, plan_together
from farrail.readouts.figure import workings
from farrail.workbook.store import read_file


def run(file: Path, train: str, *, aim: Aim, reorder: bool, as_json: bool) -> int:
    """Print the plan for a train; returns the exit code, 1 when there is no way.

    Raises:
        FarRailError: the file or the train cannot be read.
    """
    workbook = read_file(file).workbook
    made = plan(
        workbook.train(train), workbook.by_id, aim=aim, reorder=reorder, kit_prices=workbook.kit_prices
    )  # fmt: skip
    if as_json:
        print_json(as_data(made))
    else:
        _print(made)
    return FINE if made.proposals else STOPPED


def run_together(file: Path, names: list[str], *, kept_whole: bool, as_json: bool) -> int:
    """Print one plan for several trains; returns the exit code, 1 when there is none.

    Raises:
        FarRailError: the file or a train cannot be read, or they cannot be planned together.
    """
    workbook = read_file(file).workbook
    trains = [workbook.train(name.strip()) for name in names if name.strip()]
    made = plan_together(trains, workbook.by_id, kept_whole=kept_whole, kit_prices=workbook.kit_prices)
    if as_json:
        print_json(together_data(made))
    else:
        print(made.text)
        for p in made.proposals:
            lays = " + ".join(p.names) or say("no spacers")
            print(say("  {name}: {lays} ({error_mm:+.2f mm})", name=p.train.name, lays=lays, error_mm=p.error_mm))
        for item in (*made.twice, *made.bought):
            print(
                say(
                    "  Buy {words}{also}.",
                    words=item.words,
                    also="" if item.price is None else say(" for {price:g}", price=item.price),
                )
            )
    return FINE if made.proposals else STOPPED


def together_data(made: Together) -> dict[str, object]:
    """Return a plan for several trains as JSON data."""
    bought = [
        {"name": item.name, "count": item.count, "price": item.price, "kit": item.is_kit, "on_shelf": item.on_shelf,
         "parts": [part.id for part in item.parts]}
        for item in (*made.twice, *made.bought)
    ]  # fmt: skip
    return {
        "trains": [{"train": p.train.id, **_proposal(p)} for p in made.proposals],
        "pieces": [{"part": part, "counts": list(counts)} for part, counts in made.counts().items()],
        "buy": bought,
        "price": made.price if made.proposals else None,
        "kept_whole": made.kept_whole,
        "proof": made.proof.value,
        "text": made.text,
    }


def as_data(made: Plan) -> dict[str, object]:
    """Return a plan as JSON data."""
    buy = None
    if made.buy is not None:
        buy = {
            "parts": [part.id for part in made.buy.parts],
            "name": made.buy.name,
            "price": made.buy.price,
            "items": [
                {
                    "name": item.name,
                    "count": item.count,
                    "price": item.price,
                    "kit": item.is_kit,
                    "on_shelf": item.on_shelf,
                }
                for item in made.buy.items
            ],
            "proposal": _proposal(made.buy.proposal),
        }
    return {
        "proposals": [_proposal(p) for p in made.proposals],
        "proof": made.proof.value,
        "nearest_mm": {"below": made.nearest_mm[0], "above": made.nearest_mm[1]},
        "buy": buy,
        "thinner": [
            {"change": s.words, "part": s.part, "saves_mm": s.saves_mm, "to_buy": s.to_buy, "price": s.price}
            for s in made.thinner
        ],
        "also_fits": [{"part": also.part.id, "proposal": _proposal(also.proposal)} for also in made.also],
        "guide": [
            {
                "guider": w.guider,
                "camera": w.camera,
                "lays": list(w.names),
                "possible": w.train is not None,
                "error_mm": w.error_mm,
            }
            for w in made.guide
        ],
        "text": made.text,
    }


def _proposal(p: Proposal) -> dict[str, object]:
    return {
        "parts": [laid.part for laid in p.train.rear_train],
        "lays": list(p.names),
        "change": p.change,
        "error_mm": p.error_mm,
        "worst_filter_mm": p.worst_filter_mm,
        "joints": p.joints,
        "worst_mm": p.worst_mm,
        "rss_mm": p.rss_mm,
        "chance": p.chance,
        "working": workings(p.shown),
    }


def chance_words(p: Proposal) -> str:
    """Return how likely it lands, in words; "" where that says nothing."""
    return (
        ""
        if p.chance is None or p.chance >= 0.9995
        else say(", within tolerance {chance:.0f} of 100 times", chance=100 * p.chance)
    )


def _print(made: Plan) -> None:
    print(made.text)
    for p in made.proposals:
        lays = " + ".join(p.names) or say("no spacers")
        print(
            say(
                "  {error_mm:+.2f mm}  {change}  ({joints} joints, ±{rss_mm:.2f length}{chance_words})",
                error_mm=p.error_mm,
                change=p.change,
                joints=p.joints,
                rss_mm=p.rss_mm,
                chance_words=chance_words(p),
            )
        )
        print(f"      {lays}")
        print(f"      {workings(p.shown)}")
    below, above = made.nearest_mm
    sides = [say("{below:.2f mm} short", below=-below)] if below is not None else []
    sides += [say("{above:.2f mm} long", above=above)] if above is not None else []
    if sides:
        print(say("  Closest: {listed}.", listed=say(" and ").join(sides)))
    if made.buy is not None:
        cost = "" if made.buy.price is None else say(" ({price:g})", price=made.buy.price)
        parts = " + ".join(made.buy.proposal.names)
        print(
            say(
                "  Buy {name}{cost}: {parts} leaves {error_mm:+.2f mm}.",
                name=made.buy.name,
                cost=cost,
                parts=parts,
                error_mm=made.buy.proposal.error_mm,
            )
        )
    for s in made.thinner:
        cost = "" if s.price is None else say(" ({price:g})", price=s.price)
        print(
            say(
                "  {change} saves {saves_mm:.2f mm}{cost}.",
                change=begun_large(s.words),
                saves_mm=s.saves_mm,
                cost=cost,
            )
        )
    for way in made.guide:
        parts = " + ".join(way.names) or say("nothing")
        told = refusal_of(way) or say(
            "{guider}: {parts} before {camera} ({error_mm:+.2f mm})",
            guider=way.guider,
            parts=parts,
            camera=way.camera,
            error_mm=way.error_mm,
        )
        print(f"  {told}")
    for also in made.also:
        print(
            say(
                "  Room besides for {name}: {change} ({error_mm:+.2f mm})",
                name=also.part.name,
                change=also.proposal.change,
                error_mm=also.proposal.error_mm,
            )
        )
