"""What a plan offers, in one list: each can be previewed on the rail and placed in one step."""

from dataclasses import dataclass

from farrail.language import say
from farrail.parts.registry import Part
from farrail.planning.plan import Plan
from farrail.train.train import Train


@dataclass(frozen=True)
class Offer:
    """One thing that can be previewed and placed: a train, what must be bought for it, and words."""

    train: Train
    words: str
    bought: tuple[Part, ...] = ()


def offers_of(made: Plan) -> list[Offer]:
    """Return everything a plan offers, in the order of its rows."""
    found = [Offer(p.train, p.change) for p in made.proposals]
    if made.buy is not None:
        found.append(Offer(made.buy.proposal.train, made.buy.proposal.change, made.buy.new_parts))
    found += [Offer(s.train, s.words) for s in made.thinner]
    found += [
        Offer(w.train, say("hang {camera} on {guider}", camera=w.camera, guider=w.guider))
        for w in made.guide
        if w.train is not None
    ]
    return found + [Offer(a.proposal.train, a.proposal.change) for a in made.also]
