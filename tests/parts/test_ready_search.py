"""Ready-made sizes found by what people call them."""

import pytest

from farrail.parts.ready_search import find_sizes
from farrail.parts.registry import usual_sizes


@pytest.mark.parametrize(
    ("text", "first"),
    [
        ("spacer M42 5", "Spacer M42×0.75, 5 mm"), ("m48 7.5", "Spacer M48×0.75, 7.5 mm"),
        ("T2 10mm spacer", "Spacer M42×0.75, 10 mm"),
        ("step-up 67 77", "Step ring 67 to 77 mm"), ("oag m48", "Off-axis guider M48×0.75"), ('2" filter', 'Filter 2"'),
        ("filter 2 inch", 'Filter 2"'), ("50.8mm filter", 'Filter 2"'), ("reducer m54", "Flattener M54, 55 mm"),
        ("macro tube 20", "Extension tube 20 mm, 44 mm SLR bayonet"), ("achromat +5 62", None),
        ("helical m42 8", "Adjustable spacer M42, 8 to 11 mm"), ("polariser 77", "Screw-in filter 77 mm"),
    ],
)  # fmt: skip
def test_what_people_call_it_comes_first(text: str, first: str | None) -> None:
    found = [item.part.name for _, item in find_sizes(text, usual_sizes())]
    assert (found[0] if found else None) == first, found[:5]


def test_nothing_typed_is_everything_in_order_and_nonsense_is_nothing() -> None:
    sizes = usual_sizes()
    assert [number for number, _ in find_sizes("", sizes)] == list(range(len(sizes)))
    assert find_sizes("zebra 42", sizes) == []
