"""Every kind of part there is, found in `parts/kinds`: what lists kinds is derived from here.

A new kind is one file in `parts/kinds`: a subclass of `PartBase` with a `kind` tag. Nothing else names it.
"""

from collections.abc import Callable
from typing import TYPE_CHECKING, Annotated, Any, TypeAlias, Union

from pydantic import Field

import farrail.parts.kinds
from farrail.language import cached_by_language
from farrail.parts.base import PartBase
from farrail.parts.registered import kinds_in
from farrail.parts.usual import Usual

KINDS = kinds_in(farrail.parts.kinds, PartBase)
KIND_NAMES = {tag: kind.kind_name for tag, kind in KINDS.items()}
TEMPLATES: dict[str, Callable[[], PartBase]] = {tag: kind.template for tag, kind in KINDS.items()}

Part: TypeAlias = PartBase
if TYPE_CHECKING:
    AnyPart: TypeAlias = PartBase
else:
    # The stored form: any kind, distinguished by its tag.
    AnyPart: Any = Annotated[Union[tuple(KINDS.values())], Field(discriminator="kind")]  # noqa: UP007 (made of a tuple)


@cached_by_language
def usual_sizes() -> tuple[Usual[PartBase], ...]:
    """Return every usual size of every kind, group by group."""
    groups: dict[str, list[Usual[PartBase]]] = {}
    last: dict[str, int] = {}
    for number, usual in enumerate(u for kind in KINDS.values() for u in kind.usual_sizes()):
        groups.setdefault(usual.group, []).append(usual)
        last[usual.group] = number
    return tuple(usual for group in sorted(groups, key=last.__getitem__) for usual in groups[group])
