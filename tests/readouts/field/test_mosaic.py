"""Targets on a turned frame and the panels of their mosaics, against a general astronomy library and sampled truth."""

import math

import numpy as np
import pytest
from astropy.coordinates import SkyCoord
from astropy.wcs import WCS

from farrail.demo.hallan_skerry import demo_workbook
from farrail.exchange.sky_catalogue import names_like, neighbours, parse_target
from farrail.readouts.field.sky import Framing, framing_of, sky_place_words
from farrail.readouts.read import read
from farrail.train.train import Conditions, Target
from farrail.ui.widgets.mosaic_picture import MosaicPicture

BOOK = demo_workbook()


def framed(target: Target, camera_deg: float | None = None) -> Framing:
    train = BOOK.train("lantern-wheel").model_copy(
        update={"conditions": Conditions(target=target), "camera_turned_deg": camera_deg}
    )
    framing = framing_of(read(train, BOOK.by_id).layout)
    assert framing is not None
    return framing


def sky_of(framing: Framing) -> WCS:
    """The picture's plane as the library has it: millimetres right and up, turned with the camera."""
    target, wcs = framing.target, WCS(naxis=2)
    scale, turn = math.degrees(1.0 / framing.focal_mm), math.radians(framing.camera_deg)
    wcs.wcs.ctype = ["RA---TAN", "DEC--TAN"]
    wcs.wcs.crval = [target.right_ascension_deg, target.declination_deg]
    wcs.wcs.crpix = [0.0, 0.0]
    # Straight: right is west, up is north. The camera turned clockwise sees the sky turned the other way.
    wcs.wcs.cd = scale * np.array([[-math.cos(turn), -math.sin(turn)], [-math.sin(turn), math.cos(turn)]])
    return wcs


@pytest.mark.parametrize("camera_deg", [None, 25.0, -70.0])
@pytest.mark.parametrize("place", [(314.8, 44.5), (0.2, -71.0), (359.9, 88.5)])
def test_panels_are_aimed_where_the_library_says(camera_deg: float | None, place: tuple[float, float]) -> None:
    target = Target(name="x", width_arcmin=220.0, height_arcmin=150.0, turned_deg=20.0,
                    right_ascension_deg=place[0], declination_deg=place[1])  # fmt: skip
    framing = framed(target, camera_deg)
    assert len(framing.panels) >= 4
    for panel in framing.panels:
        assert panel.right_ascension_deg is not None
        assert panel.declination_deg is not None
        ours = SkyCoord(panel.right_ascension_deg, panel.declination_deg, unit="deg")
        theirs = SkyCoord(*sky_of(framing).wcs_pix2world([[panel.right_mm, panel.up_mm]], 1)[0], unit="deg")
        assert ours.separation(theirs).arcsec < 0.1


@pytest.mark.parametrize(("turned", "camera", "overlap"), [(0.0, None, 0.15), (35.0, 20.0, 0.1), (-60.0, -45.0, 0.3)])
def test_panels_cover_the_target_and_share_what_was_asked(turned: float, camera: float | None, overlap: float) -> None:
    """Ten thousand places of the target, each in a panel; no row or column of panels is one too many."""
    target = Target(name="x", width_arcmin=260.0, height_arcmin=170.0, turned_deg=turned, overlap=overlap)
    framing, dice = framed(target, camera), np.random.default_rng(4)
    angle, radius = dice.random(10_000) * 2.0 * np.pi, np.sqrt(dice.random(10_000))
    along, across = radius * np.cos(angle) * framing.width_mm / 2.0, radius * np.sin(angle) * framing.height_mm / 2.0
    turn = math.radians(turned + (camera or 0.0))
    x, y = along * math.cos(turn) - across * math.sin(turn), along * math.sin(turn) + across * math.cos(turn)
    wide, high = framing.sides_mm
    inside = [
        (np.abs(x - p.right_mm) <= wide / 2.0) & (np.abs(y - p.up_mm) <= high / 2.0) for p in framing.panels
    ]  # fmt: skip
    assert np.any(inside, axis=0).all()
    first, second = framing.panels[0], framing.panels[1]
    assert (wide - (second.right_mm - first.right_mm)) / wide == pytest.approx(overlap)
    reach = wide * (1.0 + (framing.columns - 2) * (1.0 - overlap))
    assert framing.columns == 1 or reach < framing.across_mm


def test_neighbours_lie_where_the_library_puts_them() -> None:
    """Against a gnomonic plane of the library, for every object of the catalogue within two degrees of a galaxy."""
    target = parse_target("m 31")
    assert target.name == "M 31"
    assert target.right_ascension_deg is not None
    assert target.declination_deg is not None
    found = neighbours(target.right_ascension_deg, target.declination_deg, 2.0)
    assert {"NGC 205", "NGC 221"} <= {one.name for one in found}
    assert "NGC 224" not in {one.name for one in found}
    middle = SkyCoord(target.right_ascension_deg, target.declination_deg, unit="deg")
    for one in found:
        itself = parse_target(one.name)
        place = SkyCoord(itself.right_ascension_deg, itself.declination_deg, unit="deg")
        away, angle = middle.separation(place).rad, middle.position_angle(place).rad
        # Position angles run from north over east, which is to the left.
        assert one.right_deg == pytest.approx(-math.degrees(math.tan(away)) * math.sin(angle), abs=2e-4)
        assert one.up_deg == pytest.approx(math.degrees(math.tan(away)) * math.cos(angle), abs=2e-4)


def test_names_are_offered_as_they_are_typed() -> None:
    assert names_like("n") == ()
    assert "NGC 7000" in names_like("ngc700")
    assert names_like("m 3")[:2] == ("M 3", "M 30")
    assert names_like("north amer") == ("North America Nebula",)
    assert names_like("'; DROP") == ()
    assert parse_target("North america nebula").width_arcmin == parse_target("NGC 7000").width_arcmin


@pytest.mark.parametrize(("place", "words"), [((314.8214, 44.5288), "20h 59m 17s, +44° 32′"),
                                              ((0.0, -0.1), "00h 00m 00s, −00° 06′"),
                                              ((359.9999, 0.001), "00h 00m 00s, +00° 00′")])  # fmt: skip
def test_places_as_catalogues_write_them(place: tuple[float, float], words: str) -> None:
    assert sky_place_words(*place) == words


def test_the_picture_says_its_panels(qtbot: object) -> None:
    picture = MosaicPicture()
    picture.resize(360, 220)
    picture.show_framing(framed(parse_target("NGC 7000"), 90.0))
    picture.work.wait()
    assert picture.near
    assert picture.sentence() == "NGC 7000: 1 × 2 panels with 15 % overlap; camera turned 90°"
    assert [point.said.rsplit(":", 1)[0] for point in picture.points()] == [
        "panel: row 1, column 1", "panel: row 2, column 1"
    ]  # fmt: skip
    assert not picture.grab().toImage().isNull()
    picture.show_framing(None)
    assert picture.points() == []
    assert picture.sentence() == ""
