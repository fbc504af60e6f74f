"""Nothing the demo's trains come to has changed unasked."""

import json
import math
from typing import Any

from tests.comparison.kept import FILE, kept

# Numbers are kept to nine digits, and libraries differ in their last ones.
RELATIVE, ABSOLUTE = 1e-6, 1e-6


def differing(where: str, one: Any, other: Any) -> list[str]:
    if isinstance(one, dict) and isinstance(other, dict):
        return [x for key in sorted({*one, *other}) for x in differing(f"{where}/{key}", one.get(key), other.get(key))]
    if isinstance(one, list) and isinstance(other, list) and len(one) == len(other):
        return [x for n, pair in enumerate(zip(one, other, strict=True)) for x in differing(f"{where}/{n}", *pair)]
    both = all(isinstance(value, int | float) and not isinstance(value, bool) for value in (one, other))
    same = math.isclose(one, other, rel_tol=RELATIVE, abs_tol=ABSOLUTE) if both else one == other
    return [] if same else [f"{where}: {one!r} was kept, {other!r} found"]


def test_what_the_trains_come_to_is_what_was_kept() -> None:
    found = differing("", json.loads(FILE.read_text()), kept())
    assert not found, "\n".join(found[:20])
