"""A body that reaches over its neighbour, placed the one way and the other."""

from farrail.parts.provenance import measured
from farrail.readouts.joints.messages import BodiesCollide
from farrail.train.train import MountedPart
from tests.train.gear import drawer, laid, spacer


def test_a_flipped_body_reaches_over_the_other_neighbour() -> None:
    # Its body reaches 5 mm ahead of its front and is free to 60 mm inside; only one neighbour is wider than that.
    reaching = drawer(overhang_front_mm=measured(5.0), overhang_clear_mm=measured(60.0), outer_diameter_mm=90)
    slim = spacer("slim", 20.0).model_copy(update={"outer_diameter_mm": 56.0})
    wide = spacer("wide", 20.0).model_copy(update={"outer_diameter_mm": 70.0})
    parts = (reaching, slim, wide)

    def collisions(*row: MountedPart) -> list[str]:
        return [f.text.other.name for f in laid(*row, parts=parts).findings if isinstance(f.text, BodiesCollide)]

    straight, flipped = MountedPart(part="drawer"), MountedPart(part="drawer", flipped=True)
    assert collisions(MountedPart(part="wide"), straight, MountedPart(part="slim")) == ["wide"]
    assert collisions(MountedPart(part="wide"), flipped, MountedPart(part="slim")) == []
    assert collisions(MountedPart(part="slim"), straight, MountedPart(part="wide")) == []
    assert collisions(MountedPart(part="slim"), flipped, MountedPart(part="wide")) == ["wide"]
