"""Every kind of observation there is, found in `logbook/kinds`."""

import pkgutil
from importlib import import_module
from typing import TYPE_CHECKING, Annotated, Any, TypeAlias, Union

from pydantic import Field

import farrail.logbook.kinds
from farrail.logbook.observation import Observation


def _found() -> dict[str, type[Observation]]:
    """Return every kind by its tag, in the order lists show them."""
    kinds: dict[str, type[Observation]] = {}
    package = farrail.logbook.kinds
    for module in pkgutil.iter_modules(package.__path__):
        for member in vars(import_module(f"{package.__name__}.{module.name}")).values():
            if isinstance(member, type) and issubclass(member, Observation):
                tag = member.model_fields["kind"].default
                if isinstance(tag, str):
                    kinds[tag] = member
    return dict(sorted(kinds.items(), key=lambda item: (item[1].rank, item[0])))


OBSERVATIONS = _found()

if TYPE_CHECKING:
    AnyObservation: TypeAlias = Observation
else:
    # The stored form: any kind, told apart by its tag.
    AnyObservation: Any = Annotated[
        Union[tuple(OBSERVATIONS.values())],  # noqa: UP007 (made of a tuple)
        Field(discriminator="kind"),
    ]
