"""What is recognised in a pasted page: invented pages in the words makers use, each value by a person's reading."""

import pytest

from farrail.exchange.page_text import read_page
from farrail.parts.registry import TEMPLATES

PAGES = [
    ("filter_drawer", "Path length 20.5 mm, M42x0.75 internal to M42x0.75 external, clear 38",
     {"path_length_mm": "20.5 mm", "front": "M42x0.75 internal", "rear": "M42x0.75 external",
      "clear_aperture_mm": "38"}),
    ("adapter", "Brae Works ring. Optical length: 16,5 mm. Female M54 x 0.75 / male M48×0.75, inner diameter ø 45 mm",
     {"path_length_mm": "16,5 mm", "front": "M54x0.75 internal", "rear": "M48×0.75 external",
      "clear_aperture_mm": "45 mm"}),
    ("camera", "Sensor size 23.5 x 15.7 mm, 3.76 µm pixels, flange distance: 17.5 mm, M42x0.75 female thread",
     {"sensor_width_mm": "23.5", "sensor_height_mm": "15.7", "pixel_size_um": "3.76 µm",
      "flange_to_sensor_mm": "17.5 mm"}),
    ("camera_lens", "Focal length 60 mm, f/2.8, minimum focus distance 0.4 m, maximum magnification 1:4.5, "
     "filter size 58 mm",
     {"focal_length_mm": "60 mm", "f_number": "2.8", "nearest_mm": "0.4 m", "nearest_magnification": "1:4.5",
      "front": "M58x0.75 internal"}),
    ("corrector", "Back focus 55 mm, image circle 44 mm, length 62.3 mm",
     {"back_focus_mm": "55 mm", "image_circle_mm": "44 mm", "path_length_mm": "62.3 mm"}),
    ("round_filter", "CWL 656.3 nm, FWHM 6 nm, glass thickness 2 mm, effective index 2.05",
     {"line_nm": "656.3 nm", "passband_nm": "6 nm", "glass.thickness_mm": "2 mm", "effective_index": "2.05"}),
    ("sheet_filter", "Sheet 100 x 150 mm, ND1000", {"width_mm": "100", "height_mm": "150", "density": "ND1000"}),
    ("close_up_lens", "Close-up lens +4 dioptres, M58x0.75 male", {"dioptres": "+4"}),
]  # fmt: skip


@pytest.mark.parametrize(("kind", "page", "wanted"), PAGES, ids=[kind for kind, _, _ in PAGES])
def test_a_page_is_read_as_a_person_reads_it(kind: str, page: str, wanted: dict[str, str]) -> None:
    found = {one.path: one.text for one in read_page(page, TEMPLATES[kind]())}
    assert wanted.items() <= found.items(), found
    for one in read_page(page, TEMPLATES[kind]()):
        assert one.words in " ".join(page.split())


NAMELESS = ["", "path length 1.2.3", "A fine part in black, box of 12", "length unknown", "path length 1e400 mm",
            "\u05d0\u05d1 20 mm", "20.5", "M42x0.75"]  # fmt: skip


@pytest.mark.parametrize("page", NAMELESS)
def test_a_number_without_its_name_is_not_taken(page: str) -> None:
    assert read_page(page, TEMPLATES["spacer"]()) == ()


def test_a_long_page_is_read_quickly_enough_to_type_beside() -> None:
    page = "black anodised " * 20_000 + " path length 12 mm"
    assert read_page(page, TEMPLATES["spacer"]()) == ()
    assert read_page("path length 12 mm " + page, TEMPLATES["spacer"]())[0].text == "12 mm"
