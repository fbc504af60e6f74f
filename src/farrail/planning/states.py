"""A front stack in its states: with this or that taken off for the moment, to be compared and seen, never edits."""

from farrail.language import say
from farrail.parts.kinds.ahead import FilterHolder
from farrail.parts.kinds.filters import RoundFilter
from farrail.readouts.read import read
from farrail.train.rows import Shelf
from farrail.train.train import MountedPart, Train

LONGEST_NAME = 120


def states_of(train: Train, shelf: Shelf) -> tuple[Train, ...]:
    """Return a train with a filter, a holder, or what is on either taken off, each under a name of its own.

    The rest stays where it then mates: a polariser on a ring's bayonet while the holder comes off. Else all that is
    on what is taken off comes with it.
    """
    stack = train.front_stack
    found: dict[tuple[MountedPart, ...], str] = {}
    for index, laid in enumerate(stack):
        part = shelf.get(laid.part)
        if not isinstance(part, RoundFilter | FilterHolder):
            continue
        alone = (*stack[:index], *stack[index + 1 :])
        stays = _mates(train, alone, shelf)
        left, gone = (alone, (laid,)) if stays else (stack[:index], stack[index:])
        if left and left != stack:
            found.setdefault(left, say(" and ").join(shelf[one.part].name for one in gone))
        if laid.drop_in is not None and laid.drop_in in shelf:
            emptied = laid.model_copy(update={"drop_in": None})
            found.setdefault((*stack[:index], emptied, *stack[index + 1 :]), shelf[laid.drop_in].name)
    return tuple(
        train.model_copy(
            update={
                "id": f"state-{number}",
                "name": say("This train without {gone}", gone=gone)[:LONGEST_NAME],
                "front_stack": left,
            }
        )
        for number, (left, gone) in enumerate(found.items())
    )


def _mates(train: Train, stack: tuple[MountedPart, ...], shelf: Shelf) -> bool:
    """Whether a stack has no more joints that do not mate than the train has now."""
    wrong = [
        sum(joint.mismatch is not None for joint in read(one, shelf).layout.joints)
        for one in (train, train.model_copy(update={"front_stack": stack}))
    ]
    return wrong[1] <= wrong[0]
