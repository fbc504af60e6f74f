"""A pytest plugin that places the made-up kind beside the real ones before anything of the program is imported."""

from pathlib import Path

import farrail.parts.kinds

farrail.parts.kinds.__path__.append(str(Path(__file__).parent / "kind"))
