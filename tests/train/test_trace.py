"""Where apertures, glass and power are when a part is the one way or the other, by a person's sum."""

import pytest

from farrail.parts.in_beam import ApertureRole, GlassRole
from farrail.train.placed import PlacedAperture, PlacedGlass
from farrail.train.train import MountedPart, Side
from tests.train.gear import bare_filter, drawer, guider, laid, reducer, spacer


def test_a_filter_lies_where_its_seat_is_measured_from_whichever_way_the_drawer_lies() -> None:
    parts = (drawer(), bare_filter(thick=3.0))
    seated = {"part": "drawer", "filters": ("filter",)}
    straight = laid(MountedPart(**seated), parts=parts).layout.glass[0]
    assert (straight.z_front_mm, straight.z_rear_mm) == (6.0, 9.0)
    # Turned end for end the face that was 6 mm behind the front is 6 mm ahead of what is now the rear, at 20.
    flipped = laid(MountedPart(**seated, flipped=True), parts=parts).layout.glass[0]
    assert (flipped.z_front_mm, flipped.z_rear_mm) == (11.0, 14.0)


def test_the_face_toward_the_light_decides_for_a_filter() -> None:
    parts = (drawer(), bare_filter(thick=3.0))
    for flip, face in ((False, 6.0), (True, 11.0)):
        layout = laid(MountedPart(part="drawer", filters=("filter",), flipped=flip), parts=parts).layout
        inside = next(a for a in layout.apertures if a.role is ApertureRole.IN_BEAM)
        assert inside.z_mm == face


def test_a_guider_s_prism_is_counted_from_its_own_front() -> None:
    for flip, place in ((False, 30.0 + 5.0), (True, 30.0 + 16.0 - 5.0)):
        layout = laid(
            MountedPart(part="tube"), MountedPart(part="guider", flipped=flip), parts=(spacer("tube", 30.0), guider())
        ).layout
        prism = next(a for a in layout.apertures if a.role is ApertureRole.PRISM)
        assert prism.z_mm == place
        assert prism.place.index == 1


def test_a_reducer_s_thin_lens_is_counted_from_its_own_front() -> None:
    # 40 mm long, its lens 10 mm behind its front; z = 0 is its rear shoulder, the one that end that is.
    for flip, place in ((False, -30.0), (True, -10.0)):
        readout = laid(
            MountedPart(part="reducer", flipped=flip), MountedPart(part="tube"), parts=(reducer(), spacer("tube", 40.0))
        )
        power = readout.layout.first_order.power
        assert power is not None
        assert power.z_mm == place
        # The sensor is 40 + 20 behind the shoulder: M = 1 − d/f with d from the thin lens.
        assert power.power.magnification == pytest.approx(1.0 - (60.0 - place) / 285.0)


def test_the_openings_of_both_ends_keep_their_sides() -> None:
    for flip in (False, True):
        layout = laid(MountedPart(part="tube", flipped=flip), parts=(spacer("tube", 30.0),)).layout
        ends = {a.role: a.z_mm for a in layout.apertures}
        assert ends == {ApertureRole.FRONT_END: 0.0, ApertureRole.REAR_END: 30.0}


def test_everything_is_met_in_the_order_of_the_light() -> None:
    row = (MountedPart(part="guider"), MountedPart(part="drawer", filters=("filter",)), MountedPart(part="tube"))
    readout = laid(*row, parts=(guider(), drawer(), bare_filter(), spacer("tube", 30.0)))
    places = [m.z_front_mm if isinstance(m, PlacedGlass) else m.z_mm for m in readout.layout.trace.met]
    assert places == sorted(places)
    assert all(isinstance(m, PlacedAperture | PlacedGlass) for m in readout.layout.trace.met)
    glass = readout.layout.trace.glass
    assert [(g.role, g.place.side, g.place.index, g.place.slot) for g in glass] == [(GlassRole.FILTER, Side.REAR, 1, 0)]
