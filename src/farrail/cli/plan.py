"""`far-rail plan FILE --train NAME`: fill the gap from the shelf, or prove that it cannot be done."""

from pathlib import Path

from farrail.cli.printing import FINE, STOPPED, print_json
from farrail.planning.plan import Aim, Plan, Proposal, plan
from farrail.workbook.store import read_file


def run(file: Path, train: str, *, aim: Aim, as_json: bool) -> int:
    """Print the plan for a train; returns the exit code, 1 when there is no way.

    Raises:
        FarRailError: the file or the train cannot be read.
    """
    workbook = read_file(file).workbook
    made = plan(workbook.train(train), workbook.by_id, aim=aim)
    if as_json:
        print_json(as_data(made))
    else:
        _print(made)
    return FINE if made.proposals else STOPPED


def as_data(made: Plan) -> dict[str, object]:
    """Return a plan as JSON data."""
    buy = None
    if made.buy is not None:
        buy = {
            "part": made.buy.part.id,
            "name": made.buy.part.name,
            "price": made.buy.part.price,
            "on_shelf": made.buy.on_shelf,
            "proposal": _proposal(made.buy.proposal),
        }
    return {
        "proposals": [_proposal(p) for p in made.proposals],
        "proof": made.proof.value,
        "nearest_mm": {"below": made.nearest_mm[0], "above": made.nearest_mm[1]},
        "buy": buy,
        "thinner": [
            {"instead_of": s.instead_of.id, "part": s.part.id, "saves_mm": s.saves_mm, "to_buy": s.to_buy}
            for s in made.thinner
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
        "working": p.working,
    }


def _print(made: Plan) -> None:
    print(made.text)
    for p in made.proposals:
        lays = " + ".join(p.names) or "nothing between"
        print(f"  {p.error_mm:+.2f} mm  {p.change}  ({p.joints} joints, ±{p.rss_mm:.2f})")
        print(f"      {lays}")
        print(f"      {p.working}")
    below, above = made.nearest_mm
    sides = [f"{-below:.2f} mm short"] if below is not None else []
    sides += [f"{above:.2f} mm long"] if above is not None else []
    if sides:
        print(f"  Nearest: {' and '.join(sides)}.")
    if made.buy is not None:
        cost = "" if made.buy.part.price is None else f" ({made.buy.part.price:g})"
        lays = " + ".join(made.buy.proposal.names)
        print(f"  Buy {made.buy.part.name}{cost}: {lays} leaves {made.buy.proposal.error_mm:+.2f} mm.")
    for s in made.thinner:
        print(f"  {s.part.name} instead of {s.instead_of.name} saves {s.saves_mm:.2f} mm.")
