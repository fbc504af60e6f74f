"""Looking through the shelf: words, filters and groups, without any interface."""

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass, replace
from enum import StrEnum

from farrail.language import say
from farrail.parts.registry import KIND_NAMES, Part


class Facet(StrEnum):
    """By what the shelf can be filtered and grouped."""

    KIND = "kind"
    CONNECTION = "connection"
    STATUS = "status"
    MAKER = "maker"
    KIT = "kit"


def values_of(part: Part, facet: Facet) -> tuple[str, ...]:
    """Return what a part has under a facet: two connections, or nothing where nothing was entered."""
    if facet is Facet.KIND:
        return (str(KIND_NAMES[part.kind]),)
    if facet is Facet.STATUS:
        return (part.status.value,)
    if facet is Facet.CONNECTION:
        ends = (getattr(part, end, None) for end in ("front", "rear"))
        return tuple(dict.fromkeys(end.standard.label for end in ends if end is not None))
    text = part.maker if facet is Facet.MAKER else part.kit
    return (text,) if text else ()


def counts_of(shelf: Iterable[Part], facet: Facet) -> list[tuple[str, int]]:
    """Return every value under a facet with how many parts have it, in order of name."""
    counts = Counter(value for part in shelf for value in values_of(part, facet))
    return sorted(counts.items(), key=lambda item: item[0].casefold())


def haystack(part: Part) -> str:
    """Return everything a part can be found by, in one line."""
    words = [part.name, part.maker, str(KIND_NAMES[part.kind]), part.status.value, part.kit, part.note]
    words += [label.replace("×", "x") for label in values_of(part, Facet.CONNECTION)]
    words += [end.gender.value for end in (getattr(part, e, None) for e in ("front", "rear")) if end is not None]
    return " ".join(words).casefold()


@dataclass(frozen=True)
class ShelfFilter:
    """What is wanted under each facet; nothing wanted lets everything through."""

    wanted: tuple[tuple[Facet, str], ...] = ()

    def lets(self, part: Part) -> bool:
        """Whether a part has, under every facet asked for, one of the values asked for."""
        return all(
            any(value in values_of(part, facet) for asked, value in self.wanted if asked is facet)
            for facet in {asked for asked, _ in self.wanted}
        )

    def toggled(self, facet: Facet, value: str) -> "ShelfFilter":
        """Return the filter with one value more, or without it when it was there."""
        one = (facet, value)
        if one in self.wanted:
            return replace(self, wanted=tuple(w for w in self.wanted if w != one))
        return replace(self, wanted=(*self.wanted, one))

    @property
    def text(self) -> str:
        """What it lets through, in a few words."""
        return ", ".join(value for _, value in self.wanted)


def grouped(parts: Iterable[Part], facet: Facet) -> list[tuple[str, list[Part]]]:
    """Return parts under the values of a facet, in order of name; those without one come last.

    A part with two values, such as an adapter's two connections, is in both groups.
    """
    groups: dict[str, list[Part]] = {}
    without: list[Part] = []
    for part in parts:
        values = values_of(part, facet)
        for value in values:
            groups.setdefault(value, []).append(part)
        if not values:
            without.append(part)
    found = sorted(groups.items(), key=lambda item: item[0].casefold())
    return [*found, (say("no {value}", value=facet.value), without)] if without else found
