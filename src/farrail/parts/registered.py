"""Finding every kind of something in a package: a new kind is one class in one file, and nothing else names it."""

import pkgutil
from importlib import import_module
from types import ModuleType
from typing import TypeVar

from pydantic import BaseModel

Kind = TypeVar("Kind", bound=BaseModel)


def kinds_in(package: ModuleType, base: type[Kind], rank: str = "rank") -> dict[str, type[Kind]]:
    """Return every subclass of a base in a package's modules that has a tag, by that tag, in the order of their rank.

    Args:
        package: where kinds live.
        base: what every kind is; its `kind` field's default is a kind's tag.
        rank: the class attribute that says where a kind is in lists.
    """
    kinds: dict[str, type[Kind]] = {}
    for module in pkgutil.iter_modules(package.__path__):
        for member in vars(import_module(f"{package.__name__}.{module.name}")).values():
            if isinstance(member, type) and issubclass(member, base):
                tag = member.model_fields["kind"].default
                if isinstance(tag, str):
                    kinds[tag] = member
    return dict(sorted(kinds.items(), key=lambda item: (getattr(item[1], rank), item[0])))
