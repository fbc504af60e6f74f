"""How bayonets set the angle of what follows: both index marks must meet."""

import pytest

from farrail.parts.connections import Bayonet, Connection, Gender
from farrail.parts.kinds.tubes import Adapter
from farrail.parts.provenance import measured
from farrail.train.train import MountedPart
from tests.train.gear import ENDS, IN, OUT, laid


def ring(key: str, mark: float, gender: Gender, *, rear: bool) -> Adapter:
    """A ring with a bayonet at one end, whose index mark is so far from the ring's own top."""
    mount = Connection(standard=Bayonet(name="x bayonet", throat_mm=42, mark_deg=mark), gender=gender)
    ends = {"front": IN, "rear": mount} if rear else {"front": mount, "rear": OUT}
    return Adapter(id=key, name=key, path_length_mm=measured(10.0), **{**ENDS, **ends})


@pytest.mark.parametrize(("first", "second", "turned", "angle"), [
    (30.0, 10.0, 0.0, 20.0),   # the mark at 30° meets one at 10°: the second is 20° on
    (10.0, 30.0, 0.0, -20.0),
    (0.0, 90.0, 45.0, -45.0),  # what is ahead is turned too, and takes the joint along
    (170.0, -170.0, 0.0, -20.0),
])  # fmt: skip
def test_the_marks_meet(first: float, second: float, turned: float, angle: float) -> None:
    one, two = ring("one", first, Gender.EXTERNAL, rear=True), ring("two", second, Gender.INTERNAL, rear=False)
    row = (MountedPart(part="one", turned_deg=turned), MountedPart(part="two"))
    angles = laid(*row, parts=(one, two)).layout.turned_deg
    # As seen from the camera both marks then be at the same clock hour.
    assert angles[1] == pytest.approx(angle)
    assert (angles[0] + first - angles[1] - second) % 360.0 == pytest.approx(0.0)
