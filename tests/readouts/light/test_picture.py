"""The picture as the camera displays it: which way up it is on the sensor, cell by cell."""

import numpy as np
import pytest

from farrail.demo.hallan_skerry import demo_workbook
from farrail.optics.illumination import illumination_at, relative_illumination
from farrail.parts.kinds.guiders import OffAxisGuider
from farrail.parts.origin import Origin
from farrail.parts.provenance import Reading
from farrail.readouts.light.bundles import bundle_to
from farrail.readouts.light.model import Light
from farrail.readouts.read import read
from farrail.workbook.edits.shelf import SetReading

COLUMNS, ROWS = 9, 6


def one_sided() -> Light:
    """Return the light of a train whose guider's prism reaches far into the beam, from a side that is no symmetry."""
    book = demo_workbook()
    train = next(
        t for t in book.trains if any(isinstance(book.by_id[laid.part], OffAxisGuider) for laid in t.rear_train)
    )
    guider = next(laid.part for laid in train.rear_train if isinstance(book.by_id[laid.part], OffAxisGuider))
    near = SetReading(guider, "prism_edge_mm", Reading(value=6.0, origin=Origin.MEASURED)).apply(book)
    light = read(train.model_copy(update={"camera_turned_deg": 33.0}), near.by_id).light
    assert not light.centred
    return light


def sensor_place(light: Light, column: int, row: int) -> tuple[float, float]:
    """Return where a cell of the picture is on the sensor: the picture is upside down on it."""
    camera = light.layout.camera
    assert camera is not None
    width, height = camera.sensor_width_mm.value, camera.sensor_height_mm.value
    return width * (0.5 - (column + 0.5) / COLUMNS), height * ((row + 0.5) / ROWS - 0.5)


def corner_to_corner(light: Light, column: int, row: int) -> tuple[float, float]:
    """The same where the first and last cells stand for the frame's very edges."""
    camera = light.layout.camera
    assert camera is not None
    width, height = camera.sensor_width_mm.value, camera.sensor_height_mm.value
    return width * (0.5 - column / (COLUMNS - 1)), height * (row / (ROWS - 1) - 0.5)


def test_each_cell_shows_its_own_place_of_the_sensor() -> None:
    light = one_sided()
    shown = light.map(COLUMNS, ROWS)
    there = np.array([[light.light_at(np.array([sensor_place(light, c, r)]))[0] for c in range(COLUMNS)]
                      for r in range(ROWS)])  # fmt: skip
    assert shown == pytest.approx(there, abs=0.03)
    # Turned any other way it would not agree.
    for other in (there[::-1], there[:, ::-1], there[::-1, ::-1]):
        assert np.abs(shown - other).max() > 0.1


def test_the_part_named_in_a_cell_takes_most_there() -> None:
    light = one_sided()
    who = light.clipping_map(COLUMNS, ROWS)
    assert len(set(who.ravel().tolist())) > 1
    for row in range(ROWS):
        for column in range(COLUMNS):
            place = np.array([corner_to_corner(light, column, row)])
            taken = [1.0 - float(illumination_at(light.pupil, [image], place)[0]) for image in light.images]
            named = int(who[row, column])
            assert max(taken) - (taken[named] if named >= 0 else 0.0) < 0.02, (row, column, named, taken)


def test_a_bundle_arrives_where_its_apertures_let_it() -> None:
    book = demo_workbook()
    for train in book.trains:
        light = read(train, book.by_id).light
        if not light.corners:
            continue
        for place in ((4.0, 3.0), (-6.0, 5.0)):
            bundle = bundle_to(light, place)
            height = float(np.hypot(*place))
            for image in light.images:
                if image.front or not image.centred or image.distance_mm <= 0.0:
                    continue
                low, high = bundle.edges_mm(image.distance_mm)
                if not bundle.dark:
                    # In the plane through axis and place a round opening ends at its radius on either side.
                    assert low >= -image.radius_mm - 1e-6
                    assert high <= image.radius_mm + 1e-6
                if float(relative_illumination(light.pupil, [image], np.array([height]))[0]) > 1.0 - 1e-9:
                    middle = height * (1.0 - image.distance_mm * bundle.convergence_per_mm)
                    spread = image.distance_mm / (2.0 * bundle.f_number)
                    assert middle - spread >= -image.radius_mm - 1e-6
                    assert middle + spread <= image.radius_mm + 1e-6
