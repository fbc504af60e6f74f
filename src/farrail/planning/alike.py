"""Fewer pieces for a search: alike parts are one piece with copies, and of many others a stated number is used."""

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from farrail.parts.base import TubePart
from farrail.parts.registry import Part
from farrail.planning.pieces import Key, Piece, Task

# A search takes at most so many different loose parts; with 200 spacers of one thread it takes some seconds.
MOST_DIFFERENT = 200

Ways = tuple[Piece, ...]


@dataclass(frozen=True)
class Few:
    """The pieces that a search uses.

    Attributes:
        pieces: those it uses.
        searched: how many different parts they are.
        of: how many different parts there are; more than `searched` where some were left out.
    """

    pieces: list[Piece]
    searched: int
    of: int

    @property
    def complete(self) -> bool:
        """Whether none was left out."""
        return self.searched == self.of


def few(pieces: Iterable[Piece], task: Task, most: int = MOST_DIFFERENT) -> Few:
    """Return the pieces that a search uses, out of all that could be placed.

    Parts of the same ends, length and price are one piece with copies, which changes no answer. Of more than `most`
    different ones those of each pair of ends are left out whose length is nearest to another's.

    Args:
        pieces: every way to place every part.
        task: parts on its train now are kept apart from others, so that they can stay where they are.
        most: how many different parts are taken.
    """
    at_home = {part for part, _ in task.homes}
    ways: dict[str, list[Piece]] = {}
    for piece in pieces:
        ways.setdefault(piece.part.id, []).append(piece)
    groups: dict[object, list[Ways]] = {}
    for part, found in ways.items():
        key = part if part in at_home else tuple(_nature(piece) for piece in found)
        groups.setdefault(key, []).append(tuple(found))
    merged = [_with_copies(group) for group in groups.values()]
    kept = merged if len(merged) <= most else _spread(merged, at_home, most)
    return Few([piece for one in kept for piece in one], len(kept), len(merged))


def _nature(piece: Piece) -> object:
    """Return all that a search depends on of a piece, and whether a shim fits."""
    part = piece.part
    shim = None
    if piece.enters is None and isinstance(part, TubePart):
        clear = part.clear_aperture_mm
        shim = (part.outer_diameter_mm, part.front.standard.size_mm, None if clear is None else clear.value)
    return replace(piece, part=None, stock=0), part.price, shim  # type: ignore[arg-type]


def _with_copies(group: Sequence[Ways]) -> Ways:
    if len(group) == 1:
        return group[0]
    copies = tuple((ways[0].part, ways[0].stock) for ways in group)
    stock = sum(count for _, count in copies)
    return tuple(replace(piece, stock=stock, copies=copies) for piece in group[0])


def _spread(merged: list[Ways], at_home: set[str], most: int) -> list[Ways]:
    """Return so many parts, of each pair of ends in proportion, their lengths as far apart as they can be."""
    kept = [ways for ways in merged if ways[0].part.id in at_home]
    ends: dict[tuple[Key | None, Key | None], list[Ways]] = {}
    for ways in merged:
        if ways[0].part.id not in at_home:
            ends.setdefault((ways[0].enters, ways[0].leaves), []).append(ways)
    room, others = max(most - len(kept), 0), sum(len(group) for group in ends.values())
    for group in ends.values():
        quota = max(min(len(group), room * len(group) // max(others, 1)), 1)
        ordered = sorted(group, key=lambda ways: (ways[0].longest_um, ways[0].part.id))
        steps = [round(number * (len(ordered) - 1) / max(quota - 1, 1)) for number in range(quota)]
        kept += [ordered[step] for step in dict.fromkeys(steps)]
    return kept


class Copies:
    """Hands out the parts behind the pieces of one answer, each at most as often as it is owned."""

    def __init__(self) -> None:
        """Start with nothing used."""
        self._used: Counter[str] = Counter()

    def part_of(self, piece: Piece) -> Part:
        """Return the part to place for one use of a piece."""
        for part, stock in piece.copies:
            if self._used[part.id] < stock:
                self._used[part.id] += 1
                return part
        return piece.part
