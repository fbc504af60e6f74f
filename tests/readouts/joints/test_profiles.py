"""A body that reaches over its neighbour, placed the one way and the other."""

from farrail.parts.provenance import measured
from farrail.readouts.joints.messages import BodiesCollide
from farrail.train.train import Laid
from tests.train.gear import drawer, laid, spacer


def test_a_flipped_body_reaches_over_the_other_neighbour() -> None:
    # Its body reaches 5 mm ahead of its front and is free to 60 mm inside; only one neighbour is wider than that.
    reaching = drawer(overhang_front_mm=measured(5.0), overhang_clear_mm=measured(60.0), outer_diameter_mm=90)
    slim = spacer("slim", 20.0).model_copy(update={"outer_diameter_mm": 56.0})
    wide = spacer("wide", 20.0).model_copy(update={"outer_diameter_mm": 70.0})
    parts = (reaching, slim, wide)

    def collisions(*row: Laid) -> list[str]:
        return [f.text.other.name for f in laid(*row, parts=parts).findings if isinstance(f.text, BodiesCollide)]

    straight, flipped = Laid(part="drawer"), Laid(part="drawer", flipped=True)
    assert collisions(Laid(part="wide"), straight, Laid(part="slim")) == ["wide"]
    assert collisions(Laid(part="wide"), flipped, Laid(part="slim")) == []
    assert collisions(Laid(part="slim"), straight, Laid(part="wide")) == []
    assert collisions(Laid(part="slim"), flipped, Laid(part="wide")) == ["wide"]
